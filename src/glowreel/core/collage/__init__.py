"""Collages: several pictures, colours and words in one frame, in a grid that knows its arrangement in every shape."""

from glowreel.core.collage.grids import GRIDS, Grid
from glowreel.core.collage.layout import Divider, arranged, dividers

__all__ = ["GRIDS", "Divider", "Grid", "arranged", "dividers"]
