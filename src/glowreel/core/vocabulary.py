"""What each kind of transition and of coming and going means, in one line. What they draw is in `core.recipe`, under
the first word of their names; a test fails where one is undrawn."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator

TRANSITIONS: dict[str, str] = {
    "crossfade": "one clip fades into the next",
    "dip-black": "fades to black, then from black",
    "dip-white": "fades to white, then from white",
    "blur": "both blur where they fade into one another",
    "zoom": "moves into the first and out of the second",
    "spin": "both turn while they fade",
    "iris": "the second opens as a circle from the middle",
    "push-left": "the second comes from the right and pushes the first out",
    "push-right": "the second comes from the left and pushes the first out",
    "push-up": "the second comes from below and pushes the first out",
    "push-down": "the second comes from above and pushes the first out",
    "wipe-left": "an edge moves to the left and uncovers the second",
    "wipe-right": "an edge moves to the right and uncovers the second",
    "wipe-up": "an edge moves up and uncovers the second",
    "wipe-down": "an edge moves down and uncovers the second",
    "slide-left": "the second comes to lie over the first, from the right",
    "slide-right": "the second comes to lie over the first, from the left",
    "slide-up": "the second comes to lie over the first, from below",
    "slide-down": "the second comes to lie over the first, from above",
}

MOTIONS: dict[str, str] = {
    "none": "there at once, gone at once",
    "fade": "fades",
    "rise": "comes up a little while it fades in, and goes on up while it fades out",
    "blur": "comes out of a blur and goes into one",
    "zoom": "grows into its size and out of it",
    "shrink": "comes large out of nowhere and shrinks into its size; goes the same way",
    "pop": "grows from nothing, a little too large, and springs back",
    "drop": "falls in from above and bounces, falls out of the frame",
    "spin": "turns into its place and out of it",
    "roll": "rolls in from the nearer side and out again",
    "flip": "turns like a card, from its edge to its face",
    "unfold": "opens downwards from its upper edge",
    "iris": "opens and closes as a circle",
    "wipe-left": "an edge that moves to the left uncovers or covers it",
    "wipe-right": "an edge that moves to the right uncovers or covers it",
    "wipe-up": "an edge that moves up uncovers or covers it",
    "wipe-down": "an edge that moves down uncovers or covers it",
    "slide-left": "comes in from the right, goes out to the left",
    "slide-right": "comes in from the left, goes out to the right",
    "slide-up": "comes in from below, goes out upwards",
    "slide-down": "comes in from above, goes out downwards",
}


STAYS: dict[str, str] = {
    "none": "stays as it is",
    "pulse": "grows a little and back, like a heart",
    "float": "rises and sinks slowly",
    "sway": "swings to either side",
    "wobble": "turns and swells a little, out of step",
    "drift": "moves slowly to the right",
    "blink": "comes and goes",
    "shake": "trembles",
    "slow-zoom": "grows slowly as long as it is there",
}
"""What a layer does while it is on show."""

BLENDS: dict[str, str] = {
    "normal": "lies over it",
    "multiply": "darkens by its own darkness, as two slides in one frame do",
    "screen": "lightens by its own light, as two projectors on one wall do",
    "overlay": "multiplies the dark parts behind it, screens the light ones",
    "soft-light": "the same, gently",
    "hard-light": "the same, by what is dark and light of itself",
    "add": "the sum of both",
    "lighten": "the lighter of both",
    "darken": "the darker of both",
    "difference": "how far both are from one another",
    "colour": "its hue and saturation, with the brightness of what lies behind",
}
"""How a layer is mixed with what lies behind it (W3C Compositing and Blending; `add` is its `plus-lighter`)."""


def _known(kind: str) -> str:
    if kind not in TRANSITIONS:
        raise ValueError(f"there is no transition called “{kind}”")
    return kind


TransitionKind = Annotated[str, AfterValidator(_known)]
"""What happens on a cut. A direction says which way things move: a push to the left brings the next clip from the
right; in a wipe its edge moves that way; in a slide the next clip comes to lie over the one before."""
