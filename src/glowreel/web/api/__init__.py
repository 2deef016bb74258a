"""The way in for programs: operations in a table, their description, and the page where tokens are made."""

from glowreel.web.api import operations, pages, routes

__all__ = ["operations", "pages", "routes"]
