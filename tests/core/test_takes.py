"""Recorded takes: they land in place, tied; where something was said before, that gives way and the rest stays."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.commands import AddNote, AddSound, InsertClips, LayPages, LayRecording, LayTake
from glowreel.core.commands.themes import THEMES
from glowreel.core.document import Promo, Tied
from glowreel.core.errors import Refusal
from glowreel.core.time import TICKS_PER_SAMPLE, ticks
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, Table, media

SECOND = ticks(1)
TAKES = {key: media(key, "sound", length=8, width=0, height=0, rate=None, heard="voice") for key in ("voice", "other")}


def said_at(promo: Promo, time: int) -> list[tuple[str, int]]:
    """Which recordings are heard at a time, and which moment of each."""
    index = timeline(promo)
    found = []
    for track in promo.sounds:
        for item in track.items:
            span = index.item_span(item)
            if item.source is not None and span.start <= time < span.end:
                found.append((item.source.media, item.into + time - span.start))
    return found


def a_table() -> Table:
    """A promo of two clips, ten and four seconds long, and two recordings of eight seconds."""
    table = Table()
    table.context = replace(table.context, media=MEDIA | TAKES)
    table.do(InsertClips(media=("ridge", "basket")))
    return table


@pytest.fixture
def cut() -> Table:
    return a_table()


def test_a_take_is_tied_to_the_clip_under_its_beginning_and_goes_with_it(cut: Table) -> None:
    cut.do(LayTake(media="voice", at=11 * SECOND, length=2 * SECOND))
    (item,) = cut.promo.sounds[-1].items
    assert isinstance(item.anchor, Tied)
    assert item.anchor.clip == cut.promo.clips[1].id
    assert item.read("bus") == "voice"
    assert said_at(cut.promo, 12 * SECOND) == [("voice", SECOND)]


def test_what_is_punched_in_takes_the_place_of_that_stretch_alone(cut: Table) -> None:
    cut.do(LayTake(media="voice", at=SECOND, length=6 * SECOND))
    cut.do(LayTake(media="other", at=3 * SECOND, into=SECOND // 2, length=SECOND))
    assert [said_at(cut.promo, t * SECOND // 2) for t in (3, 5, 6, 7, 8, 13)] == [
        [("voice", SECOND // 2)], [("voice", 3 * SECOND // 2)], [("other", SECOND // 2)], [("other", SECOND)],
        [("voice", 3 * SECOND)], [("voice", 11 * SECOND // 2)],
    ]  # fmt: skip
    assert len(cut.promo.sounds) == 1, "on the track of voices"


def test_music_is_no_voice_and_stays(cut: Table) -> None:
    cut.do(AddSound(media="song", whole=True))
    cut.do(LayTake(media="voice", at=SECOND, length=SECOND))
    assert {media for media, _ in said_at(cut.promo, SECOND)} == {"song", "voice"}


def test_a_take_without_sound_or_beyond_its_end_is_refused(cut: Table) -> None:
    with pytest.raises(Refusal, match="not that long"):
        cut.do(LayTake(media="voice", at=0, into=100 * SECOND))
    with pytest.raises(Refusal, match="no sound"):
        cut.do(LayTake(media="still", at=0))


stretch = st.tuples(st.integers(0, 48_000 * 9), st.integers(1, 48_000 * 4), st.integers(0, 48_000 * 3))


@given(st.lists(st.tuples(st.sampled_from(("voice", "other")), stretch), min_size=1, max_size=6))
def test_whatever_is_laid_in_the_last_take_is_heard_there_and_nothing_twice(
    takes: list[tuple[str, tuple[int, int, int]]],
) -> None:
    table = a_table()
    heard: list[tuple[int, int, str, int]] = []
    for key, (at, length, into) in takes:
        at, length, into = (value * TICKS_PER_SAMPLE for value in (at, length, into))
        table.do(LayTake(media=key, at=at, length=length, into=into))
        heard.append((at, at + length, key, into))
    for time in {edge for a, b, _, _ in heard for edge in (a, b - TICKS_PER_SAMPLE, (a + b) // 2)}:
        last = next(((m, into + time - a) for a, b, m, into in reversed(heard) if a <= time < b), None)
        assert said_at(table.promo, time) == ([last] if last else [])


@pytest.mark.parametrize("late", [0, SECOND // 3, -SECOND // 3])
def test_a_camera_stands_over_its_screen_in_step_with_it(cut: Table, late: int) -> None:
    marks = ({"at": SECOND, "text": "Keep that"}, {"at": 60 * SECOND, "text": "beyond"})
    cut.do(LayRecording(screen="ridge", camera="field", at=10 * SECOND, late=late, marks=marks))
    clips = cut.promo.clips
    assert [clip.media for clip in clips] == ["ridge", "ridge", "basket"]
    index = timeline(cut.promo)
    screen = index.clip_span[clips[1].id]
    (layer,) = (item for track in cut.promo.layers for item in track.items)
    for time in (screen.start + SECOND, screen.start + 3 * SECOND):
        on_screen, in_camera = time - screen.start, layer.into + time - index.item_span(layer).start
        assert abs(on_screen - in_camera - late) <= cut.promo.rate.frame / 2, "the same moment in both"
    assert [(note.text, index.start_of(note.anchor) - screen.start) for note in cut.promo.notes] == [
        ("Keep that", SECOND)
    ]
    assert layer.read("mask") == "ellipse"


def test_a_camera_alone_is_a_clip_and_nothing_is_refused(cut: Table) -> None:
    cut.do(LayRecording(camera="field", at=0))
    assert cut.promo.clips[0].media == "field"
    with pytest.raises(Refusal, match="Nothing was recorded"):
        cut.do(LayRecording(at=0))


def turns(*told: tuple[str, float]) -> tuple[dict[str, object], ...]:
    return tuple({"media": media, "at": ticks(at)} for media, at in told)


def test_pages_stand_from_turn_to_turn_with_whoever_spoke_beside_them(cut: Table) -> None:
    told = turns(("still", 0), ("sign", 2), ("still", 2), ("sign", 5))
    cut.do(LayPages(turns=told, at=10 * SECOND, length=7 * SECOND, camera="field", late=SECOND // 2))
    index = timeline(cut.promo)
    pages = cut.promo.clips[1:-1]
    assert [(clip.media, clip.length) for clip in pages] == [
        ("still", 2 * SECOND), ("still", 3 * SECOND), ("sign", 2 * SECOND)
    ]  # fmt: skip
    (seen,) = (item for track in cut.promo.layers for item in track.items)
    (heard,) = (item for track in cut.promo.sounds for item in track.items)
    begins = index.clip_span[pages[0].id].start
    for item in (seen, heard):
        span = index.item_span(item)
        assert span.start == begins + SECOND // 2
        assert abs(span.length - 6 * SECOND) < cut.promo.rate.frame
        assert isinstance(item.anchor, Tied)
    assert heard.read("bus") == "voice"
    # What is said stays with its page when something is put in before it.
    cut.do(InsertClips(media=("basket",), at=0))
    assert timeline(cut.promo).item_span(heard).start == begins + SECOND // 2 + 4 * SECOND


def test_pages_without_turns_are_as_long_as_photos_or_turn_at_notes(cut: Table) -> None:
    cut.do(LayPages(turns=turns(("still", 0), ("sign", 0)), at=0))
    assert [clip.length for clip in cut.promo.clips[:2]] == [3 * SECOND] * 2
    table = a_table()
    with pytest.raises(Refusal, match="No note"):
        table.do(LayPages(turns=turns(("still", 0)), by_notes=True))
    for at in (11, 13):
        table.do(AddNote(at=at * SECOND, text="turn"))
    table.do(LayPages(turns=turns(("still", 0), ("sign", 0), ("still", 0)), at=10 * SECOND, by_notes=True))
    assert [clip.length for clip in table.promo.clips[1:4]] == [SECOND, 2 * SECOND, 3 * SECOND]


def test_pages_out_of_order_and_footage_are_refused(cut: Table) -> None:
    with pytest.raises(ValueError, match="one after another"):
        LayPages(turns=turns(("still", 3), ("sign", 1)))
    with pytest.raises(Refusal, match="no page"):
        cut.do(LayPages(turns=turns(("ridge", 0))))


@pytest.mark.parametrize("theme", THEMES)
def test_recordings_and_pages_stand_on_a_theme(cut: Table, theme: str) -> None:
    cut.do(LayRecording(screen="ridge", at=0, theme=theme))
    cut.do(LayPages(turns=turns(("still", 0)), at=0, theme=theme))
    for clip in cut.promo.clips[:2]:
        assert clip.read("ground") == THEMES[theme][1].get("ground", "inherit")
        assert clip.read("zoom") == THEMES[theme][1].get("zoom", 1.0)
    with pytest.raises(ValueError, match="no theme"):
        LayRecording(screen="ridge", theme="velvet")
