"""The brand book."""

from glowreel.web.brands import routes

__all__ = ["routes"]
