"""From a promo and a span of samples to the recipe of its sound."""

from __future__ import annotations

from glowreel.core.document import Clip, Promo, Sound
from glowreel.core.recipe.model import SoundRecipe, Voice
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
    shifted = (
        Voice(v.source, v.at - start, v.length, v.source_at, v.gain, v.fade_in, v.fade_out, v.power) for v in voices
    )
    return SoundRecipe(length, tuple(shifted))


def all_voices(promo: Promo) -> list[Voice]:
    """Every voice of the promo, at its place in it."""
    voices = [voice for clip in promo.clips if (voice := _clip_voice(promo, clip)) is not None]
    index = timeline(promo)
    for track in promo.sounds:
        for item in track.items:
            if not isinstance(item.content, Sound):
                continue
            span = index.heard_span(item)
            media = promo.media[item.content.media]
            end = min(span.end, span.start + media.length - item.content.source_in)
            if end <= span.start or not media.sounding:
                continue
            length = sample_floor(end) - sample_floor(span.start)
            fades = _fitted_fades(sample_floor(item.content.fade_in), sample_floor(item.content.fade_out), length)
            source_at = item.content.source_in // TICKS_PER_SAMPLE
            gain = gain_factor(item.content.gain)
            voices.append(Voice(media.hash, sample_floor(span.start), length, source_at, gain, *fades))
    return [v for v in voices if v.gain > 0 and v.length > 0]


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
    if media is None or not media.sounding or clip.muted:
        return None
    index = timeline(promo)
    span = index.clip_span[clip.id]
    place = promo.clips.index(clip) if index.cuts else 0
    into = index.cut_after(promo.clips[place - 1].id) if index.cuts and place else None
    out = index.cut_after(clip.id)
    lead = min(into.span.end - into.at, clip.source_in) if into else 0
    tail_left = media.length - clip.source_in - clip.length
    tail = max(0, min(out.at - out.span.start, tail_left)) if out else 0
    start, end = span.start - lead, span.end + tail
    length = sample_floor(end) - sample_floor(start)
    fade_in = sample_floor(into.span.end) - sample_floor(start) if into else 0
    fade_out = sample_floor(end) - sample_floor(out.span.start) if out else 0
    source_at = (clip.source_in - lead) // TICKS_PER_SAMPLE
    gain = gain_factor(clip.gain)
    return Voice(media.hash, sample_floor(start), length, source_at, gain, fade_in, fade_out, power=True)
