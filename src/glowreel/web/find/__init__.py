"""Find anything, on every page."""

from glowreel.web.find import routes

__all__ = ["routes"]
