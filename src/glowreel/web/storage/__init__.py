"""What takes room."""

from glowreel.web.storage import routes

__all__ = ["routes"]
