from glowreel.web.editor import routes

__all__ = ["routes"]
