"""Help: a page for each screen, opened beside it."""

from glowreel.web.help import routes

__all__ = ["routes"]
