"""From a promo and a span of samples to the recipe of its sound."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from functools import lru_cache
from typing import Any

from glowreel.core.derived import Known, Need, levelling, nothing
from glowreel.core.document import Clip, Free, Item, Part, Promo, Track
from glowreel.core.equaliser import audible
from glowreel.core.fitting import Fit, fit
from glowreel.core.properties import Curve
from glowreel.core.properties.rows.sound import EQUALISER_NAMES, HEARD_NAMES, VOICE_NAMES
from glowreel.core.properties.table import BUSES
from glowreel.core.recipe.model import MASTER_MARGIN, Bus, Master, SoundRecipe, Voice
from glowreel.core.recipe.needs import beats_need, copies_of, needs_of
from glowreel.core.remembered import Remembered
from glowreel.core.speaking import Dip, Spans, dips, spoken, steps
from glowreel.core.time import TICKS_PER_SAMPLE, sample_floor, ticks
from glowreel.core.timeline import ByIdentity, timeline


def gain_factor(decibels: float) -> float:
    """Amplitude factor of a gain in decibels, 10^(dB/20); silence at the bottom of the scale."""
    return 0.0 if decibels <= -60 else 10 ** (decibels / 20)


PEAK = -1.0
"""The true peak (dBTP) that a mix does not pass where a loudness is wanted of it."""


def sound_length(promo: Promo) -> int:
    """Samples in the whole promo: as long as its picture, to the sample."""
    return sample_floor(timeline(promo).length)


def sound_recipe(
    promo: Promo, start: int, length: int, known: Known = nothing, louder: float | None = None
) -> SoundRecipe:
    """What is heard in `length` samples from sample `start`: every voice that touches them. What is not known of a file
    yet is left out of it, and named in `waits`. `louder` is by how many decibels the whole is made louder so that it
    has the loudness that the promo wants, if it wants one."""
    master = master_of(promo, louder, start)
    margin = MASTER_MARGIN if master is not None else 0
    buses = _buses(promo, all_voices(promo, known), start, length, margin)
    waits = dict.fromkeys(need for bus in buses for voice in bus.voices for need in voice.needs if known(need) is None)
    return SoundRecipe(length, buses, tuple(waits), master)


def _buses(promo: Promo, voices: Iterable[Voice], start: int, length: int, margin: int = 0) -> tuple[Bus, ...]:
    """Voices that touch a span, or come within a margin of it, by kinds, at their places in it."""
    first, last = start - margin, start + length + margin
    near = [replace(v, at=v.at - start) for v in voices if v.at < last and v.at + v.length > first]
    buses = (Bus(name, bus_gain(promo, name), tuple(v for v in near if v.bus == name)) for name in BUSES)
    return tuple(bus for bus in buses if bus.voices)


def master_of(promo: Promo, louder: float | None, at: int = 0) -> Master | None:
    """What is done to the whole mix from a sample on; nothing where it is left as it is."""
    if promo.loudness_wanted is None:
        return Master(gain_factor(promo.gain), 0.0, at) if promo.gain else None
    return Master(10 ** ((promo.gain + (louder or 0.0)) / 20), 10 ** (PEAK / 20), at)


LISTENED = 6144
"""Samples around a moment that what moves with the sound listens to: an eighth of a second."""


def heard_around(promo: Promo, time: int) -> SoundRecipe:
    """What is heard around a time of the promo."""
    start = sample_floor(time) - LISTENED // 2
    return SoundRecipe(LISTENED, _buses(promo, _known_voices(ByIdentity(promo)), start, LISTENED))


@lru_cache(maxsize=16)
def _known_voices(held: ByIdentity) -> tuple[Voice, ...]:
    return tuple(all_voices(held.promo))


def bus_gain(promo: Promo, name: str) -> float:
    """The factor of a bus."""
    return gain_factor(promo.buses.get(name, 0.0))


def as_it_came(promo: Promo) -> Promo:
    """The promo with nothing done to its voices and tones; all gains, fades and dips stay."""
    done = {*VOICE_NAMES, *EQUALISER_NAMES}

    def plain(part: Any) -> Any:
        return part.changed(values={name: value for name, value in part.values.items() if name not in done})

    def plain_clip(clip: Clip) -> Clip:
        return plain(clip).changed(cells=tuple(plain(cell) for cell in clip.cells))  # type: ignore[no-any-return]

    scenes = tuple(scene.changed(clips=tuple(plain_clip(clip) for clip in scene.clips)) for scene in promo.scenes)
    sounds = tuple(track.changed(items=tuple(plain(item) for item in track.items)) for track in promo.sounds)
    return promo.changed(scenes=scenes, sounds=sounds)


MAIN = "main"
"""The strip of what is heard of the main track."""


def strips(promo: Promo, known: Known = nothing) -> dict[str, list[Voice]]:
    """What is heard of the main track (`MAIN`) and of each sound track by its identifier: every voice, at its place in
    the promo. Those that are silent have none."""
    voices = [voice for clip in promo.clips if (voice := _clip_voice(promo, clip, known)) is not None]
    voices += [voice for clip in promo.clips if clip.cells for voice in _cell_voices(promo, clip, known)]
    alone = any(track.solo for track in promo.sounds)
    found = {MAIN: [] if alone else voices}
    for track in promo.sounds:
        heard = not track.muted and (track.solo or not alone)
        found[track.id] = [v for item in track.items for v in _item_voices(promo, track, item, known)] if heard else []
    return {name: [v for v in held if v.gain > 0 and v.length > 0] for name, held in found.items()}


def all_voices(promo: Promo, known: Known = nothing) -> list[Voice]:
    """Every voice of the promo, at its place in it."""
    return [voice for held in strips(promo, known).values() for voice in held]


def strip_recipe(promo: Promo, voices: list[Voice], start: int, length: int) -> SoundRecipe:
    """A span of some voices of a promo, as they go into the whole."""
    return SoundRecipe(length, _buses(promo, voices, start, length))


def _item_voices(promo: Promo, track: Track, item: Item, known: Known) -> list[Voice]:
    voice = _item_voice(promo, track, item, known)
    if voice is None or item.source is None or item.source.runs != "fitted":
        return [] if voice is None else [voice]
    need = beats_need(promo.media[item.source.media].hash)
    total = sample_floor(promo.media[item.source.media].length)
    named = replace(voice, needs=(*voice.needs, need))
    return _fitted(named, fit(known(need), voice.length, total))


FIT_FADE = 72_000
"""Samples over which a piece goes out that could not be made to fit."""
RING_OUT = 9600
"""Samples over which what rings on is taken away at least."""
JOINT = 480
"""Samples over which one stretch of a fitted piece becomes the next."""


def _fitted(voice: Voice, found: Fit) -> list[Voice]:
    """A voice as the stretches of a piece that was made to fit, each of which passes into the next."""
    if not found.joined:
        first, last = found.stretches[0]
        length = min(voice.length, last - first)
        cut = length < voice.length or voice.length < last
        fade = max(min(voice.fade_out, length), min(FIT_FADE, length // 2) if cut else 0)
        return [replace(voice, length=length, source_at=first, fade_out=fade)]
    made, done, half = [], 0.0, JOINT // 2
    for place, (first, last) in enumerate(found.stretches):
        opens, closes = place == 0, place + 1 == len(found.stretches)
        start = round(done)
        done += (last - first) / found.rate
        end = min(voice.length, round(done))
        lead, tail = 0 if opens else half, 0 if closes else half
        length = end - start + lead + tail
        begin = first - lead * found.rate
        warp = ((0, begin, found.rate), (length, begin + length * found.rate, found.rate))
        made.append(
            replace(
                _later(voice, start - lead), length=length, source_at=round(begin),
                fade_in=min(voice.fade_in, length) if opens else JOINT,
                fade_out=min(max(voice.fade_out, RING_OUT), length) if closes else JOINT,
                curves=(voice.curves[0] if opens else "straight", voice.curves[1] if closes else "straight"),
                warp=() if abs(found.rate - 1) < 1e-9 else warp, pitch=True,
            )
        )  # fmt: skip
    return made


def _later(voice: Voice, by: int) -> Voice:
    """A voice that begins so many samples later, with what changes over time where it was."""
    levels, given_way = (tuple((at - by, factor) for at, factor in knots) for knots in (voice.levels, voice.dips))
    return replace(voice, at=voice.at + by, levels=levels, dips=given_way)


def _item_voice(promo: Promo, track: Track, item: Item, known: Known) -> Voice | None:
    media, source = promo.media.get(item.media or ""), item.source
    if media is None or source is None or not media.sounding or item.read("muted") or source.held:
        return None
    span = timeline(promo).heard_span(item)
    end = span.start + source.longest(item.into, media.length, span.length)
    if end <= span.start:
        return None
    lead, tail = crossing(promo, track, item)
    start, length = sample_floor(span.start) - lead, sample_floor(end) - sample_floor(span.start) + lead + tail
    fades = _fitted_fades(
        2 * lead or sample_floor(item.read("fade_in")), 2 * tail or sample_floor(item.read("fade_out")), length
    )  # fmt: skip
    first, last = -lead * TICKS_PER_SAMPLE, end - span.start + tail * TICKS_PER_SAMPLE
    gain, levels = _gain(item, first, last)
    level, named = _levelled(promo, item, known)
    warp, pitch = _warp(item, first, last)
    source_at = 0 if source.speed else (source.at + item.into) // TICKS_PER_SAMPLE - lead
    curves = ("even" if lead else item.read("fade_in_curve"), "even" if tail else item.read("fade_out_curve"))
    return Voice(
        media.hash, start, length, source_at, gain * level * gain_factor(track.gain), *fades, warp=warp, pitch=pitch,
        levels=levels, bus=item.read("bus"), pan=round(item.read("pan"), 6),
        channels=item.read("channels"), curves=curves, around=source.runs == "round",
        dips=_dips(promo, item, start), dip_band=item.read("dip_band") == "speech",
        **{"needs": named} | _made(promo, item, known, named),
    )  # fmt: skip


def crossing(promo: Promo, track: Track, item: Item) -> tuple[int, int]:
    """How many samples a sound is heard before its start and after its end, where it passes into its neighbours on the
    track, which it meets there: half of what was set, as far as both have something to be heard."""
    if len(track.items) < 2 or not any("crosses" in other.values for other in track.items):
        return 0, 0
    index = timeline(promo)
    span = index.heard_span(item)

    def meets(before: Item, behind: Item) -> int:
        wanted = before.read("crosses") // 2
        if not wanted or index.heard_span(before).end != index.heard_span(behind).start:
            return 0
        media = [promo.media.get(one.media or "") for one in (before, behind)]
        sources = [one.source for one in (before, behind)]
        if media[0] is None or media[1] is None or sources[0] is None or sources[1] is None:
            return 0
        long = index.heard_span(before).length
        after = sources[0].longest(before.into, media[0].length, long + wanted) - long
        earlier = sources[1].earliest(behind.into, media[1].length, wanted)
        return sample_floor(max(0, min(wanted, after, earlier, long // 2, index.heard_span(behind).length // 2)))

    others = [other for other in track.items if other.id != item.id]
    lead = max((meets(other, item) for other in others if index.heard_span(other).end == span.start), default=0)
    tail = max((meets(item, other) for other in others if index.heard_span(other).start == span.end), default=0)
    return lead, tail


def dip_line(promo: Promo, item: Item) -> tuple[tuple[int, float], ...]:
    """The line of what is left of a sound that gives way to voices: knots (ticks of the promo, dB); see
    `core.speaking`."""
    amount = item.read("dip")
    if not amount:
        return ()
    lengths = (item.read(name) for name in ("dip_early", "dip_slow", "dip_hold"))
    return dips(_said.of((promo,), (), lambda: spoken(promo)), Dip(amount, *lengths))


_said: Remembered[Spans] = Remembered(32)


def _dips(promo: Promo, item: Item, start: int) -> tuple[tuple[int, float], ...]:
    """The same in samples of a voice that begins at sample `start`, and in factors."""
    line = [(sample_floor(at) - start, level) for at, level in dip_line(promo, item)]
    return steps(line, lambda level: round(gain_factor(level), 7)) if line else ()


def _made(promo: Promo, part: Part, known: Known, named: tuple[Need, ...]) -> dict[str, Any]:
    """What is read in the place of a part's own sound, and its equaliser, as fields of its voice."""
    said: dict[str, Any] = {}
    equal = (part.read("bands"), part.read("low_cut"), part.read("high_cut"))
    if audible(*equal):
        said["equal"] = equal
    copies = copies_of(promo, part)
    if copies:
        # What was made last is what is heard.
        said["copy"] = copies[-1] if known(copies[-1]) is not None else None
        said["needs"] = (*named, *copies)
    return said


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
        values = {name: cell.values[name] for name in HEARD_NAMES if name in cell.values}
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


LAP = ticks(0.01)
"""Ticks, a hundredth of a second, over which a recording passes into itself where something was cut out of it."""


def _lap(promo: Promo, before: Clip | None, behind: Clip | None, clip: Clip, *, after: bool) -> int:
    """By how many ticks a clip is heard before its start, or after its end, because its neighbour there is another
    stretch of the same recording."""
    if before is None or behind is None or before.media is None or before.media != behind.media:
        return 0
    if before.source is None or before.source.exact(before.into + before.length) == behind.begins:
        return 0
    half = min(LAP // 2, before.length // 2, behind.length // 2) // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE
    sides = (timeline(promo).handle(before, most=half, after=True), timeline(promo).handle(behind, most=half))
    return min(sides) // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE


def _clip_voice(promo: Promo, clip: Clip, known: Known) -> Voice | None:
    """A clip's own sound, reaching into the transitions beside it as far as the media goes, faded across them."""
    media, source = promo.media.get(clip.media or ""), clip.source
    if media is None or source is None or not media.sounding or clip.read("muted") or source.held:
        return None
    index = timeline(promo)
    span = index.clip_span[clip.id]
    before, behind = index.beside[clip.id]
    into = index.cut_after(before.id) if before is not None else None
    out = index.cut_after(clip.id)
    lead = index.handle(clip, most=into.span.end - into.at) if into else _lap(promo, before, clip, clip, after=False)
    tail = (index.handle(clip, most=out.at - out.span.start, after=True) if out
            else _lap(promo, clip, behind, clip, after=True))  # fmt: skip
    start, end = span.start - lead, span.end + tail
    length = sample_floor(end) - sample_floor(start)
    fade_in = sample_floor(into.span.end) - sample_floor(start) if into else 2 * sample_floor(lead)
    fade_out = sample_floor(end) - sample_floor(out.span.start) if out else 2 * sample_floor(tail)
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
        pitch=pitch, levels=levels, bus=clip.read("bus"), pan=round(clip.read("pan"), 6),
        channels=clip.read("channels"), **{"needs": named} | _made(promo, clip, known, named),
    )  # fmt: skip
