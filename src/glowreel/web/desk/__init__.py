from glowreel.web.desk import routes

__all__ = ["routes"]
