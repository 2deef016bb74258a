"""Rows of where a part lies in the frame, and of what of a picture is seen."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import AT_LEAST, FRAMED, LAID, LOOSE, PICTURED, PLACED, WORDS, share
from glowreel.core.subject import FOLLOW_LABELS, FOLLOWS

_FROM_ITS_PIN = "From where it is pinned, in hundredths of the frame’s short side"

ROWS = (
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
    Property("turn", "Turn", "how far it is turned, clockwise; 720° are two turns", "number", 0.0, LAID,
             "place", unit="°", low=-3600, high=3600, least=-360, most=360, digits=1, per_format=True, over_time=True,
             look=True, find="rotate angle"),
    Property("stretch", "Stretch", "how wide it is, of what its own ratio gives", "number", 1.0, LOOSE, "place",
             unit="%", low=0.005, high=400, least=0.25, most=4, scale=0.01, step=5, slider="log", per_format=True,
             over_time=True, look=True, find="ratio width distort"),
    Property("wrap", "Line width", "the width at which its lines break, of the frame’s short side", "number", 0.92,
             WORDS, "place", unit="%", low=AT_LEAST, high=8, least=0.05, most=3, scale=0.01, step=1, per_format=True,
             look=True, find="wrap break"),
    Property("by_rule", "Gives way", "whether it is moved, made smaller or broken into other lines in formats where it"
             " would not be whole, legible and clear of others", "flag", True, PLACED, "place", per_format=True,
             switched=("by rule", "left where it is pinned"), verbs=("Let give way by rule", "Left where it is pinned"),
             find="layout rule arrange automatic", hint="Formats that have less room lay it out anew by rule"),
    Property("fit", "Fit", "whether it covers the frame and is cropped, or is shown whole", "choice", "fill", FRAMED,
             "framing", choices=(("fill", "Fills it"), ("letterbox", "Letterbox")), control="switches",
             per_format=True, look=True),
    share("most_cut", "Cut at most", "how much of its picture may be cut off by a format; where that is not enough to"
          " cover the frame, all of it is shown on a ground", 0.72, FRAMED, group="framing", step=1, look=True,
          beside="fit", choices_beside=frozenset({"fill"}), find="crop whole ground shape",
          hint="In formats that would cut off more, all of it is shown, with a ground behind it"),
    Property("focus", "Focus", "the point of the picture that stays nearest to the middle when it is cropped", "spot",
             (0.5, 0.5), FRAMED, "framing", unit="%", scale=0.01, step=1, slider="straight", per_format=True,
             over_time=True, look=True, axes=("Focus across", "Focus down"), find="crop position",
             hint="The part of the picture that stays in view when it is cropped"),
    Property("follow", "Keeps in view", "what of a cropped picture stays in view, where no focus is set",
             "choice", "subject", FRAMED, "framing", choices=tuple((key, FOLLOW_LABELS[key]) for key in FOLLOWS),
             control="choice", per_format=True, look=True, find="subject face person reframe"),
    Property("zoom", "Zoom", "how much larger than it must be", "number", 1.0, FRAMED, "framing", unit="%", low=0.1,
             high=8, scale=0.01, step=5, slider="straight", per_format=True, over_time=True, look=True,
             find="enlarge"),
    Property("flip_across", "Mirrored", "whether left and right of the picture change places", "flag", False, PICTURED,
             "framing", per_format=True, look=True, switched=("mirrored", "as it came"),
             verbs=("Mirrored", "Mirrored back"), find="flip horizontal"),
    Property("flip_down", "Upside down", "whether top and bottom of the picture change places", "flag", False, PICTURED,
             "framing", per_format=True, look=True, switched=("upside down", "upright"),
             verbs=("Turned upside down", "Put upright"), find="flip vertical"),
    *(
        share(f"crop_{side}", f"Crop {side}", f"how much of the picture is cut off {words}", 0.0, PICTURED,
              group="framing", high=0.95, step=1, over_time=True, look=True, find="cut off trim edges")
        for side, words in (
            ("left", "on the left"), ("top", "at the top"), ("right", "on the right"), ("bottom", "at the bottom"),
        )
    ),
)  # fmt: skip
