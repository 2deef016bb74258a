"""What comes from outside: ready-made material, pictures made from words, a cloud drive."""

from glowreel.web.sources import driving, picturing, routes

__all__ = ["driving", "picturing", "routes"]
