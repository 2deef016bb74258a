"""Recorded takes: they land in place, tied; where something was said before, that gives way and the rest stays."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.commands import AddSound, LayTake
from glowreel.core.document import Promo, Tied
from glowreel.core.errors import Refusal
from glowreel.core.time import TICKS_PER_SAMPLE, ticks
from glowreel.core.timeline import timeline
from tests.core.build import Build

SECOND = ticks(1)


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


@pytest.fixture
def cut() -> Build:
    build = Build()
    build.clips(3, 4)
    return build


def test_a_take_is_tied_to_the_clip_under_its_beginning_and_goes_with_it(cut: Build) -> None:
    cut.do(LayTake(media="voice", at=5 * SECOND, length=2 * SECOND))
    (item,) = cut.promo.sounds[-1].items
    assert isinstance(item.anchor, Tied)
    assert item.anchor.clip == cut.promo.clips[1].id
    assert item.read("bus") == "voice"
    assert said_at(cut.promo, 6 * SECOND) == [("voice", SECOND)]


def test_what_is_punched_in_takes_the_place_of_that_stretch_alone(cut: Build) -> None:
    cut.do(LayTake(media="voice", at=SECOND, length=6 * SECOND))
    cut.do(LayTake(media="other", at=3 * SECOND, into=SECOND // 2, length=SECOND))
    assert [said_at(cut.promo, t * SECOND // 2) for t in (3, 5, 6, 7, 8, 13)] == [
        [("voice", SECOND // 2)], [("voice", 3 * SECOND // 2)], [("other", SECOND // 2)], [("other", SECOND)],
        [("voice", 3 * SECOND)], [("voice", 11 * SECOND // 2)],
    ]  # fmt: skip
    assert len(cut.promo.sounds) == 1, "on the track of voices"


def test_music_is_no_voice_and_stays(cut: Build) -> None:
    cut.do(AddSound(media="song", whole=True))
    cut.do(LayTake(media="voice", at=SECOND, length=SECOND))
    assert {media for media, _ in said_at(cut.promo, SECOND)} == {"song", "voice"}


def test_a_take_without_sound_or_beyond_its_end_is_refused(cut: Build) -> None:
    with pytest.raises(Refusal, match="not that long"):
        cut.do(LayTake(media="voice", at=0, into=100 * SECOND))
    with pytest.raises(Refusal, match="no sound"):
        cut.do(LayTake(media="photo", at=0))


stretch = st.tuples(st.integers(0, 48_000 * 9), st.integers(1, 48_000 * 4), st.integers(0, 48_000 * 3))


@given(st.lists(st.tuples(st.sampled_from(("voice", "other")), stretch), min_size=1, max_size=6))
def test_whatever_is_laid_in_the_last_take_is_heard_there_and_nothing_twice(
    takes: list[tuple[str, tuple[int, int, int]]],
) -> None:
    build = Build()
    build.clips(3, 4)
    heard: list[tuple[int, int, str, int]] = []
    for media, (at, length, into) in takes:
        at, length, into = (value * TICKS_PER_SAMPLE for value in (at, length, into))
        build.do(LayTake(media=media, at=at, length=length, into=into))
        heard.append((at, at + length, media, into))
    for time in {edge for a, b, _, _ in heard for edge in (a, b - TICKS_PER_SAMPLE, (a + b) // 2)}:
        last = next(((m, into + time - a) for a, b, m, into in reversed(heard) if a <= time < b), None)
        assert said_at(build.promo, time) == ([last] if last else [])
    assert Fraction(1) == 1
