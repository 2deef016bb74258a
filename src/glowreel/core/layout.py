"""Layout rules: from relations to rectangles. All lengths in canonical units (the frame's short side is 1080).

Boxes given by gestures are in fractions of the short side; `Box` says which by how it is used.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Protocol

from glowreel.core.formats import CANON, Format
from glowreel.core.place import Framing, Place
from glowreel.core.words import Words


class Measure(Protocol):
    """Measures laid-out words: width and height in canonical units. The engine's; pure and repeatable."""

    def __call__(self, words: Words, size: float, wrap: float) -> tuple[float, float]: ...


MARGIN = 0.045
"""Words wrap at least this far from either side of the frame, in fractions of the short side."""


@dataclass(frozen=True)
class Box:
    x: float
    y: float
    width: float
    height: float


def common(one: Box, other: Box) -> float:
    """The area that two boxes have in common."""
    wide = min(one.x + one.width, other.x + other.width) - max(one.x, other.x)
    high = min(one.y + one.height, other.y + other.height) - max(one.y, other.y)
    return max(0.0, wide) * max(0.0, high)


def wrap_width(place: Place, format: Format) -> float:
    """Width at which words break: as asked, but inside the frame's margins where the frame is narrower. Canonical."""
    frame_width, _ = format.canon
    return max(CANON * 0.1, min(place.wrap * CANON, frame_width - 2 * MARGIN * CANON))


def picture_size(place: Place, width: int, height: int) -> tuple[float, float]:
    """Size of a picture layer whose longer side is `place.size` of the frame's short side. Canonical."""
    longer = max(width, height, 1)
    scale = place.size * CANON / longer
    return max(1, width) * scale, max(1, height) * scale


def placed(place: Place, format: Format, width: float, height: float) -> Box:
    """Where an item of a size lies in a format: its pin on the frame's pin, and its push. Canonical."""
    frame_width, frame_height = format.canon
    x = place.pin[0] * frame_width + place.push[0] * CANON - place.pin[0] * width
    y = place.pin[1] * frame_height + place.push[1] * CANON - place.pin[1] * height
    return Box(x, y, width, height)


def _within(push: float) -> float:
    return max(-8.0, min(8.0, push))


def _third(position: float) -> float:
    return 0.0 if position < 1 / 3 else 1.0 if position > 2 / 3 else 0.5


def pinned(box: Box, format: Format, old: Place) -> Place:
    """The inverse of `placed`: pinned in the third of the frame where the box's middle lies, the rest as a push.

    `box` is in fractions of the short side. An item dropped near a corner thus stays near it in every format.
    """
    frame_width, frame_height = (side / CANON for side in format.canon)
    pin_x = _third((box.x + box.width / 2) / frame_width)
    pin_y = _third((box.y + box.height / 2) / frame_height)
    dx = box.x + pin_x * box.width - pin_x * frame_width
    dy = box.y + pin_y * box.height - pin_y * frame_height
    return replace(old, pin=(pin_x, pin_y), push=(_within(dx), _within(dy)))


def pushed(box: Box, format: Format, old: Place) -> Place:
    """The same, with the pin as it is: only the push changes."""
    frame_width, frame_height = (side / CANON for side in format.canon)
    across = box.x + old.pin[0] * box.width - old.pin[0] * frame_width
    down = box.y + old.pin[1] * box.height - old.pin[1] * frame_height
    return replace(old, push=(_within(across), _within(down)))


def in_safe_area(format: Format, spot: tuple[float, float]) -> tuple[float, float]:
    """How far an item pinned to one of nine points is pushed to lie in the safe area; fractions of the short side."""
    width, height = (side / CANON for side in format.canon)
    left, top, right, bottom = format.safe
    across = left * (1 - spot[0]) - right * spot[0]
    down = top * (1 - spot[1]) - bottom * spot[1]
    return _within(across * width), _within(down * height)


def framed(framing: Framing, format: Format, width: float, height: float) -> Box:
    """The rectangle a main-track picture is drawn into: covering the frame, or inside it. Canonical.

    When it is cropped, `focus` comes as near to the middle of the frame as the picture's edges allow. One that is made
    smaller than it must be lies where its focus says: at the left for 0, at the right for 1.
    """
    frame_width, frame_height = format.canon
    width, height = max(1, width), max(1, height)
    fits = (frame_width / width, frame_height / height)
    scale = (max(fits) if framing.fit == "fill" else min(fits)) * framing.zoom
    drawn_width, drawn_height = width * scale, height * scale
    free = framing.zoom < 1
    return Box(
        _along(frame_width, drawn_width, framing.focus[0], free),
        _along(frame_height, drawn_height, framing.focus[1], free),
        drawn_width,
        drawn_height,
    )


def refocused(box: Box, framing: Framing, format: Format, width: float, height: float) -> Framing:
    """The inverse of `framed`: the framing with which a picture is drawn into a box, canonical, as far as it can be."""
    frame = format.canon
    plain = framed(replace(framing, zoom=1.0, focus=(0.5, 0.5)), format, width, height)
    zoom = max(0.1, min(8.0, box.width / max(1.0, plain.width)))
    drawn = (plain.width * zoom, plain.height * zoom)
    starts = (box.x, box.y)
    focus = []
    for start, length, side, old in zip(starts, drawn, frame, framing.focus, strict=True):
        if abs(length - side) < 1e-6:
            focus.append(old)
        elif length < side:
            focus.append(start / (side - length) if zoom < 1 else old)
        else:
            # Where its edge is reached, the focus that just leads there.
            held = min(0.0, max(side - length, start))
            focus.append((side / 2 - held) / length)
    across, down = (round(max(0.0, min(1.0, value)), 6) for value in focus)
    return replace(framing, zoom=round(zoom, 4), focus=(across, down))


def cropped(rect: Box, width: int, height: int, focus: tuple[float, float] = (0.5, 0.5)) -> Box:
    """The rectangle into which a picture is drawn so that it covers another one; `focus`, in shares of the picture,
    comes as near to the middle of that as the picture's edges allow."""
    width, height = max(1, width), max(1, height)
    scale = max(rect.width / width, rect.height / height)
    wide, high = width * scale, height * scale
    across, down = _along(rect.width, wide, focus[0], False), _along(rect.height, high, focus[1], False)
    return Box(rect.x + across, rect.y + down, wide, high)


def inside(rect: Box, width: int, height: int) -> Box:
    """The rectangle into which a picture is drawn so that all of it is seen in another one, in its middle."""
    width, height = max(1, width), max(1, height)
    scale = min(rect.width / width, rect.height / height)
    wide, high = width * scale, height * scale
    return Box(rect.x + (rect.width - wide) / 2, rect.y + (rect.height - high) / 2, wide, high)


def _along(frame: float, drawn: float, focus: float, free: bool) -> float:
    """Start of the drawn picture along one axis."""
    if drawn <= frame:
        return (frame - drawn) * (focus if free else 0.5)
    return min(0.0, max(frame - drawn, frame / 2 - focus * drawn))
