"""Rows of the colour of pictures: tone and colour, looks, curves, and what makes a picture crisp or soft."""

from __future__ import annotations

from typing import Any

from glowreel.core.looks import LOOKS
from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import GRADED, share


def _both(name: str, label: str, meaning: str, **more: Any) -> Property:
    """An amount to either side of what it is."""
    given = {"unit": "%", "low": -1, "high": 1, "scale": 0.01, "step": 5, "slider": "straight", **more}
    return Property(name, label, meaning, "number", 0.0, GRADED, "colour", per_format=True, over_time=True, look=True,
                    **given)  # fmt: skip


def _some(name: str, label: str, meaning: str, **more: Any) -> Property:
    return share(name, label, meaning, 0.0, GRADED, group="colour", over_time=True, look=True, **more)


_LOOKS: Choices = (("none", "None"), *((name, look.label) for name, look in LOOKS.items()), ("file", "From a file"))

ROWS = (
    Property("filter", "Look", "a look of colours, put on after its own tone and colour", "choice", "none", GRADED,
             "colour", choices=_LOOKS, control="gallery", per_format=True, look=True, find="look filter grade mood"),
    share("filter_strength", "Look strength", "how much of the look is put on", 1.0, GRADED, group="colour",
          over_time=True, look=True, beside="filter"),
    _both("exposure", "Exposure", "how much light there is; one stop is twice as much", unit="stops", low=-3, high=3,
          scale=1, step=0.1, digits=2, find="brightness light"),
    _both("contrast", "Contrast", "how far light and dark lie apart"),
    _both("highlights", "Highlights", "how light the light parts are"),
    _both("shades", "Shadows", "how light the dark parts are", find="shadows lift"),
    _both("whites", "Whites", "where the lightest parts end"),
    _both("blacks", "Blacks", "where the darkest parts begin"),
    _both("saturation", "Saturation", "how strong its colours are; −100% is without any"),
    _both("vibrance", "Vibrance", "how strong its weak colours are; strong ones stay"),
    _both("warmth", "Warmth", "from blue to amber", find="temperature white balance"),
    _both("tint", "Tint", "from green to magenta"),
    _some("fade", "Fade", "how faded it is, as an old print"),
    _both("clarity", "Clarity", "how far neighbouring parts stand out from each other"),
    _some("sharpen", "Sharpen", "how crisp its edges are"),
    _some("soften", "Soften", "how much it is blurred; all of it is a tenth of the frame’s short side", find="blur"),
    _some("grain", "Grain", "how much grain it has, as film does"),
    _some("vignette", "Vignette", "how dark its corners are"),
    Property("curve_all", "Curve", "from how light it was to how light it is: points of a curve", "tones", (),
             GRADED, "colour", per_format=True, look=True, control="tones", find="curves tone"),
    *(
        Property(f"curve_{name}", f"{label} curve", f"the same for its {name} alone", "tones", (), GRADED, "colour",
                 per_format=True, look=True, control="tones", find="curves")
        for name, label in (("red", "Red"), ("green", "Green"), ("blue", "Blue"))
    ),
    share("wash", "Darken for words", "how dark a wash over it is, so that words stand out", 0.0, GRADED,
          group="colour", over_time=True, look=True, find="scrim gradient darken"),
    Property("wash_from", "Darkened", "from which side the wash comes", "choice", "below", GRADED, "colour",
             choices=(("below", "from below"), ("above", "from above"), ("left", "from the left"),
                      ("right", "from the right"), ("all", "everywhere")),
             control="choice", per_format=True, look=True, beside="wash"),
)  # fmt: skip
