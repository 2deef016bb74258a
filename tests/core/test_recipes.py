import pytest

from glowreel.core.commands import (
    AddPicture,
    AddSound,
    AddWords,
    InsertClips,
    InsertFiller,
    SetTransition,
    Trim,
)
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.model import Composite, DrawPicture, DrawWords, Fill, recipe_hash
from glowreel.core.recipe.picture import frame_recipe, part_box
from glowreel.core.recipe.sound import all_voices, gain_factor, sound_length, sound_recipe
from glowreel.core.time import Rate, ticks
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, measure, sets


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(InsertClips(media=("ridge", "field")))
    return table


def ops(table: Table, seconds: float, format: str = "wide"):
    return frame_recipe(table.promo, SHIPPED[format], ticks(seconds), measure).ops


def test_a_plain_frame_is_one_picture_at_the_sources_own_frame(table: Table) -> None:
    (op,) = ops(table, 10.05)
    assert isinstance(op, DrawPicture)
    assert op.source == MEDIA["field"].hash
    assert op.at == Rate(num=24, den=1).frame_start(1), "0.05 s into 24 fps is its second frame"
    assert (op.box.width, op.box.height) == (1920, 1080)


def test_a_still_stretch_has_one_recipe_and_an_edit_changes_only_its_frames(table: Table) -> None:
    table.do(InsertClips(media=("still",)))
    title = table.do(AddWords(at=S)).select[0]
    format = SHIPPED["wide"]

    def hashes() -> list[str]:
        return [
            recipe_hash(frame_recipe(table.promo, format, n * table.promo.rate.frame, measure), 640) for n in range(560)
        ]

    before = hashes()
    assert len(set(before[16 * 30 : 19 * 30])) == 1
    table.do(sets(title, text="Other words"))
    after = hashes()
    changed = [n for n in range(560) if before[n] != after[n]]
    # The very first frame of a layer that arrives is still empty of it, but its recipe holds the words.
    assert changed == list(range(30, 120))


def test_a_crossfade_draws_both_sides_and_is_half_way_in_the_middle(table: Table) -> None:
    table.do(SetTransition(after=table.promo.clips[0].id, length=S))
    table.do(Trim(item=table.promo.clips[0].id, length=9 * S))
    frame = table.promo.rate.frame
    first, second = (frame_recipe(table.promo, SHIPPED["wide"], 9 * S + n * frame, measure).ops for n in (-1, 0))
    assert isinstance(first[-1], Composite)
    assert first[-1].opacity + second[-1].opacity == pytest.approx(1)
    assert second[0].at == 9 * S, "the first clip goes on into its handle"
    assert second[-1].ops[-1].at == 0


def test_what_is_missing_of_a_handle_is_held(table: Table) -> None:
    table.do(SetTransition(after=table.promo.clips[0].id, length=S))
    late = ops(table, 10.3)[0]
    assert late.at == Rate(num=30, den=1).frame_start(299)


def test_dips_go_through_their_colour(table: Table) -> None:
    table.do(SetTransition(after=table.promo.clips[0].id, kind="dip-white", length=S))
    veil = ops(table, 10)[-1]
    assert isinstance(veil, Fill)
    assert veil.colour == "#FFFFFF"
    assert veil.opacity > 0.9


def test_layers_are_drawn_back_to_front_and_only_while_they_last(table: Table) -> None:
    table.do(AddPicture(media="still", at=0))
    table.do(AddWords(at=0))
    kinds = [type(op) for op in ops(table, 2)]
    assert kinds == [DrawPicture, DrawPicture, DrawWords]
    assert len(ops(table, 3)) == 1


def test_what_an_opaque_picture_hides_is_not_drawn(table: Table) -> None:
    table.do(InsertFiller(at=0))
    assert [type(op) for op in ops(table, 0)] == [Fill]
    assert [type(op) for op in ops(table, 3)] == [DrawPicture]
    assert [type(op) for op in ops(table, 3, "tall")] == [DrawPicture]


def test_arriving_eases_in_and_leaving_eases_out(table: Table) -> None:
    title = table.do(AddWords(at=S)).select[0]
    table.do(sets(title, arrives="rise", arrive_length=S, leaves="fade", leave_length=S, opacity=0.8))
    start, half, rest, end = (ops(table, t)[-1] for t in (1, 1.5, 2.2, 3.9))
    assert start.opacity == 0
    assert 0 < half.opacity < rest.opacity == 0.8
    assert start.box.y > half.box.y > rest.box.y
    assert end.opacity < 0.3
    assert rest.box == part_box(table.promo, SHIPPED["wide"], timeline(table.promo).item[title], measure)


def test_words_break_inside_narrow_formats(table: Table) -> None:
    table.do(AddWords(text="Breakfast at 600 metres", at=0))
    for format in ("wide", "square", "tall"):
        op = ops(table, 1, format)[-1]
        assert op.box.x >= 0
        assert op.box.x + op.box.width <= SHIPPED[format].canon[0]


def test_sound_is_as_long_as_the_picture_and_gains_are_factors(table: Table) -> None:
    song = table.do(AddSound(media="song", at=S)).select[0]
    table.do(sets(song, gain=-6.0206))
    table.do(sets(table.promo.clips[0].id, muted=True))
    field, laid = all_voices(table.promo)
    assert sound_length(table.promo) == 16 * 48000
    assert (field.at, field.length) == (10 * 48000, 6 * 48000)
    assert (laid.at, laid.length) == (48000, 15 * 48000), "a song ends with the promo"
    assert laid.gain == pytest.approx(0.5, rel=1e-4)
    assert gain_factor(-60) == 0


def test_fades_are_fitted_and_a_span_sees_only_what_sounds_in_it(table: Table) -> None:
    song = table.do(AddSound(media="song", at=14 * S)).select[0]
    table.do(sets(song, fade_in=3 * S, fade_out=S))
    recipe = sound_recipe(table.promo, 11 * 48000, 48000)
    assert [v.source for v in recipe.voices] == [MEDIA["field"].hash]
    assert recipe.voices[0].at == -48000
    (laid,) = (v for v in all_voices(table.promo) if v.source == MEDIA["song"].hash)
    assert (laid.fade_in, laid.fade_out) == (72000, 24000)


def test_a_crossfade_crosses_the_sound_too(table: Table) -> None:
    table.do(Trim(item=table.promo.clips[0].id, length=8 * S))
    table.do(Trim(item=table.promo.clips[1].id, edge="start", length=4 * S))
    table.do(SetTransition(after=table.promo.clips[0].id, length=S))
    first, second = all_voices(table.promo)
    assert first.at + first.length == second.at + 48000
    assert first.fade_out == second.fade_in == 48000
    assert second.source_at == 1.5 * 48000
