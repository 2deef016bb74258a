"""Collages: where cells lie in each shape, what is put in them, what is heard, and what they become as layers."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.collage import GRIDS, arranged, dividers
from glowreel.core.collage.grids import MOST, parsed
from glowreel.core.collage.layout import LEAST, divided
from glowreel.core.document import Clip
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.model import Composite, DrawPicture, Fill
from glowreel.core.recipe.picture import find_format, frame_recipe
from glowreel.core.recipe.sound import all_voices
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, measure

GAP = 12.0


@pytest.fixture
def table() -> Table:
    return Table()


def collage(table: Table, grid: str = "four", *media: str) -> Clip:
    table.do(c.AddCollage(grid=grid, media=media))
    return table.promo.clips[-1]


def drawn(table: Table, at: int, format: str = "wide") -> list[Composite]:
    recipe = frame_recipe(table.promo, find_format(table.promo, format), at, measure)
    return [op for op in recipe.ops if isinstance(op, Composite)]


@pytest.mark.parametrize("format", SHIPPED.values(), ids=lambda format: format.id)
@pytest.mark.parametrize("grid", GRIDS.values(), ids=lambda grid: grid.name)
def test_cells_fill_the_frame_between_rim_and_gaps_and_never_meet(grid, format) -> None:
    wide, high = format.canon
    boxes = arranged(grid, (wide, high), GAP, 2 * GAP, {})
    assert len(boxes) == grid.count
    for place, box in enumerate(boxes):
        assert min(box.x, box.y) >= 2 * GAP - 1e-6
        assert box.x + box.width <= wide - 2 * GAP + 1e-6
        assert box.y + box.height <= high - 2 * GAP + 1e-6
        assert min(box.width, box.height) > 80, "a cell is too thin to show anything"
        for other in boxes[place + 1 :]:
            across = max(box.x, other.x) - min(box.x + box.width, other.x + other.width)
            down = max(box.y, other.y) - min(box.y + box.height, other.y + other.height)
            assert max(across, down) >= GAP - 1e-6
    lines = dividers(grid, (wide, high), GAP, 2 * GAP, {})
    covered = sum(box.width * box.height for box in boxes) + sum(d.box.width * d.box.height for d in lines)
    assert covered == pytest.approx((wide - 4 * GAP) * (high - 4 * GAP))
    assert len(lines) == grid.count - 1


def test_every_number_of_cells_has_a_grid() -> None:
    assert {grid.count for grid in GRIDS.values()} == set(range(1, MOST + 1))


@pytest.mark.parametrize("text", ["", "1|", "(1|2", "1|2/3", "1|2)", "a|b"])
def test_what_is_no_arrangement_is_refused(text: str) -> None:
    with pytest.raises(ValueError, match=r"arrange|cell|bracket|pieces|open"):
        parsed(text)


@given(share=st.floats(0, 1), after=st.integers(0, 2))
def test_a_line_that_is_moved_takes_from_one_neighbour_what_it_gives_the_other(share: float, after: int) -> None:
    node = GRIDS["four-row"].arranged["wide"]
    made = divided(node, "wide:", {}, after, share)
    assert sum(made) == pytest.approx(1, abs=1e-5)
    assert min(made) >= LEAST - 1e-5
    assert [made[n] for n in range(4) if n not in (after, after + 1)] == pytest.approx([0.25, 0.25])


def test_a_line_is_moved_in_frames_of_one_shape(table: Table) -> None:
    clip = collage(table, "two", "still", "ridge")
    table.do(c.MoveDivider(item=clip.id, format="wide", share=0.7))
    left, right = (op.window for op in drawn(table, 0))
    assert left.width / (left.width + right.width) == pytest.approx(0.7)
    upper, lower = (op.window for op in drawn(table, 0, "tall"))
    assert upper.height == pytest.approx(lower.height)
    table.do(c.MoveDivider(item=clip.id, format="wide"))
    left, right = (op.window for op in drawn(table, 0))
    assert left.width == pytest.approx(right.width)


def test_a_collage_lasts_as_long_as_the_longest_in_it_and_holds_files_in_their_order(table: Table) -> None:
    clip = collage(table, "four", "still", "ridge", "field")
    longest = max(MEDIA[key].length for key in ("ridge", "field"))
    assert clip.length == table.promo.rate.frame_start(table.promo.rate.frame_floor(longest))
    assert [cell.media for cell in clip.cells] == ["still", "ridge", "field", None]
    table.do(c.Trim(item=clip.id, length=9 * S))
    table.do(c.FitCollage(item=clip.id))
    assert table.promo.clips[-1].length == clip.length


def test_cells_start_one_after_another_with_what_runs_in_them(table: Table) -> None:
    clip = collage(table, "three", "ridge", "field", "still")
    table.do(c.Set(items=(clip.id,), values={"step": S}))
    assert len(drawn(table, 0)) == 1
    assert len(drawn(table, 3 * S // 2)) == 2
    assert len(drawn(table, 5 * S // 2)) == 3
    pictures = [op.ops[-1].ops[0] for op in drawn(table, 5 * S // 2)]
    assert [op.at for op in pictures if isinstance(op, DrawPicture)] == [5 * S // 2, 3 * S // 2, 0]


def test_a_split_collage_looks_as_before(table: Table) -> None:
    clip = collage(table, "two", "ridge", "field")
    table.do(c.Set(items=(clip.id,), values={"step": S // 2}))
    before = [drawn(table, at * S // 4) for at in range(8)]
    table.do(c.SplitAt(item=clip.id, at=S))
    assert [drawn(table, at * S // 4) for at in range(8)] == before
    table.do(c.Join(item=table.promo.clips[0].id))
    assert len(table.promo.clips) == 1


def test_a_cell_is_filled_written_in_swapped_and_emptied(table: Table) -> None:
    clip = collage(table, "two", "still")
    one, other = (cell.id for cell in clip.cells)
    table.do(c.FillCell(item=clip.id, cell=other, words="Now"))
    table.do(c.Set(items=(clip.id,), values={f"{other}.fill": "#112233", f"{one}.zoom": 2.0}))
    clip = table.promo.clips[0]
    assert clip.cells[1].read("text") == "Now"
    assert drawn(table, 0)[1].ops[0] == Fill("#112233")
    table.do(c.SwapCells(item=clip.id, cell=one, other=other))
    assert [cell.id for cell in table.promo.clips[0].cells] == [other, one]
    assert table.promo.clips[0].cells[1].read("zoom") == 2.0
    table.do(c.FillCell(item=clip.id, cell=one))
    assert table.promo.clips[0].cells[1].media is None
    assert "still" not in table.promo.media, "a file that nothing uses is forgotten"


def test_another_grid_keeps_what_is_filled_and_never_throws_it_away(table: Table) -> None:
    clip = collage(table, "four", "still", "ridge")
    table.do(c.ArrangeCells(item=clip.id, grid="two"))
    assert [cell.media for cell in table.promo.clips[0].cells] == ["still", "ridge"]
    with pytest.raises(Refusal, match="2 cells are filled"):
        table.do(c.ArrangeCells(item=clip.id, grid="one"))
    table.do(c.ArrangeCells(item=clip.id, grid="nine"))
    assert len(table.promo.clips[0].cells) == 9


def test_what_is_heard_of_a_collage(table: Table) -> None:
    clip = collage(table, "three", "still", "ridge", "field")
    sounding = [key for key in ("ridge", "field") if MEDIA[key].sounding]
    assert len(all_voices(table.promo)) == min(1, len(sounding))
    table.do(c.Set(items=(clip.id,), values={"cells_heard": "all", "step": S}))
    voices = all_voices(table.promo)
    assert [voice.source for voice in voices] == [MEDIA[key].hash for key in sounding]
    assert [voice.at for voice in voices] == [48000 * place for place, key in ((1, "ridge"), (2, "field")) if
                                              key in sounding]  # fmt: skip
    table.do(c.Set(items=(clip.id,), values={"cells_heard": "none"}))
    assert all_voices(table.promo) == []


@pytest.mark.parametrize("format", ["wide", "square", "tall"])
def test_free_layers_lie_where_the_cells_were(table: Table, format: str) -> None:
    clip = collage(table, "three-first", "still", "ridge")
    table.do(c.FillCell(item=clip.id, cell=clip.cells[2].id, words="Now"))
    table.do(c.Set(items=(clip.id,), values={f"{clip.cells[0].id}.zoom": 1.5, f"{clip.cells[0].id}.focus": [0.3, 0.6]}))
    windows = [op.window for op in drawn(table, 0, format)]
    inside = drawn(table, 0, format)[0]
    was = inside.ops[-1].ops[0].box
    table.do(c.FreeCollage(item=clip.id))
    assert [item.kind for item in table.promo.items if item.content.lane == "layer"].count("picture") == 2
    recipe = frame_recipe(table.promo, find_format(table.promo, format), 0, measure)
    photo = next(op for op in recipe.ops if isinstance(op, DrawPicture) and op.still)
    assert photo.box.x == pytest.approx(windows[0].x, abs=0.01)
    assert photo.box.width == pytest.approx(windows[0].width, abs=0.01)
    assert photo.box.height == pytest.approx(windows[0].height, abs=0.01)
    assert photo.crop[0] == pytest.approx(-was.x / was.width, abs=1e-3)


def times_shown(table: Table, media: str, at: int) -> list[int]:
    """Which times of a file a frame shows, in cells or in layers."""
    ops = list(frame_recipe(table.promo, find_format(table.promo, "wide"), at, measure).ops)
    found = []
    for op in ops:
        ops.extend(op.ops if isinstance(op, Composite) else ())
        if isinstance(op, DrawPicture) and op.source == MEDIA[media].hash:
            found.append(op.at)
    return found


def test_footage_shorter_than_its_collage_holds_its_last_frame_in_layers_too(table: Table) -> None:
    clip = collage(table, "two", "ridge", "field")
    table.do(c.Set(items=(clip.id,), values={"cells_heard": "all"}))
    long, short = (MEDIA[key].length for key in ("ridge", "field"))
    start = timeline(table.promo).clip_span[clip.id].start
    times = [start + at for at in (short - S, short, long - S)]
    looks = [times_shown(table, "field", at) for at in times]
    assert all(len(look) == 1 for look in looks), "the cell is not drawn"
    table.do(c.FreeCollage(item=clip.id))
    assert [times_shown(table, "field", at) for at in times] == looks
    items = [item for item in table.promo.items if item.media == "field"]
    assert sorted(item.length for item in items) == [long - short, short, short], "it runs, holds and is heard"
    assert [item.content.lane for item in items].count("layer") == 2
