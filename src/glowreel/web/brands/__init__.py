"""The brand book."""

from glowreel.web.brands import routes, sharing

__all__ = ["routes", "sharing"]
