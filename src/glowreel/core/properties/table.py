"""The table of properties. A new property is a row here, and what reads it in a recipe."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glowreel.core.properties.row import Choices, Property
from glowreel.core.roles import FONT_ROLES
from glowreel.core.time import ticks
from glowreel.core.vocabulary import MOTIONS
from glowreel.core.words import FONTS, MAX_LETTERS

GROUPS: dict[str, str] = {
    "what": "Letters", "place": "Place", "framing": "Framing", "look": "Look", "motion": "Coming and going",
    "sound": "Sound", "time": "Time",
}  # fmt: skip
"""Headings in Details, in their order."""

PLACED, FRAMED, WORDS = frozenset({"placed"}), frozenset({"framed"}), frozenset({"words"})
SEEN, HEARD, SOUND = frozenset({"seen"}), frozenset({"heard"}), frozenset({"sound"})
AT_LEAST = 0.0050001
"""A hair over half a hundredth: smaller things are not seen."""

_FAMILIES: Choices = (
    *((family, family) for family in FONTS),
    *((role, f"The brand’s {role}") for role in FONT_ROLES),
)
_MOTIONS: Choices = tuple((kind, "at once" if kind == "none" else kind.replace("-", " ")) for kind in MOTIONS)
_SIDES: Choices = (("left", "Left"), ("centre", "Centre"), ("right", "Right"))
_FROM_ITS_PIN = "From where it is pinned, in hundredths of the frame’s short side"


def _weights(read: Callable[[str], Any]) -> Choices:
    family = read("font")
    known = FONTS.get(FONT_ROLES[family][1] if family in FONT_ROLES else family, (400, 700))
    return tuple((weight, str(weight)) for weight in known)


def _share(name: str, label: str, meaning: str, default: float, of: frozenset[str], **more: Any) -> Property:
    """A share between nothing and all, shown in hundredths."""
    given = {"unit": "%", "scale": 0.01, "step": 5, "slider": "straight", "per_format": True, **more}
    return Property(name, label, meaning, "number", default, of, **given)


BUSES: dict[str, str] = {
    "voice": "somebody speaking, and the sound of footage",
    "music": "songs, and whatever lies under the rest",
    "effects": "sounds that something makes",
}
"""What is mixed together before it becomes a whole, and what each is for."""

ROWS = (
    # ---- words ----
    Property("text", "Words", "what it says", "text", "Your words", WORDS, "what", high=MAX_LETTERS, per_format=True,
             control="text", find="text write title"),
    Property("font", "Font", "the family of its letters, or a role of the brand", "font", next(iter(FONTS)), WORDS,
             "what", per_format=True, look=True, choices=_FAMILIES, control="choice", find="typeface family"),
    Property("weight", "Weight", "how heavy its letters are", "whole", 800, WORDS, "what", low=100, high=900,
             per_format=True, look=True, choices_of=_weights, control="choice", find="bold light"),
    Property("colour", "Colour", "the colour of its letters", "colour", "#FFFFFF", WORDS, "what", per_format=True,
             over_time=True, look=True),
    Property("align", "Align", "to which side its lines keep", "choice", "left", WORDS, "what", per_format=True,
             look=True, choices=_SIDES, control="switches",
             icons={"left": "text-left", "centre": "text-center", "right": "text-right"}),
    Property("line", "Line spacing", "from one line to the next, in heights of its letters", "number", 1.08, WORDS,
             "what", unit="×", low=0.7, high=3, step=0.05, digits=2, per_format=True, look=True, find="leading"),
    # ---- where it lies ----
    Property("pin", "Pinned", "which point of it, and of the frame, are held together, as shares of width and height",
             "spot", (0.5, 0.5), PLACED, "place", digits=2, per_format=True, look=True, control="nine",
             find="position corner"),
    Property("place", "Place", "how far it is pushed from where it is pinned: across and down", "spot", (0.0, 0.0),
             PLACED, "place", unit="%", low=-8, high=8, least=-2, most=2, scale=0.01, step=0.5, digits=1,
             per_format=True, over_time=True, look=True, hint=_FROM_ITS_PIN, find="position x y move",
             axes=("Across", "Down")),
    Property("size", "Size", "the height of letters, or a picture’s longer side, of the short side; of a design, all",
             "number", 0.4, PLACED, "place", unit="%", low=AT_LEAST, high=8, least=0.01, most=3, scale=0.01, step=0.5,
             digits=1, slider="log", defaults={"words": 0.13, "design": 1.0}, per_format=True, over_time=True,
             look=True, find="large small scale"),
    Property("turn", "Turn", "how far it is turned, clockwise; 720° are two turns", "number", 0.0, PLACED,
             "place", unit="°", low=-3600, high=3600, least=-360, most=360, digits=1, per_format=True, over_time=True,
             look=True, find="rotate angle"),
    Property("wrap", "Line width", "the width at which its lines break, of the frame’s short side", "number", 0.92,
             WORDS, "place", unit="%", low=AT_LEAST, high=8, least=0.05, most=3, scale=0.01, step=1, per_format=True,
             look=True, find="wrap break"),
    # ---- how a picture meets the frame ----
    Property("fit", "Fit", "whether it covers the frame and is cropped, or is shown whole", "choice", "fill", FRAMED,
             "framing", choices=(("fill", "Fills it"), ("letterbox", "Letterbox")), control="switches",
             per_format=True, look=True),
    Property("focus", "Focus", "the point of the picture that stays nearest to the middle when it is cropped", "spot",
             (0.5, 0.5), FRAMED, "framing", unit="%", scale=0.01, step=1, slider="straight", per_format=True,
             over_time=True, look=True, axes=("Focus across", "Focus down"), find="crop position",
             hint="The part of the picture that stays in view when it is cropped"),
    Property("zoom", "Zoom", "how much larger than it must be", "number", 1.0, FRAMED, "framing", unit="%", low=1,
             high=8, scale=0.01, step=5, slider="straight", per_format=True, over_time=True, look=True,
             find="enlarge"),
    # ---- how it is seen ----
    Property("shown", "Shown", "whether it is seen at all", "flag", True, SEEN, "look", per_format=True,
             switched=("shown", "hidden"), verbs=("Showed", "Hid"), find="hide visible"),
    _share("opacity", "Opacity", "how much of it is seen; the rest is what lies behind", 1.0, PLACED, group="look",
           over_time=True, look=True, find="see-through"),
    _share("shadow", "Shadow", "how dark the shadow of its letters is", 0.0, WORDS, group="look", over_time=True,
           look=True),
    Property("box", "Box", "the colour of the box behind it", "colour", "", WORDS, "look", per_format=True,
             over_time=True, look=True, empty=True, find="background"),
    _share("box_opacity", "Box opacity", "how much of the box is seen", 1.0, WORDS, group="look", over_time=True,
           look=True),
    Property("fill", "Colour", "the colour of a filler", "colour", "#D9CFC0", frozenset({"filler"}), "look",
             per_format=True, over_time=True, look=True),
    # ---- how it comes and goes ----
    Property("arrives", "Comes", "how it comes", "choice", "none", PLACED, "motion", choices=_MOTIONS, end="start",
             find="animation in"),
    Property("arrive_length", "over", "how long it takes to come", "length", ticks(0.5), PLACED, "motion", unit="s",
             high=30, step=0.1, digits=2, end="start"),
    Property("leaves", "Goes", "how it goes", "choice", "none", PLACED, "motion", choices=_MOTIONS, end="end",
             find="animation out"),
    Property("leave_length", "over", "how long it takes to go", "length", ticks(0.5), PLACED, "motion", unit="s",
             high=30, step=0.1, digits=2, end="end"),
    # ---- how it is heard ----
    Property("gain", "Gain", "how loud it is; −60 dB is silence", "number", 0.0, HEARD, "sound", unit="dB", low=-60,
             high=12, step=0.5, digits=1, slider="straight", over_time=True, find="volume loud quiet"),
    Property("bus", "Heard as", "with which other sounds it is mixed", "choice", "music", HEARD,
             choices=tuple((name, name.capitalize()) for name in BUSES), defaults={"footage": "voice"}),
    Property("muted", "Muted", "whether it is silent, without forgetting how loud it was", "flag", False, HEARD,
             "sound", switched=("silent", "heard"), verbs=("Muted", "Unmuted"), find="silent"),
    Property("levelled", "Level it", "brings what it is made of to −18 LUFS, without peaks above −1 dBTP", "flag",
             False, HEARD, "sound", switched=("levelled", "as it came"), verbs=("Levelled", "Left as it came"),
             needs="loudness", hint="Brings quiet and loud files to the same loudness (−18 LUFS); Gain is on top of it",
             find="normalise loudness even"),
    Property("fade_in", "Fade in", "over how long it comes in", "length", 0, SOUND, "sound", unit="s", high=120,
             step=0.1, digits=2, end="start"),
    Property("fade_out", "Fade out", "over how long it goes out", "length", 0, SOUND, "sound", unit="s", high=120,
             step=0.1, digits=2, end="end"),
)  # fmt: skip

PROPERTIES: dict[str, Property] = {row.name: row for row in ROWS}
"""Every property by its name, in the order of Details."""


NEEDING: dict[str, Property] = {row.name: row for row in ROWS if row.needs}
"""The properties for which something has to be known of the file."""


def find_property(name: str) -> Property | None:
    return PROPERTIES.get(name)


def properties_of(traits: frozenset[str]) -> list[Property]:
    """The properties that a part with these traits has."""
    return [row for row in PROPERTIES.values() if row.of & traits]
