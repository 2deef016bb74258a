"""Exports, and the watch pages of finished films."""

from glowreel.web.exports import pages, routes, watching

__all__ = ["pages", "routes", "watching"]
