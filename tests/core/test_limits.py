"""How large a promo may become, and the one way in for documents."""

import pytest

from glowreel.core.commands import AddSound, AddWords, InsertClips, InsertFiller, Paste, SetTransition, apply
from glowreel.core.document import Clip, Note, Promo, Scene, Tied
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED, Format
from glowreel.core.fragment import take
from glowreel.core.limits import LIMITS, check_limits
from glowreel.core.reading import read_document
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.rules import RULES, check_rules
from glowreel.core.slots import Slot
from glowreel.core.time import MAX_TICKS, Rate, ticks
from tests.core.build import S, Table, measure, media
from tests.engine.build import promo_of


def long_promo(count: int, length: int = S) -> Promo:
    clips = tuple(Clip(id=f"c{n}", kind="filler", length=length) for n in range(count))
    return Promo(id="p", name="Long", formats=(SHIPPED["wide"],), scenes=(Scene(id="s", name="S", clips=clips),))


def test_a_promo_has_so_many_clips_and_lasts_so_long() -> None:
    assert check_limits(long_promo(LIMITS["clips"][0]))
    with pytest.raises(Refusal, match="at most 2,000 clips"):
        check_limits(long_promo(LIMITS["clips"][0] + 1))
    assert check_limits(long_promo(6, MAX_TICKS // 6))
    with pytest.raises(Refusal, match="at most six hours"):
        check_limits(long_promo(7, MAX_TICKS // 6))


def test_no_command_leads_beyond_the_limits() -> None:
    table = Table(family="t")
    table.promo = long_promo(6, MAX_TICKS // 6)
    with pytest.raises(Refusal, match="at most six hours"):
        apply(table.promo, InsertFiller(length=ticks(1)), table.context)
    piece = take(long_promo(1200), set(), "s")
    table.promo = long_promo(1200)
    with pytest.raises(Refusal, match="at most 2,000 clips"):
        apply(table.promo, Paste(fragment=piece, at=0), table.context)


def test_a_format_is_no_ribbon() -> None:
    for wide, high in ((100, 1), (1, 5), (41, 10)):
        with pytest.raises(ValueError, match="at most 4 times"):
            Format(id="r", name="R", wide=wide, high=high)
    assert Format(id="r", name="R", wide=1, high=4)


@pytest.mark.parametrize(
    "change",
    [
        {"version": -1}, {"version": 2.0}, {"version": None}, {"formats": []}, {"formats": {"a": 1}}, {"scenes": 5},
        {"rate": {"num": 0, "den": 1}}, {"scenes": [{"id": "s", "name": "s", "clips": []}]}, {"id": "a b"},
        {"name": ""},
        {"notes": [{"id": "n", "anchor": {"to": "time", "at": -5}}]}, {"background": "red"},
        {"formats": [{"id": "w", "name": "W", "wide": 16, "high": 9, "safe": [0, float("nan"), 0, 0]}]},
    ],
)  # fmt: skip
def test_documents_that_break_a_rule_are_refused_in_a_sentence(change: dict[str, object]) -> None:
    data = {**long_promo(2).model_dump(mode="json"), **change}
    with pytest.raises(Refusal):
        read_document(data)
    assert read_document(long_promo(2).model_dump(mode="json")) == long_promo(2)


def test_a_rate_just_below_the_promos_runs_on_frame_by_frame() -> None:
    clip = media("ntsc", rate=Rate(num=30000, den=1001), length=20)
    promo = promo_of(clip, rate=Rate(num=30, den=1))
    shown = []
    for n in range(120):
        recipe = frame_recipe(promo, promo.formats[0], promo.rate.frame_start(n), measure)
        shown.append(clip.rate.frame_floor(recipe.ops[0].at))
    steps = [b - a for a, b in zip(shown, shown[1:], strict=False)]
    assert shown[:60] == list(range(60)), "the first frames are shown one by one"
    assert steps.count(0) == 0
    assert sum(steps) == 119, "within four seconds they differ by no whole frame"


def full_promo() -> Promo:
    """Two clips with a transition, a layer tied to one, a sound."""
    table = Table()
    table.do(InsertClips(media=("ridge", "field")))
    table.do(SetTransition(after=table.promo.clips[0].id))
    table.do(AddWords(text="Words", at=S))
    table.do(AddSound(media="song"))
    return table.promo


def broken(promo: Promo, rule: str) -> Promo:
    """The promo in a state that the rule forbids."""
    (layers,), (sounds,) = promo.layers, promo.sounds
    (words,), (song,) = layers.items, sounds.items
    (scene,) = promo.scenes
    (cut,) = promo.transitions
    copies = {"id": "again"}
    changes = {
        "a cut has": {"transitions": (cut, cut.changed(**copies))},
        "the main track": {"layers": (layers.changed(items=(song,)),), "sounds": ()},
        "what is tied": {"notes": (Note(id="n1", anchor=Tied(clip="gone")),)},
        "items on a track": {"layers": (layers.changed(items=(words, words.changed(**copies))),)},
        "what is to be filled": {"slots": (Slot(id="q1", part="gone", label="x"),)},
        "clips and layers begin": {"layers": (layers.changed(items=(words.changed(length=S + 1),)),)},
        "a clip, a layer": {"scenes": (scene.changed(clips=(scene.clips[0].changed(kind="photo"), scene.clips[1])),)},
    }
    return promo.changed(**next(change for start, change in changes.items() if rule.startswith(start)))


@pytest.mark.parametrize("rule", RULES)
def test_states_that_no_promo_may_be_in_are_refused(rule: str) -> None:
    promo = full_promo()
    assert check_rules(promo) is promo
    with pytest.raises(Refusal, match=rule):
        check_rules(broken(promo, rule))
    with pytest.raises(Refusal):
        read_document(broken(promo, rule).model_dump(mode="json"))
