"""Rows of masks: what of a part can be seen through a shape."""

from __future__ import annotations

from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import AT_LEAST, PICTURED, SHOWN_THROUGH, share
from glowreel.core.shapes import SHAPES

_CHOICES: Choices = (
    ("none", "None"), *((name, shape.label) for name, shape in SHAPES.items()), ("path", "A path of your own"),
    ("picture", "Another picture"),
)  # fmt: skip

ROWS = (
    Property("mask", "Shape", "the shape through which it is seen", "choice", "none", SHOWN_THROUGH, "mask",
             choices=_CHOICES,
             control="gallery", per_format=True, look=True, find="mask cut shape heart star circle"),
    Property("mask_place", "Mask place",
             "where the middle of the shape lies, from its own middle, in its shorter sides",
             "spot", (0.0, 0.0), SHOWN_THROUGH, "mask", unit="%", low=-8, high=8, least=-1, most=1, scale=0.01, step=1,
             per_format=True, over_time=True, look=True, axes=("Across", "Down"), beside="mask"),
    Property("mask_size", "Mask size", "how wide and high the shape is, of its shorter side", "spot", (1.0, 1.0),
             SHOWN_THROUGH,
             "mask", unit="%", low=AT_LEAST, high=16, least=0.05, most=3, scale=0.01, step=1, per_format=True,
             over_time=True, look=True, axes=("Wide", "High"), beside="mask"),
    Property("mask_turn", "Mask turn", "how far the shape is turned, clockwise", "number", 0.0, SHOWN_THROUGH, "mask",
             unit="°",
             low=-3600, high=3600, least=-360, most=360, digits=1, per_format=True, over_time=True, look=True,
             beside="mask"),
    share("mask_feather", "Feather", "how soft the edge of the shape is; all of it is a tenth of the short side", 0.0,
          SHOWN_THROUGH, group="mask", over_time=True, look=True, find="soft edge", beside="mask"),
    share("mask_corner", "Mask corners", "how round the corners of a rectangle are", 0.0, SHOWN_THROUGH, group="mask",
          over_time=True, look=True, beside="mask", choices_beside=frozenset({"rectangle"})),
    Property("mask_points", "Points", "how many corners or points the shape has", "whole", 5, SHOWN_THROUGH, "mask",
             unit="points", low=3,
             high=24, per_format=True, over_time=True, look=True, slider="straight", beside="mask",
             choices_beside=frozenset(name for name, shape in SHAPES.items() if shape.points)),
    share("mask_depth", "Depth", "how deep the shape goes in between its points", 0.5, SHOWN_THROUGH, group="mask",
          high=0.95,
          over_time=True, look=True, beside="mask",
          choices_beside=frozenset(name for name, shape in SHAPES.items() if shape.depth)),
    Property("mask_inverted", "Inverted", "whether it is seen outside the shape, and not inside", "flag", False,
             SHOWN_THROUGH, "mask", per_format=True, look=True, switched=("seen outside", "seen inside"),
             verbs=("Inverted the mask of", "Set the mask right of"), beside="mask"),
    Property("mask_path", "Path", "an SVG path; it is scaled to the size of the mask", "path", "", SHOWN_THROUGH,
             "mask", high=4000, look=True, control="line", hint="What stands in the “d” of an SVG path", beside="mask",
             choices_beside=frozenset({"path"})),
    Property("mask_by", "Takes its", "what of the other picture is the mask", "choice", "alpha", PICTURED, "mask",
             choices=(("alpha", "Transparency"), ("brightness", "Brightness")), control="switches", look=True,
             beside="mask", choices_beside=frozenset({"picture"})),
)  # fmt: skip
