"""What is said, in the editor: the transcript that is cut by, captions, and their files."""

from glowreel.web.said import captions, routes, voice

__all__ = ["captions", "routes", "voice"]
