"""What a promo can be exported as, what is said of its size, and where it is cut for encoding."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.film_forms import (
    FILM_FORMS,
    LOOKS,
    Making,
    as_made,
    expected_bytes,
    picture_bits,
    read_making,
    refuse_unmakeable,
)
from glowreel.core.formats import SHIPPED
from glowreel.core.pieces import LEAST_SECONDS, MOST_SECONDS, pieces
from glowreel.core.time import Rate, ticks
from glowreel.core.timeline import timeline
from tests.core.build import media, numbered


def on_table(seconds: float) -> tuple[Promo, c.Context]:
    """A promo of one clip that lasts so long."""
    long = media("long", length=600)
    context = c.Context(numbered(), {long.id: long})
    bare = Promo(id="p", name="Test", formats=(SHIPPED["wide"],), rate=Rate(num=30, den=1), rate_chosen=True)
    clip = c.InsertClips(media=(long.id,), length=ticks(seconds))
    return c.apply(bare, clip, context).promo, context


def lasting(seconds: float) -> Promo:
    return on_table(seconds)[0]


@pytest.mark.parametrize("form", FILM_FORMS)
def test_every_form_says_what_it_is_for_and_can_be_asked_for(form: str) -> None:
    row = FILM_FORMS[form]
    assert row.label
    assert row.use
    assert row.suffix.startswith(".")
    assert read_making(form, "fine").form == form
    if row.picture:
        assert all(row.bits), "how large it gets was measured"
        assert row.bits[0] <= row.bits[1] <= row.bits[2]


@pytest.mark.parametrize(
    ("asked", "code"),
    [({"form": "film"}, "film-form"), ({"look": "best"}, "look"), ({"rate": "17"}, "rate"),
     ({"megabytes": "many"}, "size"), ({"megabytes": "nan"}, "size"), ({"kilobits": "5"}, "size")],
)  # fmt: skip
def test_what_cannot_be_had_is_refused(asked: dict[str, str], code: str) -> None:
    with pytest.raises(Refusal) as refused:
        read_making(**asked)
    assert refused.value.code == code


def test_what_a_form_has_no_choice_of_is_left_out() -> None:
    made = read_making("wav", "small", megabytes="3", rate="", clear=True, at=900)
    assert made == Making(form="wav")
    assert read_making("gif").rate == FILM_FORMS["gif"].usual_rate


def test_a_long_promo_is_no_gif_and_a_small_file_holds_no_hour() -> None:
    with pytest.raises(Refusal, match="60 seconds"):
        refuse_unmakeable(Making(form="gif"), lasting(61), 480)
    with pytest.raises(Refusal, match="240p"):
        refuse_unmakeable(Making(form="gif"), lasting(10), 1080)
    with pytest.raises(Refusal, match="do not fit"):
        refuse_unmakeable(read_making(megabytes="1"), lasting(60), 1080)
    refuse_unmakeable(read_making(megabytes="8"), lasting(60), 1080)


@given(seconds=st.floats(1, 500), megabytes=st.floats(1, 500))
def test_bits_of_picture_and_sound_fit_into_what_was_asked(seconds: float, megabytes: float) -> None:
    promo, making = lasting(round(seconds, 2)), read_making(megabytes=str(megabytes))
    try:
        refuse_unmakeable(making, promo, 1080)
    except Refusal:
        return
    bits = picture_bits(making, promo)
    assert bits is not None
    whole = (bits + making.film_form.sound_bits) * float(timeline(promo).length / ticks(1)) / 8
    assert whole <= megabytes * 1e6
    assert expected_bytes(making, promo, (1920, 1080)) <= megabytes * 1e6


def test_the_expected_size_grows_with_look_size_and_length_and_goes_by_what_was_measured() -> None:
    promo = lasting(20)
    sizes = [expected_bytes(Making(look=look), promo, (1280, 720)) for look in LOOKS]
    assert sizes == sorted(sizes)
    assert expected_bytes(Making(), promo, (1920, 1080)) > sizes[1]
    assert expected_bytes(Making(), lasting(40), (1280, 720)) > 1.9 * sizes[1]
    assert expected_bytes(Making(), promo, (1280, 720), measured=0.001) < sizes[1]


def test_a_promo_is_made_at_another_rate_and_without_its_ground_but_stays_what_it_is() -> None:
    promo = lasting(10)
    made = as_made(promo, read_making("vp9", rate="60", clear=True))
    assert (timeline(made).frame_count, made.background) == (600, "")
    assert as_made(promo, Making()) is promo
    assert as_made(promo, Making(rate=Rate(num=25, den=1))).background == promo.background


def words_at(*spans: tuple[float, float]) -> Promo:
    promo, context = on_table(60)
    for start, length in spans:
        promo = c.apply(promo, c.AddWords(text="Words", at=ticks(start), length=ticks(length)), context).promo
    return promo


def test_pieces_end_where_something_begins_or_ends() -> None:
    promo = words_at((20, 3))
    edges = [piece.first for piece in pieces(promo)]
    at = [promo.rate.frame_ceil(ticks(second)) for second in (20, 23)]
    assert set(at) <= set(edges)
    assert all(piece.first not in at for piece in pieces(promo, at_edits=False))


@given(
    spans=st.lists(st.tuples(st.floats(0, 55), st.floats(0.2, 20)), max_size=8),
    at_edits=st.booleans(),
)
def test_pieces_are_the_whole_promo_and_neither_short_nor_long(
    spans: list[tuple[float, float]], at_edits: bool
) -> None:
    promo = words_at(*spans)
    found = pieces(promo, at_edits=at_edits)
    assert found[0].first == 0
    assert all(one.first + one.count == other.first for one, other in zip(found, found[1:], strict=False))
    assert found[-1].first + found[-1].count == timeline(promo).frame_count
    rate = float(promo.rate.fraction)
    assert all(piece.count <= MOST_SECONDS * 1.2 * rate for piece in found)
    assert all(piece.count >= int(LEAST_SECONDS * rate) for piece in found)


@given(start=st.floats(3, 50), length=st.floats(2.6, 6))
def test_a_change_of_words_touches_only_the_pieces_in_which_they_are_seen(start: float, length: float) -> None:
    promo = words_at((start, length))
    span = timeline(promo).item_span(promo.items[0])
    first, last = promo.rate.frame_ceil(span.start), promo.rate.frame_ceil(span.end)
    touched = [piece for piece in pieces(promo) if piece.first < last and first < piece.first + piece.count]
    seconds = sum(piece.count for piece in touched) / float(promo.rate.fraction)
    assert seconds <= length + 2 * LEAST_SECONDS + 0.2
