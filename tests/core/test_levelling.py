"""What recipes name and do not know yet: they are made without it, and say so."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.commands import InsertClips
from glowreel.core.derived import CEILING, LEVEL, MOST, Need, levelling
from glowreel.core.recipe.needs import needs
from glowreel.core.recipe.sound import all_voices, gain_factor, sound_recipe
from tests.core.build import MEDIA, Table, sets

RIDGE = Need(MEDIA["ridge"].hash, "loudness")


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(InsertClips(media=("ridge", "field", "still")))
    return table


def test_what_is_not_levelled_names_nothing(table: Table) -> None:
    assert needs(table.promo) == ()
    assert sound_recipe(table.promo, 0, 48000).waits == ()


def test_a_recipe_names_what_it_uses_and_waits_for_it_until_it_is_known(table: Table) -> None:
    clip = table.promo.clips[0]
    table.do(sets(clip.id, levelled=True, gain=-6.0))
    assert needs(table.promo) == (RIDGE,)
    waiting = sound_recipe(table.promo, 0, 48000)
    assert waiting.waits == (RIDGE,)
    assert waiting.voices[0].gain == pytest.approx(gain_factor(-6)), "until then it sounds as it came"
    made = sound_recipe(table.promo, 0, 48000, {RIDGE: {"lufs": -28.0, "peak": -14.0}}.get)
    assert made.waits == ()
    assert made.voices[0].gain == pytest.approx(gain_factor(-6 + 10)), "its gain is on top of it"
    assert made.voices[0].needs == (RIDGE,)
    assert len(all_voices(table.promo)) == 2
    far = sound_recipe(table.promo, 12 * 48000, 48000)
    assert far.waits == (), "what is not heard in a span is not waited for"
    table.do(sets(clip.id, levelled=False))
    assert needs(table.promo) == ()


@given(st.floats(-70, 0), st.floats(-70, 6))
def test_levelling_never_lifts_a_peak_above_the_ceiling(loudness: float, peak: float) -> None:
    gain = levelling({"lufs": loudness, "peak": peak})
    assert -MOST <= gain <= MOST
    assert gain <= 0 or peak + gain <= CEILING + 1e-9
    assert gain == -MOST or loudness + gain <= LEVEL + 1e-9


def test_silence_stays_as_it_is() -> None:
    assert levelling({"lufs": None, "peak": None}) == levelling(None) == 0.0
