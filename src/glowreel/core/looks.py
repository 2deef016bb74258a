"""Looks: moods of colour, each a handful of the same settings that a picture has by itself, and tints of its dark and
its light parts. A look is a row; how strong it is put on is a share of all its settings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

Tint = tuple[float, float]
"""Towards blue and towards red, in shares of the whole range of chroma (BT.709)."""


@dataclass(frozen=True)
class Look:
    """What a look is called, what it does, its settings, and the tints of what is dark and what is light."""

    label: str
    meaning: str
    settings: Mapping[str, float] = field(default_factory=dict)
    dark: Tint = (0.0, 0.0)
    light: Tint = (0.0, 0.0)


LOOKS: dict[str, Look] = {
    "first-light": Look("First light", "soft and amber, with open shadows",
                        {"warmth": 0.35, "shades": 0.25, "contrast": -0.1, "fade": 0.12}, (0.0, 0.01), (-0.04, 0.03)),
    "harvest": Look("Harvest", "deep golds and browns", {"warmth": 0.5, "contrast": 0.25, "saturation": -0.08},
                    (-0.02, 0.02), (-0.05, 0.03)),
    "orchard": Look("Orchard", "fresh greens, clear whites",
                    {"vibrance": 0.35, "tint": -0.18, "whites": 0.25, "contrast": 0.1}),
    "sea-glass": Look("Sea glass", "cool and pale, towards green and blue",
                      {"warmth": -0.3, "tint": -0.2, "fade": 0.25, "saturation": -0.15}, (0.03, -0.02), (0.01, -0.02)),
    "slate": Look("Slate", "grey and quiet, with firm blacks",
                  {"saturation": -0.55, "contrast": 0.3, "blacks": -0.25}, (0.02, -0.01)),
    "silver": Look("Silver", "black and white, soft", {"saturation": -1.0, "contrast": 0.1, "shades": 0.15}),
    "charcoal": Look("Charcoal", "black and white, hard",
                     {"saturation": -1.0, "contrast": 0.8, "blacks": -0.4, "whites": 0.3}),
    "tea-stain": Look("Tea stain", "brown as an old print", {"saturation": -0.9, "fade": 0.2}, (-0.05, 0.035),
                      (-0.06, 0.035)),
    "peach": Look("Peach", "kind to skin, a little pink",
                  {"warmth": 0.18, "tint": 0.15, "highlights": -0.15, "shades": 0.2, "vibrance": 0.15}),
    "lamplight": Look("Lamplight", "warm lights in a blue dark", {"contrast": 0.2, "shades": -0.1}, (0.07, -0.03),
                      (-0.07, 0.05)),
    "north-window": Look("North window", "even, cool daylight",
                         {"warmth": -0.22, "highlights": -0.25, "shades": 0.3, "contrast": -0.05}),
    "dusk-blue": Look("Dusk blue", "as after sunset",
                      {"exposure": -0.5, "warmth": -0.5, "saturation": -0.2, "contrast": 0.15}, (0.05, -0.01)),
    "poster": Look("Poster", "strong colours, strong contrast",
                   {"saturation": 0.4, "contrast": 0.5, "whites": 0.2, "blacks": -0.2}),
    "faded-card": Look("Faded card", "as if it had hung in the sun",
                       {"fade": 0.7, "contrast": -0.25, "saturation": -0.25, "warmth": 0.12}, (0.0, 0.02)),
    "berry": Look("Berry", "plum shadows, rosy lights", {"vibrance": 0.2, "contrast": 0.15}, (0.04, 0.04),
                  (0.01, 0.03)),
    "pine": Look("Pine", "green shadows, sandy lights", {"saturation": -0.15, "contrast": 0.2}, (-0.02, -0.05),
                 (-0.04, 0.02)),
    "chalk": Look("Chalk", "very light, hardly any shadow",
                  {"exposure": 0.35, "shades": 0.5, "contrast": -0.35, "saturation": -0.25}),
    "night-market": Look("Night market", "glowing colours out of the dark",
                         {"blacks": -0.45, "vibrance": 0.6, "contrast": 0.3, "exposure": -0.15}, (0.04, 0.01),
                         (-0.02, 0.03)),
}  # fmt: skip
"""Every look by its name."""
