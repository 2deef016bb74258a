"""Recorded takes: they land in place, tied; where something was said before, that gives way and the rest stays."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.commands import AddSound, InsertClips, LayRecording, LayTake
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
