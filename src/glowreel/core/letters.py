"""Letters that come, stay and go one after another: where each of them is at a moment.

The engine knows how many letters, words or lines there are and where they stand; what becomes of each is decided here.

```
share 0.4   order forward   overlap 0.5
unit 1   ████████████████░░░░░   there
unit 2        ░░░░▓▓▓▓▓▓▓░░░░░   half way
unit 3               ░░░░░░░░░   not yet
```
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

from glowreel.core.easing import eased

UNITS: dict[str, str] = {"letter": "Letter", "word": "Word", "line": "Line"}
ORDERS: dict[str, str] = {
    "forward": "First to last", "backward": "Last to first", "middle": "From the middle", "edges": "From both ends",
    "random": "In any order",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class State:
    """What is done to a unit: moved (in letter sizes), scaled and turned about its middle, see-through, blurred by a
    Gaussian with that deviation (in letter sizes), seen from its beginning as far as `seen`, drawn in a second colour
    as far as `sung`, with a highlight as far along as `mark`. `swap` other units further on is the one that is drawn in
    its place; `caret` says that a caret stands behind it."""

    dx: float = 0.0
    dy: float = 0.0
    scale: float = 1.0
    turn: float = 0.0
    opacity: float = 1.0
    blur: float = 0.0
    seen: float = 1.0
    sung: float = 0.0
    mark: float = 0.0
    swap: int = 0
    caret: bool = False


@dataclass(frozen=True, slots=True)
class Play:
    """One way in which letters move: by which `unit`, in which `order`, how much those of them that follow one another
    `overlap`. `share` is how much of all is there, or, with `stays`, how many seconds it has been going on. With
    `times` (seconds at which each unit begins, and the last ends) `share` is seconds as well."""

    way: str
    unit: str = "letter"
    share: float = 1.0
    order: str = "forward"
    overlap: float = 0.6
    leaving: bool = False
    stays: bool = False
    strength: float = 1.0
    ease: str = "out"
    seed: int = 1
    colour: str = ""
    times: tuple[float, ...] = ()


@dataclass(frozen=True)
class LetterWay:
    """A way: what it is called and does, and the state of a unit from how much of it is there (0 to 1), its number, how
    many there are, and a number that is always the same for it. Even ones are not eased. `sweeps` ones are all there
    from the beginning; `colour` says that they need a second colour."""

    label: str
    meaning: str
    state: Callable[[float, int, int, float], State]
    even: bool = False
    sweeps: bool = False
    colour: bool = False


def _back(there: float) -> float:
    """A little beyond, and back."""
    return 1 + 2.7 * (there - 1) ** 3 + 1.7 * (there - 1) ** 2


def _bounced(there: float) -> float:
    """Falls and bounces twice."""
    for start, base, high in (
        (0.0, 0.18, 0.0),
        (4 / 11, 6 / 11, 0.75),
        (8 / 11, 9 / 11, 0.9375),
        (10 / 11, 10.5 / 11, 0.984375),
    ):
        end = {0.0: 4 / 11, 4 / 11: 8 / 11, 8 / 11: 10 / 11, 10 / 11: 1.01}[start]
        if there < end:
            return 7.5625 * there * there if start == 0 else 7.5625 * (there - base) ** 2 + high
    return 1.0


def _scrambled(there: float, n: int, count: int, chance: float) -> State:
    """Other letters of the same words, until it is its turn."""
    if there >= 1 or count < 2:
        return State(opacity=min(1.0, there * 8))
    return State(
        opacity=min(1.0, there * 8), swap=1 + int((chance * 97 + math.floor(there * 9) * 31 + n * 7) % (count - 1))
    )


LETTER_WAYS: dict[str, LetterWay] = {
    "fade": LetterWay("Fade", "fades in", lambda t, n, c, r: State(opacity=t)),
    "rise": LetterWay("Rise", "comes up while it fades in", lambda t, n, c, r: State(dy=0.6 * (1 - t), opacity=t)),
    "drop": LetterWay(
        "Fall", "comes down from above", lambda t, n, c, r: State(dy=-0.9 * (1 - t), opacity=min(1, 2 * t))
    ),
    "slide": LetterWay("Slide", "comes from the right", lambda t, n, c, r: State(dx=1.2 * (1 - t), opacity=t)),
    "swipe": LetterWay("Swipe", "is uncovered from its beginning", lambda t, n, c, r: State(seen=t)),
    "pop": LetterWay(
        "Pop",
        "grows from nothing, a little too large",
        lambda t, n, c, r: State(scale=max(0.0, _back(t)), opacity=min(1, 3 * t)),
        even=True,
    ),
    "bounce": LetterWay(
        "Bounce",
        "falls in and bounces",
        lambda t, n, c, r: State(dy=-1.4 * (1 - _bounced(t)), opacity=min(1, 4 * t)),
        even=True,
    ),
    "spin": LetterWay(
        "Turn",
        "turns into its place",
        lambda t, n, c, r: State(turn=-140 * (1 - t), scale=0.3 + 0.7 * t, opacity=min(1, 2 * t)),
    ),
    "tumble": LetterWay(
        "Tumble",
        "falls into place from anywhere, turned",
        lambda t, n, c, r: State(
            dx=(r - 0.5) * 1.6 * (1 - t), dy=-(0.6 + r) * (1 - t), turn=(r - 0.5) * 200 * (1 - t), opacity=min(1, 2 * t)
        ),
    ),
    "blur": LetterWay(
        "Sharpen", "comes out of a blur", lambda t, n, c, r: State(blur=round(0.35 * (1 - t), 2), opacity=t)
    ),
    "wave": LetterWay(
        "Wave",
        "runs in like a wave",
        lambda t, n, c, r: State(dy=-0.5 * math.sin(t * math.pi) * (1 - 0.3 * t), opacity=min(1, 3 * t)),
        even=True,
    ),
    "type": LetterWay("Type", "is there at once", lambda t, n, c, r: State(opacity=1.0 if t > 0 else 0.0), even=True),
    "caret": LetterWay(
        "Type with a caret",
        "is there at once, with a caret behind it",
        lambda t, n, c, r: State(opacity=1.0 if t > 0 else 0.0, caret=0 < t < 1),
        even=True,
    ),
    "scramble": LetterWay("Shuffle", "other letters, until the right one", _scrambled, even=True),
    "mark": LetterWay(
        "Highlight", "a highlight runs along behind it", lambda t, n, c, r: State(mark=t), sweeps=True, colour=True
    ),
    "sing": LetterWay(
        "Sing along",
        "is filled with a second colour",
        lambda t, n, c, r: State(sung=t),
        even=True,
        sweeps=True,
        colour=True,
    ),
}
"""How letters come; they go the same way, backwards."""


@dataclass(frozen=True)
class LetterStay:
    """What letters do meanwhile: the state from seconds, its number, how many there are, and a number that is always
    the same for it."""

    label: str
    meaning: str
    state: Callable[[float, int, int, float], State]


def _hopping(seconds: float, n: int, count: int, chance: float) -> State:
    """One after another, and again when the last has."""
    turn = (seconds / 0.11 - n) % (count + 8)
    return State(dy=-0.28 * math.sin(math.pi * turn / 3) if turn < 3 else 0.0)


def _flickering(seconds: float, n: int, count: int, chance: float) -> State:
    return State(opacity=0.35 if (seconds * 1.7 + chance * 5) % 1.3 < 0.07 else 1.0)


def _cycle(seconds: float, every: float, later: float) -> float:
    return math.sin(2 * math.pi * (seconds / every - later))


LETTER_STAYS: dict[str, LetterStay] = {
    "none": LetterStay("Nothing", "stays as it is", lambda s, n, c, r: State()),
    "wave": LetterStay("Wave", "a wave runs through", lambda s, n, c, r: State(dy=0.1 * _cycle(s, 1.6, n * 0.09))),
    "swing": LetterStay("Swing", "each swings a little", lambda s, n, c, r: State(turn=7 * _cycle(s, 1.8, r))),
    "tremble": LetterStay(
        "Tremble",
        "each trembles",
        lambda s, n, c, r: State(dx=0.02 * _cycle(s, 0.19, r), dy=0.02 * _cycle(s, 0.23, r * 3)),
    ),
    "breathe": LetterStay(
        "Breathe", "each grows and shrinks", lambda s, n, c, r: State(scale=1 + 0.07 * _cycle(s, 1.5, n * 0.11))
    ),
    "hop": LetterStay("Hop", "one after another hops", _hopping),
    "flicker": LetterStay("Flicker", "each dims now and then", _flickering),
}


def chance(n: int, seed: int) -> float:
    """A number between 0 and 1 that is always the same for a unit."""
    return (math.sin(n * 12.9898 + seed * 78.233 + 1) * 43758.5453) % 1


@lru_cache(maxsize=512)
def turns(count: int, order: str, seed: int) -> tuple[int, ...]:
    """For each unit, when it is its turn: the first has 0. From the middle, two have the same turn."""
    numbers = range(count)
    if order == "backward":
        return tuple(reversed(numbers))
    if order in ("middle", "edges"):
        far = [int(abs(n - (count - 1) / 2)) for n in numbers]
        return tuple(far) if order == "middle" else tuple(max(far, default=0) - one for one in far)
    if order == "random":
        sorted_by_chance = sorted(numbers, key=lambda n: (chance(n, seed), n))
        places = {n: place for place, n in enumerate(sorted_by_chance)}
        return tuple(places[n] for n in numbers)
    return tuple(numbers)


def shares(play: Play, count: int) -> list[float]:
    """How much of each unit is there, before it is eased."""
    if play.times:
        edges = [*play.times, *([play.times[-1]] * max(0, count + 1 - len(play.times)))]
        return [
            1.0 if play.share >= b else max(0.0, (play.share - a) / (b - a)) if b > a else 0.0
            for a, b in zip(edges[:count], edges[1 : count + 1], strict=True)
        ]
    turn = turns(count, play.order, play.seed)
    step = 1 - min(0.999, max(0.0, play.overlap))
    lasts = 1 / (1 + max(turn, default=0) * step)
    going = 1 - play.share if play.leaving else play.share
    found = [min(1.0, max(0.0, (going - place * step * lasts) / lasts)) for place in turn]
    # What has come lasts exactly as long as it is said: rounding must not keep the last one from being all there.
    found = [1.0 if share > 1 - 1e-9 else share for share in found]
    return [1 - share for share in found] if play.leaving else found


def states(play: Play, count: int) -> list[State]:
    """The state of each of so many units."""
    if play.stays:
        stay = LETTER_STAYS[play.way]
        return [_stronger(stay.state(play.share, n, count, chance(n, play.seed)), play.strength) for n in range(count)]
    way = LETTER_WAYS[play.way]
    return [
        way.state(there if way.even or there in (0.0, 1.0) else eased(play.ease, there), n, count, chance(n, play.seed))
        for n, there in enumerate(shares(play, count))
    ]


def _stronger(state: State, strength: float) -> State:
    if strength == 1:
        return state
    return replace(
        state, dx=state.dx * strength, dy=state.dy * strength, turn=state.turn * strength,
        scale=max(0.0, 1 + (state.scale - 1) * strength), opacity=max(0.0, 1 - (1 - state.opacity) * strength),
    )  # fmt: skip


def both(first: State, second: State) -> State:
    """Two states at once."""
    return State(
        first.dx + second.dx, first.dy + second.dy, first.scale * second.scale, first.turn + second.turn,
        first.opacity * second.opacity, max(first.blur, second.blur), min(first.seen, second.seen),
        max(first.sung, second.sung), max(first.mark, second.mark), first.swap or second.swap,
        first.caret or second.caret,
    )  # fmt: skip


NUMBER = re.compile(r"\d+(?:([,.  '’])\d{3})*(?:([.,])\d{1,2}(?!\d))?")


def counted(text: str, start: float, share: float) -> str:
    """The first number of a text as it is on the way from `start`, written as it is written there."""
    found = NUMBER.search(text)
    if found is None:
        return text
    thousands, point = found.group(1) or "", found.group(2) or ""
    whole, _, part = found.group(0).rpartition(point) if point else (found.group(0), "", "")
    aim = float(re.sub(r"\D", "", whole) + ("." + part if part else ""))
    now = f"{start + (aim - start) * share:,.{len(part)}f}"
    now = now.replace(",", "\0").replace(".", point or ".").replace("\0", thousands)
    return text[: found.start()] + now + text[found.end() :]
