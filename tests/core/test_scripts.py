"""Scripts: what each line is for, what stands large, what is left out, and the scenes that they become."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.errors import Refusal
from glowreel.core.script.draft import TONES, Brief, draft, patterns
from glowreel.core.script.lines import MOST_LETTERS, ROLES, central, key_phrase, read, sentences_of, shortened
from glowreel.core.script.plan import families, planned, seconds_of
from glowreel.core.speech.voices import spoken_seconds
from glowreel.designs import shipped

TEXT = """Fly at first light over the quietest valley there is. Our balloons rise from the meadow every Sunday.
- You drift over mist, rivers and sleeping farms.
“It was the best morning of my year,” said one of our guests. Two seats cost 240 euros, only until Sunday.
Book yours at hollowmere.example."""


def test_a_text_becomes_lines_that_are_for_something() -> None:
    lines = read(TEXT)
    assert [line.role for line in lines] == ["hook", "point", "point", "proof", "offer", "call"]
    assert lines[2].text == "You drift over mist, rivers and sleeping farms."
    assert lines[0].key == "Fly at first light"
    assert all(len(line.key) <= 60 for line in lines)
    with pytest.raises(Refusal, match="nothing in this text"):
        read(" \n - \n")


@given(st.text(max_size=3000))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        lines = read(text)
    except Refusal as refusal:
        assert refusal.sentence.endswith(".")
        return
    assert all(line.role in ROLES and len(line.text) <= MOST_LETTERS for line in lines)
    letters = [letter for letter in text if letter.isalnum()]
    kept = sum(letter.isalnum() for line in lines for letter in line.text)
    assert kept >= len(letters) * 0.5 - 40 * len(lines)


def test_a_price_is_not_cut_apart_and_lists_lose_their_marks() -> None:
    assert sentences_of("1. From 9.50 euros. 2. Open at 8 a.m. daily") == ["From 9.50 euros.", "Open at 8 a.m. daily"]
    assert key_phrase("Two seats cost 240 euros", "offer") == "Two seats cost 240 euros"


def test_what_is_left_out_is_what_the_whole_is_least_about() -> None:
    text = (
        "Bread is our craft. We bake bread with sourdough and time. Our bread rests for a day before we bake. "
        "The weather was nice yesterday. Sourdough bread stays fresh longer. Come and taste our bread."
    )
    lines = read(text)
    weights = central([line.text for line in lines])
    assert min(range(len(lines)), key=weights.__getitem__) == 3
    assert sum(weights) == pytest.approx(1)
    kept = shortened(lines, sum(line.seconds for line in lines) - lines[3].seconds)
    assert lines[3] not in kept
    assert kept[0] is lines[0]
    assert kept[-1] is lines[-1]


@given(st.floats(4, 60), st.integers(1, 30))
def test_a_shortened_script_fits_and_keeps_its_order(seconds: float, count: int) -> None:
    lines = read(" ".join(f"Flight number {n} goes over the {n}th valley of the county." for n in range(count)))
    kept = shortened(lines, seconds)
    fixed = sum(line.seconds for line in lines if line.role in ("hook", "call"))
    assert sum(line.seconds for line in kept) <= max(seconds, fixed) + 1e-6
    assert [lines.index(line) for line in kept] == sorted(lines.index(line) for line in kept)


@pytest.mark.parametrize("tone", TONES)
def test_a_brief_becomes_a_script_in_every_tone(tone: str) -> None:
    brief = Brief("dawn flights by balloon", "early birds", ("mist over the rivers", "breakfast included"),
                  "two seats for 240 euros", "Book at hollowmere.example", tone)  # fmt: skip
    lines = draft(brief, 3)
    assert lines == draft(brief, 3), "a seed brings it back"
    assert [line.role for line in lines] == ["hook", "point", "point", "proof", "offer", "call"]
    said = " ".join(line.text for line in lines).lower()
    assert all(words in said for words in ("dawn flights by balloon", "breakfast included", "240 euros", "hollowmere"))
    assert "{" not in said
    assert len({draft(brief, seed)[0].text for seed in range(12)}) > 1
    assert set(patterns()[tone]) == set(ROLES)
    with pytest.raises(Refusal, match="what it is about"):
        draft(Brief(" "))


def test_every_family_has_a_scene_for_every_line() -> None:
    designs, lines = shipped(), read(TEXT)
    for family in families(designs):
        pattern = planned(lines, family, designs, ["picture"] * len(lines), [2.0] * len(lines))
        assert len(pattern.scenes) == len(lines)
        assert all(layer.design in designs for scene in pattern.scenes for layer in scene.layers)
        assert pattern.scenes[0].lasts == pytest.approx(2.45)
        titles = [layer.says.get("title") or layer.says.get("quote") for one in pattern.scenes for layer in one.layers]
        assert titles[0] == "Fly at first light"
        assert all(titles)
        offer = pattern.scenes[4].layers[0].says
        assert offer.get("price", "240 euros") == "240 euros"
        assert pattern.scenes[-1].layers[0].says["link"] == "hollowmere.example"


def test_what_is_said_takes_about_as_long_as_it_has_syllables() -> None:
    assert 1.4 < spoken_seconds("Fly at first light.") < 2.4
    assert spoken_seconds("Fly at first light.", 1.4) < spoken_seconds("Fly at first light.")
    assert seconds_of(read("Go.")[0]) == 1.8
