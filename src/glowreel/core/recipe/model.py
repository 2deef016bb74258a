"""The words of a recipe. Positions are canonical (short side 1080); the engine scales them to the output size."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

import orjson

from glowreel.core.derived import Need
from glowreel.core.layout import Box
from glowreel.core.letters import Play
from glowreel.core.words import Words


@dataclass(frozen=True, slots=True)
class Fill:
    """One colour over the whole frame."""

    colour: str
    opacity: float = 1.0


@dataclass(frozen=True, slots=True)
class Matte:
    """What of a picture is seen, as a maker found it: how far its edge is moved outwards and how soft it is, as shares,
    and whether only the largest piece of it is kept."""

    need: Need
    grow: float = 0.0
    soft: float = 0.0
    largest: bool = False


@dataclass(frozen=True, slots=True)
class Steady:
    """How shaky footage is held still: by the path that a maker found, by a share of it."""

    need: Need
    amount: float


@dataclass(frozen=True, slots=True)
class DrawPicture:
    """A frame of a source, or a photo, stretched to `box`, turned about its middle. `at` is source time in ticks.

    `crop` is what is cut off first, as shares of the whole: left, top, right, bottom; `flip` says whether it is
    mirrored from left to right and from top to bottom, after that. With a `matte`, only what that shows is seen; where
    it is not made yet, all of it. With `between`, frames come from what a maker made of the source, which has more of
    them; with `steady`, they are moved so that they stand still. Both have no effect as long as that is not made.
    """

    source: str
    still: bool
    at: int
    box: Box
    opaque: bool = True
    opacity: float = 1.0
    turn: float = 0.0
    crop: tuple[float, float, float, float] | None = None
    flip: tuple[bool, bool] = (False, False)
    matte: Matte | None = None
    between: Need | None = None
    steady: Steady | None = None


@dataclass(frozen=True, slots=True)
class Applied:
    """An effect with its parameters, by name."""

    kind: str
    values: tuple[tuple[str, Any], ...]


@dataclass(frozen=True, slots=True)
class DrawWords:
    """Words laid out at `size` canonical units, wrapped at `wrap`, their top left corner at the box's. `plays` are the
    ways in which their letters move at the moment (see `core.letters`)."""

    words: Words
    size: float
    wrap: float
    box: Box
    opacity: float = 1.0
    turn: float = 0.0
    plays: tuple[Play, ...] = ()


@dataclass(frozen=True, slots=True)
class DrawShape:
    """A rectangle of one colour, its corners rounded by a radius, or the ellipse in it."""

    box: Box
    colour: str
    radius: float = 0.0
    ellipse: bool = False
    opacity: float = 1.0


@dataclass(frozen=True, slots=True)
class DrawPath:
    """A path in a box: of the unit square where it is a `unit` one, else in canonical units from the box's corner.
    Filled with a colour, which may fade into a `second` one at an angle; with a line of a width along it, in dashes as
    long as so many of its widths, of which only the share `drawn` is there. A rectangle may have rounded corners."""

    path: str
    box: Box
    unit: bool
    colour: str
    second: str = ""
    angle: float = 90.0
    width: float = 0.0
    line: str = "#FFFFFF"
    dash: float = 0.0
    drawn: float = 1.0
    radius: float = 0.0
    opacity: float = 1.0


@dataclass(frozen=True, slots=True)
class DrawSticker:
    """A drawing that comes with the program, by its name, in a box; in one colour where there is a tint."""

    name: str
    box: Box
    tint: str = ""
    opacity: float = 1.0


@dataclass(frozen=True, slots=True)
class DrawWave:
    """Bars in a box, as high as what is heard is loud in so many bands, from low to high. `sound` is the span of sound
    that is looked at; without one they rest. Rounded by a radius; `gap` is the room between two, of a bar's width."""

    box: Box
    sound: SoundRecipe | None
    bars: int
    colour: str
    radius: float = 0.0
    gap: float = 0.6
    opacity: float = 1.0


@dataclass(frozen=True, slots=True)
class DrawGradient:
    """From one colour to another over the whole frame, straight; at 0° to the right, at 90° downwards. From colours
    that may be see-through (`opacities`)."""

    colours: tuple[str, str]
    angle: float
    opacities: tuple[float, float] = (1.0, 1.0)
    opacity: float = 1.0
    box: Box | None = None


@dataclass(frozen=True, slots=True)
class DrawPattern:
    """A tile repeated over the whole frame, filled or drawn as a line: `tile` units wide, `ratio` as high as wide,
    turned by an angle about the middle of the frame. The path is in a tile of one by one, the line's width in tiles."""

    path: str
    width: float
    ratio: float
    tile: float
    angle: float
    colour: str
    opacity: float = 1.0


@dataclass(frozen=True, slots=True)
class Mask:
    """A shape through which something is seen. `path` is in the unit square, which lies in `box`, turned about its
    middle; `feather` is the deviation of the Gaussian that softens its edge; `radius` rounds the corners of a rectangle
    that is given without a path. With a `picture`, its transparency or brightness is the mask."""

    box: Box
    path: str = ""
    turn: float = 0.0
    feather: float = 0.0
    radius: float = 0.0
    inverted: bool = False
    picture: DrawPicture | None = None
    by: str = "alpha"


@dataclass(frozen=True, slots=True)
class Window:
    """What can be seen of a group: a rectangle, its corners rounded by a radius, or the ellipse in it. Canonical."""

    x: float
    y: float
    width: float
    height: float
    round: bool = False
    radius: float = 0.0


@dataclass(frozen=True, slots=True)
class Composite:
    """Operations drawn by themselves and then laid over what is there.

    Scaled (by one factor, and by one for each way) and turned (degrees, clockwise) about a point, then moved; seen
    through a window, which does not move along; blurred by a Gaussian with that deviation. With `framed`, what lies
    outside the frame is cut off before it moves. Effects are done to it one after another, before anything else, in a
    `region` (the whole frame where none is given); then it is seen through its masks, which move along. `blend` is how
    it is mixed with what is there. With `apart`, what is mixed in it is mixed with what is in it alone.
    """

    ops: tuple[Op, ...]
    opacity: float = 1.0
    dx: float = 0.0
    dy: float = 0.0
    scale: float = 1.0
    turn: float = 0.0
    about: tuple[float, float] = (0.0, 0.0)
    wide: float = 1.0
    high: float = 1.0
    blur: float = 0.0
    window: Window | None = None
    framed: bool = False
    effects: tuple[Applied, ...] = ()
    masks: tuple[Mask, ...] = ()
    region: Box | None = None
    blend: str = "normal"
    apart: bool = False


Op = (
    Fill | DrawPicture | DrawWords | DrawShape | DrawPath | DrawSticker | DrawWave | DrawGradient | DrawPattern
    | Composite
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class FrameRecipe:
    """One frame: its canonical size and what is drawn, back to front."""

    width: float
    height: float
    ops: tuple[Op, ...]


Equal = tuple[tuple[tuple[float, float, float], ...], float, float]
MASTER_MARGIN = 1536
"""Samples before and after a span that what is done to the whole mix looks at."""


@dataclass(frozen=True, slots=True)
class Master:
    """What is done to the whole: a gain as a factor, and a true peak, as a factor, that is not passed. `at` is the
    sample of the promo at which the span begins."""

    gain: float
    ceiling: float
    at: int = 0


@dataclass(frozen=True, slots=True)
class Voice:
    """A stretch of a source's sound inside a span. Samples at 48 kHz.

    `at` is where it starts in the span (it may be negative: it began before), `length` all of it, `source_at` the
    sample of the source heard at its start. Gain is a factor; fades are lengths at its two ends, with equal power
    where `power` is set (crossfades), else straight.

    With a `warp`, the source does not run by itself: at knot (sample of the voice, source sample, speed) it is there
    and that fast, and between two knots the speed changes evenly; `source_at` is then not used. `pitch` says that the
    pitch is kept all the same. With `levels`, its gain runs straight from one (sample of the voice, factor) to the
    next, besides `gain`. `pan` is how far it is heard to one side, −1 to 1; `channels` which sides of the recording are
    heard, and `curves` how its two fades rise (see `core.properties.rows.sound`). `bus` says with which others it is
    mixed first. `needs` names what it was worked out with; `copy` what is read in the place of the source, `around`
    that it is read round and round. `equal` are the bands of its equaliser with the low and the high cut (see
    `core.equaliser`). `dips` are further knots like `levels`, for all of it or, with `dip_band`, for the range of
    speech.
    """

    source: str
    at: int
    length: int
    source_at: int
    gain: float
    fade_in: int = 0
    fade_out: int = 0
    power: bool = False
    warp: tuple[tuple[int, float, float], ...] = ()
    pitch: bool = True
    levels: tuple[tuple[int, float], ...] = ()
    bus: str = "music"
    needs: tuple[Need, ...] = ()
    pan: float = 0.0
    channels: str = "both"
    curves: tuple[str, str] = ("straight", "straight")
    copy: Need | None = None
    around: bool = False
    equal: Equal = ((), 0.0, 0.0)
    dips: tuple[tuple[int, float], ...] = ()
    dip_band: bool = False


@dataclass(frozen=True, slots=True)
class Bus:
    """Voices that are heard together, with a factor for all of them."""

    name: str
    gain: float
    voices: tuple[Voice, ...]


@dataclass(frozen=True, slots=True)
class SoundRecipe:
    """A span of sound of `length` samples: the buses that are heard in it, one over the other. `waits` names what was
    not known yet when it was made, so that it will sound otherwise. With a `master`, its voices reach as far beyond
    the span as that looks."""

    length: int
    buses: tuple[Bus, ...]
    waits: tuple[Need, ...] = ()
    master: Master | None = None

    @property
    def voices(self) -> tuple[Voice, ...]:
        """Every voice of every bus."""
        return tuple(voice for bus in self.buses for voice in bus.voices)


def recipe_hash(recipe: FrameRecipe | SoundRecipe, *size: object) -> str:
    """Identifies what a recipe will look or sound like at a size: equal inputs, equal hash."""
    data = orjson.dumps([recipe, size])
    return hashlib.blake2b(data, digest_size=20).hexdigest()


def words_in(ops: Iterable[Op]) -> Iterator[DrawWords]:
    """Every words that operations draw."""
    for op in ops:
        if isinstance(op, DrawWords):
            yield op
        elif isinstance(op, Composite):
            yield from words_in(op.ops)
