"""What the Details face shows: controls made from the table of properties, and a few that are no properties."""

from glowreel.web.editor.details.control import Control, Group
from glowreel.web.editor.details.properties import Details
from glowreel.web.editor.details.timing import promo_controls

__all__ = ["Control", "Details", "Group", "promo_controls"]
