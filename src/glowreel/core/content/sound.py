"""A stretch of sound under the picture."""

from __future__ import annotations

from glowreel.core.content.kind import Kind

SOUND = Kind(
    "sound", "Sound", "a stretch of a song, a voice or the sound of footage", "sound", frozenset({"heard", "sound"}),
    frozenset({"sound", "footage"}), lambda part, media: media.name if media is not None else part.name,
    lambda seen: None,
)  # fmt: skip
