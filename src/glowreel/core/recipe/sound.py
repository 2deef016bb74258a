"""From a promo and a span of samples to the recipe of its sound."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from glowreel.core.derived import Known, Need, levelling, nothing
from glowreel.core.document import Clip, Free, Item, Part, Promo, Track
from glowreel.core.properties import Curve
from glowreel.core.properties.table import BUSES
from glowreel.core.recipe.model import Bus, SoundRecipe, Voice
from glowreel.core.recipe.needs import needs_of
from glowreel.core.time import TICKS_PER_SAMPLE, sample_floor
from glowreel.core.timeline import ByIdentity, timeline


def gain_factor(decibels: float) -> float:
    """Amplitude factor of a gain in decibels, 10^(dB/20); silence at the bottom of the scale."""
    return 0.0 if decibels <= -60 else 10 ** (decibels / 20)


def sound_length(promo: Promo) -> int:
    """Samples in the whole promo: as long as its picture, to the sample."""
    return sample_floor(timeline(promo).length)


def sound_recipe(promo: Promo, start: int, length: int, known: Known = nothing) -> SoundRecipe:
    """What is heard in `length` samples from sample `start`: every voice that touches them. What is not known of a file
    yet is left out of it, and named in `waits`."""
    voices = [v for v in all_voices(promo, known) if v.at < start + length and v.at + v.length > start]
    moved = [replace(v, at=v.at - start) for v in voices]
    buses = (Bus(name, bus_gain(promo, name), tuple(v for v in moved if v.bus == name)) for name in BUSES)
    waits = dict.fromkeys(need for voice in voices for need in voice.needs if known(need) is None)
    return SoundRecipe(length, tuple(bus for bus in buses if bus.voices), tuple(waits))


LISTENED = 6144
"""Samples around a moment that what moves with the sound listens to: an eighth of a second."""


def heard_around(promo: Promo, time: int) -> SoundRecipe:
    """What is heard around a time of the promo."""
    voices = _known_voices(ByIdentity(promo))
    start = sample_floor(time) - LISTENED // 2
    near = tuple(v for v in voices if v.at < start + LISTENED and v.at + v.length > start)
    moved = [replace(v, at=v.at - start) for v in near]
    buses = (Bus(name, bus_gain(promo, name), tuple(v for v in moved if v.bus == name)) for name in BUSES)
    return SoundRecipe(LISTENED, tuple(bus for bus in buses if bus.voices))


@lru_cache(maxsize=16)
def _known_voices(held: ByIdentity) -> tuple[Voice, ...]:
    return tuple(all_voices(held.promo))


def bus_gain(promo: Promo, name: str) -> float:
    """The factor of a bus."""
    return gain_factor(promo.buses.get(name, 0.0))


def all_voices(promo: Promo, known: Known = nothing) -> list[Voice]:
    """Every voice of the promo, at its place in it."""
    voices = [voice for clip in promo.clips if (voice := _clip_voice(promo, clip, known)) is not None]
    voices += [voice for clip in promo.clips if clip.cells for voice in _cell_voices(promo, clip, known)]
    alone = any(track.solo for track in promo.sounds)
    if alone:
        voices = []
    for track in promo.sounds:
        if track.muted or (alone and not track.solo):
            continue
        voices += [voice for item in track.items if (voice := _item_voice(promo, track, item, known)) is not None]
    return [v for v in voices if v.gain > 0 and v.length > 0]


def _item_voice(promo: Promo, track: Track, item: Item, known: Known) -> Voice | None:
    media, source = promo.media.get(item.media or ""), item.source
    if media is None or source is None or not media.sounding or item.read("muted") or source.held:
        return None
    span = timeline(promo).heard_span(item)
    end = span.start + source.longest(item.into, media.length, span.length)
    if end <= span.start:
        return None
    start, length = sample_floor(span.start), sample_floor(end) - sample_floor(span.start)
    fades = _fitted_fades(sample_floor(item.read("fade_in")), sample_floor(item.read("fade_out")), length)
    gain, levels = _gain(item, 0, end - span.start)
    level, named = _levelled(promo, item, known)
    warp, pitch = _warp(item, 0, end - span.start)
    source_at = 0 if source.speed else (source.at + item.into) // TICKS_PER_SAMPLE
    return Voice(
        media.hash, start, length, source_at, gain * level * gain_factor(track.gain), *fades, warp=warp, pitch=pitch,
        levels=levels, bus=item.read("bus"), needs=named,
    )  # fmt: skip


def _cell_voices(promo: Promo, clip: Clip, known: Known) -> list[Voice]:
    """What is heard of a collage: of the cells that sound, the chosen ones, each from when it starts. Where the collage
    passes into its neighbours, it comes and goes over its own half of that."""
    index, which = timeline(promo), clip.read("cells_heard")
    span = index.clip_span[clip.id]
    before = next((cut for cut in index.cuts if cut.behind.id == clip.id), None)
    after = index.cut_after(clip.id)
    fades = {"fade_in": before.span.end - before.at if before else 0, "fade_out": after.at - after.span.start
             if after else 0}  # fmt: skip
    found = []
    for place, cell in enumerate(clip.inner):
        wait = max(0, place * clip.read("step") - clip.into)
        media = promo.media.get(cell.media or "")
        if media is None or not media.sounding or wait >= clip.length or which not in ("all", "first", str(place + 1)):
            continue
        values = {name: cell.values[name] for name in ("gain", "muted", "levelled") if name in cell.values}
        item = Item(
            id=cell.id, kind="sound", anchor=Free(at=span.start + wait), length=clip.length - wait,
            into=clip.into + wait, source=cell.source, values=values | fades | {"bus": "voice"},
        )  # fmt: skip
        voice = _item_voice(promo, _CELLS, item, known)
        if voice is not None:
            found.append(voice)
            if which == "first":
                break
    return found


_CELLS = Track(id="cells")


def _levelled(promo: Promo, part: Part, known: Known) -> tuple[float, tuple[Need, ...]]:
    """The factor that levels a part, and what has to be known for it."""
    if not part.read("levelled"):
        return 1.0, ()
    named = tuple(need for need in needs_of(promo, part) if need.maker == "loudness")
    return gain_factor(levelling(known(named[0]) if named else None)), named


LEVEL_STEPS = 32
"""A gain that changes between two points is made of so many straight pieces: at 60 dB a piece spans 2 dB."""


def _gain(part: Part, first: int, last: int) -> tuple[float, tuple[tuple[int, float], ...]]:
    """The factor of a part's gain, and where it changes over time, from `first` to `last` ticks after its start, the
    knots of that: (sample of the voice, factor). A voice that is silent throughout has the factor 0."""
    curve = part.set_to("gain")
    if not isinstance(curve, Curve):
        return gain_factor(curve), ()
    begin, end = part.into + first, part.into + last
    inside = [moment for moment in curve.moments if begin < moment < end]
    edges = [begin, *inside, end]
    moments = [
        a + (b - a) * step // LEVEL_STEPS for a, b in zip(edges, edges[1:], strict=False) for step in range(LEVEL_STEPS)
    ]

    def factor(moment: int) -> float:
        return round(gain_factor(part.read("gain", "", moment)), 7)

    levels = {sample_floor(moment - begin): factor(moment) for moment in (*moments, end)}
    # Where it jumps, it does so from one sample to the next.
    levels |= {max(0, sample_floor(moment - begin) - 1): factor(moment - 1) for moment in inside}
    return (1.0 if any(levels.values()) else 0.0), tuple(sorted(levels.items()))


Warp = tuple[tuple[int, float, float], ...]


def _warp(part: Part, first: int, last: int) -> tuple[Warp, bool]:
    """The knots of a part that does not run by itself, from `first` to `last` ticks after its start, and whether it
    keeps its pitch. In samples of the voice, which begins at `first`."""
    source = part.source
    speed = source.speed if source is not None else None
    if source is None or speed is None:
        return (), True
    begin, end = part.into + first, part.into + last
    moments = {begin, end} | {p.at for p in speed.points if begin < p.at < end}
    sign = -1 if speed.backwards else 1
    knots = []
    for moment in sorted(moments):
        at = float(source.exact(moment) / TICKS_PER_SAMPLE)
        sample = sample_floor(moment - begin)
        if moment != begin:
            knots.append((sample, at, float(sign * speed.before(moment))))
        if moment != end:
            knots.append((sample, at, float(sign * speed.at(moment))))
    return tuple(knots), speed.pitch == "kept"


def _fitted_fades(fade_in: int, fade_out: int, length: int) -> tuple[int, int]:
    """Fades shortened in proportion where together they outlast the sound."""
    total = fade_in + fade_out
    if total <= length:
        return fade_in, fade_out
    fade_in = fade_in * length // total
    return fade_in, length - fade_in


def _clip_voice(promo: Promo, clip: Clip, known: Known) -> Voice | None:
    """A clip's own sound, reaching into the transitions beside it as far as the media goes, faded across them."""
    media, source = promo.media.get(clip.media or ""), clip.source
    if media is None or source is None or not media.sounding or clip.read("muted") or source.held:
        return None
    index = timeline(promo)
    span = index.clip_span[clip.id]
    place = promo.clips.index(clip) if index.cuts else 0
    into = index.cut_after(promo.clips[place - 1].id) if index.cuts and place else None
    out = index.cut_after(clip.id)
    lead = index.handle(clip, most=into.span.end - into.at) if into else 0
    tail = index.handle(clip, most=out.at - out.span.start, after=True) if out else 0
    start, end = span.start - lead, span.end + tail
    length = sample_floor(end) - sample_floor(start)
    fade_in = sample_floor(into.span.end) - sample_floor(start) if into else 0
    fade_out = sample_floor(end) - sample_floor(out.span.start) if out else 0
    if index.opening and clip is promo.clips[0]:
        fade_in = sample_floor(index.opening.length)
    if index.closing and clip is promo.clips[-1]:
        fade_out = sample_floor(index.closing.length)
    source_at = 0 if source.speed else (source.at + clip.into - lead) // TICKS_PER_SAMPLE
    warp, pitch = _warp(clip, -lead, clip.length + tail)
    gain, levels = _gain(clip, -lead, clip.length + tail)
    level, named = _levelled(promo, clip, known)
    return Voice(
        media.hash, sample_floor(start), length, source_at, gain * level, fade_in, fade_out, power=True, warp=warp,
        pitch=pitch, levels=levels, bus=clip.read("bus"), needs=named,
    )  # fmt: skip
