"""Everything about a part that can be set: one row each, and what follows from it.

A row gives the name, unit, limits, default and label of a property, which parts have it, whether it may change over
time or in one format only, and how it is spoken of. Validation, the command that sets it, its control in Details, its
lane of points, differences, joining, copies of a look and the reference are made from the row.
"""

from glowreel.core.easing import EASINGS
from glowreel.core.properties.curve import Curve, Point
from glowreel.core.properties.row import Property
from glowreel.core.properties.table import GROUPS, PROPERTIES, SHUT

__all__ = ["EASINGS", "GROUPS", "PROPERTIES", "SHUT", "Curve", "Point", "Property"]
