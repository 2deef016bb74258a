"""Music that lasts as long as it is wanted to, and cuts on its beats."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.document import Clip
from glowreel.core.errors import Refusal
from glowreel.core.fitting import MOST_STRETCH, RING, SILENCE, fit
from glowreel.core.pulse import pulse_of
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.core.source import Source
from glowreel.core.time import TICKS_PER_SAMPLE, sample_floor
from glowreel.core.timeline import timeline
from tests.core.build import S, Table, media

BAR = 96_000
COUNT = 12
TOTAL = BAR * COUNT + 48_000
FACTS = {
    "beats": list(range(0, BAR * COUNT, BAR // 4)),
    "bars": list(range(0, BAR * COUNT, BAR)),
    "end": BAR * COUNT,
    "pace": 120.0,
    "strong": [BAR * 2, BAR * 8],
    # Bars four apart sound alike.
    "joints": [(a, b, 0.1 if (b - a) % 4 == 1 else 1.5) for a in range(COUNT) for b in range(1, COUNT) if b != a + 1],
}
TUNE = media("tune", "sound", length=TOTAL / 48_000, width=0, height=0, rate=None, heard="music")


@given(st.integers(BAR * 5, BAR * 40))
def test_a_piece_fits_any_length_by_whole_bars(wanted: int) -> None:
    found = fit(FACTS, wanted, TOTAL)
    if wanted < BAR * 11 and not found.joined:
        return  # Half a bar is too much of a short one to be made up for: it fades.
    assert found.joined
    assert abs(found.rate - 1) <= MOST_STRETCH + 1e-9
    assert found.stretches[0][0] == 0
    assert TOTAL - found.stretches[-1][1] <= max(0, TOTAL - BAR * COUNT - RING), "what rings on may end a little early"
    assert found.stretches[-1][0] <= BAR * (COUNT - 2), "its ending is whole"
    inner = [edge for stretch in found.stretches for edge in stretch][1:-1]
    assert all(edge % BAR == 0 for edge in inner), "joints on bars"
    lasts = sum(b - a for a, b in found.stretches) / found.rate
    assert -1 < wanted - lasts <= SILENCE * 1.05, "to the sample, or a breath of silence behind it"


def test_of_many_ways_it_takes_the_one_that_is_heard_least() -> None:
    found = fit(FACTS, TOTAL - 4 * BAR, TOTAL)
    assert len(found.stretches) == 2
    (_, out), (back, _) = found.stretches
    assert back - out == 4 * BAR
    assert found.rate == pytest.approx(1)


def test_without_joints_or_beats_it_is_heard_as_it_is_and_fades() -> None:
    for facts in (None, {**FACTS, "bars": []}, {**FACTS, "joints": []}):
        found = fit(facts, BAR * 6, TOTAL)
        assert not found.joined
        assert found.stretches == ((0, BAR * 6),)


@pytest.fixture
def table() -> Table:
    table = Table()
    found = lambda promo, part, maker: FACTS if (part.media, maker) == ("tune", "beats") else None  # noqa: E731
    table.context = c.Context(table.context.new_id, {**table.context.media, "tune": TUNE}, found=found)
    table.do(c.InsertClips(media=("ridge", "ridge", "field", "still")))
    table.do(c.AddSound(media="tune", whole=True))
    return table


def known(need):
    return FACTS if need.maker == "beats" else None


def test_fitted_music_lasts_as_long_as_the_promo_whatever_becomes_of_it(table: Table) -> None:
    music = table.promo.items[0]
    table.do(c.RunSound(item=music.id, runs="fitted"))
    for change in (None, c.Trim(item=table.promo.clips[0].id, edge="end", length=4 * S)):
        if change is not None:
            table.do(change)
        total = sound_length(table.promo)
        voices = sorted(sound_recipe(table.promo, 0, total, known).voices, key=lambda one: one.at)
        music_voices = [voice for voice in voices if voice.bus == "music"]
        assert len(music_voices) > 1
        assert music_voices[0].at == 0
        assert max(voice.at + voice.length for voice in music_voices) == total
        assert music_voices[-1].fade_out == sample_floor(round(1.5 * S))
    waiting = sound_recipe(table.promo, 0, total)
    assert [need.maker for need in waiting.waits] == ["beats"]
    with pytest.raises(Refusal, match="one piece"):
        table.do(c.SplitAt(at=5 * S, item=music.id))


def test_round_and_round_it_never_ends(table: Table) -> None:
    music = table.promo.items[0]
    table.do(c.RunSound(item=music.id, runs="round"))
    (voice,) = (one for one in sound_recipe(table.promo, 0, sound_length(table.promo)).voices if one.bus == "music")
    assert voice.around
    assert voice.length == sound_length(table.promo) > TOTAL
    table.do(c.RunSound(item=music.id, runs="once"))
    lasts = timeline(table.promo).heard_span(timeline(table.promo).item[music.id]).length
    assert lasts <= TUNE.length


def test_beats_are_where_the_piece_is_heard(table: Table) -> None:
    music = table.promo.items[0]
    whole = pulse_of(table.promo, music, FACTS)
    assert whole.bars[1] == BAR * TICKS_PER_SAMPLE
    table.do(c.RunSound(item=music.id, runs="fitted"))
    fitted = pulse_of(table.promo, timeline(table.promo).item[music.id], FACTS)
    gaps = {b - a for a, b in zip(fitted.bars, fitted.bars[1:], strict=False)}
    assert max(gaps) - min(gaps) < TICKS_PER_SAMPLE * 2000, "a bar is as long as any other, joined or not"
    table.do(c.RunSound(item=music.id, runs="once"))
    table.do(c.SetSpeed(item=music.id, speed=2000))
    quick = pulse_of(table.promo, timeline(table.promo).item[music.id], FACTS)
    assert abs(quick.bars[1] - quick.bars[0] - BAR * TICKS_PER_SAMPLE // 2) < S // 100


def test_clips_are_cut_to_bars_and_strong_moments_are_marked(table: Table) -> None:
    music = table.promo.items[0]
    table.do(c.CutToBeat(music=music.id, every="bar"))
    frame = table.promo.rate.frame
    starts = [timeline(table.promo).clip_span[clip.id] for clip in table.promo.clips]
    for span in starts:
        assert abs(span.end - round(span.end / (BAR * TICKS_PER_SAMPLE)) * BAR * TICKS_PER_SAMPLE) <= frame
    assert [span.length for span in starts] == [2 * S] * 4
    table.do(c.MarkMoments(music=music.id))
    # Only what is inside the promo is heard, and marked.
    assert [timeline(table.promo).note_at(note) for note in table.promo.notes] == [4 * S]
    with pytest.raises(Refusal, match="marked already"):
        table.do(c.MarkMoments(music=music.id))


def test_a_range_is_taken_out_of_fitted_music_and_everything_is_split_but_it(table: Table) -> None:
    music = table.promo.items[0]
    table.do(c.TieItem(item=music.id, to="time"))
    table.do(c.RunSound(item=music.id, runs="fitted"))
    length = timeline(table.promo).item[music.id].length
    table.do(c.SplitAt(at=5 * S))
    assert len(table.promo.items) == 1
    table.do(c.RemoveRange(start=6 * S, end=8 * S))
    (left,) = table.promo.items
    assert (left.source.runs, left.length) == ("fitted", length - 2 * S)


def test_only_sound_runs_on() -> None:
    with pytest.raises(ValueError, match="only sound"):
        Clip(id="c", kind="footage", length=S, source=Source(media="ridge", runs="round"))
