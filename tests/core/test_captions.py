"""Captions: cues by rule from what is heard, how they look, and what comes from files."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.captions import rules
from glowreel.core.captions.designs import CAPTION_DESIGNS
from glowreel.core.captions.keywords import emoji_after, is_key
from glowreel.core.captions.shown import cue_at, cues, written
from glowreel.core.checks import CHECKS, Finding, Sight
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.model import DrawWords
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.speech.heard import heard
from glowreel.core.speech.transcript import from_facts
from glowreel.core.time import TICKS_PER_SECOND, ticks
from glowreel.core.timeline import timeline
from tests.core.build import SAID, S, Table, measure

MS = ticks(0.001)


@pytest.fixture
def told() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "still")))
    table.do(c.WriteDown(media="ridge"))
    table.do(c.AddCaptions())
    return table


def shown(table: Table, lane: int = 0) -> list[str]:
    return [cue.said for cue in cues(table.promo, table.promo.captions[lane])]


def drawn(table: Table, at: int, format: str = "wide") -> list[DrawWords]:
    return [op for op in frame_recipe(table.promo, SHIPPED[format], at, measure).ops if isinstance(op, DrawWords)]


def test_cues_follow_every_edit_because_they_hold_to_the_voice(told: Table) -> None:
    assert shown(told) == ["So dawn flights over the the valley.", "Book two seats."], "fillers are not shown"
    told.do(c.RemoveWords(words=tuple(one.key for one in heard(told.promo) if one.word.text in ("um,", "over"))))
    assert shown(told)[0] == "So dawn flights the the valley."
    told.do(c.InsertClips(media=("still",), before=told.promo.clips[0].id))
    first = cues(told.promo, told.promo.captions[0])[0]
    assert first.start == 3 * S + 300 * MS
    told.do(c.SetCaptions(lane=told.promo.captions[0].id, hide_fillers=False, late=100))
    assert cues(told.promo, told.promo.captions[0])[0].start == 3 * S + 400 * MS
    with pytest.raises(Refusal, match="already"):
        told.do(c.AddCaptions())


def test_cues_are_split_joined_and_left_out_by_hand(told: Table) -> None:
    told.do(c.MarkWords(media="ridge", language="en", numbers=(4,), mark="cue"))
    assert shown(told) == ["So dawn flights", "over the the valley.", "Book two seats."]
    told.do(c.MarkWords(media="ridge", language="en", numbers=(4, 8), mark="run"))
    assert shown(told) == ["So dawn flights over the the valley. Book two seats."]
    told.do(c.MarkWords(media="ridge", language="en", numbers=(6,), mark="hidden"))
    assert "the the" not in shown(told)[0]
    told.do(c.MarkWords(media="ridge", language="en", numbers=(3,), mark="line"))
    (cue,) = cues(told.promo, told.promo.captions[0])
    assert written(cue, told.promo.formats).startswith("So dawn\nflights over")


def test_a_cue_stays_long_enough_and_gaps_are_closed(told: Table) -> None:
    told.do(c.TimeWords(media="ridge", language="en", first=8, count=3, start=2700, end=2900))
    told.do(c.MarkWords(media="ridge", language="en", numbers=(8,), mark="cue"))
    first, second = cues(told.promo, told.promo.captions[0])
    assert second.start == 2700 * MS
    assert first.end == second.start, "a gap of a fifth of a second is closed"
    assert second.end - second.start == round(0.8 * TICKS_PER_SECOND), "longer than its words, to be read"
    with pytest.raises(Refusal, match="no room"):
        told.do(c.TimeWords(media="ridge", language="en", first=8, count=3, start=2700, end=2710))


TEXTS = ("a", "so", "dawn", "flights,", "over", "valley.", "because", "Sunday!", "and", "mountains")
WORDS = st.lists(st.sampled_from(TEXTS), min_size=1, max_size=60)


@given(WORDS, st.sampled_from(["wide", "square", "tall"]), st.lists(st.integers(0, 1500), min_size=60, max_size=60))
def test_no_line_is_too_long_and_nothing_is_lost(texts: list[str], shape: str, pauses: list[int]) -> None:
    at, words = 0, []
    for text, pause in zip(texts, pauses, strict=False):
        words.append(rules.Spoken(text, at, at + 300 * MS))
        at += (300 + (pause if pause > 1200 else 20)) * MS
    letters = rules.LINE_LETTERS[shape]
    found = rules.cues_of(words, letters, TICKS_PER_SECOND)
    assert [n for a, b in found for n in range(a, b)] == list(range(len(words)))
    for first, last in found:
        lines = rules.lines_of(texts[first:last], letters)
        assert len(lines) <= 2
        assert all(len(" ".join(texts[first:last][a:b])) <= letters for a, b in lines)


def test_lines_break_at_clauses_and_evenly() -> None:
    def broken(text: str, letters: int = 32) -> list[str]:
        said = text.split()
        return [" ".join(said[a:b]) for a, b in rules.lines_of(said, letters)]

    assert broken("Fly at first light, and see the whole valley") == ["Fly at first light,", "and see the whole valley"]
    assert broken("We have always loved the quiet of the morning") == [
        "We have always loved", "the quiet of the morning",
    ]  # fmt: skip
    assert broken("Short enough") == ["Short enough"]


def test_a_design_says_what_becomes_of_the_word_that_is_said(told: Table) -> None:
    lane, at = told.promo.captions[0].id, 1300 * MS
    told.do(c.SetCaptions(lane=lane, keys=False))
    (plain,) = drawn(told, at)
    assert plain.words.text == "So dawn flights over the the valley."
    assert plain.words.runs == ()
    told.do(c.SetCaptions(lane=lane, design="follow"))
    (follow,) = drawn(told, at)
    (run,) = follow.words.runs
    assert follow.words.text[run.start : run.end] == "flights"
    assert run.mark == told.promo.brand.colour("accent")
    told.do(c.SetCaptions(lane=lane, design="fill"))
    (fill,) = drawn(told, at)
    assert fill.plays[0].unit == "word"
    assert fill.plays[0].times[:3] == pytest.approx((0, 0.6, 0.92), abs=0.001), "as each word begins"
    told.do(c.SetCaptions(lane=lane, design="one-word"))
    assert [op.words.text for op in drawn(told, at)] == ["flights"]
    told.do(c.SetCaptions(lane=lane, design="grows"))
    assert drawn(told, at)[0].words.text == "So dawn flights"


@pytest.mark.parametrize("design", CAPTION_DESIGNS)
@pytest.mark.parametrize("format", ["wide", "square", "tall"])
def test_every_design_lies_in_the_safe_area_of_every_shape(told: Table, design: str, format: str) -> None:
    told.do(c.SetCaptions(lane=told.promo.captions[0].id, design=design, emoji=True))
    (op,) = drawn(told, 1300 * MS, format)
    wide, high = SHIPPED[format].canon
    assert op.box.x >= 0
    assert op.box.x + op.box.width <= wide
    assert op.box.y + op.box.height <= high * (1 - SHIPPED[format].safe[3]) + 1
    assert op.size >= SHIPPED[format].least_letters * 1080 - 1e-6


def test_there_are_enough_designs_and_many_follow_the_words() -> None:
    assert len(CAPTION_DESIGNS) >= 18
    assert sum(design.by_word for design in CAPTION_DESIGNS.values()) >= 8
    assert len({design.label for design in CAPTION_DESIGNS.values()}) == len(CAPTION_DESIGNS)


def test_letters_and_place_may_differ_in_one_format_and_for_a_stretch(told: Table) -> None:
    lane = told.promo.captions[0].id
    told.do(c.SetCaptions(lane=lane, values={"size": 0.07}))
    told.do(c.SetCaptions(lane=lane, format="tall", values={"size": 0.09, "pin": (0.5, 0.3)}))
    assert drawn(told, S)[0].size == pytest.approx(0.07 * 1080)
    assert drawn(told, S, "tall")[0].size == pytest.approx(0.09 * 1080)
    assert drawn(told, S, "tall")[0].box.y < 0.4 * SHIPPED["tall"].canon[1]
    told.do(c.SetCaptions(lane=lane, format="tall", values={"size": None, "pin": None}))
    assert drawn(told, S, "tall")[0].size == pytest.approx(0.07 * 1080)
    told.do(c.PlaceCaptions(lane=lane, media="ridge", first=8, last=10, height=0.0))
    assert drawn(told, 3400 * MS)[0].box.y < 200
    assert drawn(told, S)[0].box.y > 700
    with pytest.raises(Refusal, match="captions has no property"):
        told.do(c.SetCaptions(lane=lane, values={"turn": 20}))


def test_a_file_of_another_language_holds_to_the_voice(told: Table) -> None:
    told.do(c.TakeCues(language="de", cues=((300 * MS, 2500 * MS, "Im Morgengrauen\nüber das Tal"),
                                            (3300 * MS, 4000 * MS, "Zwei Plätze"),
                                            (11 * S, 12 * S, "[Wind]"))))  # fmt: skip
    assert [lane.language for lane in told.promo.captions] == ["en", "de"]
    assert [lane.shown for lane in told.promo.captions] == [False, True], "one is on show"
    assert shown(told, 1) == ["Im Morgengrauen über das Tal", "Zwei Plätze", "[Wind]"]
    told.do(c.InsertClips(media=("still",), before=told.promo.clips[0].id))
    starts = [cue.start for cue in cues(told.promo, told.promo.captions[1])]
    assert starts == [3 * S + 300 * MS, 3 * S + 3300 * MS, 14 * S]
    assert shown(told)[0].startswith("So dawn"), "what is spoken stays as it is"
    assert {one.language for one in told.promo.transcripts if one.spoken} == {"en"}


def test_a_file_in_the_spoken_language_takes_the_times_that_were_heard(told: Table) -> None:
    told.do(
        c.TakeCues(
            language="en", cues=((0, 3 * S, "So dawn flights over the valley."), (3 * S, 5 * S, "Book 2 seats."))
        )
    )
    assert shown(told) == ["So dawn flights over the valley.", "Book 2 seats."]
    assert heard(told.promo)[1].start == 900 * MS


def test_words_are_replaced_everywhere_with_their_punctuation(told: Table) -> None:
    told.do(c.ReplaceInWords(language="en", find="the valley", by="Hollowmere"))
    assert shown(told)[0] == "So dawn flights over the Hollowmere."
    with pytest.raises(Refusal, match="does not stand"):
        told.do(c.ReplaceInWords(language="en", find="whale", by="x"))


def test_cues_of_their_own_hold_to_the_picture(told: Table) -> None:
    lane = told.promo.captions[0].id
    told.do(c.AddCue(lane=lane, at=11 * S, length=S, text="[birds sing]"))
    assert shown(told)[-1] == "[birds sing]"
    assert told.last is not None
    key = told.last.select[0]
    told.do(c.SetCue(lane=lane, cue=key, text="[birds]", at=11 * S + S // 2))
    told.do(c.RemoveRange(start=5 * S, end=6 * S))
    assert cue_at(told.promo, told.promo.captions[0], 10 * S + S // 2).text == "[birds]"
    told.do(c.RemoveCue(lane=lane, cue=key))
    assert len(shown(told)) == 2
    with pytest.raises(Missing):
        told.do(c.RemoveCue(lane=lane, cue=key))
    told.do(c.RemoveCaptions(lane=lane))
    assert told.promo.captions == ()
    assert told.promo.transcripts, "what was written down stays"


def test_a_cue_is_said_otherwise_and_what_is_the_same_keeps_its_time(told: Table) -> None:
    lane = told.promo.captions[0]
    first = cues(told.promo, lane)[0]
    told.do(c.SayCue(lane=lane.id, cue=first.name, text="So many dawn flights\nover Hollowmere."))
    (again, _) = cues(told.promo, told.promo.captions[0])
    assert again.said == "So many dawn flights over Hollowmere."
    assert written(again, told.promo.formats) == "So many dawn flights\nover Hollowmere."
    times = {one.word.text: one.word.start for one in again.words}
    assert (times["dawn"], times["flights"], times["over"]) == (900, 1220, 1640)
    second = cues(told.promo, told.promo.captions[0])[1]
    told.do(c.SayCue(lane=lane.id, cue=second.name, text="Book two."))
    assert shown(told)[1] == "Book two."
    told.do(c.SayCue(lane=lane.id, cue=cues(told.promo, told.promo.captions[0])[1].name, text=" "))
    assert len(shown(told)) == 1
    with pytest.raises(Missing):
        told.do(c.SayCue(lane=lane.id, cue="c1:99", text="x"))


def test_key_words_and_pictures_come_by_rule() -> None:
    assert all(is_key(text, "Hollowmere Balloons") for text in ("50%", "€20,", "FREE", "today!", "Hollowmere"))
    assert not any(is_key(text) for text in ("So", "dawn", "I", "a"))
    assert emoji_after("balloon,") == "🎈"
    assert emoji_after("chair") == ""


def test_captions_alone_need_words(told: Table) -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge",)))
    with pytest.raises(Refusal, match="Nothing has been written down"):
        table.do(c.AddCaptions())
    with pytest.raises(Refusal, match="after the end"):
        table.do(c.TakeCues(language="en", cues=((20 * S, 21 * S, "late"),)))
    assert from_facts("x", SAID).words[1].text == "um,"
    assert timeline(told.promo).length


def test_captions_that_are_hard_to_read_are_found_and_cured(told: Table) -> None:
    def found(check: str) -> list[Finding]:
        return list(CHECKS[check].find(Sight(told.promo, measure)))

    (unsure,) = found("captions-unsure")
    assert "“two”" in unsure.sentence
    told.do(c.read_command(unsure.cures[0].command))
    assert found("captions-unsure") == []
    told.do(c.TimeWords(media="ridge", language="en", first=8, count=3, start=3300, end=3400))
    told.do(c.AddCue(lane=told.promo.captions[0].id, at=3800 * MS, length=S, text="[bell]"))
    assert [one.at for one in found("captions-fast")] == [3300 * MS]
    (short,) = found("captions-short")
    assert short.at == 3300 * MS
    (fast,) = found("captions-fast")
    told.do(c.read_command(fast.cures[0].command))
    assert found("captions-fast") == []
    told.do(c.read_command(short.cures[0].command))
    assert len(shown(told)) == 2, "joined"
