"""Promos, each made for one shape and never adjusted for any other: what layout by rule is judged by, besides the
shipped templates. The rule was found by looking at the first ten; the second ten were written after it and measured,
and one of them showed that broken words were measured wrongly, which was mended."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import count
from typing import Any

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.formats import SHIPPED
from glowreel.core.layout import Measure
from glowreel.core.media import Media
from glowreel.core.subject import Shot, Subject
from glowreel.core.time import ticks

PHOTO = Media(id="photo", kind="photo", name="A photo.jpg", hash="a" * 64, width=1500, height=1000)
TALL = Media(id="tall-photo", kind="photo", name="A tall photo.jpg", hash="b" * 64, width=1000, height=1500)
ROUND = Media(id="face", kind="photo", name="A face.jpg", hash="c" * 64, width=800, height=800)
LOGO = Media(id="logo", kind="photo", name="A logo.svg", hash="d" * 64, width=900, height=300)
GROUND = Media(
    id="ground", kind="photo", name="Somebody at the side.jpg", hash="e" * 64, width=1920, height=1080,
    subject=Subject(shots=(Shot(first=((0, 0.78, 0.4),)),)),
)  # fmt: skip
"""What lies behind all of it: a picture of somebody who stands at its right."""
MEDIA = {one.id: one for one in (PHOTO, TALL, ROUND, LOGO, GROUND)}


@dataclass(frozen=True)
class Layer:
    """Words, or a picture, dropped with its corner at a point of the shape it was made in, in fractions of the short
    side; `size` as properties have it."""

    what: str
    x: float
    y: float
    size: float
    wrap: float = 0.92
    values: dict[str, Any] = field(default_factory=dict)
    group: str = ""


@dataclass(frozen=True)
class HeldOut:
    name: str
    made_in: str
    layers: Sequence[Layer]


LEFT = {"align": "left"}
LOOKED_AT: tuple[HeldOut, ...] = (
    HeldOut("offer beside its picture", "wide", (
        Layer("Three nights by the lake", 0.1, 0.25, 0.12, 0.7, LEFT),
        Layer("From 240 with breakfast", 0.1, 0.62, 0.06, 0.7, LEFT),
        Layer("photo", 0.95, 0.25, 0.75),
    )),
    HeldOut("three in a row", "wide", (
        Layer("photo", 0.1, 0.3, 0.48), Layer("face", 0.68, 0.3, 0.32), Layer("photo", 1.15, 0.3, 0.48),
        Layer("Choose", 0.2, 0.7, 0.07, 0.4), Layer("Book", 0.75, 0.7, 0.07, 0.4), Layer("Enjoy", 1.3, 0.7, 0.07, 0.4),
    )),
    HeldOut("a quote with a face", "wide", (
        Layer("face", 0.1, 0.3, 0.4),
        Layer("“I came for a weekend and have not left since.”", 0.6, 0.28, 0.1, 1.05, LEFT),
        Layer("Mara, gardener", 0.6, 0.72, 0.05, 0.8, LEFT),
    )),
    HeldOut("lower third, logo, price", "wide", (
        Layer("logo", 1.35, 0.06, 0.35), Layer("Sunrise at six", 0.09, 0.76, 0.1, 0.9, LEFT),
        Layer("now 49", 1.15, 0.76, 0.1, 0.7, {"box": "#C8430B"}),
    )),
    HeldOut("a poster", "tall", (
        Layer("Autumn market", 0.08, 0.22, 0.16, 0.84), Layer("tall-photo", 0.28, 0.6, 0.6),
        Layer("Saturday, the square by the mill", 0.08, 1.22, 0.06, 0.84), Layer("See you there", 0.2, 1.38, 0.07, 0.6),
    )),
    HeldOut("a list", "tall", tuple(
        Layer(text, 0.1, 0.3 + n * 0.22, 0.08, 0.8, LEFT)
        for n, text in enumerate(("Bring boots", "Bring a coat", "Bring a friend", "Leave the phone", "Stay late"))
    )),
    HeldOut("words in four corners", "square", (
        Layer("Fresh", 0.08, 0.08, 0.1, 0.4, LEFT), Layer("Local", 0.6, 0.08, 0.1, 0.4),
        Layer("Daily", 0.08, 0.8, 0.1, 0.4, LEFT), Layer("Yours", 0.6, 0.8, 0.1, 0.4), Layer("face", 0.3, 0.3, 0.4),
    )),
    HeldOut("a wide banner", "cinema", (
        Layer("The night train", 0.12, 0.3, 0.18, 0.9, LEFT),
        Layer("Leaves at ten", 1.25, 0.24, 0.07, 0.9, LEFT), Layer("Beds made up", 1.25, 0.44, 0.07, 0.9, LEFT),
        Layer("Coffee at seven", 1.25, 0.64, 0.07, 0.9, LEFT), Layer("logo", 1.95, 0.08, 0.3),
    )),
    HeldOut("small print", "wide", (
        Layer("Half price in March", 0.3, 0.35, 0.15, 1.2),
        Layer("Only for members, from the first to the thirty-first, while there is stock; one each.",
              0.2, 0.88, 0.027, 1.4),
    )),
    HeldOut("a labelled picture", "portrait", (
        Layer("photo", 0.1, 0.35, 0.8, group="g-card"),
        Layer("Hand-thrown, 24 cm", 0.14, 0.8, 0.05, 0.7, {"box": "#2C2A4A"}, "g-card"),
        Layer("A bowl a day", 0.1, 0.1, 0.1, 0.8), Layer("Order by Friday", 0.25, 1.08, 0.07, 0.6),
    )),
)  # fmt: skip

HELD_OUT: tuple[HeldOut, ...] = (
    HeldOut("a recipe", "wide", (
        Layer("Lemon tart", 0.12, 0.12, 0.14, 0.9, LEFT), Layer("200 g flour", 0.12, 0.4, 0.06, 0.7, LEFT),
        Layer("4 lemons", 0.12, 0.5, 0.06, 0.7, LEFT), Layer("5 eggs", 0.12, 0.6, 0.06, 0.7, LEFT),
        Layer("face", 1.05, 0.2, 0.6),
    )),
    HeldOut("two against one another", "wide", (
        Layer("photo", 0.1, 0.25, 0.7), Layer("photo", 0.98, 0.25, 0.7),
        Layer("Before", 0.3, 0.75, 0.08, 0.5), Layer("After", 1.2, 0.75, 0.08, 0.5),
    )),
    HeldOut("a number and what it is", "square", (
        Layer("87 %", 0.2, 0.2, 0.25, 0.7), Layer("of our guests come back within the year", 0.12, 0.55, 0.07, 0.76),
        Layer("logo", 0.3, 0.8, 0.4),
    )),
    HeldOut("a timetable", "tall", (
        Layer("Saturday", 0.1, 0.22, 0.13, 0.8, LEFT),
        *(Layer(f"{9 + 2 * n}:00", 0.1, 0.5 + n * 0.2, 0.07, 0.3, LEFT) for n in range(4)),
        *(Layer(text, 0.42, 0.5 + n * 0.2, 0.07, 0.5, LEFT)
          for n, text in enumerate(("Breakfast", "Walk", "Lunch", "Music"))),
    )),
    HeldOut("one line across", "cinema", (
        Layer("Everything must go before the first of the month", 0.2, 0.4, 0.14, 2.2),
    )),
    HeldOut("four faces", "wide", tuple(
        Layer("face", 0.12 + 0.4 * n, 0.3, 0.32) for n in range(4)
    )),
    HeldOut("a heading at the foot", "tall", (
        Layer("tall-photo", 0.1, 0.25, 0.9), Layer("Hand-made in a small town by the sea", 0.1, 1.22, 0.09, 0.8, LEFT),
    )),
    HeldOut("a ticket", "classic", (
        Layer("Admit two", 0.15, 0.2, 0.12, 0.7, LEFT), Layer("12 May, 19:30", 0.15, 0.4, 0.07, 0.7, LEFT),
        Layer("Row C, 14 and 15", 0.15, 0.52, 0.07, 0.7, LEFT), Layer("logo", 0.85, 0.75, 0.35),
        Layer("face", 0.9, 0.2, 0.35),
    )),
    HeldOut("a very long word", "wide", (
        Layer("Sonnenuntergangsballonfahrt", 0.15, 0.35, 0.12, 1.5), Layer("ab 180", 0.15, 0.55, 0.07, 0.5, LEFT),
    )),
    HeldOut("both sides and the middle", "wide", (
        Layer("Sweet", 0.1, 0.45, 0.1, 0.4, LEFT), Layer("photo", 0.59, 0.3, 0.6), Layer("Salty", 1.3, 0.45, 0.1, 0.4),
        Layer("Which one are you?", 0.5, 0.8, 0.07, 0.8),
    )),
)  # fmt: skip


def made(held: HeldOut, measure: Measure) -> Promo:
    """The promo as its maker left it, in every shipped shape."""
    numbers = count(1)
    context = c.Context(lambda prefix: f"{prefix}{next(numbers)}", MEDIA, measure=measure)
    promo = Promo(id="p", name=held.name, formats=tuple(SHIPPED.values()))
    promo = c.apply(promo, c.InsertClips(media=(GROUND.id,)), context).promo
    promo = c.apply(promo, c.Trim(item=promo.clips[0].id, length=ticks(6)), context).promo
    for layer in held.layers:
        picture = layer.what in MEDIA
        command = (
            c.AddPicture(media=layer.what, at=0) if picture
            else c.AddWords(text=layer.what, at=0, length=ticks(5))
        )  # fmt: skip
        edit = c.apply(promo, command, context)
        (item,) = edit.select
        values = {"size": layer.size, **({} if picture else {"wrap": layer.wrap}), **layer.values}
        promo = c.apply(edit.promo, c.Set(items=(item,), values=values), context).promo
        width, height = _extent(promo, item, held.made_in, measure)
        place = c.PlaceItem(item=item, format=held.made_in, x=layer.x, y=layer.y, width=width, height=height)
        promo = c.apply(promo, place, context).promo
    return _grouped(promo, held)


def _extent(promo: Promo, item: str, format: str, measure: Measure) -> tuple[float, float]:
    from glowreel.core.formats import CANON
    from glowreel.core.recipe.picture import part_box
    from glowreel.core.timeline import timeline

    box = part_box(promo, SHIPPED[format], timeline(promo).find_item(item), measure)
    assert box is not None
    return box.width / CANON, box.height / CANON


def _grouped(promo: Promo, held: HeldOut) -> Promo:
    items = sorted((item for track in promo.layers for item in track.items), key=lambda item: int(item.id[1:]))
    groups = {item.id: layer.group for item, layer in zip(items, held.layers, strict=True) if layer.group}
    tracks = tuple(
        track.changed(items=tuple(
            item.changed(group=groups[item.id]) if item.id in groups else item for item in track.items
        ))
        for track in promo.layers
    )  # fmt: skip
    return promo.changed(layers=tracks)
