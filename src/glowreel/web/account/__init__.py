from glowreel.web.account import routes

__all__ = ["routes"]
