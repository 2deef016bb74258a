"""Promos from tables."""

from glowreel.web.batches import routes

__all__ = ["routes"]
