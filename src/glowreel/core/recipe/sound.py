"""From a promo and a span of samples to the recipe of its sound."""

from __future__ import annotations

from dataclasses import replace

from glowreel.core.document import Clip, Item, Promo, Sound, Track
from glowreel.core.recipe.model import SoundRecipe, Voice
from glowreel.core.speed import Speed, longest, source_exact
from glowreel.core.time import TICKS_PER_SAMPLE, sample_floor
from glowreel.core.timeline import timeline


def gain_factor(decibels: float) -> float:
    """Amplitude factor of a gain in decibels, 10^(dB/20); silence at the bottom of the scale."""
    return 0.0 if decibels <= -60 else 10 ** (decibels / 20)


def sound_length(promo: Promo) -> int:
    """Samples in the whole promo: as long as its picture, to the sample."""
    return sample_floor(timeline(promo).length)


def sound_recipe(promo: Promo, start: int, length: int) -> SoundRecipe:
    """What is heard in `length` samples from sample `start`: every voice that touches them."""
    voices = [v for v in all_voices(promo) if v.at < start + length and v.at + v.length > start]
    return SoundRecipe(length, tuple(replace(v, at=v.at - start) for v in voices))


def all_voices(promo: Promo) -> list[Voice]:
    """Every voice of the promo, at its place in it."""
    voices = [voice for clip in promo.clips if (voice := _clip_voice(promo, clip)) is not None]
    alone = any(track.solo for track in promo.sounds)
    if alone:
        voices = []
    for track in promo.sounds:
        if track.muted or (alone and not track.solo):
            continue
        voices += [voice for item in track.items if (voice := _item_voice(promo, track, item)) is not None]
    return [v for v in voices if v.gain > 0 and v.length > 0]


def _item_voice(promo: Promo, track: Track, item: Item) -> Voice | None:
    """A sound item's voice at its place, as long as its media lasts."""
    part = item.content
    media = promo.media.get(item.media or "")
    if not isinstance(part, Sound) or media is None or not media.sounding or item.muted or _silent(part.speed):
        return None
    span = timeline(promo).heard_span(item)
    end = span.start + longest(part.source_in, part.speed, media.length, span.length)
    if end <= span.start:
        return None
    start, length = sample_floor(span.start), sample_floor(end) - sample_floor(span.start)
    fades = _fitted_fades(sample_floor(part.fade_in), sample_floor(part.fade_out), length)
    gain = gain_factor(part.gain) * gain_factor(track.gain)
    warp, pitch = _warp(part.source_in, part.speed, 0, end - span.start)
    return Voice(media.hash, start, length, part.source_in // TICKS_PER_SAMPLE, gain, *fades, warp=warp, pitch=pitch)


def _silent(speed: Speed | None) -> bool:
    """Whether nothing runs at all: a held frame has no sound."""
    return speed is not None and speed.constant == 0


Warp = tuple[tuple[int, float, float], ...]


def _warp(source_in: int, speed: Speed | None, first: int, last: int) -> tuple[Warp, bool]:
    """The knots of a part that does not run by itself, from `first` to `last` ticks of its time, and whether it keeps
    its pitch. In samples of the voice, which begins at `first`."""
    if speed is None:
        return (), True
    moments = {first, last} | {p.at - speed.into for p in speed.points if first < p.at - speed.into < last}
    sign = -1 if speed.backwards else 1
    knots = []
    for moment in sorted(moments):
        at = float(source_exact(source_in, speed, moment) / TICKS_PER_SAMPLE)
        sample = sample_floor(moment - first)
        if moment != first:
            knots.append((sample, at, float(sign * speed.before(speed.into + moment))))
        if moment != last:
            knots.append((sample, at, float(sign * speed.at(speed.into + moment))))
    return tuple(knots), speed.pitch == "kept"


def _fitted_fades(fade_in: int, fade_out: int, length: int) -> tuple[int, int]:
    """Fades shortened in proportion where together they outlast the sound."""
    total = fade_in + fade_out
    if total <= length:
        return fade_in, fade_out
    fade_in = fade_in * length // total
    return fade_in, length - fade_in


def _clip_voice(promo: Promo, clip: Clip) -> Voice | None:
    """A clip's own sound, reaching into the transitions beside it as far as the media goes, faded across them."""
    media = promo.media.get(clip.media or "")
    if media is None or not media.sounding or clip.muted or _silent(clip.speed):
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
    source_at = 0 if clip.speed else (clip.source_in - lead) // TICKS_PER_SAMPLE
    warp, pitch = _warp(clip.source_in, clip.speed, -lead, clip.length + tail)
    fades = {"fade_in": fade_in, "fade_out": fade_out}
    gain = gain_factor(clip.gain)
    return Voice(media.hash, sample_floor(start), length, source_at, gain, **fades, power=True, warp=warp, pitch=pitch)
