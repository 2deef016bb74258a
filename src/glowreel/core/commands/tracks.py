"""Whole tracks: names, locks, what is seen and heard, their order; and items from one to the next.

```
SetTrack      “Words”  →  “Titles”, locked, hidden, muted, heard alone, at -3 dB
MoveTrack     a b c   b by -1   →  b a c                   the first layer track is the front-most
RemoveTrack   a b c   - b       →  a c                     with all that is on it
StepTrack     a [x]             →  a                       x goes to the next track with room, or a new one
              b                    b [x]
SetBus        music 0 dB    →  music -6 dB             all that is heard as music
```
Refused: what is locked, a step past the last track.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import has_room, locked_track, map_items, side_of
from glowreel.core.commands.ranges import find_track
from glowreel.core.commands.roles import Target, TrackId
from glowreel.core.document import Item, Promo, Track
from glowreel.core.errors import Refusal
from glowreel.core.timeline import timeline
from glowreel.core.value import Decibels


class SetTrack(Command):
    """Changes a track of layers or sounds; fields left out stay as they are."""

    do: Literal["set-track"] = "set-track"
    track: TrackId
    name: str | None = Field(default=None, max_length=60)
    locked: bool | None = None
    hidden: bool | None = None
    muted: bool | None = None
    solo: bool | None = None
    gain: Decibels | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = find_track(promo, self.track)
        changes = self.model_dump(exclude={"do", "track"}, exclude_none=True)
        if "name" in changes:
            changes["name"] = " ".join(changes["name"].split())

        def through(tracks: tuple[Track, ...]) -> tuple[Track, ...]:
            return tuple(t.changed(**changes) if t.id == old.id else t for t in tracks)

        made = promo.changed(layers=through(promo.layers), sounds=through(promo.sounds))
        return Outcome(made, self._sentence(old.name or "a track"))

    def _sentence(self, name: str) -> str:
        verbs = {"locked": ("Locked", "Unlocked"), "hidden": ("Hid", "Showed"), "muted": ("Muted", "Unmuted"),
                 "solo": ("Played only", "Played all besides")}  # fmt: skip
        for field, (yes, no) in verbs.items():
            value = getattr(self, field)
            if value is not None:
                return f"{yes if value else no} {name}"
        return f"Set {name} to {self.gain:+.1f} dB" if self.gain is not None else f"Named a track “{self.name}”"


class MoveTrack(Command):
    """Moves a track `by` places: up, to the front, if negative."""

    do: Literal["move-track"] = "move-track"
    track: TrackId
    by: int = Field(ge=-60, le=60)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        track = find_track(promo, self.track)
        name = "layers" if track in promo.layers else "sounds"
        rest = [t for t in getattr(promo, name) if t.id != track.id]
        old = getattr(promo, name).index(track)
        spot = max(0, min(len(rest), old + self.by))
        if spot == old:
            raise Refusal("no-place", "There is no other track to move it past.")
        rest.insert(spot, track)
        return Outcome(promo.changed(**{name: tuple(rest)}), f"Moved the track {track.name}".rstrip())


class RemoveTrack(Command):
    """Removes a track with all that is on it."""

    do: Literal["remove-track"] = "remove-track"
    track: TrackId

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        track = find_track(promo, self.track)
        if track.locked:
            raise locked_track(track)
        layers, sounds = (tuple(t for t in tracks if t.id != track.id) for tracks in (promo.layers, promo.sounds))
        count = len(track.items)
        sentence = f"Removed a track with {count} item{'s' * (count != 1)}"
        return Outcome(promo.changed(layers=layers, sounds=sounds), sentence)


class StepTrack(Command):
    """Moves an item to the next track up (-1) or down (1), at its time: to a new one where there is none with room."""

    do: Literal["step-track"] = "step-track"
    item: Target
    by: Literal[-1, 1]

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.item)
        made = stepped(promo, item, self.by, context)
        way = "down" if self.by > 0 else "up"
        return Outcome(made, f"Moved {called(promo, item)} one track {way}", (item.id,), frozenset({item.id}))


def stepped(promo: Promo, item: Item, by: int, context: Context) -> Promo:
    """The promo with an item on the next track up or down that has room."""
    index = timeline(promo)
    name = side_of(item)
    tracks: list[Track] = list(getattr(promo, name))
    span = index.item_span(item)
    spot = tracks.index(index.track_of[item.id]) + by
    while 0 <= spot < len(tracks) and (tracks[spot].locked or not has_room(promo, tracks[spot], span)):
        spot += by
    if not 0 <= spot < len(tracks) and len(index.track_of[item.id].items) == 1:
        raise Refusal("no-place", "It is alone on the last track already.")
    tracks = list(getattr(map_items(promo, lambda i: None if i.id == item.id else i), name))
    if 0 <= spot < len(tracks):
        tracks[spot] = tracks[spot].changed(items=(*tracks[spot].items, item))
    else:
        tracks.insert(max(0, spot), Track(id=context.new_id("t"), items=(item,)))
    return promo.changed(**{name: tuple(tracks)})


class SetBus(Command):
    """How loud everything is that is heard as voice, music, effects or ambience."""

    do: Literal["set-bus"] = "set-bus"
    bus: Literal["voice", "music", "effects", "ambience"]
    gain: Decibels

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        others = {name: gain for name, gain in promo.buses.items() if name != self.bus}
        buses = {**others, self.bus: self.gain} if self.gain else others
        return Outcome(promo.changed(buses=buses), f"Set all {self.bus} to {self.gain:+.1f} dB")
