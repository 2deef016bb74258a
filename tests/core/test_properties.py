"""Rules that hold for any numbers, not only for the ones in the examples."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.commands import (
    AddSound,
    AddWords,
    InsertClips,
    PlaceItem,
    SetTransition,
    Trim,
    read_command,
)
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, SHIPPED, Format
from glowreel.core.layout import Box, framed, picture_size, pinned, placed, wrap_width
from glowreel.core.place import Framing, Place
from glowreel.core.recipe.model import Composite, DrawPicture, DrawWords, Fill, Op, recipe_hash
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.recipe.sound import all_voices, gain_factor, sound_length, sound_recipe
from glowreel.core.time import TICKS_PER_SAMPLE, ticks
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, measure, sets

shapes = st.sampled_from(list(SHIPPED.values()))
parts = st.floats(0, 1, allow_nan=False)
sides = st.integers(1, 8000)


@given(shapes, st.floats(-1, 2), st.floats(-1, 2), st.floats(0.01, 2), st.floats(0.01, 2))
def test_pinning_and_placing_are_inverse(format: Format, x: float, y: float, width: float, height: float) -> None:
    box = Box(x, y, width, height)
    place = pinned(box, format, Place())
    back = placed(place, format, width * CANON, height * CANON)
    assert (back.x / CANON, back.y / CANON) == pytest.approx((x, y), abs=1e-6)
    assert set(place.pin) <= {0.0, 0.5, 1.0}


@given(shapes, shapes, parts, parts)
def test_what_is_near_a_corner_stays_as_near_to_it_in_every_format(
    a: Format, b: Format, across: float, down: float
) -> None:
    width, height = (side / CANON for side in a.canon)
    box = Box(across * width * 0.2, down * height * 0.2, 0.1, 0.1)
    place = pinned(box, a, Place())
    there = placed(place, b, 0.1 * CANON, 0.1 * CANON)
    assert (there.x / CANON, there.y / CANON) == pytest.approx((box.x, box.y), abs=1e-6)


@given(shapes, sides, sides, parts, parts, st.floats(1, 8))
def test_filling_always_covers_and_letterboxing_always_fits(
    format: Format, width: int, height: int, x: float, y: float, zoom: float
) -> None:
    frame_width, frame_height = format.canon
    filled = framed(Framing(focus=(x, y), zoom=zoom), format, width, height)
    assert filled.x <= 1e-6
    assert filled.y <= 1e-6
    assert filled.x + filled.width >= frame_width - 1e-6
    assert filled.y + filled.height >= frame_height - 1e-6
    boxed = framed(Framing(fit="letterbox"), format, width, height)
    assert boxed.width <= frame_width + 1e-6
    assert boxed.height <= frame_height + 1e-6
    for drawn in (filled, boxed):
        assert drawn.width / drawn.height == pytest.approx(width / height, rel=1e-6), "pictures are never squeezed"


@given(shapes, st.floats(0.01, 8), sides, sides)
def test_layers_keep_their_shape_and_words_their_margin(format: Format, size: float, width: int, height: int) -> None:
    drawn = picture_size(Place(size=size), width, height)
    assert max(drawn) == pytest.approx(size * CANON)
    assert drawn[0] / drawn[1] == pytest.approx(width / height, rel=1e-6)
    assert wrap_width(Place(wrap=size), format) < format.canon[0]


def _walk(ops: tuple[Op, ...]):
    for op in ops:
        yield op
        if isinstance(op, Composite):
            yield from _walk(op.ops)


@settings(max_examples=40)
@given(
    st.lists(st.sampled_from(["ridge", "field", "basket", "still"]), min_size=1, max_size=5),
    st.lists(st.tuples(st.integers(0, ticks(30)), st.integers(1, ticks(9))), max_size=4),
    st.lists(st.integers(0, 4), max_size=3),
    st.integers(0, ticks(45)),
)
def test_every_frame_of_any_promo_can_be_drawn(media, titles, cuts, time: int) -> None:
    table = Table()
    table.do(InsertClips(media=tuple(media)))
    for at, length in titles:
        table.do(AddWords(at=at, length=length))
    for cut in cuts:
        if cut + 1 < len(media):
            table.do(SetTransition(after=table.promo.clips[cut].id, length=ticks(1.4)))
    lengths = {m.hash: m.length for m in MEDIA.values()}
    time = min(time, timeline(table.promo).length - 1)
    for format in table.promo.formats:
        recipe = frame_recipe(table.promo, format, time, measure)
        for op in _walk(recipe.ops):
            assert isinstance(op, Fill | DrawPicture | DrawWords | Composite)
            assert 0 <= op.opacity <= 1
            if isinstance(op, DrawPicture):
                assert 0 <= op.at < max(lengths[op.source], 1), "a source was asked for what it does not hold"
        assert recipe_hash(recipe) == recipe_hash(frame_recipe(table.promo, format, time, measure))


@settings(max_examples=40)
@given(
    st.integers(0, ticks(20)),
    st.floats(-59, 12),
    st.integers(0, ticks(20)),
    st.integers(0, ticks(20)),
    st.integers(1, ticks(12)),
    st.integers(1, 200_000),
)
def test_spans_of_sound_say_the_same_as_the_whole(at, gain, fade_in, fade_out, length, step: int) -> None:
    table = Table()
    table.do(InsertClips(media=("ridge", "field")))
    song = table.do(AddSound(media="song", at=at)).select[0]
    table.do(Trim(item=song, length=length))
    table.do(sets(song, gain=gain))
    table.do(sets(song, fade_in=fade_in, fade_out=fade_out))
    whole = {(v.source, v.at) for v in all_voices(table.promo)}
    seen = set()
    total = sound_length(table.promo)
    for start in range(0, total, max(step, total // 20)):
        for voice in sound_recipe(table.promo, start, step).voices:
            seen.add((voice.source, voice.at + start))
            assert voice.fade_in + voice.fade_out <= voice.length
            assert 0 < voice.gain <= gain_factor(12)
    assert seen <= whole
    assert total * TICKS_PER_SAMPLE <= timeline(table.promo).length


@given(
    st.dictionaries(
        st.sampled_from(["do", "item", "length", "at", "text", "media", "only"]),
        st.one_of(st.none(), st.integers(), st.text("ab é☀", max_size=9), st.floats()),
    )
)
def test_no_data_from_outside_is_more_than_refused(data: dict) -> None:
    try:
        read_command(data)
    except Refusal as refusal:
        assert refusal.code == "bad-command"
        assert refusal.sentence.endswith(".")


@pytest.mark.parametrize("value", [float("nan"), float("inf"), -9000, 1e9])
def test_absurd_places_are_refused(value: float) -> None:
    base = {"do": "place-item", "item": "i", "format": "wide", "x": 0, "y": 0, "width": 1, "height": 1}
    for name in ("x", "y", "width", "height", "size", "wrap", "turn"):
        with pytest.raises(Refusal):
            read_command({**base, name: value})
    assert isinstance(read_command(base), PlaceItem)


Spans = list[tuple[int, int]]


def covered(table: Table) -> dict[str, Spans]:
    """Where each item, by its words or its media, is on show or heard: whole stretches, in order."""
    index = timeline(table.promo)
    found: dict[str, Spans] = {}
    for item in table.promo.items:
        span = index.item_span(item)
        name = item.read("text") if item.kind == "words" else item.media
        found.setdefault(name, []).append((span.start, span.end))
    return {name: joined(spans) for name, spans in found.items()}


def joined(spans: Spans) -> Spans:
    """The same stretches with those that touch made one."""
    result: Spans = []
    for start, end in sorted(spans):
        if result and result[-1][1] >= start:
            result[-1] = (result[-1][0], max(end, result[-1][1]))
        elif end > start:
            result.append((start, end))
    return result


@given(
    st.lists(st.tuples(st.integers(0, 450), st.integers(1, 200)), min_size=1, max_size=5),
    st.integers(0, 560),
    st.integers(1, 300),
    st.booleans(),
)
def test_removing_a_range_takes_exactly_that_out_of_everything(
    words: list[tuple[int, int]], first: int, count: int, free: bool
) -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field", "basket")))
    frame = table.promo.rate.frame
    for n, (at, length) in enumerate(words):
        title = table.do(c.AddWords(text=f"w{n}", at=at * frame, length=length * frame)).select[0]
        if free:
            table.do(c.TieItem(item=title, to="time"))
    table.do(c.AddSound(media="song", at=2 * S))
    before, index = covered(table), timeline(table.promo)
    start, end = first * frame, min((first + count) * frame, index.length)

    def moved(at: int) -> int:
        return at if at <= start else max(start, at - (end - start))

    table.do(c.RemoveRange(start=start, end=end))
    expected = {name: joined([(moved(a), moved(b)) for a, b in spans]) for name, spans in before.items()}
    assert covered(table) == {name: spans for name, spans in expected.items() if spans}
    assert timeline(table.promo).main_length == index.main_length - (end - start)
