"""The gallery of templates, each template's page, and filling."""

from glowreel.web.gallery import fill, routes

__all__ = ["fill", "routes"]
