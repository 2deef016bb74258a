"""Finding anything: what is meant comes first, typed badly too, and what was used last before its like."""

from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.finding import Entry, found

NAMES = ("Dawn flight vouchers", "Dawn", "Picnic landing", "Lantern weekend", "The pilot's dawn", "Crème brûlée")
ENTRIES = [Entry(name, name, used=float(number)) for number, name in enumerate(NAMES)]


def keys(query: str, entries: list[Entry] = ENTRIES) -> list[str]:
    return [entry.key for entry in found(query, entries)]


def test_a_whole_name_comes_before_beginnings_and_these_before_other_words() -> None:
    assert keys("dawn") == ["Dawn", "Dawn flight vouchers", "The pilot's dawn"]


def test_every_word_must_fit_in_any_order_and_accents_do_not_matter() -> None:
    assert keys("vouchers dawn") == ["Dawn flight vouchers"]
    assert keys("dawn picnic") == []
    assert keys("creme") == ["Crème brûlée"]


def test_words_typed_badly_are_found_after_those_typed_well() -> None:
    assert keys("lanten") == ["Lantern weekend"]
    assert keys("wekend lantren") == ["Lantern weekend"]
    assert keys("xq") == []
    entries = [Entry("a", "Planting"), Entry("b", "Landing"), Entry("c", "Lansing")]
    assert keys("landing", entries) == ["b", "c", "a"], "the likest first"


def test_with_nothing_asked_what_was_used_last_comes_first() -> None:
    assert keys("  ") == list(reversed(NAMES[1:]))
    same = [Entry("old", "Spring", used=1.0), Entry("new", "Spring", used=2.0)]
    assert keys("spring", same) == ["new", "old"]


def test_other_words_find_it_for_less_than_its_name() -> None:
    entries = [Entry("words", "Beam", "sunrise title"), Entry("name", "Sunrise")]
    assert keys("sunrise", entries) == ["name", "words"]


@given(st.text(max_size=40), st.lists(st.text(max_size=30), max_size=12))
def test_anything_can_be_asked(query: str, names: list[str]) -> None:
    entries = [Entry(str(number), name) for number, name in enumerate(names)]
    answer = found(query, entries, 5)
    assert len(answer) <= 5
    assert len({entry.key for entry in answer}) == len(answer)
    for entry in entries:
        if entry.name.strip():
            assert entry in found(entry.name, [entry]), "whatever has a name is found by it"
