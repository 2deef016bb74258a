"""Rows of cutting out: people, or what is not of one colour; what lies behind is then seen."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import PICTURED, share

_OF_A_MODEL = frozenset({"people", "things"})
_THINGS = frozenset({"things"})
_BY_COLOUR = frozenset({"colour"})

ROWS = (
    Property("cutout", "Cut out", "what of it is left: people, or all that is not of one colour", "choice", "none",
             PICTURED, "cutout", look=True, control="choice", needs="people things", stills=_THINGS,
             settings="cut_strokes",
             choices=(("none", "nothing"), ("people", "people"), ("things", "the thing in it"),
                      ("colour", "all but a colour")),
             find="remove background person green screen key matte"),
    Property("cut_strokes", "Painted", "what was painted to stay or to go, where the model was wrong", "strokes", (),
             PICTURED, "cutout", beside="cutout", choices_beside=_THINGS, find="brush paint refine add remove"),
    Property("cut_grow", "Edge", "how far the edge is moved outwards, or inwards", "number", 0.0, PICTURED, "cutout",
             unit="%", low=-1, high=1, scale=0.01, step=5, slider="straight", look=True, over_time=True,
             beside="cutout", choices_beside=_OF_A_MODEL | _BY_COLOUR, find="growth choke"),
    share("cut_soft", "Edge softness", "how soft the edge is", 0.15, PICTURED, group="cutout", look=True,
          over_time=True, per_format=False, beside="cutout", choices_beside=_OF_A_MODEL),
    Property("cut_largest", "Largest only", "whether only the largest piece is kept", "flag", False, PICTURED, "cutout",
             look=True, switched=("the largest only", "every piece"), verbs=("Kept the largest of", "Kept all of"),
             beside="cutout", choices_beside=_OF_A_MODEL),
    Property("key_colour", "Colour", "the colour that is taken out", "colour", "#00B140", PICTURED, "cutout", look=True,
             beside="cutout", choices_beside=_BY_COLOUR),
    share("key_tolerance", "Tolerance", "how far from that colour others are taken out as well", 0.3, PICTURED,
          group="cutout", look=True, over_time=True, per_format=False, beside="cutout", choices_beside=_BY_COLOUR),
    share("key_soft", "Softness", "how gradually it goes from what is taken out to what stays", 0.2, PICTURED,
          group="cutout", look=True, over_time=True, per_format=False, beside="cutout", choices_beside=_BY_COLOUR),
    share("key_spill", "Spill", "how much of that colour is taken out of what stays", 0.6, PICTURED, group="cutout",
          look=True, over_time=True, per_format=False, beside="cutout", choices_beside=_BY_COLOUR),
)  # fmt: skip
