"""Details of one cell of a collage."""

from __future__ import annotations

from collections.abc import Iterable

from glowreel.core.commands.collage import blank
from glowreel.core.document import Cell, Clip, Part
from glowreel.core.properties import GROUPS, SHUT
from glowreel.web.editor.details.collage import called
from glowreel.web.editor.details.control import Control, Group
from glowreel.web.editor.details.properties import Details

UNUSED = frozenset({"ground", "time", "place"})
"""Groups that have no meaning in a cell."""
BESIDES = frozenset(
    {"leaves", "stays", "muted", "bus", "blend", "shown", "sheet", "style", "pieces_leave", "pieces_stay"}
)
"""Properties that are not looked at in a cell, or said in another way."""


class CellDetails(Details):
    """The controls of one cell of a collage."""

    def groups(self) -> list[Group]:
        cell, clip = self.parts[0], self.within
        assert isinstance(clip, Clip)
        found: dict[str, list[Control]] = {key: [] for key in GROUPS}
        for row in self._rows():
            if (
                row.group
                and row.kind != "text"
                and row.group not in UNUSED
                and row.name not in BESIDES
                and not self._pointless(row)
            ):
                found[self._group(row)] += self._controls(row)
        content = [*self._holding(clip, cell), *found.pop("what"), *found.pop("framing"), *found.pop("look")]
        number = [one.id for one in clip.cells].index(cell.id) + 1
        groups = [Group("cell", f"Cell {number}: {called(self.promo, cell)}", tuple(content))]
        for key, controls in found.items():
            if controls:
                groups.append(Group(f"cell-{key}", f"Cell {number}: {GROUPS[key].lower()}", tuple(controls),
                                    key not in SHUT or self._any_set(key)))  # fmt: skip
        return groups

    def _holding(self, clip: Clip, cell: Part) -> Iterable[Control]:
        """What a cell holds."""
        command = {"do": "fill-cell", "item": clip.id, "cell": cell.id}
        media = self.promo.media.get(cell.media or "")
        yield Control("p-cell-media", "Holds", "material", media.name if media else "a file …", command, "media")
        if "words" in cell.content.traits:
            name = f"{cell.id}.text"
            said = {"do": "set", "items": [clip.id], "format": self.format.id, "values": {name: ""}}
            yield Control("p-cell-text", "Words", "line", cell.read("text", self.format.id), said, f"values/{name}")
        else:
            yield Control("p-cell-words", "", "press", "Write in it", {**command, "words": "Your words"})
        if isinstance(cell, Cell) and not blank(cell):
            yield Control("p-cell-empty", "", "press", "Empty it", command)
