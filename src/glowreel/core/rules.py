"""States that no promo may be in, beyond what its types say. Checked for every document that is read, whoever wrote it.
No command leaves one: `normalise` sees to that, and the random editor of the tests looks for it."""

from __future__ import annotations

from collections.abc import Callable

from glowreel.core.document import Part, Promo, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.timeline import timeline


def _one_transition_on_a_cut(promo: Promo) -> bool:
    index = timeline(promo)
    after = [transition.after for transition in promo.transitions]
    layers = {before.id for track in promo.layers for before, _ in index.joined(track)}
    return len(set(after)) == len(after) and all(key in index.clip or key in layers for key in after)


def _tracks_hold_their_own(promo: Promo) -> bool:
    lanes = ((promo.clips, "main"), *((track.items, "layer") for track in promo.layers))
    lanes += tuple((track.items, "sound") for track in promo.sounds)
    return all(part.content.lane == lane for parts, lane in lanes for part in parts)


def _ties_hold(promo: Promo) -> bool:
    clips = timeline(promo).clip
    anchors = [item.anchor for item in promo.items] + [note.anchor for note in promo.notes]
    anchors += [cue.anchor for lane in promo.captions for cue in lane.cues]
    return all(anchor.clip in clips for anchor in anchors if isinstance(anchor, Tied))


def _nothing_meets(promo: Promo) -> bool:
    index = timeline(promo)
    for track in (*promo.layers, *promo.sounds):
        spans = sorted((index.item_span(item) for item in track.items), key=lambda span: span.start)
        if any(later.start < earlier.end for earlier, later in zip(spans, spans[1:], strict=False)):
            return False
    return True


def _fits(promo: Promo, part: Part) -> bool:
    if not all(_fits(promo, inner) for inner in getattr(part, "cells", ())):
        return False
    for name, fill in part.fills.items():
        media = promo.media[fill.media]
        if not (media.kind == "look" if name == "filter" else media.pictured):
            return False
    if part.source is None:
        return True
    media = promo.media[part.source.media]
    inside = media.still or part.source.speed is not None or part.source.at + part.into >= 0
    return inside and part.content.takes(media)


def _material_fits(promo: Promo) -> bool:
    return all(_fits(promo, part) for part in (*promo.clips, *promo.items))


def _on_whole_frames(promo: Promo) -> bool:
    rate, index, now = promo.rate, timeline(promo), 0
    for clip in promo.clips:
        now += clip.length
        if rate.snap(now) != now:
            return False
    timed = (item for item in promo.items if not item.content.fine and not isinstance(item.anchor, Whole))
    spans = (index.item_span(item) for item in timed)
    return all(rate.snap(span.start) == span.start and rate.snap(span.end) == span.end for span in spans)


def _slots_name_parts(promo: Promo) -> bool:
    index = timeline(promo)
    return all(slot.part in index.clip or slot.part in index.item for slot in promo.slots)


RULES: dict[str, Callable[[Promo], bool]] = {
    "a cut has one transition at most": _one_transition_on_a_cut,
    "the main track holds clips, layer tracks layers and sound tracks sounds": _tracks_hold_their_own,
    "what is tied is tied to a clip that is there": _ties_hold,
    "items on a track never meet": _nothing_meets,
    "a clip, a layer and a sound have material of their kind, and begin inside it": _material_fits,
    "what is to be filled is there": _slots_name_parts,
    "clips and layers begin and end on whole frames": _on_whole_frames,
}
"""In the order in which they are checked: the later ones rely on the earlier ones."""


def check_rules(promo: Promo) -> Promo:
    """The promo, if it keeps every rule; a refusal that names the one it breaks otherwise."""
    for rule, kept in RULES.items():
        if not kept(promo):
            raise Refusal("broken-rule", f"That would not leave a valid promo: {rule}.")
    return promo
