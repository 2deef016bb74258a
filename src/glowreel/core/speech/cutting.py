"""Where a promo is cut when words go: in the quiet between them, on the frame grid.

```
words     |dawn|      |um|  |flights|
quiet          ...^...    .^.               within it, nearest to the quietest moment
removed            |======|
```
Where words run into one another there is no quiet; the frame nearest to where one becomes the other is taken.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from itertools import pairwise

from glowreel.core.document import Clip, Item, Part, Promo
from glowreel.core.speech.fillers import Pause
from glowreel.core.speech.heard import Heard, moment_of
from glowreel.core.speech.transcript import MILLISECOND
from glowreel.core.time import Rate
from glowreel.core.timeline import timeline

Range = tuple[int, int]
LINGERS = 250 * MILLISECOND
"""So much after its last word leaves with it, where nothing else is said."""


def ranges_of(promo: Promo, words: Sequence[Heard], keys: Collection[str]) -> list[Range]:
    """The stretches of a promo that leave with words of it, by their keys: ticks on the frame grid, in order, apart
    from one another. Words that follow one another leave as one."""
    index = timeline(promo)
    found: list[Range] = []
    place = 0
    while place < len(words):
        if words[place].key not in keys:
            place += 1
            continue
        last = place
        while last + 1 < len(words) and words[last + 1].key in keys:
            last += 1
        start = boundary(promo, words[place - 1] if place else None, words[place])
        follows = words[last + 1] if last + 1 < len(words) else None
        end = boundary(promo, words[last], follows, leaving=False)
        start, end = max(0, start), min(end, promo.rate.frame_start(promo.rate.frame_ceil(index.length)))
        if end > start:
            found.append((start, end))
        place = last + 1
    return joined_ranges(found)


def boundary(promo: Promo, before: Heard | None, behind: Heard | None, *, leaving: bool = True) -> int:
    """The frame edge at which a promo is cut between two words that are heard one after the other; before the first,
    or after the last, where one of them is missing. What leaves is the one behind, unless `leaving` says that it is
    the one before."""
    index, rate = timeline(promo), promo.rate
    if before is not None and behind is not None and before.part != behind.part and before.end > behind.start:
        # Somebody else speaks at the same time: only the voice counts that is cut.
        before, behind = (None, behind) if leaving else (before, None)
    if behind is None:
        assert before is not None
        end = index.span_of(outer_part(promo, before)).end
        return quietest(rate, before.end, max(before.end, end), min(end, before.end + LINGERS))
    wanted = quiet_before(promo, behind)
    part = index.span_of(outer_part(promo, behind))
    if before is None:
        return quietest(rate, min(part.start, behind.start), behind.start, wanted)
    low = before.end
    # Where another part begins between the two, its edge is a cut already: nothing of it is left over.
    if before.part != behind.part and before.end <= part.start <= behind.start:
        low, wanted = part.start, part.start
    return quietest(rate, low, behind.start, wanted)


def quiet_before(promo: Promo, word: Heard) -> int | None:
    """The quietest moment before a word, in ticks of the promo, where it is in the same part."""
    part = _part(promo, word)
    start = timeline(promo).span_of(outer_part(promo, word)).start
    if part.source is None:
        return None
    at = word.word.quiet * MILLISECOND
    return start + moment_of(part.source, part.into, part.length, at)


def quietest(rate: Rate, low: int, high: int, wanted: int | None) -> int:
    """The frame edge between two times nearest to the wanted one, or to their middle; where there is no edge between
    them, the nearest one."""
    if wanted is None:
        wanted = (low + high) // 2
    aim = max(low, min(high, wanted)) if low <= high else (low + high) // 2
    nearest = rate.snap(aim)
    if low <= nearest <= high or low > high:
        return nearest
    frame = rate.frame_floor(aim)
    inside = [edge for edge in (rate.frame_start(frame), rate.frame_start(frame + 1)) if low <= edge <= high]
    return min(inside, key=lambda edge: abs(edge - aim), default=nearest)


def joined_ranges(ranges: Sequence[Range]) -> list[Range]:
    """The same without overlaps: what meets is one."""
    made: list[Range] = []
    for start, end in sorted(ranges):
        if made and start <= made[-1][1]:
            made[-1] = made[-1][0], max(made[-1][1], end)
        else:
            made.append((start, end))
    return made


def shortened(rate: Rate, pauses: Sequence[Pause], to: int) -> list[Range]:
    """The stretches that leave where pauses become so short (milliseconds): from their middle, so that a breath before
    the next word and the end of the last one stay."""
    found = []
    for pause in pauses:
        keep = to * MILLISECOND // 2
        start = rate.frame_start(rate.frame_ceil(pause.after.end + keep))
        end = rate.frame_start(rate.frame_floor(pause.before.start - keep))
        if end > start:
            found.append((start, end))
    return joined_ranges(found)


def between(words: Sequence[Heard], keys: Collection[str]) -> list[Pause]:
    """The pauses after words, by their keys."""
    return [Pause(one, other) for one, other in pairwise(words) if one.key in keys]


def _part(promo: Promo, word: Heard) -> Part:
    index = timeline(promo)
    if word.part in index.clip or word.part in index.item:
        return index.find_part(word.part)
    return next(cell for clip in promo.clips for cell in clip.inner if cell.id == word.part)


def outer_part(promo: Promo, word: Heard) -> Clip | Item:
    """The part on a track in which a word is heard: the collage, where it is one of its cells."""
    index = timeline(promo)
    if word.part in index.clip or word.part in index.item:
        return index.clip.get(word.part) or index.item[word.part]
    return next(clip for clip in promo.clips if any(cell.id == word.part for cell in clip.inner))
