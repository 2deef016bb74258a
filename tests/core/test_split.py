"""Splitting and joining."""

import pytest

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.model import recipe_hash
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.timeline import timeline
from tests.core.build import S, Table, measure, sets


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    return table


def test_a_split_clip_goes_on_in_its_media_and_keeps_its_framing(table: Table) -> None:
    first = table.promo.clips[0].id
    table.do(sets(first, zoom=1.5))
    table.do(c.SplitAt(item=first, at=4 * S))
    head, tail, _ = table.promo.clips
    assert (head.length, tail.length, tail.begins) == (4 * S, 6 * S, 4 * S)
    assert head.values == tail.values == {"zoom": 1.5}
    assert tail.source == head.source, "only where it begins in its own time is another"
    assert len(table.promo.scenes) == 1


def test_a_split_changes_no_frame(table: Table) -> None:
    table.do(c.AddWords(at=2 * S, length=6 * S))
    table.do(c.SetTransition(after=table.promo.clips[0].id))

    def frames() -> list[str]:
        return [recipe_hash(frame_recipe(table.promo, SHIPPED["wide"], n * S // 4, measure)) for n in range(64)]

    before = frames()
    edit = table.do(c.SplitAt(at=4 * S))
    assert "Split 2 items" in edit.sentence
    assert frames() == before


def test_what_is_tied_further_on_moves_over_to_the_second_part(table: Table) -> None:
    early = table.do(c.AddWords(at=S)).select[0]
    late = table.do(c.AddWords(at=6 * S)).select[0]
    table.do(c.SplitAt(item=table.promo.clips[0].id, at=5 * S))
    index = timeline(table.promo)
    head, tail, _ = table.promo.clips
    assert index.item[early].anchor.clip == head.id
    assert (index.item[late].anchor.clip, index.item[late].anchor.offset) == (tail.id, S)
    table.do(c.MoveClips(clips=(tail.id,), before=head.id))
    index = timeline(table.promo)
    assert index.item_span(index.item[late]).start == S


def test_a_split_sound_fades_only_at_its_outer_ends(table: Table) -> None:
    song = table.do(c.AddSound(media="song", at=S)).select[0]
    table.do(sets(song, fade_in=S, fade_out=2 * S))
    cut = 5 * S + 14_700
    table.do(c.SplitAt(item=song, at=cut))
    first, second = table.promo.sounds[0].items
    assert (first.values, second.values) == ({"fade_in": S}, {"fade_out": 2 * S})
    assert second.begins == cut - S, "sounds are cut finer than a frame"


def test_everything_is_split_but_what_lasts_for_the_whole(table: Table) -> None:
    table.do(c.AddPicture(media="still", whole=True))
    table.do(c.AddSound(media="song", whole=True))
    title = table.do(c.AddWords(at=2 * S, length=4 * S)).select[0]
    table.do(c.SplitAt(at=3 * S))
    assert [len(track.items) for track in table.promo.layers] == [2, 1]
    assert len(table.promo.sounds[0].items) == 1
    with pytest.raises(Refusal, match="whole promo"):
        table.do(c.SplitAt(item=table.promo.sounds[0].items[0].id, at=3 * S))
    parts = next(track.items for track in table.promo.layers if len(track.items) == 2)
    ways = [part.read(way) for part in parts for way in ("arrives", "leaves")]
    assert ways == ["rise", "none", "none", "fade"]
    assert parts[0].id == title


def test_there_is_nothing_to_split_at_an_end_and_nothing_to_join_that_does_not_go_on(table: Table) -> None:
    first = table.promo.clips[0].id
    for at in (0, 10 * S):
        with pytest.raises(Refusal, match="nothing to split off"):
            table.do(c.SplitAt(item=first, at=at))
    with pytest.raises(Refusal, match="nothing to split here"):
        table.do(c.SplitAt(at=10 * S))
    with pytest.raises(Refusal, match="does not go on"):
        table.do(c.Join(item=first))
    table.do(c.SplitAt(item=first, at=4 * S))
    table.do(c.Trim(item=table.promo.clips[1].id, edge="start", length=5 * S))
    with pytest.raises(Refusal, match="does not go on"):
        table.do(c.Join(item=first))


def test_parts_whose_unknown_fields_differ_are_not_joined(table: Table) -> None:
    """A field that a newer version added is not thrown away by making two parts one."""
    table.do(c.AddWords(text="Fly", at=S))
    title = table.promo.layers[0].items[0]
    table.do(c.SplitAt(item=title.id, at=timeline(table.promo).item_span(title).start + title.length // 2))
    first, second = table.promo.layers[0].items[:2]
    graded = second.changed(grade={"warmth": 0.2})
    track = table.promo.layers[0]
    items = tuple(graded if i.id == second.id else i for i in track.items)
    table.promo = table.promo.changed(layers=(track.changed(items=items), *table.promo.layers[1:]))
    with pytest.raises(Refusal, match="does not go on"):
        table.do(c.Join(item=first.id))
