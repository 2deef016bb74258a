"""Whether the promo is what its channels take: as long as they let it be, with nothing under their own controls."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.channels import Channel, chosen
from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.checks.room import inside, placing
from glowreel.core.commands.base import called
from glowreel.core.document import Item
from glowreel.core.formats import Format, shape_of
from glowreel.core.layout import Box, common
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline

HIDDEN = 0.06
"""What share of something may lie under a channel's controls."""


def length(sight: Sight) -> Iterator[Finding]:
    lasts = timeline(sight.promo).length / TICKS_PER_SECOND
    if not sight.promo.clips:
        return
    last = sight.promo.clips[-1]
    for channel in chosen(sight.promo.channels, sight.promo.known_channels):
        if channel.shortest <= lasts <= channel.longest:
            continue
        limit = f"at most {channel.longest:g}" if lasts > channel.longest else f"at least {channel.shortest:g}"
        said = f"The promo lasts {lasts:.1f} s, and {channel.name} takes {limit} s."
        yield Finding("channel-length", last.id, said, max(0, timeline(sight.promo).length - 1))


def _covered(channel: Channel, format: Format) -> list[tuple[str, Box]]:
    """What the channel's controls cover of a format, canonical."""
    wide, high = format.canon
    areas = channel.covers.get(shape_of(format.wide, format.high), ())
    return [(what, Box(x * wide, y * high, width * wide, height * high)) for what, (x, y, width, height) in areas]


def _cures(sight: Sight, item: Item, format: Format, box: Box) -> tuple[Cure, ...]:
    left, top, right, low = format.safe
    wide, high = format.canon
    room = Box(left * wide, top * high, (1 - left - right) * wide, (1 - top - low) * high)
    if box.width <= room.width and box.height <= room.height:
        return (Cure("Move it into the safe area", placing(item, format, inside(box, format))),)
    share = 0.98 * min(room.width / box.width, room.height / box.height)
    smaller = Box(room.x, room.y, box.width * share, box.height * share)
    return (Cure("Make it fit the safe area", placing(item, format, smaller)),)


def under_controls(sight: Sight) -> Iterator[Finding]:
    logos = set(sight.promo.brand.logos.values())
    for format in sight.promo.formats:
        channel = sight.promo.known_channels.get(format.channel)
        if channel is None:
            continue
        areas = _covered(channel, format)
        for item, span in sight.layers:
            if item.media not in logos and not sight.words(item, format):
                continue
            if item.design and sight.promo.designs[item.design].frame == "full":
                continue
            drawn = sight.drawn(item, format)
            box = drawn.box if drawn is not None else Box(0, 0, 0, 0)
            size = box.width * box.height
            what = next((what for what, area in areas if size and common(box, area) > HIDDEN * size), None)
            if what is None:
                continue
            said = f"{called(sight.promo, item)} lies under {what} of {channel.name} in {format.name}."
            cures = _cures(sight, item, format, box)
            yield Finding("safe", item.id, said, span.start, format.id, cures)


CHECKS = (
    Check("channel-length", "As long as channels take", "no shorter and no longer than the channels take", length),
    Check("safe", "Clear of controls", "words and logos lie clear of what channels lay over them", under_controls),
)
