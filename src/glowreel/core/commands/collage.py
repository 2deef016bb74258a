"""Collages on the main track (see `core.collage`). What a cell is set to is set by `Set`, as `<cell>.<property>`.

```
AddCollage    A B  at the cut nearest to the playhead  →  A [▨▨|▨] B    cells filled with files, in their order
FillCell      [▨|▨]  left                              →  [photo|▨]     with a file, words, or nothing but a colour
SwapCells     [a|b]                                    →  [b|a]         with all that is set of them
ArrangeCells  [a|b]  by another grid                   →  [a/b]
MoveDivider   [a |b]                                   →  [a|b ]        in frames of that shape
FitCollage    as long as the longest of what runs in it
```
Refused: grids there are not, files without a picture, a grid with fewer cells than are filled.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from glowreel.core.collage import GRIDS
from glowreel.core.collage.grids import MOST, Grid
from glowreel.core.collage.layout import divided, node_at
from glowreel.core.commands.base import Command, Context, Outcome, called, with_media
from glowreel.core.commands.change import replace_clip
from glowreel.core.commands.clips import PHOTO_LENGTH, insert_at, nearest_cut, position_before
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import FormatId, MediaId, Reference, Target
from glowreel.core.commands.setting import format_of
from glowreel.core.content import KINDS
from glowreel.core.document import Cell, Clip, Part, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import shape_of
from glowreel.core.media import Media
from glowreel.core.setting import with_cell
from glowreel.core.source import Source
from glowreel.core.time import Length, Ticks, ticks
from glowreel.core.timeline import timeline
from glowreel.core.words import MAX_LETTERS

USUAL = {"ground": "colour", "ground_colour": "paper"}
"""What lies behind the cells of a new collage."""
EMPTY = "#CFC9C2"
"""The colour of a cell in which nothing is yet."""
LONGEST = ticks(60)
"""A new collage is as long as what runs in it, but no longer than this."""


def grid_called(name: str) -> Grid:
    if name not in GRIDS:
        raise Missing("no-grid", f"There is no grid called “{name}”.", "Choose another one.")
    return GRIDS[name]


def _filled(cell: str, media: Media, source_in: int = 0) -> Cell:
    """A cell that shows a file from a time of it on."""
    if not media.pictured:
        raise Refusal("no-picture", f"{media.name} has no picture.", "Choose footage or a photo.")
    source = Source(media=media.id, at=min(source_in, max(0, media.length - 1)))
    kind = next(name for name, one in KINDS.items() if "celled" in one.traits and one.takes(media))
    # What is see-through is shown whole: it is mostly a logo.
    values = {"fit": "letterbox"} if media.alpha else {}
    return Cell(id=cell, kind=kind, name=media.name, source=source, values=values)


def _empty(cell: str) -> Cell:
    return Cell(id=cell, kind="filler", values={"fill": EMPTY})


def blank(cell: Cell) -> bool:
    """Whether nothing was put in a cell yet."""
    return "filler" in cell.content.traits and cell.read("fill") == EMPTY


def collage_of(promo: Promo, key: str) -> Clip:
    clip = timeline(promo).find_clip(key)
    if clip.grid is None:
        raise Refusal("no-collage", f"{called(promo, clip)} is no collage.", "Select one.")
    return clip


def _cell_of(promo: Promo, clip: Clip, key: str) -> Cell:
    cell = next((cell for cell in clip.cells if cell.id == key), None)
    if cell is None:
        raise Missing("gone", "That cell is no longer in the collage.", "Reload to see where things are now.")
    return cell


def _longest(promo: Promo, cells: tuple[Part, ...]) -> int:
    """How long what runs in cells lasts, at most, on whole frames; nothing where nothing runs."""
    ends = [promo.media[cell.media].length - (cell.source.at if cell.source else 0)
            for cell in cells if cell.media and promo.media[cell.media].length]  # fmt: skip
    return promo.rate.frame_start(promo.rate.frame_floor(max(ends, default=0)))


class AddCollage(Command):
    """Puts a collage on the main track, before a clip, at the cut nearest to `at`, or at the end; its cells hold files
    in their order. It is as long as the longest of them, where no length is given."""

    do: Literal["add-collage"] = "add-collage"
    grid: str = Field(max_length=40)
    media: tuple[MediaId, ...] = Field(default=(), max_length=MOST)
    before: Reference | None = None
    at: Ticks | None = None
    length: Length | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        grid = grid_called(self.grid)
        found = [context.find(key) for key in self.media][: grid.count]
        promo, notice = with_first_rate(promo, found)
        known = with_media(promo, *found)
        ids = [context.new_id("k") for _ in range(grid.count)]
        cells = tuple(_filled(key, media) for key, media in zip(ids, found, strict=False))
        cells += tuple(_empty(key) for key in ids[len(found) :])
        length = self.length or min(LONGEST, _longest(known, cells)) or PHOTO_LENGTH
        clip = Clip(
            id=context.new_id("c"), kind="collage", name="Collage",
            length=max(promo.rate.frame, promo.rate.snap(length)), grid=grid.name, cells=cells, values=USUAL,
        )  # fmt: skip
        at_cut = self.before is None and self.at is not None
        position = nearest_cut(promo, self.at or 0) if at_cut else position_before(promo, self.before)
        made = insert_at(known, [clip], position, context)
        return Outcome(made, f"Added a collage of {grid.count}", select=(clip.id,), notice=notice)


class FillCell(Command):
    """Fills a cell of a collage with a file, from `source_in` on, or with words; without either, it is empty again.
    How it comes, and the colour behind what it holds, stays."""

    do: Literal["fill-cell"] = "fill-cell"
    item: Target
    cell: str = Field(max_length=64)
    media: MediaId | None = None
    source_in: Ticks = 0
    words: str | None = Field(default=None, max_length=MAX_LETTERS)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = collage_of(promo, self.item)
        old = _cell_of(promo, clip, self.cell)
        said = f"Emptied a cell of {called(promo, clip)}"
        new, known = _empty(old.id), promo
        if self.media is not None:
            media = context.find(self.media)
            new, known = _filled(old.id, media, self.source_in), with_media(promo, media)
            said = f"Put {media.name} in a cell of {called(promo, clip)}"
        elif self.words is not None:
            new = Cell(id=old.id, kind="words", values=WRITTEN | {"text": self.words})
            said = f"Wrote in a cell of {called(promo, clip)}"
        kept = {name: value for name, value in old.values.items() if name.startswith("arrive")}
        if "fill" in old.values and not blank(old):
            kept["fill"] = old.values["fill"]
        new = new.having(**kept) if kept else new
        made = replace_clip(known, clip.id, lambda c: with_cell(c, old.id, lambda _: new))
        return Outcome(made, said, (clip.id,))


WRITTEN: dict[str, Any] = {
    "fill": "accent",
    "colour": "dark",
    "align": "centre",
    "suits": "shrink",
    "tall": 1.0,
    "upright": "middle",
}
"""How words in a cell are set at first."""


class SwapCells(Command):
    """Lets two cells of a collage change places, with all that is set of them."""

    do: Literal["swap-cells"] = "swap-cells"
    item: Target
    cell: str = Field(max_length=64)
    other: str = Field(max_length=64)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = collage_of(promo, self.item)
        one, other = (_cell_of(promo, clip, key) for key in (self.cell, self.other))
        places = {one.id: other, other.id: one}
        cells = tuple(places.get(cell.id, cell) for cell in clip.cells)
        made = replace_clip(promo, clip.id, lambda c: c.changed(cells=cells))
        return Outcome(made, f"Swapped two cells of {called(promo, clip)}", (clip.id,))


class ArrangeCells(Command):
    """Gives a collage another grid. Its cells keep their order; empty ones go where there are fewer."""

    do: Literal["arrange-cells"] = "arrange-cells"
    item: Target
    grid: str = Field(max_length=40)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip, grid = collage_of(promo, self.item), grid_called(self.grid)
        cells = list(clip.cells)
        for cell in reversed(clip.cells):
            if len(cells) > grid.count and blank(cell):
                cells.remove(cell)
        if len(cells) > grid.count:
            raise Refusal(
                "too-few", f"{len(cells)} cells are filled, and that grid has {grid.count}.", "Empty some first."
            )  # fmt: skip
        cells += [_empty(context.new_id("k")) for _ in range(grid.count - len(cells))]
        made = replace_clip(promo, clip.id, lambda c: c.changed(grid=grid.name, cells=tuple(cells), shares={}))
        return Outcome(made, f"Arranged {called(promo, clip)}: {grid.label.lower()}", (clip.id,))


class MoveDivider(Command):
    """Moves the line after a piece of a collage to where a share of the room is before it, in frames of a format's
    shape; without a share, the pieces have the room that the grid gives them."""

    do: Literal["move-divider"] = "move-divider"
    item: Target
    format: FormatId
    path: str = Field(default="", max_length=20, pattern=r"^[0-9.]*$")
    after: int = Field(default=0, ge=0, lt=MOST)
    share: float | None = Field(default=None, ge=0, le=1, allow_inf_nan=False)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip, format = collage_of(promo, self.item), format_of(promo, self.format)
        shape = shape_of(format.wide, format.high)
        if self.share is None:
            shares = {key: own for key, own in clip.shares.items() if not key.startswith(f"{shape}:")}
        else:
            node = node_at(grid_called(clip.grid or ""), shape, self.path)
            if node is None or self.after + 1 >= len(node.pieces):
                raise Missing("gone", "That line is no longer in the collage.", "Reload to see where things are now.")
            key = f"{shape}:{self.path}"
            shares = {**clip.shares, key: divided(node, key, clip.shares, self.after, self.share)}
        made = replace_clip(promo, clip.id, lambda c: c.changed(shares=shares))
        return Outcome(made, f"Divided {called(promo, clip)} otherwise", (clip.id,))


class FitCollage(Command):
    """Makes a collage as long as the longest of what runs in it."""

    do: Literal["fit-collage"] = "fit-collage"
    item: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = collage_of(promo, self.item)
        length = _longest(promo, clip.inner)
        if length < promo.rate.frame:
            raise Refusal("nothing-runs", "Nothing in it has a length of its own.", "Put footage in a cell.")
        made = replace_clip(promo, clip.id, lambda c: c.changed(length=length))
        return Outcome(made, f"Made {called(promo, clip)} as long as what runs in it", (clip.id,))
