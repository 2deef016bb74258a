"""Rows of what words are, of their letters, and of what lies around those."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glowreel.core.fonts import ANY, FONTS, USUAL
from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import AT_LEAST, WORDS, share
from glowreel.core.roles import FONT_ROLES
from glowreel.core.text_styles import STYLES
from glowreel.core.words import MAX_LETTERS, PAD, ROUND

_FAMILIES: Choices = (
    *((role, f"The brand’s {role}") for role in FONT_ROLES),
    *((family, family) for family in FONTS),
)
_SIDES: Choices = (("left", "Left"), ("centre", "Centre"), ("right", "Right"))


def _weights(read: Callable[[str], Any]) -> Choices:
    family = read("font")
    known = FONTS.get(FONT_ROLES[family][1] if family in FONT_ROLES else family, ANY)
    return tuple((weight, str(weight)) for weight in known.weights)


def _row(key: str, label: str, meaning: str, kind: str, default: Any, group: str = "what", **more: Any) -> Property:
    given = {"per_format": True, "look": True, **more}
    return Property(key, label, meaning, kind, default, WORDS, group, **given)


def _letters(key: str, label: str, meaning: str, default: float, high: float, **more: Any) -> Property:
    """A length in letter sizes, shown in hundredths of them."""
    given = {
        "group": "dress",
        "unit": "%",
        "low": 0,
        "high": high,
        "scale": 0.01,
        "step": 1,
        "slider": "straight",
        **more,
    }
    return _row(key, label, meaning, "number", default, **given)


ROWS = (
    _row("text", "Words", "what it says", "text", "Your words", high=MAX_LETTERS, look=False, control="text",
         find="text write title"),
    _row("runs", "Parts", "parts of the words in another manner", "runs", (), group="", high=MAX_LETTERS, look=False),
    _row("style", "Style", "which of the promo’s text styles it has", "choice", "", look=True, per_format=False,
         choices=(("", "None"), *((name, style.label) for name, style in STYLES.items())), control="choice",
         find="heading body price text style"),
    _row("font", "Font", "the family of its letters, or a role of the brand", "font", USUAL, choices=_FAMILIES,
         control="fonts", find="typeface family"),
    _row("weight", "Weight", "how heavy its letters are", "whole", 800, low=100, high=900, choices_of=_weights,
         control="choice", find="bold light"),
    _row("italic", "Italic", "whether its letters lean", "flag", False, switched=("in italics", "upright"),
         verbs=("Set in italics", "Set upright"), find="slanted oblique"),
    _row("colour", "Colour", "the colour of its letters", "colour", "#FFFFFF", over_time=True),
    _row("second", "Fades into", "a second colour, into which that of its letters fades", "colour", "", over_time=True,
         empty=True, find="gradient"),
    _row("fill_angle", "Fade angle", "which way it fades; 0° is to the right, 90° down", "number", 90.0, unit="°",
         low=-3600, high=3600, least=0, most=360, over_time=True, beside="second"),
    _row("letters_of", "Filled with", "of what its letters are: a colour, or a picture that is seen in them", "choice",
         "colour", choices=(("colour", "Colour"), ("picture", "A picture")), control="switches",
         find="texture image fill"),
    _row("sheet", "Cut out of", "a sheet of this colour over the whole frame: what lies behind is seen only through"
         " the letters", "colour", "", empty=True, find="mask through letters knockout footage behind"),
    _row("case", "Capitals", "whether what is written is shown in capitals", "choice", "typed",
         choices=(("typed", "As is"), ("upper", "ALL"), ("lower", "none"), ("title", "Each")),
         control="switches", find="uppercase lowercase"),
    _row("spacing", "Spacing", "more room after each letter, in letter sizes", "number", 0.0, unit="%",
         low=-0.2, high=2, least=-0.1, most=0.6, scale=0.01, step=1, digits=1, slider="straight", find="tracking"),
    _row("align", "Align", "to which side its lines keep", "choice", "left", choices=_SIDES, control="switches",
         icons={"left": "text-left", "centre": "text-center", "right": "text-right"}),
    _row("line", "Line spacing", "from one line to the next, in heights of its letters", "number", 1.08,
         unit="×", low=0.7, high=3, step=0.05, digits=2, find="leading"),
    _row("suits", "Size", "whether its letters are as large as they are, shrink to fit the height of their box, or grow"
         " to fill it", "choice", "fixed", choices=(("fixed", "As set"), ("shrink", "Shrinks"), ("fill", "Fills")),
         control="switches", find="fit auto size box"),
    _row("tall", "Box height", "the height that words may have, of the frame’s short side", "number", 0.4, unit="%",
         low=AT_LEAST, high=4, least=0.05, most=1.5, scale=0.01, step=1, slider="straight", beside="suits"),
    _row("upright", "In its height", "where in the height of their box words stand", "choice", "top",
         choices=(("top", "Top"), ("middle", "Middle"), ("bottom", "Bottom")), control="switches", beside="suits",
         find="vertical align", icons={"top": "align-top", "middle": "align-middle", "bottom": "align-bottom"}),
    _row("least", "Smallest", "the smallest that letters become when they shrink, of the frame’s short side", "number",
         0.026, unit="%", low=AT_LEAST, high=1, least=0.01, most=0.2, scale=0.01, step=0.1, digits=1,
         slider="straight", beside="suits", find="legible"),
    _row("arc", "Bow", "how far its line is bent: upwards in the middle, or downwards", "number", 0.0, unit="°",
         low=-350, high=350, least=-180, most=180, step=5, slider="straight", over_time=True, find="curve circle arc"),
    share("shadow", "Soft shadow", "how dark the soft shadow of its letters is", 0.0, WORDS, group="dress",
          over_time=True, look=True),
    _letters("cast", "Hard shadow", "how far a shadow with an edge lies from its letters, in letter sizes", 0.0, 0.6,
             over_time=True, find="long shadow offset"),
    _row("cast_angle", "Its angle", "to which side that falls; 0° is to the right, 90° down", "number", 45.0, "dress",
         unit="°", low=-3600, high=3600, least=0, most=360, over_time=True, beside="cast"),
    _letters("cast_soft", "Its softness", "how soft that shadow is, in letter sizes", 0.0, 0.3, beside="cast"),
    _row("cast_colour", "Its colour", "the colour of that shadow", "colour", "#000000", "dress", over_time=True,
         beside="cast"),
    _letters("outline", "Outline", "how wide the line around its letters is, in letter sizes", 0.0, 0.25,
             over_time=True, digits=1, find="stroke border"),
    _row("outline_colour", "Outline colour", "the colour of that line", "colour", "#000000", "dress", over_time=True,
         beside="outline"),
    _row("under", "Underline", "how it is underlined", "choice", "none", "dress", choices=(
        ("none", "None"), ("straight", "Line"), ("waves", "Waves"), ("hand", "Hand")), control="switches",
         find="underline hand drawn"),
    _row("under_colour", "Underline colour", "the colour of that line; that of the letters where there is none",
         "colour", "", "dress", empty=True, beside="under"),
    _row("box", "Box", "the colour of the box behind it", "colour", "", "dress", over_time=True, empty=True,
         find="background"),
    share("box_opacity", "Box opacity", "how much of the box is seen", 1.0, WORDS, group="dress", over_time=True,
          look=True, beside="box"),
    _row("box_of", "Box behind", "behind what a box lies", "choice", "all", "dress", choices=(
        ("all", "All"), ("line", "Each line"), ("word", "Each word")), control="switches", beside="box"),
    _row("box_pad", "Room in it", "the room between letters and the edge of their box, in letter sizes", "spot", PAD,
         "dress", unit="%", low=0, high=3, least=0, most=1, scale=0.01, step=2, axes=("Room aside", "Room above"),
         beside="box", find="padding"),
    _letters("box_round", "Its corners", "how round the corners of the box are, in letter sizes", ROUND, 2,
             beside="box", find="radius"),
)  # fmt: skip
