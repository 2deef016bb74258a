"""What is said: which words are heard in a promo as it is cut, and cutting by them."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.core.speech.aligning import aligned, laid_on
from glowreel.core.speech.cutting import ranges_of
from glowreel.core.speech.fillers import heard_slips, pauses, slips
from glowreel.core.speech.heard import heard, silent
from glowreel.core.speech.transcript import Word, from_facts, plain, replaced
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from tests.core.build import SAID, S, Table, media, sets

MS = ticks(0.001)


def said(table: Table) -> str:
    return " ".join(one.word.text for one in heard(table.promo))


def keys(table: Table, *texts: str) -> tuple[str, ...]:
    wanted = list(texts)
    return tuple(one.key for one in heard(table.promo) if plain(one.word.text) in wanted)


@pytest.fixture
def told() -> Table:
    """Footage in which somebody speaks, words over it, music under it."""
    table = Table()
    table.do(c.InsertClips(media=("ridge", "still")))
    table.do(c.WriteDown(media="ridge"))
    table.do(c.AddWords(at=0, length=4 * S))
    table.do(c.AddSound(media="song", whole=True))
    return table


def test_words_are_heard_where_their_file_is_heard(told: Table) -> None:
    clip = told.promo.clips[0]
    assert said(told) == "So um, dawn flights over the the valley. Book two seats."
    first = heard(told.promo)[0]
    assert (first.part, first.start, first.end) == (clip.id, 300 * MS, 520 * MS)
    told.do(c.SetSpeed(item=clip.id, speed=2000))
    assert heard(told.promo)[0].start == 150 * MS
    told.do(c.SetSpeed(item=clip.id, speed=1000, backwards=True))
    assert said(told) == "", "nobody understands it backwards"
    told.do(c.SetSpeed(item=clip.id, backwards=False))
    told.do(sets(clip.id, muted=True))
    assert said(told) == ""
    told.do(sets(clip.id, muted=False))
    told.do(c.Trim(item=clip.id, edge="start", length=clip.length - 2 * S))
    assert said(told) == "the valley. Book two seats.", "its middle is heard"
    told.do(c.Remove(items=(clip.id,)))
    assert told.promo.transcripts == ()


def test_words_that_go_leave_every_track_in_the_quiet_between_them(told: Table) -> None:
    before = timeline(told.promo)
    title = told.promo.layers[0].items[0]
    told.do(c.RemoveWords(words=keys(told, "um")))
    assert said(told) == "So dawn flights over the the valley. Book two seats."
    gone = before.length - timeline(told.promo).length
    # From the quiet at 560 ms to the one at 840 ms, on whole frames.
    assert gone == told.promo.rate.snap(840 * MS) - told.promo.rate.snap(560 * MS)
    first, second = told.promo.clips[:2]
    assert (first.length, second.into) == (told.promo.rate.snap(560 * MS), told.promo.rate.snap(840 * MS))
    assert timeline(told.promo).item[title.id].length == title.length - gone
    assert told.last is not None
    assert "“um,”" in told.last.sentence


def test_what_was_cut_out_is_known_and_comes_back(told: Table) -> None:
    before = told.promo
    told.do(c.RemoveWords(words=keys(told, "over", "the")))
    (gap,) = silent(told.promo)
    assert (gap.first, gap.last) == (4, 6)
    told.do(c.BringBack(before=gap.before, behind=gap.behind))
    assert said(told) == "So um, dawn flights over the the valley. Book two seats."
    assert timeline(told.promo).length == timeline(before).length
    assert silent(told.promo) == ()


def test_a_voice_on_a_sound_track_is_cut_with_the_picture_and_passes_over_the_joint() -> None:
    table = Table()
    table.do(c.InsertClips(media=("field", "still")))
    table.do(c.AddSound(media="ridge"))
    table.do(c.WriteDown(media="ridge"))
    told = timeline(table.promo).length
    table.do(c.RemoveWords(words=keys(table, "um")))
    pieces = [item for item in table.promo.items if item.media == "ridge"]
    assert len(pieces) == 2
    assert pieces[0].read("crosses") == ticks(0.01)
    assert timeline(table.promo).item_span(pieces[0]).end == timeline(table.promo).item_span(pieces[1]).start
    assert timeline(table.promo).length < told
    table.do(c.BringBack(before=pieces[0].id, behind=pieces[1].id))
    assert timeline(table.promo).length == told
    assert said(table) == "So um, dawn flights over the the valley. Book two seats."


@settings(max_examples=60)
@given(st.sets(st.integers(0, 10), min_size=1, max_size=10), st.sampled_from(["cut", "stays"]))
def test_every_track_gets_shorter_by_exactly_those_ranges(chosen: set[int], music: str) -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "still")))
    table.do(c.WriteDown(media="ridge"))
    table.do(c.AddWords(at=0, length=timeline(table.promo).length))
    table.do(c.AddSound(media="song"))
    words = heard(table.promo)
    names = tuple(words[n].key for n in chosen)
    ranges = ranges_of(table.promo, words, set(names))
    gone = sum(end - start for start, end in ranges)
    before = timeline(table.promo)
    table.do(c.RemoveWords(words=names, music=music))
    after = timeline(table.promo)
    assert after.main_length == before.main_length - gone
    assert sum(item.length for item in table.promo.layers[0].items) == before.main_length - gone
    song = sum(item.length for item in table.promo.sounds[0].items)
    assert song == 30 * S - (gone if music == "cut" else 0)
    left = [word.word.text for n, word in enumerate(words) if n not in chosen]
    assert [one.word.text for one in heard(table.promo)] == left
    for one in heard(table.promo):
        lasts = (one.word.end - one.word.start) * MS
        assert one.end - one.start >= lasts - table.promo.rate.frame, "no cut goes through a word"


def test_slips_and_long_pauses_are_found(told: Table) -> None:
    found = [(kind, [one.word.text for one in words]) for kind, words in
             heard_slips(heard(told.promo), told.promo.transcripts)]  # fmt: skip
    assert found == [("filler", ["um,"]), ("again", ["the"])]
    (pause,) = pauses(heard(told.promo))
    assert (pause.after.word.text, pause.before.word.text) == ("valley.", "Book")
    told.do(c.CutPauses(words=(pause.after.key,), to=250))
    pause_now = heard(told.promo)[8].start - heard(told.promo)[7].end
    assert 250 * MS <= pause_now <= 250 * MS + 2 * told.promo.rate.frame
    with pytest.raises(Refusal, match="as short"):
        told.do(c.CutPauses(words=(heard(told.promo)[7].key,), to=250))


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("I I think so", [("again", 0, 0)]),
        ("we went we went home", [("start", 0, 1)]),
        ("very very good", []),
        ("No. No way", []),
        ("the flow- the flights", [("start", 1, 1)]),
        ("er, so uh yes", [("filler", 0, 0), ("filler", 2, 2)]),
    ],
)
def test_what_could_go_by_rule(text: str, found: list[tuple[str, int, int]]) -> None:
    words = [Word(one, 300 * n, 300 * n + 250) for n, one in enumerate(text.split())]
    assert [(slip.kind, slip.first, slip.last) for slip in slips(words, "en")] == found


def test_a_passage_moves_with_its_picture(told: Table) -> None:
    length = timeline(told.promo).length
    told.do(c.MoveWords(words=keys(told, "book", "two", "seats"), before=heard(told.promo)[0].key))
    assert said(told) == "Book two seats. So um, dawn flights over the the valley."
    assert timeline(told.promo).length == length
    told.do(c.MoveWords(words=keys(told, "dawn", "flights"), copy_them=True))
    assert said(told).endswith("valley. dawn flights")
    assert timeline(told.promo).length > length
    with pytest.raises(Refusal, match="follow one another"):
        told.do(c.MoveWords(words=keys(told, "so", "over")))


def test_a_passage_of_a_voice_alone_changes_places_on_its_track() -> None:
    table = Table()
    table.do(c.InsertClips(media=("still",)))
    table.do(c.Trim(item=table.promo.clips[0].id, length=8 * S))
    table.do(c.AddSound(media="ridge"))
    table.do(c.WriteDown(media="ridge"))
    table.do(c.MoveWords(words=keys(table, "book", "two", "seats"), before=heard(table.promo)[0].key))
    assert said(table) == "Book two seats. So um, dawn flights over the the valley."
    assert timeline(table.promo).main_length == 8 * S, "the picture stays"


def test_good_sentences_stand_one_after_another(told: Table) -> None:
    told.do(c.RoughCut(media="ridge", stretches=((8, 10), (2, 3)), instead=True))
    assert said(told) == "Book two seats. dawn flights"
    assert [clip.name for clip in told.promo.clips] == ["still", "ridge", "ridge"]


def test_a_corrected_word_is_corrected_wherever_it_is_heard(told: Table) -> None:
    told.do(c.Duplicate(items=(told.promo.clips[0].id,)))
    told.do(c.CorrectWords(media="ridge", language="en", first=2, text="Hollowmere"))
    assert said(told).count("Hollowmere") == 2
    told.do(c.CorrectWords(media="ridge", language="en", first=2, count=2, text="flights at dawn,"))
    words = told.promo.transcripts[0].words[2:5]
    assert [word.text for word in words] == ["flights", "at", "dawn,"]
    assert (words[0].start, words[-1].end) == (900, 1600), "more words share the time of those before"
    told.do(c.CorrectWords(media="ridge", language="en", first=2, count=3))
    assert "dawn" not in said(told)


def test_a_typed_text_takes_the_times_of_what_was_heard() -> None:
    heard_words = from_facts("ridge", SAID).words
    words = aligned("So dawn flights over the Hollow valley! Book your two seats.", heard_words)
    assert [word.text for word in words] == [
        "So",
        "dawn",
        "flights",
        "over",
        "the",
        "Hollow",
        "valley!",
        "Book",
        "your",
        "two",
        "seats.",
    ]
    times = {word.text: word.start for word in words}
    assert (times["dawn"], times["valley!"], times["two"]) == (900, 2080, 3560)
    assert heard_words[8].end <= times["your"] <= 3560
    assert all(a.start <= b.start for a, b in zip(words, words[1:], strict=False))
    spread = laid_on("one two three four", [(1000, 2000), (5000, 6000)])
    assert [word.start for word in spread] == [1000, 1500, 5000, 5545]
    assert replaced(words, 0, 1, "") == words[1:]


@given(
    st.lists(
        st.sampled_from(["dawn", "flights", "over", "the", "valley", "book", "two", "seats", "now"]),
        min_size=1,
        max_size=30,
    )
)
def test_any_text_is_laid_on_in_order(texts: list[str]) -> None:
    words = aligned(" ".join(texts), from_facts("ridge", SAID).words)
    assert [word.text for word in words] == texts
    assert all(a.start <= b.start < b.end for a, b in zip(words, words[1:], strict=False))


def test_spoken_lines_are_laid_one_after_another_with_their_words() -> None:
    table = Table()
    lines = {
        name: media(name, "sound", length=3, width=0, height=0, rate=None, machine=True)
        for name in ("one", "two", "three")
    }
    table.context = c.Context(
        table.context.new_id, {**table.context.media, **lines}, found=table.context.found, designs=table.context.designs
    )
    table.do(c.InsertClips(media=("ridge", "field")))
    table.do(c.BreakScene(clip=table.promo.clips[1].id))
    table.do(c.LayVoice(media=("one", "two"), at=S, pause=500, pronounced={"Hollowmere": "hollow meer"}))
    spans = [timeline(table.promo).item_span(item) for item in table.promo.items]
    assert [(span.start, span.length) for span in spans] == [(S, 3 * S), (4 * S + S // 2, 3 * S)]
    assert {one.made for one in table.promo.transcripts} == {"voice"}
    assert len(heard(table.promo)) == 16, "of each what fits into it, without any listening"
    assert table.promo.pronounced == {"Hollowmere": "hollow meer"}
    table.do(c.LayVoice(media=("one", "three"), by_scene=True, instead=True))
    starts = {item.media: timeline(table.promo).item_span(item).start for item in table.promo.items}
    assert starts == {"one": 0, "three": 10 * S}, "each with its scene, instead of those before"


def test_two_voices_at_once_are_not_mixed_word_by_word(told: Table) -> None:
    told.do(c.AddSound(media="basket", at=S))
    told.do(c.WriteDown(media="basket"))
    phrase = "So um, dawn flights over the the valley."
    assert said(told) == f"{phrase} {phrase} Book two seats. Book two seats."
    voice = next(item for item in told.promo.items if item.media == "basket")
    dawn = next(one for one in heard(told.promo) if one.part == voice.id and one.word.text == "dawn")
    before = timeline(told.promo).length
    told.do(c.RemoveWords(words=(dawn.key,)))
    gone = before - timeline(told.promo).length
    assert abs(gone - 360 * MS) <= 2 * told.promo.rate.frame, "as long as it is said by the one who says it"
    assert {(gap.media, gap.first) for gap in silent(told.promo)} >= {("basket", 2)}, "and can be brought back"


def test_what_is_said_last_takes_little_of_what_follows_along(told: Table) -> None:
    before = timeline(told.promo).length
    told.do(c.RemoveWords(words=keys(told, "seats")))
    assert before - timeline(told.promo).length < 700 * MS, "and not half of the rest of the recording"
