"""Between the main track and the layers in front of it.

```
ToLayer   main |--A--|--B--|--C--|       →  main |--A--|--C--|        B in front, at the time where it was, as it was
                                            front      [--B--]
ToMain    front ...[--B--]  main |A|C|   →  main |--A--|--B--|--C--|   at the cut nearest to where it began
```
Material, speed, what is seen of it and everything about its look come along; so does its sound. Refused: what is no
picture, the last clip of the main track.
"""

from __future__ import annotations

from typing import Any, Literal

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_items, put_item
from glowreel.core.commands.clips import insert_at, nearest_cut
from glowreel.core.commands.remove import without_parts
from glowreel.core.commands.roles import FormatId, Target, TrackId
from glowreel.core.commands.setting import format_of
from glowreel.core.content import KINDS, Kind
from glowreel.core.content.pictures import framing_of
from glowreel.core.document import Clip, Free, Item, Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import framed
from glowreel.core.properties import PROPERTIES
from glowreel.core.properties.rows.sound import HEARD_NAMES
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline


def shared(part: Part, kind: Kind) -> dict[str, Any]:
    """The values of a part that one of another kind has as well."""
    return {name: value for name, value in part.values.items() if PROPERTIES[name].of & kind.traits}


def _shared_in(part: Part, kind: Kind) -> dict[str, dict[str, Any]]:
    own = {
        key: {name: value for name, value in values.items() if PROPERTIES[name].of & kind.traits}
        for key, values in part.values_in.items()
    }
    return {key: values for key, values in own.items() if values}


def as_framed(promo: Promo, clip: Part, format: Format) -> dict[str, Any]:
    """Size, place and crop with which a layer shows what a clip shows of its picture in a format."""
    media = promo.media[clip.media or ""]
    left, top, right, bottom = (clip.read(f"crop_{side}", format.id) for side in ("left", "top", "right", "bottom"))
    width, height = media.width * (1 - left - right), media.height * (1 - top - bottom)
    box = framed(framing_of(promo, clip, format), format, width, height)
    scale = box.width / max(1.0, width)
    wide, high = format.canon
    # What lies outside the frame is cut off, as shares of the whole picture.
    crops = {
        "crop_left": left + max(0.0, -box.x) / scale / media.width,
        "crop_top": top + max(0.0, -box.y) / scale / media.height,
        "crop_right": right + max(0.0, box.x + box.width - wide) / scale / media.width,
        "crop_bottom": bottom + max(0.0, box.y + box.height - high) / scale / media.height,
    }
    x, y = max(0.0, box.x), max(0.0, box.y)
    seen = min(wide, box.x + box.width) - x, min(high, box.y + box.height) - y
    push = ((x + seen[0] / 2 - wide / 2) / CANON, (y + seen[1] / 2 - high / 2) / CANON)
    size = PROPERTIES["size"]
    longer = max(size.low, min(size.high, max(media.width, media.height) * scale / CANON))
    values = {"pin": (0.5, 0.5), "place": push, "size": longer, **crops}
    return {
        name: tuple(round(v, 6) for v in value) if isinstance(value, tuple) else round(value, 6)
        for name, value in values.items()
        if name not in crops or value > 1e-6
    }


class ToLayer(Command):
    """Takes a picture off the main track and puts it in front, at the time where it was."""

    do: Literal["to-layer"] = "to-layer"
    clip: Target
    format: FormatId
    at: Ticks | None = None
    track: TrackId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        clip, format = index.find_clip(self.clip), format_of(promo, self.format)
        if index.material(clip) is None and clip.source is None:
            raise Refusal("no-picture", "There is no picture in it.", "Fill it first.")
        if len(promo.clips) == 1:
            raise Refusal("last", "It is the last clip of the main track.", "Put another one there first.")
        start = index.clip_span[clip.id].start if self.at is None else promo.rate.snap(self.at)
        kind = KINDS["picture"]
        values = shared(clip, kind) | as_framed(promo, clip, format)
        rest = without_parts(promo, {clip.id}).promo
        shorter = rest.changed(layers=(), sounds=(), notes=(), transitions=())
        item = Item(
            id=clip.id, kind="picture", name=clip.name, length=clip.length, into=clip.into, source=clip.source,
            values=values, values_in=_shared_in(clip, kind), effects=clip.effects, fills=clip.fills, group=clip.group,
            anchor=timeline(shorter).tie_under(start) if start < timeline(shorter).length else Free(at=start),
        )  # fmt: skip
        made = put_item(rest, item, self.track, context.new_id)
        media = promo.media[clip.media or ""]
        if media.sounding and not clip.read("muted"):
            heard = {name: clip.values[name] for name in HEARD_NAMES if name in clip.values}
            sound = Item(
                id=context.new_id("i"), kind="sound", anchor=item.anchor, length=clip.length, into=clip.into,
                source=clip.source, values=heard | {"bus": clip.read("bus")}, group=clip.group,
            )  # fmt: skip
            made = put_item(made, sound, None, context.new_id)
        return Outcome(made, f"Put {called(promo, clip)} in front", (item.id,), frozenset({item.id}))


class ToMain(Command):
    """Puts a picture in front on to the main track, at the cut nearest to a time."""

    do: Literal["to-main"] = "to-main"
    item: Target
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        item = index.find_item(self.item)
        if "loose" not in item.content.traits or item.source is None:
            raise Refusal("no-picture", "Only pictures stand on the main track.", "Select footage or a photo.")
        span, media = index.item_span(item), promo.media[item.source.media]
        kind = KINDS[media.kind]
        values = {name: value for name, value in shared(item, kind).items() if not PROPERTIES[name].end}
        clip = Clip(
            id=item.id, kind=media.kind, name=item.name or media.name, length=promo.rate.snap(span.length),
            into=item.into, source=item.source, values=values, values_in=_shared_in(item, kind), effects=item.effects,
            fills=item.fills, group=item.group,
        )  # fmt: skip
        if media.sounding:
            # It comes without its sound, which lies on a track of its own or was not heard.
            clip = clip.having(muted=True)
        at = span.start if self.at is None else self.at
        rest = map_items(promo, lambda other: None if other.id == item.id else other)
        made = insert_at(rest, [clip], nearest_cut(rest, at), context)
        return Outcome(made, f"Put {called(promo, item)} on the main track", (clip.id,), frozenset({clip.id}))
