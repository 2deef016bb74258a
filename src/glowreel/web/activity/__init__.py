"""Everything that runs, on every page."""

from glowreel.web.activity import routes

__all__ = ["routes"]
