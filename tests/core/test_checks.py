"""What checks find, and that what they offer cures it."""

from __future__ import annotations

from typing import Any

import pytest

from glowreel.core import commands as c
from glowreel.core.checks import CHECKS, Finding, Sight, findings
from glowreel.core.checks.reading import BEGIN, LETTERS_A_SECOND, needed
from glowreel.core.checks.room import free_place
from glowreel.core.commands import read_command
from glowreel.core.formats import CANON, LEAST_LETTERS, SHIPPED
from glowreel.core.layout import Box
from glowreel.core.recipe.picture import part_box
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from tests.core.build import S, Table, measure, sets


def table_with(**values: Any) -> tuple[Table, str]:
    """Clips of sixteen seconds, and words over them that nothing is wrong with unless the values say so."""
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    key = table.do(c.AddWords(text="Fly at first light", at=S, length=ticks(4))).select[0]
    table.do(sets(key, **{"arrives": "none", "leaves": "none", "size": 0.05, **values}))
    return table, key


def found(table: Table, check: str = "") -> list[Finding]:
    sight = Sight(table.promo, measure, lambda words: "".join(letter for letter in words.text if letter == "\ue123"))
    return [one for one in findings(sight) if not check or one.check == check]


def cure(table: Table, finding: Finding, place: int = 0) -> None:
    table.do(read_command(dict(finding.cures[place].command)))


def test_a_promo_with_nothing_wrong_has_no_findings() -> None:
    table, _ = table_with()
    assert found(table) == []


def test_words_stand_as_long_as_slow_readers_need() -> None:
    assert needed("Fly at first light") == pytest.approx(BEGIN + 15 / LETTERS_A_SECOND)
    table, key = table_with(text="Two hours above the valley, breakfast and a glass of something cold when you land")
    (one,) = found(table, "reading-time")
    assert one.part == key
    assert one.at == S
    assert "can be read for 4.0 s" in one.sentence
    cure(table, one)
    assert found(table, "reading-time") == []
    length = timeline(table.promo).item_span(table.promo.items[0]).length / S
    assert length == pytest.approx(needed(table.promo.items[0].read("text")), abs=0.15)


def test_time_in_which_words_still_move_does_not_count_and_they_may_come_at_once() -> None:
    table, key = table_with(pieces="rise", pieces_length=ticks(3.5), arrives="fade", arrive_length=ticks(3))
    (one,) = found(table, "reading-time")
    assert [offer.label for offer in one.cures] == ["Let it stand longer", "Let it come at once"]
    cure(table, one, 1)
    assert found(table) == []
    assert timeline(table.promo).item_span(table.promo.items[0]).length == ticks(4)


@pytest.mark.parametrize(("format", "shape"), [("wide", "wide"), ("square", "square"), ("tall", "tall")])
def test_letters_are_large_enough_in_each_format_and_enlarged_in_that_alone(format: str, shape: str) -> None:
    table, key = table_with()
    table.do(c.Set(items=(key,), values={"size": LEAST_LETTERS[shape] * 0.8}, format=format, only=True))
    (one,) = found(table, "size")
    assert one.format == format
    cure(table, one)
    assert found(table) == []
    item = table.promo.items[0]
    assert item.read("size", format) >= LEAST_LETTERS[shape]
    assert all(item.read("size", other) == 0.05 for other in ("wide", "square", "tall") if other != format)


def test_a_letter_without_a_font_is_told() -> None:
    table, key = table_with(text="Dawn \ue123")
    (one,) = found(table, "letters")
    assert "\ue123" in one.sentence


def test_words_beyond_the_frame_are_moved_into_its_safe_area() -> None:
    table, key = table_with()
    table.do(c.Set(items=(key,), values={"place": (0.0, 0.7), "pin": (0.5, 0.5)}, format="tall"))
    table.do(c.Set(items=(key,), values={"place": (0.9, 0.0)}, format="wide", only=True))
    beyond = found(table, "frame")
    assert "wide" in {one.format for one in beyond}
    for one in beyond:
        cure(table, one)
    assert found(table, "frame") == []


def test_words_that_lie_over_others_are_moved_to_where_there_is_room() -> None:
    table, first = table_with(text="Up at dawn")
    second = table.do(c.AddWords(text="Up at dawn", at=2 * S, length=ticks(4))).select[0]
    table.do(sets(second, arrives="none", leaves="none", size=0.05))
    over = found(table, "overlap")
    assert {one.format for one in over} == {"wide", "square", "tall"}
    assert all(one.at == 2 * S for one in over), "where both are seen"
    for one in over:
        cure(table, one)
    assert found(table) == []


def test_the_nearest_free_place_meets_nothing_and_stays_in_the_frame() -> None:
    box = Box(100, 500, 400, 100)
    place = free_place(box, [Box(0, 450, 1080, 200)], SHIPPED["square"])
    assert place is not None
    assert place.x == 100
    assert place.y + place.height <= 450 or place.y >= 650
    assert abs(place.y - 500) == pytest.approx(151, abs=11), "the nearer side"
    assert free_place(box, [Box(0, 0, 1080, 1080)], SHIPPED["square"]) is None


def test_what_is_missing_or_too_coarse_is_told() -> None:
    table, _ = table_with()
    table.do(c.AddDesign(design="four-places", at=6 * S))
    table.do(c.InsertFiller())
    missing = found(table, "empty")
    assert any("first picture, second picture, third picture" in one.sentence for one in missing)
    assert any("filler" in one.sentence for one in missing)
    filler = next(clip for clip in table.promo.clips if clip.source is None)
    table.do(c.AddShape(form="star", at=timeline(table.promo).clip_span[filler.id].start))
    assert not any("filler" in one.sentence for one in found(table, "empty")), "it is the ground of something"
    table.do(sets(table.promo.clips[0].id, zoom=2.0))
    (one,) = [one for one in found(table, "coarse") if one.part == table.promo.clips[0].id]
    # The clip is as high as the tall frame: 1920 of 1080, twice as large.
    assert f"{2 * 1920 / CANON:.1f} times in Tall" in one.sentence


def test_what_is_dismissed_with_a_reason_is_not_said_until_it_is_taken_back() -> None:
    table, key = table_with(size=0.02, by_rule=False)
    one = found(table, "size")[0]
    dismiss = {"check": one.check, "part": one.part, "format": one.format}
    table.do(c.DismissCheck(**dismiss, reason="Seen on large screens only"))
    assert one.key not in {other.key for other in found(table)}
    assert len(found(table, "size")) == 2, "in the other formats it is said"
    table.do(c.DismissCheck(**dismiss))
    assert one.key in {other.key for other in found(table)}
    table.do(c.DismissCheck(**dismiss, reason="No matter"))
    table.do(c.Remove(items=(key,)))
    assert table.promo.dismissed == {}


def test_every_check_says_what_it_looks_for() -> None:
    assert all(check.label and check.meaning and name == check.name for name, check in CHECKS.items())


def test_what_hardly_stands_out_is_given_a_box_an_outline_or_another_colour() -> None:
    table, key = table_with(colour="#F6B73C")
    sight = Sight(table.promo, measure, contrast=lambda promo, item, format, at: 1.7 if format.id == "tall" else 9.0)
    (one,) = [one for one in findings(sight) if one.check == "contrast"]
    assert (one.format, one.part) == ("tall", key)
    assert "in Tall: 1.7 to 1 at the worst, and 3 is the least" in one.sentence
    changed = []
    for place in range(len(one.cures)):
        before = table.promo
        cure(table, one, place)
        changed.append(set(table.promo.items[0].values.items()) - set(before.items[0].values.items()))
        table.promo = before
    assert len(changed) == 4
    assert ("box", "ground") in changed[1], "dark behind light letters"
    assert ("outline", 0.06) in changed[2]


def test_small_letters_must_stand_out_more_than_large_ones() -> None:
    table, _ = table_with(size=0.032, by_rule=False)
    sight = Sight(table.promo, measure, contrast=lambda promo, item, format, at: 4.0)
    (one,) = [one for one in findings(sight) if one.check == "contrast"]
    assert "in Wide and Square and Tall" in one.sentence, "said once for all"
    table, _ = table_with(size=0.06)
    sight = Sight(table.promo, measure, contrast=lambda promo, item, format, at: 4.0)
    assert not [one for one in findings(sight) if one.check == "contrast"]


def test_a_promo_that_is_too_long_or_too_short_is_told_and_trimmed_where_that_is_enough() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge",)))
    (short,) = found(table, "length")
    assert "lasts 10.0 s" in short.sentence
    assert not short.cures
    table.do(c.InsertClips(media=("ridge", "field", "ridge")))
    (long,) = found(table, "length")
    cure(table, long)
    assert found(table, "length") == []
    assert timeline(table.promo).length == 30 * S


def test_a_gap_of_silence_is_told_and_the_music_goes_on_where_there_is_more_of_it() -> None:
    table, _ = table_with()
    for clip in table.promo.clips:
        table.do(sets(clip.id, muted=True))
    assert found(table, "silence") == [], "where nothing is heard at all, that is meant so"
    song = table.do(c.AddSound(media="song", at=2 * S)).select[0]
    table.do(c.Trim(item=song, edge="end", length=5 * S))
    before, behind = found(table, "silence")
    assert (before.at, behind.at) == (0, 7 * S)
    assert "from 0:07.00 to 0:16.00" in behind.sentence
    cure(table, behind)
    (left,) = found(table, "silence")
    assert left.at == 0


def test_words_in_the_same_place_in_three_scenes_are_told_and_varied() -> None:
    table = Table()
    table.do(c.InsertClips(media=("still",) * 4))
    for clip in table.promo.clips[1:]:
        table.do(c.BreakScene(clip=clip.id))
    index = timeline(table.promo)
    for clip in table.promo.clips:
        at = index.clip_span[clip.id].start
        key = table.do(c.AddWords(text="Go", at=at, length=2 * S)).select[0]
        table.do(sets(key, size=0.06))
    (one,) = found(table, "place")
    assert "next 3 scenes" in one.sentence
    cure(table, one)
    assert found(table, "place") == []


def test_words_over_a_face_are_put_where_it_is_calm() -> None:
    table, key = table_with()
    lies = part_box(table.promo, SHIPPED["tall"], table.promo.items[0], measure)
    assert lies is not None
    beside = Box(lies.x, lies.y + 2 * lies.height, 300, 300)
    over = Box(lies.x + 10, lies.y - 100, lies.width / 2, 300)

    def looked(face: Box) -> list[Finding]:
        sight = Sight(table.promo, measure, faces=lambda promo, item, format, at: [face] if format.id == "tall" else [])
        return [one for one in findings(sight) if one.check == "face"]

    assert looked(beside) == []
    (one,) = looked(over)
    assert "covers a face in Tall" in one.sentence
    cure(table, one)
    placed = part_box(table.promo, SHIPPED["tall"], table.promo.items[0], measure)
    assert placed is not None
    assert (placed.x, placed.y) == pytest.approx((120, 120), abs=1), "where the picture is calm"
    wide = part_box(table.promo, SHIPPED["wide"], table.promo.items[0], measure)
    assert wide is not None
    assert wide.x != pytest.approx(120, abs=1), "only where the face is"


def test_a_picture_that_flashes_is_told_and_the_effect_taken_off() -> None:
    table, _ = table_with()
    clip = table.promo.clips[0].id
    table.do(c.AddEffect(items=(clip,), effect="flash"))
    sight = Sight(table.promo, measure, flashes=lambda promo: [(3 * S, 3), (5 * S, 6)])
    (one,) = [one for one in findings(sight) if one.check == "flash"]
    assert (one.part, one.at) == (clip, 5 * S)
    assert "6 times" in one.sentence
    cure(table, one)
    assert table.promo.clips[0].effects == ()


def test_what_is_empty_asks_for_the_file_that_fills_it() -> None:
    table, _ = table_with()
    table.do(c.AddCollage(grid="three", media=("still",)))
    (one,) = found(table, "empty")
    assert "2 empty cells" in one.sentence
    assert one.cures[0].asks
    filled = {**one.cures[0].command, "media": "ridge"}
    table.do(read_command(filled))
    (one,) = found(table, "empty")
    assert "an empty cell" in one.sentence


def test_words_that_run_out_of_their_box_are_told_and_the_box_made_higher() -> None:
    table, key = table_with(
        text="Up at dawn and down again before the town is awake", suits="shrink", tall=0.06, wrap=0.2
    )
    one = found(table, "box")[0]
    assert one.part == key
    for finding in found(table, "box"):
        cure(table, finding)
    assert found(table, "box") == []


def test_a_code_that_leads_nowhere_is_told_and_mended() -> None:
    table, _ = table_with()
    key = table.do(c.AddDesign(design="scan-code", at=S)).select[0]
    name = table.promo.designs["scan-code"].coded[0]
    assert found(table, "link") == [], "the sample is a link"
    table.do(sets(key, **{f"field.{name}": "hollowmere.example/dawn"}))
    (one,) = found(table, "link")
    cure(table, one)
    assert timeline(table.promo).item[key].set_to(f"field.{name}") == "https://hollowmere.example/dawn"
    assert found(table, "link") == []
    table.do(sets(key, **{f"field.{name}": "somewhere nice"}))
    assert not found(table, "link")[0].cures


def test_words_that_one_format_shows_for_too_short_are_told_there_and_shown_for_all_of_their_time() -> None:
    table, key = table_with()
    assert found(table, "reading-time") == []
    table.do(c.Set(items=(key,), values={"goes_early": ticks(3)}, format="tall", only=True))
    (one,) = found(table, "reading-time")
    assert one.format == "tall"
    assert "in Tall, and slow readers need" in one.sentence
    assert one.cures[0].label == "Let it be on show for all of its time"
    cure(table, one)
    assert found(table, "reading-time") == []
