"""Overwriting, replacing, rolling, slipping, and taking time out of every track."""

import pytest

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.time import Rate
from glowreel.core.timeline import timeline
from tests.core.build import S, Table


@pytest.fixture
def table() -> Table:
    """ridge 0–10, field 10–16, basket 16–20."""
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field", "basket")))
    return table


def where(promo: Promo) -> dict[str, tuple[float, float]]:
    """Seconds from and to, by the words or the media of items."""
    index = timeline(promo)
    found = {}
    for item in promo.items:
        span = index.item_span(item)
        name = item.read("text") if item.kind == "words" else item.media
        found[name if name not in found else name + "+"] = (span.start / S, span.end / S)
    return found


def track_of_main(promo: Promo) -> list[tuple[str, float, float]]:
    return [(clip.name, clip.length / S, clip.begins / S) for clip in promo.clips]


def test_overwriting_changes_no_time_but_its_own(table: Table) -> None:
    table.do(c.AddWords(text="under", at=7 * S, length=S))
    table.do(c.AddWords(text="later", at=17 * S, length=S))
    before = where(table.promo)
    table.do(c.Overwrite(media="still", at=6 * S, length=8 * S))
    assert track_of_main(table.promo) == [("ridge", 6, 0), ("still", 8, 0), ("field", 2, 4), ("basket", 4, 0)]
    assert where(table.promo) == before
    under = next(i for i in table.promo.items if i.read("text") == "under")
    assert under.anchor.clip == table.promo.clips[1].id


def test_overwriting_at_the_end_makes_the_promo_longer(table: Table) -> None:
    table.do(c.Overwrite(media="field", at=18 * S, source_in=S, length=4 * S))
    assert track_of_main(table.promo)[-2:] == [("basket", 2, 0), ("field", 4, 1)]
    assert timeline(table.promo).length == 22 * S


def test_a_replaced_clip_keeps_its_place_its_ties_and_its_transitions(table: Table) -> None:
    second = table.promo.clips[1].id
    title = table.do(c.AddWords(at=11 * S)).select[0]
    table.do(c.SetTransition(after=second))
    table.do(c.Replace(item=second, media="ridge", source_in=3 * S))
    assert track_of_main(table.promo)[1] == ("ridge", 6, 3)
    assert table.promo.clips[1].id == second
    assert timeline(table.promo).item[title].anchor.clip == second
    assert [t.after for t in table.promo.transitions] == [second]
    table.do(c.Replace(item=second, media="ridge", source_in=9 * S))
    assert table.promo.clips[1].begins == 4 * S, "as late as its length allows"


@pytest.mark.parametrize(("how", "length", "last"), [("slow", 10, 4), ("hold", 10, 4), ("close", 4, 4)])
def test_shorter_material_slows_down_holds_or_closes_up(table: Table, how: str, length: int, last: int) -> None:
    first = table.promo.clips[0].id
    table.do(c.Replace(item=first, media="basket", shorter=how))
    clip = table.promo.clips[0]
    assert clip.length == length * S
    assert clip.source.range(clip.into, clip.length) == (0, last * S)


def test_a_filler_becomes_what_is_dropped_on_it(table: Table) -> None:
    filler = table.do(c.InsertFiller(at=0, length=3 * S)).select[0]
    table.do(c.Replace(item=filler, media="still"))
    clip = table.promo.clips[0]
    assert (clip.id, clip.kind, clip.length, clip.name) == (filler, "photo", 3 * S, "still")


def test_rolling_a_cut_moves_it_and_nothing_else(table: Table) -> None:
    first, second, _ = (clip.id for clip in table.promo.clips)
    table.do(c.Trim(item=first, length=8 * S))
    table.do(c.Trim(item=second, edge="start", length=4 * S))
    table.do(c.AddWords(text="held", at=8 * S, length=S))
    table.do(c.RollCut(after=first, by=S))
    assert track_of_main(table.promo) == [("ridge", 9, 0), ("field", 3, 3), ("basket", 4, 0)]
    assert where(table.promo) == {"held": (8, 9)}
    table.do(c.RollCut(after=first, by=9 * S))
    assert track_of_main(table.promo)[:2] == [("ridge", 10, 0), ("field", 2, 4)], "no further than the material goes"
    with pytest.raises(Refusal, match="no more picture"):
        table.do(c.RollCut(after=first, by=S))


def test_slipping_shows_another_part_in_the_same_place(table: Table) -> None:
    first = table.promo.clips[0].id
    table.do(c.Trim(item=first, length=4 * S))
    table.do(c.Slip(item=first, by=2 * S))
    assert track_of_main(table.promo)[0] == ("ridge", 4, 2)
    table.do(c.Slip(item=first, by=90 * S))
    assert track_of_main(table.promo)[0] == ("ridge", 4, 6)
    song = table.do(c.AddSound(media="song")).select[0]
    with pytest.raises(Refusal, match="no more to show"):
        table.do(c.Slip(item=song, by=-S))
    with pytest.raises(Refusal, match="same throughout"):
        table.do(c.Slip(item=table.do(c.AddWords()).select[0], by=S))


def interview(rate: Rate | None = None) -> Table:
    """A voice cut against pictures, with titles and music: everything an “um” has to come out of."""
    table = Table(rate)
    table.do(c.InsertClips(media=("ridge", "field")))
    table.do(c.AddWords(text="before", at=S, length=S))
    table.do(c.AddWords(text="across", at=3 * S, length=4 * S))
    table.do(c.AddWords(text="inside", at=9 * S // 2, length=S // 2))
    table.do(c.AddWords(text="after", at=12 * S, length=S))
    table.do(c.AddSound(media="song", at=0))
    return table


def test_a_range_comes_out_of_every_track_in_one_step() -> None:
    table = interview()
    table.do(c.RemoveRange(start=4 * S, end=6 * S))
    assert track_of_main(table.promo) == [("ridge", 4, 0), ("ridge", 4, 6), ("field", 6, 0)]
    assert where(table.promo) == {
        "before": (1, 2), "across": (3, 5), "after": (10, 11), "song": (0, 4), "song+": (4, 28),
    }  # fmt: skip
    assert timeline(table.promo).length == 14 * S
    first, second = table.promo.sounds[0].items
    assert second.begins == 6 * S
    assert first.length == 4 * S


def test_music_can_be_left_alone_and_locked_tracks_are() -> None:
    table = interview()
    table.do(c.RemoveRange(start=4 * S, end=6 * S, music="stays"))
    assert where(table.promo)["song"] == (0, 30)
    table = interview()
    track = next(t for t in table.promo.layers if any(i.read("text") == "across" for i in t.items))
    table.do(c.SetTrack(track=track.id, locked=True))
    table.do(c.RemoveRange(start=4 * S, end=6 * S))
    assert where(table.promo)["across"] == (3, 7)


def test_the_same_range_at_29_97_keeps_every_cut_on_a_frame() -> None:
    table = interview(Rate(num=30000, den=1001))
    table.do(c.RemoveRange(start=4 * S, end=6 * S))
    rate, now = table.promo.rate, 0
    for clip in table.promo.clips:
        now += clip.length
        assert rate.frame_start(rate.frame_nearest(now)) == now


def test_an_empty_range_is_refused_and_a_whole_one_leaves_an_empty_promo(table: Table) -> None:
    for start, end in ((4 * S, 4 * S), (90 * S, 99 * S)):
        with pytest.raises(Refusal, match="range is empty"):
            table.do(c.RemoveRange(start=start, end=end))
    table.do(c.RemoveRange(start=99 * S, end=0))
    assert table.promo.clips == ()


def test_gaps_close_one_by_one_or_all_together() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    for name, at in (("a", 1), ("b", 4), ("c", 9)):
        table.do(c.AddWords(text=name, at=at * S, length=S))
    track = table.promo.layers[0].id
    table.do(c.CloseGap(track=track, at=3 * S))
    assert where(table.promo) == {"a": (1, 2), "b": (2, 3), "c": (7, 8)}
    table.do(c.CloseGap(track=track))
    assert where(table.promo) == {"a": (1, 2), "b": (2, 3), "c": (3, 4)}
    with pytest.raises(Refusal, match="no gap"):
        table.do(c.CloseGap(track=track))


def test_removing_can_close_the_hole_it_leaves() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge",)))
    ids = [table.do(c.AddWords(text=n, at=at * S, length=2 * S)).select[0] for n, at in (("a", 0), ("b", 3), ("c", 6))]
    table.do(c.Remove(items=(ids[1],), close=True))
    assert where(table.promo) == {"a": (0, 2), "c": (4, 6)}
