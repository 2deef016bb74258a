"""What goes out: the calendar, posts, and the channels they go to."""

from glowreel.web.going import connecting, publishing, routes

__all__ = ["connecting", "publishing", "routes"]
