"""Files that come in: piece by piece, and by links from telephones."""

from glowreel.web.uploads import links, routes

__all__ = ["links", "routes"]
