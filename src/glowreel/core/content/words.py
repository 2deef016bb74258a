"""Words in front of the picture."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.pictures import filling, source_frame
from glowreel.core.content.seen import Seen
from glowreel.core.easing import eased
from glowreel.core.formats import CANON
from glowreel.core.layout import MARGIN, Box, Measure, placed, wrap_width
from glowreel.core.letters import LETTER_WAYS, Play, counted
from glowreel.core.recipe.model import Composite, DrawPicture, DrawWords, Fill, Op
from glowreel.core.time import seconds
from glowreel.core.words import Run, Shade, Words, cased

if TYPE_CHECKING:
    from glowreel.core.document import Part
    from glowreel.core.media import Media

STEP = 1.03
"""Sizes that are tried where words must fit their box: each so many times the one before."""
LARGEST = 8 * CANON


def _runs(seen: Seen, length: int) -> tuple[Run, ...]:
    """The parts in another manner, roles filled in; none of them beyond the end of the text."""
    made = []
    for run in seen("runs"):
        if run["start"] < length:
            made.append(Run(
                run["start"], min(length, run["end"]), seen.brand.font(run.get("font", "")), run.get("weight", 0),
                run.get("italic"), seen.brand.colour(run.get("colour", "")), run.get("size", 1.0),
                seen.brand.colour(run.get("mark", "")),
            ))  # fmt: skip
    return tuple(made)


def _shades(seen: Seen) -> tuple[Shade, ...]:
    far = seen("cast")
    if far <= 0:
        return ()
    angle = math.radians(seen("cast_angle"))
    across, down = round(far * math.cos(angle), 5), round(far * math.sin(angle), 5)
    return (Shade(across, down, seen("cast_soft"), seen.colour("cast_colour"), 1.0),)


def words_of(seen: Seen) -> Words:
    """The words of a part with every role filled in."""
    text = cased(seen("text"), seen("case"))
    return Words(
        text, seen.brand.font(seen("font")), seen("weight"), seen.colour("colour"), seen("align"),
        seen("line"), seen.colour("box"), seen("box_opacity"), seen("shadow"), seen("italic"), seen("spacing"),
        seen("box_of"), seen("box_pad"), seen("box_round"), seen.colour("second"), seen("fill_angle"),
        seen("outline"), seen.colour("outline_colour"), _shades(seen), seen("under"), seen.colour("under_colour"),
        seen("arc"), _runs(seen, len(text)),
    )  # fmt: skip


def size_that_suits(words: Words, size: float, wrap: float, tall: float, how: str, least: float,
                    measure: Measure) -> float:  # fmt: skip
    """The size of letters with which words suit a box: no larger than they are set where they shrink, as large as they
    can be where they fill it, and never smaller than `least`. All in canonical units."""

    def suits(tried: float) -> bool:
        # A word that is broken because it is wider than its line is too large as well.
        width, height = measure(words, tried, wrap)
        longest = max(words.text.split(), key=len, default="")
        alone = measure(replace(words, text=longest, runs=()), tried, LARGEST * 8)[0] if longest else 0.0
        return height <= tall + 1e-6 and max(width, alone) <= wrap + 1.0

    if how == "shrink" and suits(size):
        return size
    low, high = 0, max(0, math.ceil(math.log((size if how == "shrink" else LARGEST) / least) / math.log(STEP)))
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (middle, high) if suits(least * STEP**middle) else (low, middle - 1)
    return float(round(least * STEP**low, 3))


def _plays(seen: Seen) -> tuple[Play, ...]:
    """How its letters move at the moment."""
    if seen.resting:
        return ()
    comes, stays, goes = seen("pieces"), seen("pieces_stay"), seen("pieces_leave")
    since, lasts = seen.moment - seen.part.into, seen.lasts or seen.part.length
    usual = Play("", seen("pieces_by"), 1.0, seen("pieces_order"), seen("pieces_overlap"), ease=seen("pieces_ease"))
    found = []
    if comes in LETTER_WAYS:
        share = min(1.0, max(0.0, since / max(1, seen("pieces_length"))))
        way, times = LETTER_WAYS[comes], seen("pieces_times")
        colour = seen.colour("pieces_colour") if way.colour else ""
        if share < 1 or way.sweeps:
            now = seconds(max(0, since)) if times else round(share, 6)
            overlap = 0.0 if way.sweeps else usual.overlap
            found.append(replace(usual, way=comes, share=now, colour=colour, times=times, overlap=overlap))
    left = lasts - since
    if goes in LETTER_WAYS and left < seen("pieces_leave_length"):
        share = min(1.0, max(0.0, left / max(1, seen("pieces_leave_length"))))
        found.append(replace(usual, way=goes, share=round(share, 6), leaving=True))
    if stays != "none":
        now = round(seconds(max(0, since)), 6)
        found.append(replace(usual, way=stays, share=now, stays=True, strength=seen("pieces_strength")))
    return tuple(found)


def _said(seen: Seen, words: Words) -> Words:
    """The words with a number in them as far as it has counted."""
    if seen("pieces") != "count" or seen.resting:
        return words
    share = min(1.0, max(0.0, (seen.moment - seen.part.into) / max(1, seen("pieces_length"))))
    if share >= 1:
        return words
    return replace(words, text=counted(words.text, seen("pieces_from"), eased(seen("pieces_ease"), share)), runs=())


def _filled(seen: Seen, op: DrawWords) -> Op:
    """The words, of the picture that fills them where there is one."""
    source = seen.part.fills.get("letters_of") if seen("letters_of") == "picture" else None
    media = seen.promo.media.get(source.media) if source is not None else None
    if source is None or media is None or not media.pictured:
        return op
    box = filling(media, source, op.box, seen.moment)
    picture = DrawPicture(media.hash, media.still, source_frame(media, source, seen.moment), box, not media.alpha)
    bare = replace(op, words=replace(op.words, box="", shadow=0.0, shades=(), outline=0.0, under="none"))
    ground = (op,) if op.words != bare.words else ()
    inside = Composite((picture, Composite((bare,), blend="keep")), apart=True)
    return Composite((*ground, inside))


def _draws(seen: Seen) -> Drawn:
    place, words = seen.place, words_of(seen)
    size, wrap = place.size * CANON, wrap_width(place, seen.format)
    how, tall = seen("suits"), min(seen("tall") * CANON, seen.format.canon[1] - MARGIN * CANON)
    if how != "fixed":
        size = size_that_suits(words, size, wrap, tall, how, min(size, seen("least") * CANON), seen.measure)
    width, height = seen.measure(words, size, wrap)
    box = placed(place, seen.format, width, height if how == "fixed" else max(tall, height))
    lies = box
    if how != "fixed":
        share = {"top": 0.0, "middle": 0.5, "bottom": 1.0}[seen("upright")]
        lies = Box(box.x, box.y + (box.height - height) * share, width, height)
    op = DrawWords(_said(seen, words), size, wrap, lies, plays=_plays(seen))
    if not seen("sheet"):
        return Drawn((_filled(seen, op),), box, place.turn)
    # A sheet over the whole frame, out of which the letters are cut: what lies behind is seen through them.
    bare = replace(op, words=replace(op.words, box="", shadow=0.0, shades=()))
    middle = (box.x + box.width / 2, box.y + box.height / 2)
    letters = Composite((bare,), turn=place.turn, about=middle, blend="erase")
    return Drawn((Composite((Fill(seen.colour("sheet")), letters), apart=True),), box)


def _called(part: Part, media: Media | None) -> str:
    first = str(part.read("text")).strip().split("\n")[0] or "empty words"
    return f"“{first if len(first) <= 32 else first[:31] + '…'}”"


WORDS = Kind(
    "words", "Words", "words in front of the picture", "layer",
    frozenset({"seen", "placed", "words", "celled"}), frozenset(), _called, _draws,
)  # fmt: skip
