"""What is different between two states of a promo, in sentences."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

from glowreel.core.commands.base import called, in_seconds
from glowreel.core.commands.transitions import spoken
from glowreel.core.document import Clip, Item, Part, Promo, Tied
from glowreel.core.effects import EFFECTS
from glowreel.core.properties import PROPERTIES, Property
from glowreel.core.properties.table import BUSES
from glowreel.core.time import clock
from glowreel.core.timeline import timeline

Thing = TypeVar("Thing")
SWITCHES = (("hidden", "hidden", "shown"), ("muted", "muted", "heard"), ("solo", "heard alone", "not heard alone"))


def differences(old: Promo, new: Promo) -> list[str]:
    """Sentences that lead from one state to the other; empty where nothing a person could see or hear changed."""
    found: list[str] = []
    if old.name != new.name:
        found.append(f"Called “{new.name}”, before “{old.name}”.")
    before, after = timeline(old).length, timeline(new).length
    if before != after:
        found.append(f"Lasts {clock(after)}, before {clock(before)}.")
    found += _formats(old, new)
    found += _scenes(old, new)
    found += _clips(old, new)
    found += _items(old, new)
    found += _cuts(old, new)
    found += _tracks(old, new)
    found += _notes(old, new)
    found += _said(old, new)
    for bus in BUSES:
        if old.buses.get(bus, 0.0) != new.buses.get(bus, 0.0):
            found.append(f"All {bus} is at {new.buses.get(bus, 0.0):+.1f} dB.")
    if old.rate != new.rate:
        found.append(f"Runs at {new.rate} frames a second, before {old.rate}.")
    if not found and old.changed(id=new.id) != new:
        found.append("Something else of the promo is different.")
    return found


def _notes(old: Promo, new: Promo) -> list[str]:
    more = len(new.notes) - len(old.notes)
    found = [f"{abs(more)} note{'s' * (abs(more) != 1)} {'more' if more > 0 else 'fewer'}."] if more else []
    before = {note.id: note for note in old.notes}
    found += [f"A note says “{n.text[:60]}”." for n in new.notes if n.id in before and before[n.id].text != n.text]
    return found


def _said(old: Promo, new: Promo) -> list[str]:
    """What is written down and shown of what is said."""
    known = {(one.media, one.language): one for one in old.transcripts}
    found = []
    for one in new.transcripts:
        name = new.media[one.media].name if one.media in new.media else one.media
        before = known.get((one.media, one.language))
        if before is None:
            found.append(f"What is said in {name} is written down ({one.language}).")
        elif before.words != one.words:
            found.append(f"What is written down of {name} is different ({one.language}).")
    came, went, both = _came_and_went({k.id: k for k in old.captions}, {k.id: k for k in new.captions})
    found += [f"Captions ({lane.language}) are new." for lane in came]
    found += [f"Captions ({lane.language}) are gone." for lane in went]
    lanes = {lane.id: lane for lane in old.captions}
    found += [f"Captions ({lane.language}) are different." for lane in new.captions
              if lane.id in both and lanes[lane.id] != lane]  # fmt: skip
    return found


def _came_and_went(old: Mapping[str, Thing], new: Mapping[str, Thing]) -> tuple[list[Thing], list[Thing], list[str]]:
    """What is only in the new, what was only in the old, and the identifiers of what is in both."""
    came = [part for key, part in new.items() if key not in old]
    went = [part for key, part in old.items() if key not in new]
    return came, went, [key for key in new if key in old]


def _formats(old: Promo, new: Promo) -> list[str]:
    came, went, _ = _came_and_went({f.id: f for f in old.formats}, {f.id: f for f in new.formats})
    return [f"The format {f.name} is new." for f in came] + [f"The format {f.name} is gone." for f in went]


def _scenes(old: Promo, new: Promo) -> list[str]:
    came, went, both = _came_and_went({s.id: s for s in old.scenes}, {s.id: s for s in new.scenes})
    found = [f"The scene “{s.name}” is new." for s in came] + [f"The scene “{s.name}” is gone." for s in went]
    names = {s.id: s.name for s in old.scenes}
    found += [
        f"The scene “{names[s.id]}” is called “{s.name}”." for s in new.scenes if names.get(s.id, s.name) != s.name
    ]
    if [s.id for s in old.scenes if s.id in both] != [s.id for s in new.scenes if s.id in both]:
        found.append("The scenes are in another order.")
    return found


def _clips(old: Promo, new: Promo) -> list[str]:
    before, after = timeline(old), timeline(new)
    came, went, both = _came_and_went(before.clip, after.clip)
    found = [f"{c.name or 'A filler'} is new at {clock(after.clip_span[c.id].start)}." for c in came]
    found += [f"{c.name or 'A filler'} is gone from {clock(before.clip_span[c.id].start)}." for c in went]
    for key in both:
        found += _clip(before.clip[key], after.clip[key], {format.id: format.name for format in new.formats})
    kept = set(both)
    if [c.id for c in old.clips if c.id in kept] != [c.id for c in new.clips if c.id in kept]:
        found.append("The clips are in another order.")
    return found


def _set_otherwise(name: str, old: Part, new: Part, formats: Mapping[str, str]) -> list[str]:
    """What is set otherwise of a part, property by property, and where one format has it for itself."""
    found = []
    for row in PROPERTIES.values():
        if not row.of & new.content.traits or not row.of & old.content.traits:
            continue
        was, now = old.set_to(row.name), new.set_to(row.name)
        if was != now:
            found.append(f"{_label(row, name)} is {row.say(now)}, before {row.say(was)}.")
        for key in dict.fromkeys((*old.values_in, *new.values_in)):
            had, has = old.values_in.get(key, {}).get(row.name), new.values_in.get(key, {}).get(row.name)
            if had != has:
                where = formats.get(key, key)
                says = "as in the other formats" if has is None else row.say(has)
                found.append(f"{_label(row, name)} is {says} in {where}.")
    if old.effects != new.effects:
        kinds = [EFFECTS[effect.kind].label.lower() for effect in new.effects]
        found.append(f"{name} has {'the effects ' + ', '.join(kinds) if kinds else 'no effects'}.")
    return found


def _label(row: Property, name: str) -> str:
    return f"{name}: {row.label.lower()}"


def _clip(old: Clip, new: Clip, formats: Mapping[str, str]) -> list[str]:
    name = new.name or "A filler"
    found = []
    if old.media != new.media:
        return [f"{name} is in the place of {old.name or 'a filler'}."]
    found += _runs_otherwise(name, old, new, (old.length, new.length))
    found += _set_otherwise(name, old, new, formats)
    return found or ([f"{name} is different in another way."] if old != new else [])


def _runs_otherwise(name: str, old: Part, new: Part, lengths: tuple[int, int]) -> list[str]:
    """How much of its material a part shows, and how fast."""
    was, now = old.source, new.source
    if was is not None and now is not None and (was.media, was.speed) != (now.media, now.speed):
        return [f"{name} runs at another speed and lasts {in_seconds(lengths[1])}."]
    if lengths[0] != lengths[1]:
        return [f"{name} lasts {in_seconds(lengths[1])}, before {in_seconds(lengths[0])}."]
    if was is not None and now is not None and was.exact(old.into) != now.exact(new.into):
        return [f"{name} shows another part of its material."]
    return []


def _items(old: Promo, new: Promo) -> list[str]:
    before, after = timeline(old), timeline(new)
    came, went, both = _came_and_went(before.item, after.item)
    found = [f"{called(new, i)} is new at {clock(after.item_span(i).start)}." for i in came]
    found += [f"{called(old, i)} is gone from {clock(before.item_span(i).start)}." for i in went]
    for key in both:
        found += _item(old, new, before.item[key], after.item[key])
    return found


def _item(old: Promo, new: Promo, was: Item, now: Item) -> list[str]:
    if was == now and (was.anchor.to != "clip"):
        return []
    name = called(new, now)
    before, after = timeline(old).item_span(was), timeline(new).item_span(now)
    found = []
    # What is tied moves with its clip, which has been told already.
    rides = isinstance(was.anchor, Tied) and was.anchor == now.anchor
    if before.start != after.start and not rides:
        found.append(f"{name} starts at {clock(after.start)}, before {clock(before.start)}.")
    if was.media != now.media:
        found.append(f"{name} is in the place of {called(old, was)}.")
    else:
        found += _runs_otherwise(name, was, now, (before.length, after.length) if was.length != now.length else (0, 0))
    found += _set_otherwise(name, was, now, {format.id: format.name for format in new.formats})
    return found or ([f"{name} is different in another way."] if was.changed(anchor=now.anchor) != now else [])


def _cuts(old: Promo, new: Promo) -> list[str]:
    before, after = ({t.after: t for t in promo.transitions} for promo in (old, new))
    index = timeline(new)
    names = {
        **{key: clip.name or "a filler" for key, clip in index.clip.items()},
        **{key: called(new, item) for key, item in index.item.items()},
    }  # fmt: skip
    found = []
    for key, now in after.items():
        was = before.get(key)
        if was is None or (was.kind, was.length) != (now.kind, now.length):
            found.append(f"A {spoken(now.kind)} of {in_seconds(now.length)} after {names[key]}.")
    found += [f"A hard cut after {names[k]}." for k in before if k not in after and k in names]
    for edge, words in (("opens", "opening"), ("closes", "ending")):
        if getattr(old, edge) != getattr(new, edge):
            found.append(f"Another {words}.")
    return found


def _tracks(old: Promo, new: Promo) -> list[str]:
    was = {t.id: t for t in (*old.layers, *old.sounds)}
    found = []
    for track in (*new.layers, *new.sounds):
        before = was.get(track.id)
        if before is None:
            continue
        name = f"The track “{track.name}”" if track.name else "A track"
        for field, yes, no in SWITCHES:
            if getattr(track, field) != getattr(before, field):
                found.append(f"{name} is {yes if getattr(track, field) else no}.")
        if track.gain != before.gain:
            found.append(f"{name} is at {track.gain:+.1f} dB.")
    return found
