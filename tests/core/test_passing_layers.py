"""Layers that are pushed over one another, and the transitions between them."""

import pytest

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.fragment import take
from glowreel.core.recipe.model import Composite, DrawPicture
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.timeline import Span, timeline
from tests.core.build import S, Table, measure

WIDE = SHIPPED["wide"]


@pytest.fixture
def table() -> Table:
    """A long clip, and two pictures of 3 s before it on one track: the first at 1 s, the second at 5 s."""
    table = Table()
    table.do(c.InsertClips(media=("field",)))
    table.do(c.AddPicture(media="still", at=S))
    table.do(c.AddPicture(media="still", at=5 * S))
    return table


def spans(promo: Promo) -> list[Span]:
    return [timeline(promo).item_span(item) for item in promo.layers[0].items]


def test_what_is_pushed_over_its_neighbour_passes_into_it_for_as_long_as_both_were_there(table: Table) -> None:
    first, second = (item.id for item in table.promo.layers[0].items)
    table.do(c.PushOver(item=second, at=3 * S, kind="iris"))
    (cut,) = timeline(table.promo).layer_cuts
    assert (cut.before.id, cut.behind.id, cut.transition.kind) == (first, second, "iris")
    assert cut.span == Span(3 * S, 4 * S), "both were there from 3 s to 4 s"
    assert spans(table.promo) == [Span(S, 3 * S + S // 2), Span(3 * S + S // 2, 6 * S)]
    assert len(table.promo.layers) == 1


def test_either_of_the_two_may_be_pushed(table: Table) -> None:
    first = table.promo.layers[0].items[0].id
    table.do(c.PushOver(item=first, at=3 * S))
    (cut,) = timeline(table.promo).layer_cuts
    assert cut.before.id == first
    assert cut.span == Span(5 * S, 6 * S)


@pytest.mark.parametrize("at", [1, 4.9, 9])
def test_it_must_lie_over_a_part_of_one_neighbour(table: Table, at: float) -> None:
    second = table.promo.layers[0].items[1].id
    if at == 4.9:
        table.do(c.AddPicture(media="still", at=9 * S))
        table.do(c.Trim(item=table.promo.layers[0].items[0].id, length=9 * S))
    with pytest.raises(Refusal):
        table.do(c.PushOver(item=second, at=round(at * S)))


def test_the_transition_goes_when_they_are_moved_apart_and_stays_when_both_are_copied(table: Table) -> None:
    first, second = (item.id for item in table.promo.layers[0].items)
    table.do(c.PushOver(item=second, at=3 * S))
    assert [t.after for t in take(table.promo, {first, second}).transitions] == [first]
    assert not take(table.promo, {second}).transitions
    table.do(c.Duplicate(items=(first, second)))
    assert len(timeline(table.promo).layer_cuts) == 2
    table.do(c.SplitAt(item=first, at=2 * S))
    assert len(timeline(table.promo).layer_cuts) == 2, "it follows the second part"
    table.do(c.MoveItem(item=second, at=12 * S))
    assert len(timeline(table.promo).layer_cuts) == 1


def test_a_transition_needs_two_that_follow_one_another(table: Table) -> None:
    with pytest.raises(Refusal, match="follows it at once"):
        table.do(c.SetTransition(after=table.promo.layers[0].items[0].id))


def test_neither_comes_nor_goes_by_itself_where_they_pass_into_one_another(table: Table) -> None:
    first, second = (item.id for item in table.promo.layers[0].items)
    for key in (first, second):
        table.do(c.Set(items=(key,), values={"arrives": "fade", "leaves": "fade"}))
    table.do(c.PushOver(item=second, at=3 * S))

    def opacity(at: float) -> float:
        op = frame_recipe(table.promo, WIDE, round(at * S), measure).ops[-1]
        assert isinstance(op, DrawPicture)
        return op.opacity

    assert opacity(2.9) == opacity(4.1) == 1, "whole on both sides of the transition"
    assert opacity(1.1) < 1, "the first still comes"
    passing = frame_recipe(table.promo, WIDE, round(3.5 * S), measure).ops[-1]
    assert isinstance(passing, Composite)
