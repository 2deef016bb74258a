"""The machines that work for this installation: a page for people, figures for a monitor."""

from glowreel.web.machines import routes

__all__ = ["routes"]
