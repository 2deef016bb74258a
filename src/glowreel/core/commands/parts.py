"""What clips, picture layers and sounds have in common: a part of some timed material, run at a speed."""

from __future__ import annotations

from dataclasses import dataclass

from glowreel.core.commands.base import called
from glowreel.core.commands.change import replace_clip, replace_item
from glowreel.core.document import Clip, Picture, Promo, Sound
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.timeline import timeline
from glowreel.core.words import Words


@dataclass(frozen=True)
class Part:
    """Material in use: `of` holds `source_in` and `speed`; `length` is as long as it is seen or heard, in ticks."""

    of: Clip | Picture | Sound
    media: Media
    length: int
    name: str


def timed_part(promo: Promo, key: str) -> Part:
    """The material of a clip or item; a refusal where it looks the same throughout."""
    index = timeline(promo)
    clip = index.clip.get(key)
    item = None if clip else index.find_item(key)
    of = clip or (item.content if item else None)
    media = None if of is None or isinstance(of, Words) else promo.media.get(of.media or "")
    if of is None or isinstance(of, Words) or media is None or not media.length:
        raise Refusal("still", "It looks the same throughout: there is nothing to run.", "Choose footage or sound.")
    if clip is not None:
        return Part(of, media, clip.length, clip.name)
    assert item is not None
    return Part(of, media, index.item_span(item).length, called(promo, item))


def set_part(promo: Promo, key: str, length: int | None = None, **changes: object) -> Promo:
    """The promo with fields of a clip's or item's material changed, and its length where one is given."""
    lasting = {} if length is None else {"length": length}
    if key in timeline(promo).clip:
        return replace_clip(promo, key, lambda c: c.changed(**changes, **lasting))
    return replace_item(promo, key, lambda i: i.changed(content=i.content.changed(**changes), **lasting))
