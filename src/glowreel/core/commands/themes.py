"""What recordings stand on: each theme is a row, values that any recorded clip is given and that can be changed later
like any others."""

from __future__ import annotations

from typing import Any

from glowreel.core.document import Clip
from glowreel.core.media import Media

_FRAMED: dict[str, Any] = {"fit": "letterbox", "zoom": 0.86, "mask": "rectangle", "mask_corner": 0.06}

THEMES: dict[str, tuple[str, dict[str, Any]]] = {
    "": ("As it is", {}),
    "colours": ("On the brand's colours", {
        **_FRAMED, "ground": "gradient", "ground_colour": "ground", "ground_second": "accent", "ground_angle": 35.0,
    }),
    "paper": ("On paper", {**_FRAMED, "ground": "colour", "ground_colour": "paper"}),
    "pattern": ("On a pattern", {
        **_FRAMED, "ground": "pattern", "ground_colour": "ground", "ground_second": "second",
    }),
    "blurred": ("On itself, blurred", {**_FRAMED, "ground": "blurred"}),
}  # fmt: skip
"""By name: what it is called, and its values."""


def themed(clip: Clip, theme: str, media: Media) -> Clip:
    """The clip as a theme has it; the shape it is seen through is that of its picture."""
    values = dict(THEMES[theme][1])
    if not values:
        return clip
    shorter = max(1, min(media.width, media.height))
    values["mask_size"] = (media.width / shorter, media.height / shorter)
    return clip.having(**values)
