"""One file in the place of another, wherever a promo shows or plays it; and files that were missing, found again.

```
ReplaceEverywhere   |--a--|-b-|----a----|   →   |--c--|-b-|----c----|    layers, sounds and pictures of designs as well
FillMissing         |-filler “a.mp4”-|-b-|  →   |-------a------|-b-|
```
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.cutting import Shorter, replaced
from glowreel.core.commands.roles import MediaId, Target
from glowreel.core.document import Clip, Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.timeline import timeline


class ReplaceEverywhere(Command):
    """Puts a file in the place of another one wherever that is shown or heard, in pictures of designs as well. What was
    cut from the old one begins at the same moment of the new one, as far as that goes; where it is shorter, it is
    slowed down, held, or closes up, as with one part. Logos of the brand stay: they are the brand's."""

    do: Literal["replace-everywhere"] = "replace-everywhere"
    old: str = Field(min_length=1, max_length=64)
    media: MediaId
    shorter: Shorter = "slow"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = context.find(self.media)
        changed = []
        for part in (*promo.clips, *promo.items):
            if part.media == self.old:
                promo = replaced(promo, _now(promo, part.id), media, _begins(part), self.shorter)
                changed.append(part.id)
            elif any(source.media == self.old for source in part.fills.values()):
                if not media.pictured:
                    raise Refusal("no-fit", f"{media.name} has no picture.", "Choose something with a picture.")
                promo = _refilled(promo, part, self.old, media)
                changed.append(part.id)
        if not changed:
            raise Refusal("not-used", "That file is not used here.")
        times = "once" if len(changed) == 1 else f"{len(changed)} times"
        return Outcome(promo, f"Put {media.name} everywhere, {times}", tuple(changed), frozenset(changed))


def _begins(part: Part) -> int:
    """The first moment of its material that a part shows."""
    return max(0, part.source.range(part.into, part.length)[0]) if part.source is not None else 0


def _now(promo: Promo, key: str) -> Part:
    return timeline(promo).find_part(key)


def _refilled(promo: Promo, part: Part, old: str, media: Media) -> Promo:
    def put(one: Part) -> Part:
        fills = {
            name: source.changed(media=media.id, at=0) if source.media == old else source
            for name, source in one.fills.items()
        }
        return one.changed(fills=fills)

    return map_parts(with_media(promo, media), {part.id}, put)


class FillMissing(Command):
    """Puts files in the place of fillers that hold the place of them: each filler with its file, in order."""

    do: Literal["fill-missing"] = "fill-missing"
    fillers: tuple[Target, ...] = Field(min_length=1, max_length=200)
    media: tuple[MediaId, ...] = Field(min_length=1, max_length=200)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        pairs = list(zip(self.fillers, self.media, strict=False))
        for key, file in pairs:
            part = _now(promo, key)
            if not isinstance(part, Clip) or "filler" not in part.content.traits:
                raise Refusal("no-filler", "That place is filled already.")
            promo = replaced(promo, part, context.find(file), 0, "slow")
        said = "Found a missing file again" if len(pairs) == 1 else f"Found {len(pairs)} missing files again"
        keys = tuple(key for key, _ in pairs)
        return Outcome(promo, said, keys, frozenset(keys))


def missing(promo: Promo) -> dict[str, str]:
    """The fillers that hold the place of a file that was missing when a promo was opened, by their keys: its name."""
    return {
        clip.id: clip.name for clip in promo.clips
        if "filler" in clip.content.traits and "." in clip.name[-6:-1] and not clip.name.startswith(".")
    }  # fmt: skip
