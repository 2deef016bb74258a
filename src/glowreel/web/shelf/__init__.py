"""The Shelf: taking files in, what the editor shows of them, and the page of the whole material."""

from glowreel.web.shelf import page, routes

__all__ = ["page", "routes"]
