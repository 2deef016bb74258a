"""Sound in the editor: the mixer and its meters, lines of what gives way, beats, and the library of music and
effects."""

from glowreel.web.sound import routes

__all__ = ["routes"]
