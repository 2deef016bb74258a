"""Bringing parts made at one frame rate on to the grid of another.

```
25 frames/s   |-A 2.00-|-B 1.04-|      →  30   |-A 2.00-|-B 1.0333-|    cuts go to the nearest frame
```
Cuts are rounded where they lie in time, not length by length, so that rounding never adds up. Every clip keeps at least
one frame, and no more than its media holds. Layers follow to the nearest frame; sounds stay on samples.
"""

from __future__ import annotations

from collections.abc import Iterable

from glowreel.core.commands.trim import fitted_clip, fitted_item, grid_of, on_grid
from glowreel.core.document import Clip, Edge, Free, Item, Note, Promo, Tied, Track, Transition
from glowreel.core.errors import Refusal
from glowreel.core.fragment import Fragment
from glowreel.core.setting import APart
from glowreel.core.time import TICKS_PER_SAMPLE, Rate


def conformed_clips(clips: Iterable[Clip], promo: Promo) -> list[Clip]:
    """The clips, one after another, with whole frames of the promo's rate."""
    result, before, behind = [], 0, 0
    for clip in clips:
        behind += clip.length
        wanted = promo.rate.snap(behind) - promo.rate.snap(before)
        length = fitted_clip(promo, clip, max(1, wanted), "end")
        result.append(clip if length == clip.length else _slipped(promo, clip.changed(length=length)))
        before = behind
    return result


def _slipped(promo: Promo, part: APart) -> APart:
    """The part beginning where it must in its material so that all its length is there. A longer frame may need it."""
    media, source = promo.media.get(part.media or ""), part.source
    if media is None or source is None or not media.length:
        return part
    first, last = source.range(part.into, part.length)
    by = max(-first, 0) + min(0, media.length - last)
    return part.changed(source=source.changed(at=source.at + by)) if by else part


def conformed_item(item: Item, promo: Promo) -> Item:
    """A layer on the frame grid, or a sound on samples; what lasts for the whole promo follows it anyway."""
    rate, anchor = promo.rate, item.anchor
    start = anchor.at if isinstance(anchor, Free) else anchor.offset if isinstance(anchor, Tied) else 0
    begins = start if item.content.fine else on_grid(promo, item, start)
    changes: dict[str, object] = {}
    if isinstance(anchor, Free) and begins != start:
        changes["anchor"] = anchor.changed(at=begins)
    if isinstance(anchor, Tied) and begins != start:
        changes["anchor"] = anchor.changed(offset=begins)
    wanted = item.length if item.content.fine else rate.snap(start + item.length) - begins
    length = _lasting(promo, item, max(1, wanted))
    if item.content.fine and 0 <= item.length - length < TICKS_PER_SAMPLE:
        # A sound that was cut with footage ends where that does, within a sample.
        length = item.length
    if length == item.length:
        return item.changed(**changes) if changes else item
    return _slipped(promo, item.changed(length=length, **changes))


def _lasting(promo: Promo, item: Item, wanted: int) -> int:
    """The length nearest to the wanted one that an item can have; one unit where its material is shorter than that."""
    try:
        return fitted_item(promo, item, item.length, wanted, "end")
    except Refusal:
        return grid_of(promo, item)


def conformed_transition(transition: Transition, rate: Rate) -> Transition:
    """A transition with the same number of whole frames on either side of its cut."""
    length = 2 * max(rate.frame, rate.snap(transition.length // 2))
    return transition if length == transition.length else transition.changed(length=length)


def _tracks(tracks: tuple[Track, ...], promo: Promo) -> tuple[Track, ...]:
    return tuple(t.changed(items=tuple(conformed_item(i, promo) for i in t.items)) for t in tracks)


def conformed(fragment: Fragment, promo: Promo) -> Fragment:
    """A fragment on the grid of the promo that it is to be put in, which must know its media."""
    clips = iter(conformed_clips(fragment.clips, promo))
    return fragment.changed(
        scenes=tuple(s.changed(clips=tuple(next(clips) for _ in s.clips)) for s in fragment.scenes),
        layers=_tracks(fragment.layers, promo),
        sounds=_tracks(fragment.sounds, promo),
        transitions=tuple(conformed_transition(t, promo.rate) for t in fragment.transitions),
    )


def at_rate(promo: Promo, rate: Rate) -> Promo:
    """The promo at another frame rate, everything on its grid."""
    bare = promo.changed(rate=rate, layers=(), sounds=(), notes=(), transitions=())
    clips = iter(conformed_clips(promo.clips, bare))
    scenes = tuple(s.changed(clips=tuple(next(clips) for _ in s.clips)) for s in promo.scenes)
    made = promo.changed(rate=rate, scenes=scenes)

    def edge(old: Edge | None) -> Edge | None:
        return old and old.changed(length=max(rate.frame, rate.snap(old.length)))

    return made.changed(
        layers=_tracks(promo.layers, made),
        sounds=_tracks(promo.sounds, made),
        transitions=tuple(conformed_transition(t, rate) for t in promo.transitions),
        notes=tuple(_note(note, rate) for note in promo.notes),
        opens=edge(promo.opens),
        closes=edge(promo.closes),
    )


def _note(note: Note, rate: Rate) -> Note:
    anchor = note.anchor
    if isinstance(anchor, Tied):
        return note.changed(anchor=anchor.changed(offset=rate.snap(anchor.offset)))
    return note.changed(anchor=anchor.changed(at=rate.snap(anchor.at)))
