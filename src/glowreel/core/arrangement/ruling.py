"""Which layers give way in a shape, and to where: the best of several ways, by their score.

Layers that are on show together are looked at together. Where they lie well as they are pinned, they stay. Where they
do not, each way of laying them out anew is rated by how like the shape that they were made in it is, and how free of
faults; the best is taken, provided it is better than leaving them.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from typing import Any

from glowreel.core.arrangement.candidates import WAYS, Block, Ruling, Work, room_for
from glowreel.core.arrangement.clusters import Cluster, clusters
from glowreel.core.arrangement.heads import heads_cut
from glowreel.core.arrangement.laid import Laid, Table, around, arranges, backs, full, seen_span
from glowreel.core.arrangement.order import disorder, out_of_line, slid
from glowreel.core.arrangement.score import (
    WEIGHTS,
    Pair,
    Score,
    frame_of,
    overlaps,
    rate,
    safe_of,
    share_outside,
)
from glowreel.core.content import Seen
from glowreel.core.document import Item, Part, Promo
from glowreel.core.formats import CANON, SHIPPED, Format
from glowreel.core.layout import Box, Measure
from glowreel.core.recipe.model import SoundRecipe
from glowreel.core.remembered import Remembered
from glowreel.core.timeline import Span

MOST = 16
"""So many are laid out together at the most; more are left as they are."""
SHRUNK = 14.0
"""What making a layer half as large takes off a way, in points."""
LEAST_OFF = 0.14
"""How far, in shares of the frame, things may be from where they were and still be in balance."""
NEAR = 0.1 * CANON
"""How far from a picture its label stands at the most."""
INTENDED = 0.5
"""Words that lie over others by this share of the smaller ones are meant to."""
BETTER = 1.0
"""By how many points a way must be better than leaving things as they are pinned, or than a gentler one."""

NOTHING: Mapping[str, Any] = {}
"""What is set of a layer that lies as it is pinned."""


class Ruled:
    """What the rule says of a promo in a format; worked out for those who are asked for, once."""

    def __init__(self, promo: Promo, format: Format, measure: Measure) -> None:
        self.promo, self.format, self.measure = promo, format, measure
        self.table = Table(promo, measure)
        self.clusters = clusters(promo)
        shapes = tuple((one.id, one.wide, one.high) for one in promo.formats)
        self._like = (format.id, format.wide, format.high, format.safe, shapes)
        self._known: dict[int, Ruling] = {}

    def of(self, item: Item) -> Mapping[str, Any]:
        """What is set of a layer by rule; nothing for one that lies as it is pinned."""
        cluster = self.clusters.of.get(item.id)
        if cluster is None:
            return NOTHING
        found = self._known.get(id(cluster))
        if found is None:
            found = self._known[id(cluster)] = self._arranged(cluster)
        return found.get(item.id, NOTHING)

    def _arranged(self, cluster: Cluster) -> Ruling:
        """What is set of the layers of a cluster, remembered for as long as they are the same ones: after an edit, most
        clusters are."""
        layers = (*cluster.items, *cluster.others)
        designs = [self.promo.designs.get(item.design or "") for item in layers if item.design]
        things = (*layers, *designs, self.promo.brand, self.measure, self.promo.scenes if designs else None,
                  *(self.promo.media.get(item.media) for item in layers if item.media))  # fmt: skip
        return _arranged.of(things, (len(cluster.items), *self._like), lambda: self._arrange(cluster))

    def _arrange(self, cluster: Cluster) -> Ruling:
        moving = [item for item in cluster.items if arranges(self.promo, item, self.format)]
        if not moving or len(moving) > MOST:
            return {}
        names = {item.id for item in moving}
        stay = [item for item in (*cluster.items, *cluster.others) if item.id not in names]
        return arrange(self.table, moving, stay, self.format)


_arranged: Remembered[Ruling] = Remembered(6000)
_rulings: Remembered[Ruled] = Remembered(96)


def ruled(promo: Promo, format: Format, measure: Measure) -> Ruled:
    """What the rule says of a promo in a format, kept while the promo is in use."""
    shape = (format.id, format.wide, format.high, format.safe)
    return _rulings.of((promo, measure), shape, lambda: Ruled(promo, format, measure))


def see(
    promo: Promo, part: Part, format: Format, moment: int, measure: Measure, resting: bool = False, lasts: int = 0,
    begins: int = 0, heard: Callable[[], SoundRecipe] | None = None,
) -> Seen:  # fmt: skip
    """A part as it is seen in a format, laid out by rule; the rest is as `Seen` takes it."""
    given = ruled(promo, format, measure).of(part) if isinstance(part, Item) and part.content.lane == "layer" else {}
    return Seen(promo, part, format, moment, measure, resting, lasts, begins, heard, given)


def arrange(table: Table, items: Sequence[Item], others: Sequence[Item], format: Format) -> Ruling:
    """What is set of layers that are on show together so that they lie well in a format; nothing where they do."""
    laid = [one for item in items if (one := table.laid(item, format)) is not None and not backs(one, format)]
    stays = [one for item in others if (one := table.laid(item, format)) is not None and not backs(one, format)]
    if not laid or not rate([*laid, *stays], format).faults:
        return {}
    names = {one.item.id for one in laid}
    made_in = _made_in(table, [one.item for one in laid], [one.item for one in stays], format)
    if (made_in.wide, made_in.high) == (format.wide, format.high):
        return {}
    there = [one for item in items if item.id in names and (one := table.laid(item, made_in)) is not None]
    beside = [one for item in others if (one := table.laid(item, made_in)) is not None and not backs(one, made_in)]
    if len(there) != len(laid):
        return {}
    meant = meant_by([*there, *beside])
    usual = {one.item.id: (share_outside(one.box, frame_of(made_in)), share_outside(one.box, safe_of(made_in)))
             for one in there}  # fmt: skip
    return _best(table, laid, stays, there, (made_in, format), meant, usual)


def meant_by(there: Sequence[Laid]) -> frozenset[Pair]:
    """Which layers lie over one another by intention, in the shape that they were made in: any that do, but words that
    only run into other words."""
    worded = {one.item.id for one in there if one.worded}
    found = overlaps(there, ())
    return frozenset(pair for pair, share in found.items() if not pair <= worded or share >= INTENDED)


def _made_in(table: Table, items: Sequence[Item], others: Sequence[Item], format: Format) -> Format:
    """The shape that most of the layers were placed in by hand. Where none was, the one in which they lie best as they
    are pinned: this one if none is better, then the promo's, in their order, then those that are shipped."""
    told = Counter(item.made_in for item in items if item.made_in is not None)
    shapes = {(one.wide, one.high): one for one in reversed((format, *table.promo.formats, *SHIPPED.values()))}
    if told:
        wide, high = told.most_common(1)[0][0]
        return shapes.get((wide, high)) or Format(id="made-in", name="Made in", wide=wide, high=high)
    found = []
    for shape in reversed(shapes.values()):
        laid = [one for item in (*items, *others)
                if (one := table.laid(item, shape)) is not None and not backs(one, shape)]  # fmt: skip
        score = rate(laid, shape)
        found.append((round(score.faults - WEIGHTS["unsafe"] * score.unsafe, 3), shape))
    return min(found, key=lambda one: one[0])[1]


def _blocks(there: Sequence[Laid], meant: frozenset[Pair]) -> tuple[Block, ...]:
    """What keeps together: groups, what lies over one another by intention, and pictures with their labels."""
    groups: list[list[Laid]] = []
    for one in there:
        joined = [
            group for group in groups
            if any(frozenset((one.item.id, other.item.id)) in meant or _labels(one, other, there)
                   or (one.item.group is not None and one.item.group == other.item.group) for other in group)
        ]  # fmt: skip
        groups = [group for group in groups if not any(group is other for other in joined)]
        groups.append([*(other for group in joined for other in group), one])
    return tuple(Block(tuple(group)) for group in groups)


def _labels(one: Laid, other: Laid, there: Sequence[Laid]) -> bool:
    """Whether one of two is a picture, and the other the words that stand below or above it, alone and no wider."""
    picture, words = (other, one) if one.worded else (one, other)
    if picture.worded or not words.worded:
        return False
    below = words.box.y - picture.box.y - picture.box.height
    gap = below if below >= -1 else picture.box.y - words.box.y - words.box.height
    middle = words.box.x + words.box.width / 2
    under = picture.box.x <= middle <= picture.box.x + picture.box.width
    if not -1 <= gap <= NEAR or not under or words.box.width > picture.box.width * 1.1:
        return False
    # Several lines below a picture are a text of their own.
    others = [third for third in there if third.worded and third is not words
              and picture.box.x <= third.box.x + third.box.width / 2 <= picture.box.x + picture.box.width]  # fmt: skip
    return not others


def _best(
    table: Table, laid: Sequence[Laid], stays: Sequence[Laid], there: Sequence[Laid], shapes: tuple[Format, Format],
    meant: frozenset[Pair], usual: Mapping[str, tuple[float, float]],
) -> Ruling:  # fmt: skip
    made_in, format = shapes
    taken = tuple(one.box for one in stays if _free_of(one, meant, there))
    work = Work(table, _blocks(there, meant), made_in, format, taken, room_for(format, taken))
    before = rate([*laid, *stays], format, meant, usual)
    if not before.faults:
        return {}
    best: Ruling = {}
    points = _cost(work, before, laid)
    for way in WAYS.values():
        tried = way(work)
        if tried is None:
            continue
        drawn = [one for old in laid if (one := table.laid(old.item, format, tried.get(old.item.id))) is not None]
        score = rate([*drawn, *stays], format, meant, usual)
        cost = _cost(work, score, drawn) + _shrunk(there, tried)
        # A better order is no reason for more faults.
        if cost < points - BETTER and score.faults <= before.faults:
            best, points = tried, cost
    return best


def _cost(work: Work, score: Score, here: Sequence[Laid]) -> float:
    """What faults weigh, with those of order, alignment and balance, block by block."""
    boxes = {one.item.id: one.box for one in here}
    now = {n: around(boxes[one.item.id] for one in block.members) for n, block in enumerate(work.blocks)}
    was = {n: block.box for n, block in enumerate(work.blocks)}
    moved = slid(
        [_middle(box, work.made_in) for box in was.values()], [_middle(box, work.format) for box in now.values()],
        LEAST_OFF,
    )  # fmt: skip
    whole = replace(score, unbalanced=moved, disordered=disorder(was, now), unaligned=out_of_line(was, now))
    return whole.faults


def _middle(box: Box, format: Format) -> tuple[float, float]:
    """The middle of a box in shares of the frame."""
    wide, high = format.canon
    return (box.x + box.width / 2) / wide, (box.y + box.height / 2) / high


def _free_of(one: Laid, meant: frozenset[Pair], there: Sequence[Laid]) -> bool:
    """Whether nothing is meant to lie over a layer that stays."""
    return not any(frozenset((one.item.id, other.item.id)) in meant for other in there)


def _shrunk(laid: Sequence[Laid], made: Mapping[str, Mapping[str, Any]]) -> float:
    """What making layers smaller takes off."""
    lost = 0.0
    for one in laid:
        scale = made.get(one.item.id, {}).get("size", one.item.read("size")) / max(1e-6, one.item.read("size"))
        lost += SHRUNK * max(0.0, 1 - scale) * 2
    return lost


def score_of(promo: Promo, format: Format, measure: Measure, *, by_rule: bool = True) -> Score:
    """The layout score of a promo in a format: the worst that is on show together at any time, and how much of its
    pictures' subjects is cut off; with `by_rule` false as it would be with everything where it is pinned, and views of
    the middle."""
    rules, worst = ruled(promo, format, measure), Score()
    layers = [(item, seen_span(promo, item)) for track in promo.layers if not track.hidden for item in track.items]
    for _, span in layers:
        shown = [
            one for other, when in layers if when.meets(Span(span.start, span.start + 1))
            and (one := rules.table.laid(other, format, rules.of(other) if by_rule else None)) is not None
            and not backs(one, format) and not full(promo, other)
        ]  # fmt: skip
        found = rate(shown, format, _meant_by_all(rules, shown))
        worst = max(worst, found, key=lambda score: score.faults)
    return replace(worst, cut_heads=heads_cut(promo, format, measure, by_rule=by_rule))


def _meant_by_all(rules: Ruled, shown: Sequence[Laid]) -> frozenset[Pair]:
    """Which lie over one another even in the shape where they lie best."""
    items = [one.item for one in shown]
    made_in = _made_in(rules.table, items, [], rules.format)
    there = [one for item in items if (one := rules.table.laid(item, made_in)) is not None]
    return meant_by(there)
