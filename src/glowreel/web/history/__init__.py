from glowreel.web.history import routes

__all__ = ["routes"]
