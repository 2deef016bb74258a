"""How much of what pictures are of is cut off by a shape."""

from __future__ import annotations

from dataclasses import replace
from statistics import fmean

from glowreel.core.content.pictures import crop_of, framing_of
from glowreel.core.content.seen import Seen
from glowreel.core.document import Clip, Promo
from glowreel.core.formats import Format
from glowreel.core.layout import Box, Measure, framed
from glowreel.core.subject import ROOM, along

LOOKS = 5
"""At so many moments of a clip its subject is looked for in the view."""


def heads_cut(promo: Promo, format: Format, measure: Measure, *, by_rule: bool = True) -> float:
    """Which share of the subjects of clips lies outside the view in a format, on average over those of which one is
    known; with `by_rule` false as a view of the middle would show them. A subject counts as wide and high as `ROOM`,
    in shares of its picture."""
    shares = []
    for clip in promo.clips:
        media = promo.media.get(clip.media or "")
        if media is None or media.subject is None or "framed" not in clip.content.traits:
            continue
        moments = (clip.into + clip.length * n // LOOKS for n in range(LOOKS))
        found = [share for at in moments if (share := _cut(promo, clip, format, measure, at, by_rule)) is not None]
        shares += [fmean(found)] if found else []
    return round(fmean(shares), 6) if shares else 0.0


def _cut(promo: Promo, clip: Clip, format: Format, measure: Measure, at: int, by_rule: bool) -> float | None:
    lies = _lies(promo, clip, format, measure, at, by_rule)
    if lies is None:
        return None
    subject, picture = lies
    seen = 1.0
    for begin, size, start, length, side in (
        (subject.x, subject.width, picture.x, picture.width, format.canon[0]),
        (subject.y, subject.height, picture.y, picture.height, format.canon[1]),
    ):
        # What lies outside its own picture is no subject.
        first, last = max(begin, start), min(begin + size, start + length)
        inside = min(last, side) - max(first, 0.0)
        seen *= max(0.0, inside) / max(1e-6, last - first)
    return 1 - seen


def subject_box(promo: Promo, clip: Clip, format: Format, measure: Measure, at: int) -> Box | None:
    """Where in a format the subject of a clip is at a moment of its own time, as wide and high as `ROOM`; canonical.
    None where none is known."""
    media = promo.media.get(clip.media or "")
    if media is None or media.subject is None or "framed" not in clip.content.traits:
        return None
    lies = _lies(promo, clip, format, measure, at, True)
    return lies[0] if lies is not None else None


def _lies(promo: Promo, clip: Clip, format: Format, measure: Measure, at: int, by_rule: bool) -> tuple[Box, Box] | None:
    """Where the subject of a clip and its whole picture lie in a format; canonical."""
    media, source = promo.media[clip.media or ""], clip.source
    assert source is not None
    assert media.subject is not None
    moment = 0 if media.still else min(max(0, source.shown(at)), max(0, media.length - 1))
    shot = media.subject.shot_at(moment)
    if shot is None or not shot.first:
        return None
    left, top, right, bottom = crop_of(Seen(promo, clip, format, at, measure))
    wide, high = 1 - left - right, 1 - top - bottom
    framing = framing_of(promo, clip, format, at)
    if not by_rule and not clip.says("focus", format.id):
        framing = replace(framing, fit=clip.read("fit", format.id), focus=(0.5, 0.5))
    box = framed(framing, format, media.width * wide, media.height * high)
    across, down = along(shot.first, moment)
    made = []
    for spot, cut, left_of, start, length in (
        (across, left, wide, box.x, box.width), (down, top, high, box.y, box.height),
    ):  # fmt: skip
        size = ROOM / left_of * length
        made.append((start + (spot - cut) / left_of * length - size / 2, size))
    return Box(made[0][0], made[1][0], made[0][1], made[1][1]), box
