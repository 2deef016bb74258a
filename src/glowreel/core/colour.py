"""Colours as numbers, and mixing them as the eye does.

Mixing is done in OKLab (Björn Ottosson, “A perceptual color space for image processing”, 2020): half way between two
colours lies the one that looks half way, and nothing in between turns grey or dark.
"""

from __future__ import annotations

import re

Triple = tuple[float, float, float]


_PLAIN = re.compile(r"#?([0-9a-f]{3}|[0-9a-f]{6})$", re.IGNORECASE)
_NUMBERS = re.compile(r"(?:rgb\()?\s*(\d{1,3})[,\s]+(\d{1,3})[,\s]+(\d{1,3})\s*\)?$", re.IGNORECASE)


def read_colour(text: str) -> str:
    """`#RRGGBB` of a colour as people type it: `#F6B73C`, `fc0`, `246, 183, 60` or `rgb(246 183 60)`. Raises
    `ValueError` for anything else."""
    typed = text.strip()
    if found := _PLAIN.match(typed):
        letters = found[1] if len(found[1]) == 6 else "".join(letter * 2 for letter in found[1])
        return f"#{letters.upper()}"
    numbers = _NUMBERS.match(typed)
    if numbers is None or any(int(number) > 255 for number in numbers.groups()):
        raise ValueError(f"“{typed[:40]}” is no colour such as #F6B73C or 246, 183, 60")
    return "#" + "".join(f"{int(number):02X}" for number in numbers.groups())


def _to_linear(value: float) -> float:
    """sRGB to linear light (IEC 61966-2-1)."""
    return value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4


def _from_linear(value: float) -> float:
    return 12.92 * value if value <= 0.0031308 else 1.055 * value ** (1 / 2.4) - 0.055


def to_oklab(colour: str) -> Triple:
    """`#RRGGBB` as lightness, green to red, blue to yellow."""
    red, green, blue = (_to_linear(int(colour[n : n + 2], 16) / 255) for n in (1, 3, 5))
    long = (0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue) ** (1 / 3)
    middle = (0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue) ** (1 / 3)
    short = (0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue) ** (1 / 3)
    return (
        0.2104542553 * long + 0.7936177850 * middle - 0.0040720468 * short,
        1.9779984951 * long - 2.4285922050 * middle + 0.4505937099 * short,
        0.0259040371 * long + 0.7827717662 * middle - 0.8086757660 * short,
    )


def from_oklab(lab: Triple) -> str:
    """The nearest `#RRGGBB`; what no screen shows is held at its edge."""
    lightness, across, down = lab
    long = (lightness + 0.3963377774 * across + 0.2158037573 * down) ** 3
    middle = (lightness - 0.1055613458 * across - 0.0638541728 * down) ** 3
    short = (lightness - 0.0894841775 * across - 1.2914855480 * down) ** 3
    channels = (
        4.0767416621 * long - 3.3077115913 * middle + 0.2309699292 * short,
        -1.2684380046 * long + 2.6097574011 * middle - 0.3413193965 * short,
        -0.0041960863 * long - 0.7034186147 * middle + 1.7076147010 * short,
    )
    return "#" + "".join(f"{round(_from_linear(min(1.0, max(0.0, value))) * 255):02X}" for value in channels)


def mixed(first: str, second: str, share: float) -> str:
    """The colour that lies `share` of the way from one to another."""
    one, two = to_oklab(first), to_oklab(second)
    return from_oklab(tuple(a + (b - a) * share for a, b in zip(one, two, strict=True)))  # type: ignore[arg-type]


def luminance(colour: str) -> float:
    """Relative luminance of `#RRGGBB` (WCAG 2.2)."""
    red, green, blue = (_to_linear(int(colour[n : n + 2], 16) / 255) for n in (1, 3, 5))
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast_of(first: str, second: str) -> float:
    """The contrast ratio of two colours (WCAG 2.2), 1 to 21."""
    dark, light = sorted((luminance(first), luminance(second)))
    return (light + 0.05) / (dark + 0.05)
