"""Hollowmere's promos, made by the same commands that people use."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import replace
from itertools import count
from pathlib import Path
from typing import Any

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.media import Media
from glowreel.core.normalise import normalise
from glowreel.core.roles import COLOUR_ROLES
from glowreel.core.time import TICKS_PER_SECOND, ticks
from glowreel.core.timeline import timeline
from glowreel.engine.intake import media_of
from glowreel.engine.probe import probe
from glowreel.interchange.bundles import write_bundle

MEDIA = Path(__file__).parent / "media"
FILES = (
    "dawn-ridge.mp4", "over-the-fields.mp4", "basket-view.mp4", "burner.mp4", "lantern-night.mp4", "landing.mp4",
    "mist-valley.mp4", "picnic.jpg", "voucher-card.jpg", "route-map.jpg", "pilot-green.jpg", "ridge-square.jpg",
    "envelope.jpg", "hollowmere-logo.svg", "hollowmere-logo-on-light.svg", "hollowmere-mark.svg", "slow-ascent.m4a",
    "lantern-walk.m4a",
)  # fmt: skip


class _Maker:
    """Carries commands out one after the other on a promo that grows."""

    def __init__(self, name: str, media: Mapping[str, Media], new_id: Callable[[str], str]) -> None:
        formats = tuple(SHIPPED[f] for f in FIRST_CHOICE)
        self.promo = Promo(id=new_id("p"), name=name, formats=formats, loudness="channels")
        self.media = media
        self.context = c.Context(new_id, {maker.id: maker for maker in media.values()})
        self.steps: list[str] = []

    def do(self, command: c.Command) -> str:
        outcome = c.apply(self.promo, command, self.context)
        self.promo = outcome.promo
        self.steps.append(outcome.sentence)
        return outcome.select[0] if outcome.select else ""

    def clip(self, name: str, start: float, length: float) -> str:
        """Adds a clip at the end, from `start` seconds of the media."""
        media = self.media[name]
        clip = self.do(c.InsertClips(media=(media.id,)))
        if start:
            full = self.promo.clips[-1].length
            self.do(c.Trim(item=clip, edge="start", length=full - ticks(start)))
        self.do(c.Trim(item=clip, length=ticks(length)))
        return clip

    def words(self, text: str, at: float, length: float, place: Values, **style: object) -> str:
        item = self.do(c.AddWords(text=text, at=ticks(at), length=ticks(length)))
        return self.set(item, **place, **style)

    def set(self, item: str, **values: object) -> str:
        self.do(c.Set(items=(item,), values=values))
        return item


Values = dict[str, object]


LOWER_LEFT: Values = {"pin": (0, 1), "place": (0.08, -0.25), "size": 0.135, "wrap": 0.98}
SMALL_LEFT: Values = {"pin": (0, 1), "place": (0.08, -0.12), "size": 0.05, "wrap": 0.84}
MIDDLE: Values = {"pin": (0, 0), "place": (0.08, 0.24), "size": 0.12, "wrap": 0.9}
BUTTON: Values = {"pin": (0, 1), "place": (0.08, -0.12), "size": 0.06, "wrap": 0.9}
ON_LINES: Values = {"box": "#2C2A4A", "box_of": "line", "box_opacity": 0.82, "box_pad": (0.16, 0.02), "box_round": 0.1}
CORNER: Values = {"pin": (1, 0), "place": (-0.06, 0.06), "size": 0.34}


LOGOS = {"logo": "hollowmere-logo.svg", "logo-on-light": "hollowmere-logo-on-light.svg", "mark": "hollowmere-mark.svg"}
HOLLOWMERE: dict[str, Any] = {
    "palettes": [
        {
            "name": "Dawn", "colours": {role: colour for role, (_, colour) in COLOUR_ROLES.items()},
            "others": ["#2F6F87", "#7A4B7D", "#4F7A57"],
        },
        {
            "name": "Lantern night", "colours": {
                "ground": "#141B3C", "ink": "#FFF6E3", "accent": "#FF9E6B", "second": "#E0527A", "paper": "#F4ECE0",
                "dark": "#1B1A2E",
            }, "others": ["#3E4C9A", "#9A6FB0"],
        },
    ],
    "rules": {"clear": 0.25, "smallest": 0.08},
    "watermark": {"corner": "top-right", "size": 0.17, "opacity": 1.0},
    "manner": {"transition": "crossfade", "arrives": "rise", "leaves": "fade"},
    "fonts": {"heading": "Bricolage Grotesque", "body": "Instrument Sans", "aside": "Fraunces"},
    "never": ["cheap", "once in a lifetime"],
}  # fmt: skip
FERNHILL: dict[str, Any] = {
    "palettes": [{"name": "Oven", "colours": {
        "ground": "#1F4D3A", "ink": "#FFFFFF", "accent": "#E8574A", "second": "#F2B705", "paper": "#F7F3EA",
        "dark": "#17251E",
    }}],
    "fonts": {"heading": "Fraunces", "body": "Instrument Sans", "aside": "Caveat"}, "never": ["artisanal"],
}  # fmt: skip
"""What the brand books of the made-up firm and of a bakery hold."""


def finished(media: Mapping[str, Media], new_id: Callable[[str], str]) -> Promo:
    """The dawn flight voucher promo: twenty seconds, five scenes, three formats."""
    maker = _Maker("Dawn flight vouchers", media, new_id)
    hook = maker.clip("dawn-ridge.mp4", 1, 4)
    flight = maker.clip("over-the-fields.mp4", 1.2, 5)
    basket = maker.clip("basket-view.mp4", 1, 2.5)
    burner = maker.clip("burner.mp4", 0.5, 2)
    night = maker.clip("lantern-night.mp4", 2, 3)
    call = maker.clip("landing.mp4", 3.4, 3.5)
    for clip in (flight, basket, night, call):
        maker.do(c.BreakScene(clip=clip))
    names = ("Hook", "The flight", "On board", "Lantern nights", "Call to action")
    for scene, name in zip(maker.promo.scenes, names, strict=True):
        maker.do(c.RenameScene(scene=scene.id, name=name))
    maker.set(hook, focus=(0.62, 0.5))
    maker.set(call, focus=(0.36, 0.5))
    maker.set(burner, focus=(0.5, 0.62))
    maker.do(c.SetTransition(after=hook, kind="crossfade", length=ticks(0.8)))
    maker.do(c.SetTransition(after=burner, kind="dip-black", length=ticks(0.6)))
    maker.do(c.SetTransition(after=night, kind="crossfade", length=ticks(0.6)))
    maker.words("Fly at\nfirst light", 0.5, 2.9, LOWER_LEFT, **ON_LINES)
    maker.words("Breakfast\nat 600 metres", 4.6, 3.6, {**LOWER_LEFT, "size": 0.12}, **ON_LINES)
    maker.words("Dawn flights from 14 April", 5.3, 2.9, SMALL_LEFT, weight=600, colour="#23201C", box="#F6B73C")
    maker.words("Two hours,\none valley", 9.2, 2.4, LOWER_LEFT, **ON_LINES)
    maker.words("Three nights of lanterns", 13.6, 2.7, LOWER_LEFT, font="Fraunces", shadow=0.35)
    maker.words("Give someone\na sunrise", 16.9, 3.1, MIDDLE, colour="#2C2A4A")
    maker.words("hollowmere.example", 17.4, 2.6, BUTTON, weight=600, box="#C8430B")
    logo = maker.do(c.AddPicture(media=media["hollowmere-logo.svg"].id, whole=True))
    maker.set(logo, **CORNER)
    song = maker.do(c.AddSound(media=media["slow-ascent.m4a"].id, whole=True))
    maker.set(song, gain=-6)
    maker.set(flight, gain=-10)
    return normalise(maker.promo, maker.promo, frozenset(), new_id)


def started(media: Mapping[str, Media], new_id: Callable[[str], str]) -> Promo:
    """The lantern weekend promo, of which only a beginning is there."""
    maker = _Maker("Lantern weekend", media, new_id)
    maker.clip("lantern-night.mp4", 0, 4)
    maker.do(c.InsertFiller(length=ticks(3)))
    maker.words("Three nights\nof lanterns", 0.6, 2.8, LOWER_LEFT, font="Fraunces", shadow=0.35)
    return maker.promo


def probed(path: Path) -> Media:
    """A demo file's facts without a database."""
    facts = probe(path, path.name)
    digest = hashlib.sha256(path.read_bytes()).hexdigest()
    length = facts.length
    if facts.rate is not None:
        length = facts.rate.frame_start(facts.rate.frame_nearest(length))
    return media_of(replace(facts, length=length), f"m{digest[:12]}", path.name, digest, path.suffix)


def write_demo_bundle(out: Path) -> None:
    """Writes the finished promo with its media as an .otioz bundle. Needs no database."""
    media = {name: probed(MEDIA / name) for name in FILES}
    numbers = count(1)
    promo = finished(media, lambda prefix: f"{prefix}{next(numbers)}")
    assert timeline(promo).length == 20 * TICKS_PER_SECOND
    by_hash = {maker.hash: MEDIA / name for name, maker in media.items()}
    write_bundle(promo, lambda source: by_hash[source], out)
