"""Exports, and the watch pages of finished films."""

from glowreel.web.exports import pages, routes, turns, watching

__all__ = ["pages", "routes", "turns", "watching"]
