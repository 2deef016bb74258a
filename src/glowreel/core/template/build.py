"""From a pattern to a promo with slots: every scene a clip, over it its designs, and under all the music."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from glowreel.core.brand import Brand, Palette
from glowreel.core.commands.camera import gently
from glowreel.core.commands.change import put_items
from glowreel.core.commands.clips import clip_of
from glowreel.core.design import Design
from glowreel.core.document import Anchor, Clip, Item, Promo, Scene, Tied, Transition, Whole
from glowreel.core.errors import Missing
from glowreel.core.formats import Format
from glowreel.core.media import Media
from glowreel.core.normalise import normalise
from glowreel.core.slots import FILLS, SLOT_KINDS, SOURCE, Slot
from glowreel.core.source import Source
from glowreel.core.template.facts import Origin
from glowreel.core.template.pattern import Pattern, PatternLayer, PatternScene
from glowreel.core.time import TICKS_PER_SAMPLE, ticks
from glowreel.core.value import NewId

STANDS: dict[str, Any] = {"pin": (0.0, 1.0), "place": (0.08, -0.1), "size": 1.0}
"""Where a design stands that does not take the whole frame, unless its layer says otherwise."""


@dataclass(frozen=True)
class Kit:
    """What patterns are built from: sample media by name, designs, and fresh identifiers."""

    samples: Mapping[str, Media]
    designs: Mapping[str, Design]
    new_id: NewId

    def sample(self, name: str) -> Media:
        if name not in self.samples:
            raise Missing("no-sample", f"There is no sample called “{name}”.")
        return self.samples[name]

    def design(self, name: str) -> Design:
        if name not in self.designs:
            raise Missing("no-design", f"There is no design called “{name}”.", "Choose another one.")
        return self.designs[name]


def own_brand(pattern: Pattern) -> Brand:
    """The designer's own colours and fonts."""
    return Brand(name=pattern.name, palettes=(Palette(colours=pattern.colours),), fonts=pattern.fonts)


def build(pattern: Pattern, formats: tuple[Format, ...], brand: Brand, kit: Kit) -> Promo:
    """The pattern as a promo in these formats. Its samples stand in its slots, a brand's logos where it has any."""
    used = {name: kit.sample(name) for name in pattern.samples}
    layers = (*pattern.layers, *(layer for scene in pattern.scenes for layer in scene.layers))
    promo = Promo(
        id=kit.new_id("p"), name=pattern.name, formats=formats, brand=brand, facts=pattern.facts, loudness="channels",
        media={media.id: media for media in used.values()},
        designs={layer.design: kit.design(layer.design) for layer in layers},
    )  # fmt: skip
    scenes, slots, items = [], [], []
    for scene in pattern.scenes:
        clip, own = _clip(scene, promo, kit)
        slots += own
        for layer in scene.layers:
            item = _layer(layer, Tied(clip=clip.id, offset=promo.rate.snap(ticks(layer.at))), clip.length, promo, kit)
            items.append(item)
            slots += _slots(layer, item, scene, kit)
        scenes.append(Scene(id=kit.new_id("s"), name=scene.name, clips=(clip,)))
    for layer in pattern.layers:
        item = _layer(layer, Whole(), promo.rate.frame, promo, kit)
        items.append(item)
        slots += _slots(layer, item, None, kit)
    made = promo.changed(scenes=tuple(scenes), transitions=tuple(_transitions(pattern, scenes, promo, kit)))
    if pattern.music:
        song = _music(used[pattern.music], kit)
        items.append(song)
        slots.append(Slot(id=kit.new_id("q"), part=song.id, kind="sound", label="Music", filled=True))
    made = put_items(made, items, kit.new_id).changed(slots=tuple(slots))
    made = normalise(made, made, frozenset(), kit.new_id)
    return made.changed(origin=Origin(
        template=pattern.id, version=1, name=pattern.name, scenes={scene.id: scene.id for scene in made.scenes}
    ))  # fmt: skip


def _clip(scene: PatternScene, promo: Promo, kit: Kit) -> tuple[Clip, list[Slot]]:
    """The clip of a scene: a colour, or a picture that is to be filled."""
    length, key = promo.rate.snap(ticks(scene.lasts)), kit.new_id("c")
    if not scene.picture:
        ground = Clip(id=key, kind="filler", name=scene.name, length=length, values={"fill": scene.ground})
        return ground, []
    media = kit.sample(scene.picture)
    clip = clip_of(media, key, promo.rate).changed(length=length)
    clip = gently([clip])[0] if media.still else clip.having(muted=True)
    slot = Slot(id=kit.new_id("q"), part=key, of=SOURCE, kind="picture", label=scene.label, least=length,
                optional=scene.free)  # fmt: skip
    return clip, [slot]


def _layer(layer: PatternLayer, anchor: Anchor, room: int, promo: Promo, kit: Kit) -> Item:
    """A design over a scene, to its end unless it is said how long, or over the whole promo."""
    design = kit.design(layer.design)
    length = promo.rate.snap(ticks(layer.lasts)) if layer.lasts else room - promo.rate.snap(ticks(layer.at))
    stands = {} if design.frame == "full" else STANDS
    says = {f"field.{name}": said for name, said in layer.says.items()}
    values = {**{row.name: row.default for row in design.rows()}, **stands, **layer.values, **says}
    fills = {name: Source(media=kit.sample(sample).id) for name, sample in layer.shows.items()}
    return Item(
        id=kit.new_id("i"), kind="design", name=design.name, design=design.id, anchor=anchor, values=values,
        fills=fills, length=max(promo.rate.frame, length),
    )  # fmt: skip


def kind_of_field(name: str, kind: str) -> str | None:
    """The kind of slot that a field of a design becomes: by its name, where that is one, else by what it holds."""
    holds = {"text": "words", "picture": "picture"}.get(kind)
    if holds is None:
        return None
    return name if name in SLOT_KINDS and SLOT_KINDS[name].holds == holds else holds


def _slots(layer: PatternLayer, item: Item, scene: PatternScene | None, kit: Kit) -> Iterator[Slot]:
    """A slot for each field for words and pictures that is not fixed."""
    for name, field in kit.design(layer.design).fields.items():
        kind = kind_of_field(name, field.kind)
        if kind is None or name in layer.fixed:
            continue
        words = SLOT_KINDS[kind].holds == "words"
        yield Slot(
            id=kit.new_id("q"), part=item.id, of=f"field.{name}" if words else f"{FILLS}{name}", kind=kind,
            label=layer.labels.get(name, field.label), hint=layer.hints.get(name, ""), most=field.most if words else 0,
            optional=name in layer.free or (scene is not None and scene.free),
        )  # fmt: skip


def _transitions(pattern: Pattern, scenes: list[Scene], promo: Promo, kit: Kit) -> Iterator[Transition]:
    for said, scene in zip(pattern.scenes[:-1], scenes[:-1], strict=True):
        if said.leaves is not None:
            length = 2 * max(promo.rate.frame, promo.rate.snap(ticks(said.over / 2)))
            yield Transition(id=kit.new_id("x"), after=scene.clips[-1].id, kind=said.leaves, length=length)


def _music(media: Media, kit: Kit) -> Item:
    length = max(TICKS_PER_SAMPLE, media.length // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE)
    values = {"fade_out": ticks(1.5), "gain": -6.0}
    return Item(id=kit.new_id("i"), kind="sound", anchor=Whole(), length=length, source=Source(media=media.id),
                values=values)  # fmt: skip
