"""The frame rate follows the first footage or a choice; what comes from another rate is brought on to the grid."""

import pytest

from glowreel.core import commands as c
from glowreel.core.document import Free
from glowreel.core.errors import Refusal
from glowreel.core.fragment import take
from glowreel.core.time import RATES, TICKS_PER_SECOND, Rate, promo_rate
from glowreel.core.timeline import timeline
from tests.core.build import S, Table

FILM, PAL, USUAL = Rate(num=24, den=1), Rate(num=25, den=1), Rate(num=30, den=1)


@pytest.mark.parametrize(
    ("footage", "promo"),
    [
        (Rate(num=25, den=1), "25"),
        (Rate(num=24000, den=1001), "23.976"),
        (Rate(num=2997, den=100), "29.97"),
        (Rate(num=15, den=1), "30"),
        (Rate(num=12, den=1), "24"),
        (Rate(num=120, den=1), "60"),
        (Rate(num=100, den=1), "50"),
        (Rate(num=10, den=1), "30"),
        (Rate(num=26, den=1), "25"),
    ],
)
def test_the_rate_that_suits_footage(footage: Rate, promo: str) -> None:
    assert str(promo_rate(footage)) == promo


def test_every_rate_has_whole_frames_in_ticks() -> None:
    assert [str(rate) for rate in RATES] == ["23.976", "24", "25", "29.97", "30", "48", "50", "59.94", "60"]
    for rate in RATES:
        assert TICKS_PER_SECOND * rate.den % rate.num == 0


def test_the_first_footage_sets_the_rate_and_says_so() -> None:
    table = Table()
    table.do(c.InsertClips(media=("still",)))
    table.do(c.AddWords(at=S, length=S // 3))
    outcome = table.do(c.InsertClips(media=("field",)))
    assert table.promo.rate == FILM
    assert outcome.notice == "The promo now runs at 24 frames a second, as field does."
    title = timeline(table.promo).item_span(table.promo.layers[0].items[0])
    assert title.length == 8 * FILM.frame
    assert table.do(c.InsertClips(media=("ridge",))).notice == ""
    assert table.promo.rate == FILM, "only the first"


def test_a_chosen_rate_stays() -> None:
    table = Table()
    table.do(c.SetRate(rate=PAL))
    table.do(c.InsertClips(media=("field",)))
    assert table.promo.rate == PAL
    with pytest.raises(Refusal, match=r"23\.976, 24, 25"):
        table.do(c.SetRate(rate=Rate(num=26, den=1)))


def test_layers_and_overwriting_set_it_too() -> None:
    for command in (c.AddPicture(media="field"), c.Overwrite(media="field", at=0)):
        table = Table()
        assert "24 frames" in table.do(command).notice
        assert table.promo.rate == FILM


def test_cuts_are_rounded_where_they_lie_so_that_nothing_adds_up() -> None:
    """Sixty clips of five frames at 30: each is 4 frames at 24, and all of them still ten seconds."""
    table = Table(USUAL)
    table.do(c.InsertClips(media=("still",) * 60))
    table.do(c.TrimBy(items=tuple(clip.id for clip in table.promo.clips), by=5 * USUAL.frame - 3 * S))
    assert timeline(table.promo).length == 10 * S
    table.do(c.SetRate(rate=PAL))
    assert timeline(table.promo).length == 10 * S
    assert {clip.length // PAL.frame for clip in table.promo.clips} == {4, 5}


def test_a_fragment_of_another_rate_comes_on_to_the_grid() -> None:
    other = Table(PAL)
    other.do(c.InsertClips(media=("ridge", "field")))
    other.do(c.Trim(item=other.promo.clips[0].id, length=26 * PAL.frame))
    other.do(c.AddWords(text="tied", at=2 * PAL.frame, length=7 * PAL.frame))
    other.do(c.AddSound(media="song", at=S))
    other.do(c.SetTransition(after=other.promo.clips[0].id, length=6 * PAL.frame))
    table = Table(USUAL)
    fragment = take(other.promo, {item.id for item in (*other.promo.clips, *other.promo.items)})
    table.do(c.Paste(fragment=fragment))
    promo = table.promo
    index = timeline(promo)
    assert index.main_length == USUAL.snap(timeline(other.promo).main_length)
    for span in (*index.clip_span.values(), index.item_span(promo.layers[0].items[0])):
        assert USUAL.snap(span.start) == span.start
        assert USUAL.snap(span.end) == span.end
    assert promo.transitions[0].length % (2 * USUAL.frame) == 0
    assert promo.sounds[0].items[0].anchor == Free(at=S), "sounds are finer than a frame and stay"
    assert promo.sounds[0].items[0].length == 30 * S
