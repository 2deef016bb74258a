from glowreel.web.shelf import routes

__all__ = ["routes"]
