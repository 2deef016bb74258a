from glowreel.web.preview import routes

__all__ = ["routes"]
