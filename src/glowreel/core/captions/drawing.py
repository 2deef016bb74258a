"""Captions in a frame: the cue that is on show as words with everything about them decided.

What is drawn is drawn as any words are; the design says how they look, and what becomes of the word that is being said.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from glowreel.core.anchor import Free
from glowreel.core.arrangement.heads import subject_box
from glowreel.core.brand import Brand
from glowreel.core.captions.designs import CAPTION_DESIGNS, CaptionDesign
from glowreel.core.captions.keywords import emoji_after, is_key
from glowreel.core.captions.model import Captions
from glowreel.core.captions.shown import Shown, cue_at, lane_on_show, lines, texts
from glowreel.core.content.seen import Seen
from glowreel.core.content.words import WORDS
from glowreel.core.document import Item, Promo
from glowreel.core.formats import CANON, Format, shape_of
from glowreel.core.layout import MARGIN, Box, Measure, common, in_safe_area
from glowreel.core.recipe.model import Op
from glowreel.core.remembered import Remembered
from glowreel.core.speech.heard import Heard
from glowreel.core.speech.transcript import MILLISECOND, Word
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline

USUAL_SIZE = {"wide": 0.054, "square": 0.052, "tall": 0.054}
"""The size of letters, of the frame's short side, by shape."""
LOWEST, HIGHEST = (0.5, 1.0), (0.5, 0.0)
_items: Remembered[Item] = Remembered(400)


def caption_ops(promo: Promo, format: Format, time: int, measure: Measure) -> list[Op]:
    """What is drawn of the captions at a time, in front of everything else."""
    lane = lane_on_show(promo)
    cue = cue_at(promo, lane, time) if lane is not None else None
    if lane is None or cue is None:
        return []
    seen = _seen(promo, lane, cue, format, time, measure)
    drawn = WORDS.draws(seen) if seen is not None and WORDS.draws is not None else None
    return list(drawn.ops) if drawn is not None else []


SAMPLE = ("Fly", "at", "first", "light")


def sample_ops(design: str, brand: Brand, format: Format, measure: Measure) -> list[Op]:
    """A design as it looks while the third of four words is said: for choosing one."""
    words = [Word(text, 400 * place, 400 * place + 380, 100) for place, text in enumerate(SAMPLE)]
    said = tuple(
        Heard("card", "card", place, word, word.start * MILLISECOND, word.end * MILLISECOND)
        for place, word in enumerate(words)
    )
    lane = Captions(id="card", language="en", design=design, keys=False, values={"pin": (0.5, 0.5), "size": 0.3})
    if CAPTION_DESIGNS[design].shows == "word":
        lane = lane.changed(values={"pin": (0.5, 0.5), "size": 0.42})
    cue = Shown(0, said[-1].end, said)
    promo = Promo(id="card", name="Card", formats=(format,), brand=brand)
    seen = _seen(promo, lane, cue, format, 1000 * MILLISECOND, measure)
    drawn = WORDS.draws(seen) if seen is not None and WORDS.draws is not None else None
    return list(drawn.ops) if drawn is not None else []


def _seen(promo: Promo, lane: Captions, cue: Shown, format: Format, time: int, measure: Measure) -> Seen | None:
    design = CAPTION_DESIGNS[lane.design]
    now = _said_now(cue, time)
    if design.shows == "word" and now is None and cue.words:
        return None
    changing = design.shows != "cue" or bool(design.now)
    high = _height(promo, lane, cue, format, measure)
    item = _items.of(
        (promo, lane, format), (cue.name, cue.start, now if changing else None),
        lambda: _item(promo, lane, cue, format, design, now, high),
    )  # fmt: skip
    return Seen(promo, item, format, time - cue.start, measure, lasts=cue.end - cue.start)


def _said_now(cue: Shown, time: int) -> int | None:
    """The place in a cue of the word that is being said, or was said last."""
    found = None
    for place, one in enumerate(cue.words):
        if one.start <= time:
            found = place
    return found if found is not None or not cue.words else 0


def _item(
    promo: Promo, lane: Captions, cue: Shown, format: Format, design: CaptionDesign, now: int | None,
    height: tuple[tuple[float, float], float],
) -> Item:  # fmt: skip
    said = texts(cue)
    rows = lines(cue, [format])
    chosen = list(range(len(said)))
    if design.shows == "word" and now is not None:
        chosen, rows = [now], [(now, now + 1)]
    elif design.shows == "grows" and now is not None:
        chosen = list(range(now + 1))
        rows = [(a, min(b, now + 1)) for a, b in rows if a <= now]
    text, runs = "", []
    for a, b in rows:
        text += "\n" if text else ""
        for place in range(a, b):
            text += " " if place > a else ""
            start = len(text)
            text += said[place]
            runs.append((place, start, len(text)))
            mark = emoji_after(said[place]) if lane.emoji else ""
            text += f"\u00a0{mark}" if mark else ""
    values = _values(promo, lane, format, design, len(rows), height)
    values["text"] = text
    made = [run for place, start, end in runs if (run := _run(promo, lane, cue, design, place, now, start, end))]
    if made:
        values["runs"] = made[:60]
    if design.way and cue.words:
        times = [max(0.0, (cue.words[place].start - cue.start) / TICKS_PER_SECOND) for place in chosen]
        last = max(times[-1], (cue.words[chosen[-1]].end - cue.start) / TICKS_PER_SECOND)
        values |= {"pieces": design.way, "pieces_by": "word", "pieces_times": [*times, last],
                   "pieces_colour": design.colour, "pieces_length": max(1, cue.end - cue.start)}  # fmt: skip
    return Item(
        id="captions", kind="words", length=max(1, cue.end - cue.start), anchor=Free(at=cue.start), values=values
    )  # fmt: skip


def _run(
    promo: Promo, lane: Captions, cue: Shown, design: CaptionDesign, place: int, now: int | None, start: int, end: int
) -> dict[str, Any]:
    """How a word differs from the rest: because it is being said, or because it is a key word; nothing for most."""
    word = cue.words[place].word if cue.words else None
    if design.now and place == now and word is not None:
        return {"start": start, "end": end, **_read(promo, design.now)}
    if word is None or "plain" in word.marks:
        return {}
    if "key" in word.marks or (lane.keys and is_key(word.text, promo.brand.name)):
        return {"start": start, "end": end, **_read(promo, design.key)}
    return {}


def _read(promo: Promo, values: Mapping[str, Any]) -> dict[str, Any]:
    """Values with the role of colour that reads best on another one (`on-accent`) in this brand."""
    return {name: promo.brand.reading(value) if isinstance(value, str) else value for name, value in values.items()}


def _values(
    promo: Promo, lane: Captions, format: Format, design: CaptionDesign, rows: int,
    height: tuple[tuple[float, float], float],
) -> dict[str, Any]:  # fmt: skip
    """The properties of the words: of the design, of the lane, and of the lane in this format."""
    values = _read(promo, {name: value for name, value in design.values.items() if name != "size_by"})
    own = {**lane.values, **lane.values_in.get(format.id, {})}
    usual = USUAL_SIZE[shape_of(format.wide, format.high)] * float(design.values.get("size_by", 1.0))
    pin, push = height
    size = float(own.get("size", usual))
    # Two lines as a rule; more only where somebody said so, or a word is very long.
    values |= {"size": size, "align": "centre", "pin": pin, "place": (0.0, push), "by_rule": False,
               "wrap": round(format.canon[0] / CANON - 2 * MARGIN, 4), "suits": "shrink",
               "tall": round(size * 1.35 * max(1, rows) + 0.01, 4), "least": min(size, format.least_letters),
               "upright": "bottom" if pin[1] > 0.6 else "top" if pin[1] < 0.4 else "middle"}  # fmt: skip
    return {**values, **own, "size": size, "pin": pin, "place": own.get("place", (0.0, push))}


def _height(
    promo: Promo, lane: Captions, cue: Shown, format: Format, measure: Measure
) -> tuple[tuple[float, float], float]:
    """Where a cue is pinned, and how far it is pushed from there: where it was put, else low in the safe area, else
    above it where somebody's face is."""
    for stretch in lane.stretches:
        if any(one.media == stretch.media and stretch.first <= one.number <= stretch.last for one in cue.words):
            return (0.5, stretch.height), in_safe_area(format, (0.5, stretch.height))[1]
    own = {**lane.values, **lane.values_in.get(format.id, {})}
    if "pin" in own:
        pin = (float(own["pin"][0]), float(own["pin"][1]))
        return pin, in_safe_area(format, pin)[1]
    low = in_safe_area(format, LOWEST)[1]
    face = _face(promo, cue, format, measure)
    if face is not None:
        wide, high = format.canon
        tall = 2.7 * CANON * USUAL_SIZE[shape_of(format.wide, format.high)]
        below = Box(0.1 * wide, high + low * CANON - tall, 0.8 * wide, tall)
        above = Box(0.1 * wide, in_safe_area(format, HIGHEST)[1] * CANON, 0.8 * wide, tall)
        if common(below, face) > 0.3 * face.width * face.height and common(above, face) < common(below, face):
            return HIGHEST, in_safe_area(format, HIGHEST)[1]
    return LOWEST, low


_faces: Remembered[tuple[Box | None]] = Remembered(400)


def _face(promo: Promo, cue: Shown, format: Format, measure: Measure) -> Box | None:
    """Where the subject of the picture under a cue is, in its middle; canonical."""

    def look() -> tuple[Box | None]:
        index = timeline(promo)
        at = (cue.start + cue.end) // 2
        clip = index.clip_at(at)
        if clip is None:
            return (None,)
        return (subject_box(promo, clip, format, measure, clip.into + at - index.clip_span[clip.id].start),)

    return _faces.of((promo, format), (cue.start, cue.end), look)[0]
