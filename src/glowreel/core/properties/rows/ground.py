"""Rows of what lies behind a picture that does not cover the frame. A clip that says nothing has that of its scene, and
a scene that of the promo."""

from __future__ import annotations

from glowreel.core.patterns import PATTERNS
from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import GROUNDED, share

_CHOICES: Choices = (
    ("inherit", "as the scene"), ("colour", "a colour"), ("gradient", "a gradient"), ("blurred", "itself, blurred"),
    ("pattern", "a pattern"), ("picture", "a picture"),
)  # fmt: skip
_PATTERNS: Choices = tuple((name, pattern.label) for name, pattern in PATTERNS.items())

ROWS = (
    Property("ground", "Behind it", "what lies behind it where it does not cover the frame", "choice", "inherit",
             GROUNDED, "ground", choices=_CHOICES, control="gallery", per_format=True, look=True,
             find="background letterbox bars blurred"),
    Property("ground_colour", "First colour", "the colour behind it, or the first of two", "colour", "dark", GROUNDED,
             "ground", per_format=True, over_time=True, look=True,
             beside="ground", choices_beside=frozenset({"colour", "gradient", "pattern", "picture"})),
    Property("ground_second", "Second colour", "the second colour of a gradient or a pattern", "colour", "accent",
             GROUNDED, "ground", per_format=True, over_time=True, look=True,
             beside="ground", choices_beside=frozenset({"gradient", "pattern"})),
    Property("ground_angle", "Angle", "which way a gradient or a pattern runs", "number", 90.0, GROUNDED, "ground",
             unit="°", low=-360, high=360, least=0, most=360, per_format=True, over_time=True, look=True,
             beside="ground", choices_beside=frozenset({"gradient", "pattern"})),
    share("ground_blur", "Blur", "how blurred its enlarged copy is; all of it is a tenth of the short side", 0.45,
          GROUNDED, group="ground", over_time=True, look=True,
             beside="ground", choices_beside=frozenset({"blurred"})),
    share("ground_dim", "Dimmed", "how much its enlarged copy, or a picture, is darkened", 0.25, GROUNDED,
          group="ground",
          over_time=True, look=True,
             beside="ground", choices_beside=frozenset({"blurred", "picture"})),
    Property("ground_pattern", "Pattern", "which of the shipped patterns", "choice", next(iter(PATTERNS)), GROUNDED,
             "ground", choices=_PATTERNS, control="gallery", per_format=True, look=True,
             beside="ground", choices_beside=frozenset({"pattern"})),
    share("ground_scale", "Pattern size", "how large the pattern is", 0.3, GROUNDED, group="ground", over_time=True,
          look=True, low=0.05,
             beside="ground", choices_beside=frozenset({"pattern"})),
)  # fmt: skip
