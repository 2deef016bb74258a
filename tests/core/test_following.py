"""Where somebody is in a text that they read aloud."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.speech.following import in_english, next_word

TEXT = (
    "Good morning from the valley. Today we fly at dawn, over the river and the old mill, and you can see it all. "
    "Book two seats and bring a friend. Today we fly at dusk, over the lake, and you can hear the birds."
)
WORDS = TEXT.split()


def test_the_next_word_follows_what_was_heard() -> None:
    at = WORDS.index("river")
    assert next_word(TEXT, ["fly", "at", "dawn", "over", "the"], 5) == at


def test_misheard_words_do_not_hold_it_up() -> None:
    at = WORDS.index("seats")
    heard = ["and", "you", "can", "sea", "it", "hall", "booked", "two"]
    assert next_word(TEXT, heard, 15) == at


def test_of_two_places_that_sound_the_same_the_near_one_counts() -> None:
    second = WORDS.index("dusk,") - 1
    assert next_word(TEXT, ["today", "we", "fly"], 3) == WORDS.index("fly") + 1
    assert next_word(TEXT, ["today", "we", "fly"], second - 4) == second


def test_what_has_nothing_to_do_with_the_text_says_nothing() -> None:
    assert next_word(TEXT, ["hold", "on", "a", "moment", "please"], 8) is None
    assert next_word(TEXT, [], 8) is None
    assert next_word("", ["fly", "at", "dawn"], 0) is None


@given(st.integers(0, len(WORDS) - 6), st.integers(0, 5), st.integers(0, 3))
def test_whoever_reads_on_is_found_again_wherever_they_are(at: int, misheard: int, late: int) -> None:
    """Eight words from anywhere near, one of them misheard."""
    said = WORDS[at : at + 8]
    if misheard < len(said):
        said[misheard] = "xx"
    found = next_word(TEXT, said, max(0, at - late))
    assert found is not None
    assert abs(found - (at + len(said))) <= (misheard == len(said) - 1)


def test_a_text_is_told_to_be_english_or_not() -> None:
    assert in_english(TEXT)
    assert not in_english("Guten Morgen aus dem Tal. Heute fliegen wir im Morgengrauen über den Fluss.")
