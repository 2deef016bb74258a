"""Screenings: made and ended by the team, watched by whoever has the link; and the notes in the editor."""

from glowreel.web.screenings import notes, routes, watching

__all__ = ["notes", "routes", "watching"]
