"""Who speaks when, and how music gives way to it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.core.recipe.sound import dip_line, gain_factor, sound_recipe
from glowreel.core.speaking import Dip, dips, merged, spoken, steps
from glowreel.core.time import sample_floor
from glowreel.core.timeline import timeline
from tests.core.build import S, Table, media, sets

TALK = media("talk", "sound", length=20, width=0, height=0, rate=None, heard="voice", speech=((100, 300), (420, 700)))
SONG = media("tune", "sound", length=30, width=0, height=0, rate=None, heard="music")


@pytest.fixture
def table() -> Table:
    table = Table()
    table.context = c.Context(table.context.new_id, {**table.context.media, "talk": TALK, "tune": SONG})
    table.do(c.InsertClips(media=("still", "still", "still", "still")))
    table.do(c.AddSound(media="talk", at=S))
    return table


def item(table: Table, name: str):
    return next(item for item in table.promo.items if item.media == name)


def test_speech_is_where_the_voice_lies_and_follows_every_edit(table: Table) -> None:
    assert spoken(table.promo) == ((2 * S, 4 * S), (round(5.2 * S), 8 * S))
    voice = item(table, "talk")
    table.do(c.Trim(item=voice.id, edge="start", length=voice.length - 2 * S))
    assert spoken(table.promo)[0] == (3 * S, 4 * S), "what was cut off says nothing"
    table.do(c.MoveItem(item=voice.id, at=0))
    assert spoken(table.promo)[0] == (0, S)
    table.do(c.SetSpeed(item=voice.id, speed=2000))
    first = spoken(table.promo)[0]
    assert first[0] == 0
    assert abs(first[1] - S // 2) <= S // 25
    table.do(sets(voice.id, muted=True))
    assert spoken(table.promo) == ()


def test_music_gives_way_by_what_its_file_is_and_voices_do_not(table: Table) -> None:
    table.do(c.AddSound(media="tune"))
    assert item(table, "tune").values == {"dip": 12.0}
    assert item(table, "talk").values == {"bus": "voice"}
    line = dip_line(table.promo, item(table, "tune"))
    assert (2 * S, -12.0) in line
    assert line[0] == (2 * S - round(0.3 * S), 0.0)
    assert line[-1] == (8 * S + round(0.8 * S), 0.0)
    assert dip_line(table.promo, item(table, "talk")) == ()


def test_the_line_becomes_knots_of_the_voice_in_samples(table: Table) -> None:
    table.do(c.AddSound(media="tune", at=S))
    recipe = sound_recipe(table.promo, 0, sample_floor(10 * S))
    (music,) = (voice for voice in recipe.voices if voice.bus == "music")
    down = [at for at, factor in music.dips if abs(factor - gain_factor(-12)) < 1e-6]
    assert down[0] == sample_floor(S), "the voice begins at 2 s, the music at 1 s"
    table.do(sets(item(table, "tune").id, dip=0.0))
    recipe = sound_recipe(table.promo, 0, sample_floor(10 * S))
    assert not any(voice.dips for voice in recipe.voices)


SPANS = st.lists(st.tuples(st.integers(0, 200), st.integers(1, 40)), max_size=8).map(
    lambda found: merged([(a, a + length) for a, length in found], 0)
)


@given(SPANS, st.integers(1, 20), st.integers(1, 20), st.integers(0, 30))
def test_it_is_down_whenever_somebody_speaks_and_never_jumps(spans, early: int, slow: int, hold: int) -> None:
    line = dips(spans, Dip(10.0, early, slow, hold))
    assert [at for at, _ in line] == sorted(at for at, _ in line)
    knots = dict(line)
    held = merged(spans, max(1, hold))
    for start, end in held:
        assert knots[start] == knots[end] == -10.0
    if line:
        assert line[0][1] == line[-1][1] == 0.0
        assert line[-1][0] - held[-1][1] == slow
    factors = steps(line, gain_factor) if line else ()
    assert all(gain_factor(-10) - 1e-9 <= factor <= 1 for _, factor in factors)


def test_footage_under_a_voice_comes_in_quiet_where_the_team_wants_it(table: Table) -> None:
    table.context = c.Context(table.context.new_id, table.context.media, footage_quiet=True)
    said = table.do(c.InsertClips(media=("field",), at=0))
    clip = timeline(table.promo).clip[said.select[0]]
    assert clip.read("gain") == -18.0
    assert "quiet" in said.notice
    said = table.do(c.InsertClips(media=("ridge",)))
    assert timeline(table.promo).clip[said.select[0]].read("gain") == 0.0, "nobody speaks over it"
    assert said.notice == ""


def test_room_tone_goes_into_every_hole_of_a_cut_voice_as_loud_as_it(table: Table) -> None:
    voice = item(table, "talk")
    with pytest.raises(Refusal, match="no hole"):
        table.do(c.LayRoomTone(item=voice.id))
    table.do(sets(voice.id, gain=-3.0))
    table.do(c.SplitAt(at=3 * S, item=voice.id))
    second = table.last.select[0]
    table.do(c.SplitAt(at=6 * S, item=second))
    third = table.last.select[0]
    table.do(c.Trim(item=second, edge="start", length=2 * S + S // 2))
    table.do(c.Trim(item=third, edge="start", length=timeline(table.promo).item[third].length - S))
    table.do(c.LayRoomTone(item=second))
    tones = [one for one in table.promo.items if one.read("room_tone")]
    spans = sorted((timeline(table.promo).item_span(one).start, one.length) for one in tones)
    assert spans == [(3 * S, S // 2), (6 * S, S)]
    assert all(one.read("gain") == -3.0 and one.source.runs == "round" for one in tones)
    table.do(c.Remove(items=tuple(one.id for one in tones)))
    table.do(sets(second, noise=0.5))
    table.do(c.LayRoomTone(item=second))
    gains = sorted(one.read("gain") for one in table.promo.items if one.read("room_tone"))
    assert gains == [-9.0, -3.0], "as quiet as the pauses of the voice before it"
    tones = [one for one in table.promo.items if one.read("room_tone")]
    tracks = {timeline(table.promo).track_of[one.id].id for one in (*tones, voice)}
    assert len(tracks) == 1, "beside the voice"


def test_a_sound_passes_into_the_one_that_it_meets(table: Table) -> None:
    voice = item(table, "talk")
    table.do(c.SplitAt(at=6 * S, item=voice.id))
    behind = table.last.select[0]
    table.do(sets(voice.id, crosses=S))
    recipe = sound_recipe(table.promo, 0, sample_floor(20 * S))
    first, second = sorted(recipe.voices, key=lambda one: one.at)
    half = sample_floor(S) // 2
    assert first.at + first.length == sample_floor(6 * S) + half
    assert second.at == sample_floor(6 * S) - half
    assert (first.fade_out, second.fade_in) == (2 * half, 2 * half)
    assert (first.curves[1], second.curves[0]) == ("even", "even")
    table.do(c.MoveItem(item=behind, at=7 * S))
    recipe = sound_recipe(table.promo, 0, sample_floor(20 * S))
    assert max(voice.fade_out for voice in recipe.voices) == 0, "apart, nothing passes"


def test_the_second_half_of_a_voice_goes_to_the_next_track(table: Table) -> None:
    voice = item(table, "talk")
    table.do(c.StepHalf(item=voice.id, at=4 * S))
    first, second = (timeline(table.promo).track_of[key].id for key in (voice.id, table.last.select[0]))
    assert first != second
    assert timeline(table.promo).item_span(timeline(table.promo).item[table.last.select[0]]).start == 4 * S
