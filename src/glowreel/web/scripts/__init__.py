"""A promo from a script: written, proposed scene by scene, made."""

from glowreel.web.scripts import routes

__all__ = ["routes"]
