"""States that no promo may be in, beyond what its types say. Checked for every document that is read, whoever wrote it.
No command leaves one: `normalise` sees to that, and the random editor of the tests looks for it."""

from __future__ import annotations

from collections.abc import Callable

from glowreel.core.document import Clip, Item, Promo, Sound, Tied
from glowreel.core.errors import Refusal
from glowreel.core.timeline import timeline


def _one_transition_on_a_cut(promo: Promo) -> bool:
    after = [transition.after for transition in promo.transitions]
    return len(set(after)) == len(after) and set(after) <= set(timeline(promo).clip)


def _tracks_hold_their_own(promo: Promo) -> bool:
    layers = all(not isinstance(item.content, Sound) for track in promo.layers for item in track.items)
    return layers and all(isinstance(item.content, Sound) for track in promo.sounds for item in track.items)


def _ties_hold(promo: Promo) -> bool:
    clips = timeline(promo).clip
    anchors = [item.anchor for item in promo.items] + [note.anchor for note in promo.notes]
    return all(anchor.clip in clips for anchor in anchors if isinstance(anchor, Tied))


def _nothing_meets(promo: Promo) -> bool:
    index = timeline(promo)
    for track in (*promo.layers, *promo.sounds):
        spans = sorted((index.item_span(item) for item in track.items), key=lambda span: span.start)
        if any(later.start < earlier.end for earlier, later in zip(spans, spans[1:], strict=False)):
            return False
    return True


def _clip_fits(promo: Promo, clip: Clip) -> bool:
    return clip.media is None or promo.media[clip.media].kind == clip.kind


def _item_fits(promo: Promo, item: Item) -> bool:
    if item.media is None:
        return True
    media = promo.media[item.media]
    return media.sounding if isinstance(item.content, Sound) else media.kind != "sound"


def _material_fits(promo: Promo) -> bool:
    clips = all(_clip_fits(promo, clip) for clip in promo.clips)
    return clips and all(_item_fits(promo, item) for item in promo.items)


RULES: dict[str, Callable[[Promo], bool]] = {
    "a cut has one transition at most": _one_transition_on_a_cut,
    "layers hold no sounds, and sound tracks nothing else": _tracks_hold_their_own,
    "what is tied is tied to a clip that is there": _ties_hold,
    "items on a track never meet": _nothing_meets,
    "a clip, a layer and a sound have material of their kind": _material_fits,
}
"""In the order in which they are checked: the later ones rely on the earlier ones."""


def check_rules(promo: Promo) -> Promo:
    """The promo, if it keeps every rule; a refusal that names the one it breaks otherwise."""
    for rule, kept in RULES.items():
        if not kept(promo):
            raise Refusal("broken-rule", f"That would not leave a valid promo: {rule}.")
    return promo
