from glowreel.web.exports import routes

__all__ = ["routes"]
