"""The team: who is in it, who may come, and what is shared."""

from glowreel.web.team import routes

__all__ = ["routes"]
