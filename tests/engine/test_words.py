"""Setting words: faces, scripts, lines, and what is drawn of letters, by their places and their pixels."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt
import pytest

from glowreel.core.colour import contrast_of
from glowreel.core.fonts import FONTS, MANNERS
from glowreel.core.formats import CANON
from glowreel.core.layout import Box
from glowreel.core.letters import LETTER_WAYS, Play
from glowreel.core.recipe.model import DrawShape, DrawWords, Fill, FrameRecipe
from glowreel.core.words import Run, Shade, Words
from glowreel.engine.contrast import contrast, letters_recipe
from glowreel.engine.draw import Canvas
from glowreel.engine.sources import NothingMade, Sources
from glowreel.engine.type.faces import FOLDER, face
from glowreel.engine.type.setting import set_words, units_of
from glowreel.engine.typesetting import measure

SIZE = 100.0
SANS = {"font": "Work Sans", "weight": 700}


def letters_at(words: Words, wrap: float = 2000) -> dict[int, float]:
    """The left edge of each letter, by its place in the text."""
    return {one.letter.start: one.x for one in set_words(words, SIZE, wrap).letters}


def drawn(words: Words, plays: tuple[Play, ...] = (), short: int = 360) -> npt.NDArray[np.int16]:
    """Words on black, as blue, green, red; 300 units from the left and from above."""
    canvas = Canvas(Sources(NothingMade(), threads=1), short * 16 // 9, short)  # type: ignore[arg-type]
    width, height = measure(words, SIZE, 1400)
    op = DrawWords(words, SIZE, 1400, Box(300, 300, width, height), plays=plays)
    frame = canvas.draw(FrameRecipe(CANON * 16 / 9, CANON, (Fill("#000000"), op)))
    return frame[:, :, :3].astype(np.int16)


def region(pixels: npt.NDArray[np.int16], box: tuple[float, float, float, float]) -> npt.NDArray[np.int16]:
    """What lies in a box (left, top, right, bottom) in canonical units from the corner of the words."""
    scale = pixels.shape[0] / CANON
    left, top, right, low = (round((300 + edge) * scale) for edge in box)
    return pixels[top:low, left:right]


@pytest.mark.parametrize("name", list(FONTS))
def test_a_family_has_a_file_for_every_weight_and_a_licence(name: str) -> None:
    family = FONTS[name]
    assert family.manner in MANNERS
    files = {face(name, weight, False).path for weight in family.weights}
    files |= {face(name, weight, True).path for weight in family.italics}
    assert len(files) == len(family.weights) + len(family.italics), "two weights have one file"
    stem = name.replace(" ", "")
    assert all(path.name.startswith(f"{stem}_") for path in files)
    assert (FOLDER / f"OFL-{name.lower().replace(' ', '-')}.txt").exists()


def test_families_draw_letters_of_their_own_and_there_are_many() -> None:
    free = [name for name, family in FONTS.items() if family.manner != "mono"]
    widths = {tuple(measure(Words(text, name, FONTS[name].weights[0]), SIZE, 4000)[0] for text in ("Hollow", "Qg 57"))
              for name in free}  # fmt: skip
    assert len(widths) == len(free), "a family fell back to another one"
    assert len(FONTS) >= 32
    assert sum(bool(family.italics) for family in FONTS.values()) >= 8


def test_an_unknown_family_falls_back_and_an_unknown_letter_is_told() -> None:
    assert measure(Words("Dawn", "Nowhere Grotesk"), SIZE, 900) == measure(Words("Dawn"), SIZE, 900)
    assert set_words(Words("Dawn"), SIZE, 900).unknown == ""
    assert set_words(Words("Dawn \U000e0042\ue123"), SIZE, 900).unknown == "\ue123"


@pytest.mark.parametrize("text", [
    "مرحبا", "שלום", "नमस्ते", "নমস্কার", "வணக்கம்", "నమస్తే", "สวัสดี", "გამარჯობა", "Բարև", "ሰላም", "東京", "안녕", "你好",
    "Привет", "Γειά", "🎈", "→ ★ €",
])  # fmt: skip
def test_the_main_scripts_are_there(text: str) -> None:
    setting = set_words(Words(text, "Anton", 400), SIZE, 2000)
    assert setting.unknown == ""
    assert setting.width > 40


def test_text_from_right_to_left_stands_so_and_numbers_in_it_do_not() -> None:
    hebrew = letters_at(Words("שלום עולם", **SANS))
    assert [hebrew[n] for n in range(4)] == sorted((hebrew[n] for n in range(4)), reverse=True)
    assert hebrew[5] < hebrew[3], "the second word stands left of the first"
    mixed = letters_at(Words("שלום 26", **SANS))
    assert mixed[5] < mixed[6] < mixed[0], "digits run to the right, on the left of the word"


def test_arabic_is_joined_and_a_joined_picture_is_one_letter() -> None:
    apart = sum(measure(Words(letter, **SANS), SIZE, 2000)[0] for letter in "سلام")
    assert measure(Words("سلام", **SANS), SIZE, 2000)[0] < 0.8 * apart
    family = set_words(Words("👨‍👩‍👧"), SIZE, 2000)
    assert len(family.letters) == 1
    assert 80 < family.width < 180


def test_lines_break_at_white_between_han_and_inside_what_is_too_long() -> None:
    def lines(text: str, wrap: float) -> list[str]:
        return [text[line.start : line.end].rstrip() for line in set_words(Words(text, **SANS), SIZE, wrap).lines]

    assert lines("one two three", 420) == ["one two", "three"]
    assert lines("東京は夜の七時。", 420) == ["東京は夜", "の七時。"], "no line begins with a full stop"
    assert lines("東京は夜の七。", 640)[-1] != "。"
    assert "".join(lines("incomprehensibilities", 400)) == "incomprehensibilities"
    assert len(lines("incomprehensibilities", 400)) > 1
    assert lines("a\n\nb", 900) == ["a", "", "b"]


def test_lines_keep_to_the_side_that_is_said() -> None:
    text = "longer line\nshort"
    found = {side: set_words(Words(text, align=side, **SANS), SIZE, 2000) for side in ("left", "centre", "right")}
    wide = found["left"].width
    lefts = {side: setting.lines[1].left for side, setting in found.items()}
    spare = wide - found["left"].lines[1].width
    assert lefts["left"] == 0
    assert lefts["centre"] == pytest.approx(spare / 2, abs=1)
    assert lefts["right"] == pytest.approx(spare, abs=1)


def test_room_after_letters_is_as_wide_as_is_said_and_not_after_the_last() -> None:
    plain, apart = (letters_at(Words("HIM", spacing=gap, **SANS)) for gap in (0.0, 0.3))
    assert apart[2] - plain[2] == pytest.approx(2 * 0.3 * SIZE, abs=0.5)
    widths = [measure(Words("HIM", spacing=gap, **SANS), SIZE, 2000)[0] for gap in (0.0, 0.3)]
    assert widths[1] - widths[0] == pytest.approx(2 * 0.3 * SIZE, abs=0.5)


def test_parts_are_larger_and_their_line_is_higher() -> None:
    words = Words("big word", runs=(Run(0, 3, size=2.0),), line=1.0, **SANS)
    plain = Words("big word", line=1.0, **SANS)
    assert measure(words, SIZE, 2000)[1] == pytest.approx(2 * measure(plain, SIZE, 2000)[1])
    assert letters_at(words)[4] == pytest.approx(letters_at(plain)[4] + letters_at(plain)[3], rel=0.02)


@pytest.mark.parametrize("degrees", [90.0, -90.0])
def test_on_a_bow_letters_stand_on_one_circle(degrees: float) -> None:
    setting = set_words(Words("along the bow", arc=degrees, **SANS), SIZE, 2000)
    spots = [(one.middle, one.y, one.turn) for one in setting.letters if not one.letter.white]
    flat = set_words(Words("along the bow", **SANS), SIZE, 2000).lines[0].width
    radius = flat / math.radians(90)
    across = np.array([(x, y) for x, y, _ in spots])
    # The circle through three of them is the one on which all of them lie, and as large as the line is long.
    (ax, ay), (bx, by), (cx, cy) = across[0], across[len(across) // 2], across[-1]
    matrix = 2 * np.array([[bx - ax, by - ay], [cx - ax, cy - ay]])
    middle = np.linalg.solve(matrix, [bx**2 - ax**2 + by**2 - ay**2, cx**2 - ax**2 + cy**2 - ay**2])
    far = np.hypot(*(across - middle).T)
    assert far == pytest.approx(np.full(len(far), radius), rel=0.01)
    assert (middle[1] > across[:, 1].max()) == (degrees > 0), "upwards in the middle, or downwards"
    turns = [turn for _, _, turn in spots]
    assert turns == sorted(turns, reverse=degrees < 0)


def test_what_comes_together_is_letters_words_or_lines() -> None:
    setting = set_words(Words("out at\ndawn", **SANS), SIZE, 2000)
    counts = {unit: [len(group) for group in units_of(setting, unit)] for unit in ("letter", "word", "line")}
    assert counts == {"letter": [1] * 9, "word": [3, 2, 4], "line": [5, 4]}


def test_an_outline_goes_around_letters_and_leaves_their_inside() -> None:
    plain = drawn(Words("H", colour="#00FF00", **SANS))
    lined = drawn(Words("H", colour="#00FF00", outline=0.1, outline_colour="#FF0000", **SANS))
    inside = plain[:, :, 1] > 250
    assert (lined[inside][:, 1] > 200).mean() > 0.9
    red = lined[:, :, 2] > 200
    scale = 360 / CANON
    around = red.any(axis=0).sum() - inside.any(axis=0).sum()
    assert around == pytest.approx(2 * 0.1 * SIZE * scale, abs=2.5)


def test_a_fill_that_fades_is_one_colour_at_one_end_and_the_other_at_the_other() -> None:
    words = Words("HHHHHHHH", colour="#FF0000", second="#0000FF", angle=0.0, **SANS)
    pixels, width = drawn(words), measure(words, SIZE, 1400)[0]
    left, right = region(pixels, (0, 0, 60, 120)), region(pixels, (width - 60, 0, width, 120))
    for part, more, less in ((left, 2, 0), (right, 0, 2)):
        seen = part[part.max(axis=2) > 180]
        assert (seen[:, more] > 2 * seen[:, less]).all()


def test_a_hard_shadow_lies_where_it_is_said() -> None:
    words = Words("I", shades=(Shade(0.6, 0.0, 0.0, "#0000FF", 1.0),), colour="#FFFFFF", **SANS)
    pixels = drawn(words)
    white, blue = (pixels.min(axis=2) > 200), (pixels[:, :, 0] > 200) & (pixels[:, :, 2] < 60)
    moved = np.flatnonzero(blue.any(axis=0)).mean() - np.flatnonzero(white.any(axis=0)).mean()
    assert moved == pytest.approx(0.6 * SIZE * 360 / CANON, abs=1)
    assert np.flatnonzero(blue.any(axis=1)).tolist() == pytest.approx(np.flatnonzero(white.any(axis=1)).tolist(), abs=1)


def test_a_box_lies_behind_all_each_line_or_each_word() -> None:
    def boxed(of: str) -> float:
        return float((drawn(Words("one two\nthree", box="#00FF00", box_of=of, line=1.6, colour="#000000",
                                  pad=(0.05, 0.02), **SANS))[:, :, 1] > 200).mean())  # fmt: skip

    # The second line is shorter than the first; between the two words of the first is a gap.
    assert boxed("all") > 1.05 * boxed("line")
    assert boxed("line") > 1.02 * boxed("word") > 0.001


@pytest.mark.parametrize("way", [way for way in LETTER_WAYS if not LETTER_WAYS[way].sweeps])
def test_letters_that_come_are_first_not_there_and_in_the_end_as_at_rest(way: str) -> None:
    words = Words("Fly now", **SANS)
    still = drawn(words)
    assert drawn(words, (Play(way, share=0.0),)).max() == 0
    last = drawn(words, (Play(way, share=1.0),))
    assert np.abs(last - still).mean() < 0.25
    half = drawn(words, (Play(way, share=0.5, overlap=0.0),))
    width = measure(words, SIZE, 1400)[0]
    begun, waiting = region(half, (0, -60, width * 0.3, 160)), region(half, (width * 0.8, -60, width, 160))
    assert begun.max() > 200, "the first letters are there"
    assert waiting.max() == 0, "and the last are not"


def test_what_is_sung_is_in_the_second_colour_from_its_beginning_on() -> None:
    words = Words("HHHH", colour="#00FF00", **SANS)
    pixels = drawn(words, (Play("sing", unit="word", share=0.5, colour="#FF0000", overlap=0.0),))
    width = measure(words, SIZE, 1400)[0]
    left, right = region(pixels, (5, 0, width * 0.45, 120)), region(pixels, (width * 0.55, 0, width, 120))
    assert left[:, :, 2].max() > 200
    assert left[:, :, 1].max() < 60
    assert right[:, :, 1].max() > 200
    assert right[:, :, 2].max() < 60


def test_small_letters_that_move_lie_where_large_ones_do() -> None:
    words, plays = Words("Fly at dawn", shadow=0.5, **SANS), (Play("rise", share=0.45),)
    small, large = drawn(words, plays, 240), drawn(words, plays, 960)
    large = large[:, : small.shape[1] * 4]
    reduced = large.reshape(240, 4, small.shape[1], 4, 3).mean(axis=(1, 3))
    assert np.abs(reduced - small).mean() < 0.5


def looked_at(letters: str, ground: str, **manner: object) -> float:
    """How well words stand out on a ground, as the checks look at them."""
    canvas = Canvas(Sources(NothingMade(), threads=1), 426, 240)  # type: ignore[arg-type]
    words = Words("Fly at dawn", colour=letters, **SANS, **manner)  # type: ignore[arg-type]
    op = DrawWords(words, SIZE, 1400, Box(300, 300, *measure(words, SIZE, 1400)))
    recipe = FrameRecipe(CANON * 16 / 9, CANON, (Fill(ground), op))
    shown = canvas.draw(recipe).copy()
    found = contrast(shown, canvas.draw(letters_recipe(recipe, (op,))))
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("letters", "ground"), [("#FFFFFF", "#000000"), ("#FFFFFF", "#767676"), ("#C8430B", "#F6B73C")]
)
def test_how_letters_stand_out_is_the_ratio_of_their_colours(letters: str, ground: str) -> None:
    assert looked_at(letters, ground) == pytest.approx(contrast_of(letters, ground), rel=0.06)


def test_a_box_an_outline_or_a_shadow_let_letters_stand_out() -> None:
    bare = looked_at("#FFFFFF", "#E8E8E8")
    assert bare < 1.4
    assert looked_at("#FFFFFF", "#E8E8E8", box="#2C2A4A") > 10
    assert looked_at("#FFFFFF", "#E8E8E8", outline=0.12, outline_colour="#000000") > 3
    assert looked_at("#FFFFFF", "#E8E8E8", shadow=1.0) > 1.2 * bare


def test_the_worst_spot_decides() -> None:
    """White words that begin on black and end on white."""
    canvas = Canvas(Sources(NothingMade(), threads=1), 426, 240)  # type: ignore[arg-type]
    words = Words("Fly at dawn", colour="#FFFFFF", **SANS)
    width, height = measure(words, SIZE, 1400)
    op = DrawWords(words, SIZE, 1400, Box(300, 300, width, height))
    half = DrawShape(Box(300 + width / 2, 0, 1920, 1080), "#F4F4F4")
    recipe = FrameRecipe(CANON * 16 / 9, CANON, (Fill("#000000"), half, op))
    shown = canvas.draw(recipe).copy()
    assert contrast(shown, canvas.draw(letters_recipe(recipe, (op,)))) < 1.5  # type: ignore[operator]
