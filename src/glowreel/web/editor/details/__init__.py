"""What the Details face shows: controls made from the table of properties, and a few that are no properties."""

from glowreel.web.editor.details.cells import CellDetails
from glowreel.web.editor.details.collage import called
from glowreel.web.editor.details.control import Control, Group
from glowreel.web.editor.details.properties import Details
from glowreel.web.editor.details.timing import promo_controls

__all__ = ["CellDetails", "Control", "Details", "Group", "called", "promo_controls"]
