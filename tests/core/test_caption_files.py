"""Caption files in any state: read where the meaning is clear, else one sentence with the line."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.errors import Refusal
from glowreel.interchange.captions import read, written

TWO = [(1000, 2500, "Hello"), (3000, 4000, "Goodbye")]


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("a.srt", "1\n00:00:01,000 --> 00:00:02,500\nHello\n\n2\n00:00:03,000 --> 00:00:04,000\nGoodbye\n"),
        ("carriage returns.srt", "1\r\n00:00:01,000 --> 00:00:02,500\r\nHello\r\n\r\n2\r\n00:00:03,000 --> 00:00:04,000"
                                 "\r\nGoodbye"),
        ("no hours.vtt", "WEBVTT\n\n00:01.000 --> 00:02.500\nHello\n\n00:03.000 --> 00:04.000\nGoodbye\n"),
        ("settings.vtt", "WEBVTT - film\n\nNOTE by hand\n\nfirst\n00:01.000 --> 00:02.500 line:0 align:start\n"
                         "<v Ann>Hello</v>\n\n00:03.000 --> 00:04.000\n<b>Good</b>bye\n"),
        ("no empty line.srt", "1\n0:00:01.0 --> 0:00:02.5\nHello\n2\n0:00:03.0 --> 0:00:04.0\nGoodbye\n"),
        ("out of order.srt", "2\n00:00:03,000 --> 00:00:04,000\nGoodbye\n\n1\n00:00:01,000 --> 00:00:02,500\nHello\n"),
        ("styles.srt", "1\n00:00:01,000 --> 00:00:02,500\n{\\an8}<font color='#fff'>Hello</font>\n\n"
                       "2\n00:00:03,000 --> 00:00:04,000\nGoodbye\n\n3\n00:00:05,000 --> 00:00:06,000\n\n"),
        ("a.ass", "[Script Info]\n\n[Events]\nFormat: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, "
                  "Effect, Text\nDialogue: 0,0:00:01.00,0:00:02.50,Default,,0,0,0,,{\\i1}Hello\n"
                  "Dialogue: 0,0:00:03.00,0:00:04.00,Default,,0,0,0,,Goodbye\n"),
    ],
)  # fmt: skip
def test_what_is_meant_is_read(name: str, text: str) -> None:
    assert list(read(name, text.encode()).cues) == TWO
    assert list(read(name, b"\xef\xbb\xbf" + text.encode()).cues) == TWO
    assert list(read(name, text.encode("utf-16")).cues) == TWO


def test_cues_over_one_another_are_put_right_and_that_is_said() -> None:
    found = read("x.srt", b"1\n00:00:01,000 --> 00:00:05,000\nA\n\n2\n00:00:03,000 --> 00:00:02,000\nB\n")
    assert found.cues == ((1000, 3000, "A"), (3000, 5000, "B"))
    assert found.notices == ("The times of 2 captions were put right.",)


@pytest.mark.parametrize(
    ("name", "data", "sentence"),
    [
        ("a.srt", b"", "is empty"),
        ("a.srt", b" \r\n ", "is empty"),
        ("a.srt", b"1\n00:00:01,000 --> 00:00:99,000\nA\n", "Line 2 of a.srt is no time"),
        ("a.srt", b"1\n00:00:01,000 --> 00:00:02,000\nA\n\n2\nx --> y\nB\n", "Line 6 of a.srt is no time"),
        ("a.vtt", b"WEBVTT\n\nnothing here\n", "no captions in"),
        ("a.ass", b"[Script Info]\n[Events]\nDialogue: what", "no captions in|cannot be read"),
        ("a.doc", b"hello", "no caption file"),
        ("a.srt", b"x" * (6 * 1024**2), "larger than 5 MB"),
    ],
)
def test_what_is_not_clear_is_refused_in_a_sentence(name: str, data: bytes, sentence: str) -> None:
    with pytest.raises(Refusal, match=sentence):
        read(name, data)


def test_a_name_tells_the_language_and_a_text_has_no_times() -> None:
    assert read("promo.de.srt", b"1\n00:00:01,000 --> 00:00:02,000\nA\n").language == "de"
    text = read("speech.txt", "Dawn flights\nover the valley – café.".encode("cp1252"))
    assert (text.cues, text.text) == ((), "Dawn flights over the valley – café.")


LINES = st.text(st.characters(codec="utf-8", categories=("L", "N")), min_size=1, max_size=20)


@given(st.lists(st.tuples(st.integers(1, 4000), st.integers(1, 4000), LINES), min_size=1, max_size=20),
       st.sampled_from(["srt", "vtt"]))  # fmt: skip
def test_what_is_written_is_read_again(cues: list[tuple[int, int, str]], form: str) -> None:
    at, made = 0, []
    for pause, lasts, said in cues:
        made.append((at + pause, at + pause + lasts, f"{said} so\nfor <all> & {said}"))
        at += pause + lasts
    again = read(f"x.{form}", written(made, form).encode())
    kept = [(a, b, said if form == "vtt" else said.replace("<all>", "").replace("  ", " ")) for a, b, said in made]
    assert list(again.cues) == kept
    assert again.notices == ()


@given(st.binary(max_size=400), st.sampled_from(["a.srt", "a.vtt", "a.ass", "a.txt"]))
def test_nothing_breaks_it(data: bytes, name: str) -> None:
    try:
        found = read(name, data)
    except Refusal as refusal:
        assert refusal.sentence.endswith(".")
    else:
        assert found.cues or found.text
