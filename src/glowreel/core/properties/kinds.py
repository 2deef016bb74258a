"""The kinds of values that a property can have: what is allowed, what lies between two, and how one is spoken."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any

from glowreel.core.colour import mixed
from glowreel.core.equaliser import HIGHEST, LOWEST, MOST_BANDS, MOST_GAIN, NARROWEST, WIDEST
from glowreel.core.roles import COLOUR_ROLES
from glowreel.core.shapes import checked_path
from glowreel.core.time import MAX_TICKS, seconds

if TYPE_CHECKING:
    from glowreel.core.properties.row import Property

HEX = re.compile(r"#[0-9A-Fa-f]{6}")
NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,59}")


def _is_colour(value: Any) -> bool:
    return isinstance(value, str) and (HEX.fullmatch(value) is not None or value in COLOUR_ROLES)


class ValueKind:
    """What all kinds share; a kind overrides what is different in it."""

    def check(self, row: Property, value: Any) -> Any:
        """The value in its stored form. Raises `ValueError` with words for the person who gave it."""
        raise NotImplementedError

    def mix(self, first: Any, second: Any, share: float) -> Any:
        """What lies between two values. What has nothing in between keeps the first until the second is there."""
        return first if share < 1 else second

    def say(self, row: Property, value: Any) -> str:
        return str(value)

    def _number(self, row: Property, value: Any) -> float:
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise ValueError(f"{row.label.lower()} is a number")
        if not row.low <= value <= row.high:
            least, most = (self.in_unit(row, limit) for limit in (row.low, row.high))
            raise ValueError(f"{row.label.lower()} goes from {least} to {most}")
        return float(value)

    @staticmethod
    def in_unit(row: Property, value: float) -> str:
        """A number as people read it."""
        shown = f"{value / row.scale:.{row.digits}f}"
        shown = shown.rstrip("0").rstrip(".") if "." in shown else shown
        space = "" if row.unit in ("%", "°", "×", "") else " "
        return f"{shown}{space}{row.unit}"


class Number(ValueKind):
    """A number within limits; a share, a size, a gain, or an angle, where 720° are two turns."""

    def check(self, row: Property, value: Any) -> float:
        return self._number(row, value)

    def mix(self, first: float, second: float, share: float) -> float:
        return round(first + (second - first) * share, 6)

    def say(self, row: Property, value: float) -> str:
        return self.in_unit(row, value)


class Whole(ValueKind):
    """A whole number, such as the weight of letters."""

    def check(self, row: Property, value: Any) -> int:
        return round(self._number(row, value))

    def mix(self, first: int, second: int, share: float) -> int:
        return round(first + (second - first) * share)

    def say(self, row: Property, value: int) -> str:
        return self.in_unit(row, value)


class Lasting(ValueKind):
    """A length of time in ticks."""

    def check(self, row: Property, value: Any) -> int:
        if isinstance(value, bool) or not isinstance(value, int) or not 0 <= value <= MAX_TICKS:
            raise ValueError(f"{row.label.lower()} is a length of time")
        return value

    def say(self, row: Property, value: int) -> str:
        return f"{seconds(value):.2f} s"


class Spot(ValueKind):
    """A pair of numbers: across and down. Between two lies the straight way."""

    def check(self, row: Property, value: Any) -> tuple[float, float]:
        if not isinstance(value, list | tuple) or len(value) != 2:
            raise ValueError(f"{row.label.lower()} is a pair of numbers")
        return self._number(row, value[0]), self._number(row, value[1])

    def mix(self, first: tuple[float, float], second: tuple[float, float], share: float) -> tuple[float, float]:
        across, down = (round(a + (b - a) * share, 6) for a, b in zip(first, second, strict=True))
        return across, down

    def say(self, row: Property, value: tuple[float, float]) -> str:
        return " and ".join(self.in_unit(row, part) for part in value)


class ColourKind(ValueKind):
    """`#RRGGBB`, or a role that the promo's brand fills. Where a row allows it, none."""

    def check(self, row: Property, value: Any) -> str:
        if isinstance(value, str) and (HEX.fullmatch(value) or value in COLOUR_ROLES or (value == "" and row.empty)):
            return value
        raise ValueError(f"{row.label.lower()} is a colour such as #F6B73C, or one of {', '.join(COLOUR_ROLES)}")

    def mix(self, first: str, second: str, share: float) -> str:
        # Roles are filled in before values are mixed; a box that is not there yet comes when it is.
        if HEX.fullmatch(first) and HEX.fullmatch(second):
            return mixed(first, second, share)
        return super().mix(first, second, share)  # type: ignore[no-any-return]

    def say(self, row: Property, value: str) -> str:
        return value or "none"


class Choice(ValueKind):
    """One of a few."""

    def check(self, row: Property, value: Any) -> Any:
        if not any(value == choice for choice, _ in row.choices):
            raise ValueError(f"{row.label.lower()} is one of {', '.join(str(choice) for choice, _ in row.choices)}")
        return value

    def say(self, row: Property, value: Any) -> str:
        return next((words.lower() for choice, words in row.choices if choice == value), str(value))


class Flag(ValueKind):
    """On or off."""

    def check(self, row: Property, value: Any) -> bool:
        if not isinstance(value, bool):
            raise ValueError(f"{row.label.lower()} is on or off")
        return value

    def say(self, row: Property, value: bool) -> str:
        return row.switched[0] if value else row.switched[1]


class Text(ValueKind):
    """Words, in lines. What cannot be printed is left out."""

    def check(self, row: Property, value: Any) -> str:
        if not isinstance(value, str):
            raise ValueError(f"{row.label.lower()} is text")
        text = value.replace("\r\n", "\n").replace("\r", "\n")
        text = "".join(letter for letter in text if letter == "\n" or ord(letter) >= 32)
        if len(text) > row.high:
            raise ValueError(f"{row.label.lower()} has at most {row.high:g} letters")
        return text

    def say(self, row: Property, value: str) -> str:
        first = value.strip().split("\n")[0]
        return f"“{first if len(first) <= 60 else first[:59] + '…'}”"


class Font(ValueKind):
    """A family of letters, or a role that the promo's brand fills. One that is not here falls back when it is drawn,
    and is never a reason not to open a promo."""

    def check(self, row: Property, value: Any) -> str:
        if not isinstance(value, str) or not value.strip() or len(value) > 80 or not value.isprintable():
            raise ValueError("a font is the name of a family")
        return value


class Named(ValueKind):
    """The name of something that comes with the program. One that is not here is never a reason not to open a promo."""

    def check(self, row: Property, value: Any) -> str:
        if not isinstance(value, str) or not NAME.fullmatch(value):
            raise ValueError(f"{row.label.lower()} is a name in small letters")
        return value


class Tones(ValueKind):
    """A curve of tones: from how light something was to how light it is, as points in the order of the first, both
    between 0 and 1. Without points it is straight."""

    most = 16

    def check(self, row: Property, value: Any) -> tuple[tuple[float, float], ...]:
        label = row.label.lower()
        if not isinstance(value, list | tuple) or len(value) > self.most:
            raise ValueError(f"{label} has at most {self.most} points")
        points = []
        for point in value:
            if not isinstance(point, list | tuple) or len(point) != 2:
                raise ValueError(f"a point of the {label} is a pair of numbers")
            points.append((self._number(row, point[0]), self._number(row, point[1])))
        if any(a[0] >= b[0] for a, b in zip(points, points[1:], strict=False)):
            raise ValueError(f"the points of the {label} come in order")
        return tuple(points)

    def say(self, row: Property, value: tuple[tuple[float, float], ...]) -> str:
        return f"a curve of {len(value)} points" if value else "straight"


class Bands(ValueKind):
    """The bands of an equaliser: for each its frequency in Hz, its gain in dB and its width in octaves. Without bands
    everything is heard as it came."""

    limits: tuple[tuple[str, float, float], ...] = (
        ("frequency", LOWEST, HIGHEST), ("gain", -MOST_GAIN, MOST_GAIN), ("width", NARROWEST, WIDEST),
    )  # fmt: skip

    def check(self, row: Property, value: Any) -> tuple[tuple[float, ...], ...]:
        if not isinstance(value, list | tuple) or len(value) > MOST_BANDS:
            raise ValueError(f"an equaliser has at most {MOST_BANDS} bands")
        return tuple(self._band(band) for band in value)

    def _band(self, band: Any) -> tuple[float, ...]:
        if not isinstance(band, list | tuple) or len(band) != len(self.limits):
            raise ValueError("a band says its frequency, its gain and its width")
        for number, (name, low, high) in zip(band, self.limits, strict=True):
            if isinstance(number, bool) or not isinstance(number, int | float) or not low <= number <= high:
                raise ValueError(f"the {name} of a band goes from {low:g} to {high:g}")
        return tuple(float(number) for number in band)

    def say(self, row: Property, value: tuple[tuple[float, ...], ...]) -> str:
        told = [f"{gain:+g} dB at {hz:g} Hz" for hz, gain, _ in value if gain]
        return ", ".join(told) if told else "flat"


class Path(ValueKind):
    """The data of an SVG path; none where it is empty."""

    def check(self, row: Property, value: Any) -> str:
        if not isinstance(value, str):
            raise ValueError(f"{row.label.lower()} is an SVG path")
        return checked_path(value.strip())

    def say(self, row: Property, value: str) -> str:
        return "a path" if value else "none"


class Strokes(ValueKind):
    """Strokes painted on a picture: for each whether it keeps what it touches, how wide it is and where it runs, in
    shares of the picture's width and height (of its shorter side for the width)."""

    most, longest, widest = 60, 200, 0.5

    def check(self, row: Property, value: Any) -> tuple[tuple[int, float, tuple[tuple[float, float], ...]], ...]:
        if not isinstance(value, list | tuple) or len(value) > self.most:
            raise ValueError(f"there are at most {self.most} strokes")
        return tuple(self._stroke(row, stroke) for stroke in value)

    def _stroke(self, row: Property, stroke: Any) -> tuple[int, float, tuple[tuple[float, float], ...]]:
        if not isinstance(stroke, list | tuple) or len(stroke) != 3 or stroke[0] not in (0, 1):
            raise ValueError("a stroke says whether it keeps, how wide it is and where it runs")
        keeps, width, points = stroke
        if not isinstance(points, list | tuple) or not 0 < len(points) <= self.longest:
            raise ValueError(f"a stroke has one to {self.longest} points")
        wide = self._number(row, width)
        if not 0 < wide <= self.widest:
            raise ValueError("a stroke is at most half the picture wide")
        if any(not isinstance(point, list | tuple) or len(point) != 2 for point in points):
            raise ValueError("a point of a stroke is a pair of numbers")
        return int(keeps), wide, tuple((self._number(row, x), self._number(row, y)) for x, y in points)

    def say(self, row: Property, value: tuple[object, ...]) -> str:
        return f"{len(value)} stroke{'' if len(value) == 1 else 's'}" if value else "none"


class Times(ValueKind):
    """Moments in seconds, in order."""

    most = 200

    def check(self, row: Property, value: Any) -> tuple[float, ...]:
        if not isinstance(value, list | tuple) or len(value) > self.most:
            raise ValueError(f"there are at most {self.most} times")
        times = tuple(self._number(row, one) for one in value)
        if any(b < a for a, b in zip(times, times[1:], strict=False)):
            raise ValueError("times come in order")
        return times

    def say(self, row: Property, value: tuple[float, ...]) -> str:
        return f"{len(value)} times" if value else "none"


class Runs(ValueKind):
    """Parts of words in another manner: where each begins and ends, and what is different in it, in order."""

    most = 60
    allowed: Mapping[str, Callable[[Any], bool]] = {
        "font": lambda said: isinstance(said, str) and len(said) <= 80 and said.isprintable(),
        "weight": lambda said: type(said) is int and 100 <= said <= 900,
        "italic": lambda said: isinstance(said, bool),
        "colour": lambda said: _is_colour(said),
        "mark": lambda said: _is_colour(said),
    }

    def check(self, row: Property, value: Any) -> tuple[dict[str, Any], ...]:
        if not isinstance(value, list | tuple) or len(value) > self.most:
            raise ValueError(f"words have at most {self.most} parts in another manner")
        found = tuple(self._run(row, one) for one in value)
        if any(b["start"] < a["end"] for a, b in zip(found, found[1:], strict=False)):
            raise ValueError("parts of words come one after another")
        return found

    def _run(self, row: Property, value: Any) -> dict[str, Any]:
        if not isinstance(value, dict) or set(value) - {"start", "end", "size", *self.allowed}:
            raise ValueError("a part of words says where it begins and ends, and what is different in it")
        start, end = value.get("start"), value.get("end")
        if type(start) is not int or type(end) is not int or not 0 <= start < end <= row.high:
            raise ValueError("a part of words has a beginning and an end")
        made: dict[str, Any] = {"start": start, "end": end}
        for name, allowed in self.allowed.items():
            said = value.get(name)
            if said is None or said == "":
                continue
            if not allowed(said):
                raise ValueError(f"the {name} of a part of words is not one")
            made[name] = said
        size = value.get("size", 1.0)
        if isinstance(size, bool) or not isinstance(size, int | float) or not 0.3 <= size <= 4:
            raise ValueError("a part of words is 30 % to 400 % as large as the rest")
        return made if size == 1 else {**made, "size": float(size)}

    def say(self, row: Property, value: tuple[object, ...]) -> str:
        return f"{len(value)} part{'' if len(value) == 1 else 's'}" if value else "none"


VALUE_KINDS: dict[str, ValueKind] = {
    "number": Number(), "whole": Whole(), "length": Lasting(), "spot": Spot(), "colour": ColourKind(),
    "choice": Choice(), "flag": Flag(), "text": Text(), "font": Font(), "tones": Tones(), "path": Path(),
    "strokes": Strokes(), "times": Times(), "runs": Runs(), "name": Named(), "bands": Bands(),
}  # fmt: skip
