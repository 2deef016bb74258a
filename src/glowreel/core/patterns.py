"""Patterns for grounds: each a drawing of our own in a tile of one by one, repeated, in one colour on another."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Pattern:
    """What a pattern is called and the SVG path of its tile: filled, or drawn as a line of `width` tiles. `ratio` is
    how high a tile is for its width."""

    label: str
    path: str
    width: float = 0.0
    ratio: float = 1.0


def _dot(x: float, y: float, radius: float) -> str:
    return f"M{x - radius} {y} a{radius} {radius} 0 1 0 {2 * radius} 0 a{radius} {radius} 0 1 0 {-2 * radius} 0 Z "


PATTERNS: dict[str, Pattern] = {
    "dots": Pattern("Dots", _dot(0.25, 0.25, 0.12) + _dot(0.75, 0.75, 0.12)),
    "small-dots": Pattern("Fine dots", _dot(0.5, 0.5, 0.08)),
    "rings": Pattern("Rings", _dot(0.5, 0.5, 0.34) + _dot(0.5, 0.5, 0.16), 0.06),
    "scales": Pattern("Scales", "M0 0.5 A0.5 0.5 0 0 0 1 0.5 M-0.5 0 A0.5 0.5 0 0 0 0.5 0 A0.5 0.5 0 0 0 1.5 0 "
                      "M-0.5 1 A0.5 0.5 0 0 0 0.5 1 A0.5 0.5 0 0 0 1.5 1", 0.06),
    "stripes": Pattern("Stripes", "M0 0 H0.5 V1 H0 Z"),
    "pinstripes": Pattern("Pinstripes", "M0.45 0 H0.55 V1 H0.45 Z"),
    "pairs": Pattern("Pairs of stripes", "M0.2 0 H0.35 V1 H0.2 Z M0.5 0 H0.55 V1 H0.5 Z"),
    "check": Pattern("Check", "M0 0 H0.5 V0.5 H0 Z M0.5 0.5 H1 V1 H0.5 Z"),
    "tartan": Pattern("Tartan", "M0 0.1 H1 M0 0.3 H1 M0 0.75 H1 M0.1 0 V1 M0.3 0 V1 M0.75 0 V1", 0.07),
    "net": Pattern("Net", "M0 0 L1 1 M1 0 L0 1", 0.05),
    "grid": Pattern("Grid", "M0 0.5 H1 M0.5 0 V1", 0.05),
    "bricks": Pattern("Bricks", "M0 0 H1 M0 0.5 H1 M0 1 H1 M0.25 0 V0.5 M0.75 0.5 V1", 0.04, 0.8),
    "tiles": Pattern("Tiles", "M0.06 0.06 H0.94 V0.94 H0.06 Z"),
    "diamonds": Pattern("Diamonds", "M0.5 0.08 L0.92 0.5 L0.5 0.92 L0.08 0.5 Z"),
    "triangles": Pattern("Triangles", "M0 1 L0.5 0 L1 1 Z", 0.0, 0.87),
    "zigzag": Pattern("Zigzag", "M-0.25 0.75 L0.25 0.25 L0.75 0.75 L1.25 0.25", 0.14),
    "waves": Pattern("Waves", "M-0.5 0.5 C-0.25 0.1 -0.25 0.1 0 0.5 C0.25 0.9 0.25 0.9 0.5 0.5 "
                     "C0.75 0.1 0.75 0.1 1 0.5 C1.25 0.9 1.25 0.9 1.5 0.5", 0.12),
    "clouds": Pattern("Clouds",
                      "M0.15 0.7 A0.15 0.15 0 0 1 0.2 0.42 A0.2 0.2 0 0 1 0.58 0.36 A0.17 0.17 0 0 1 0.85 0.7 Z"),
    "pluses": Pattern("Pluses", "M0.5 0.28 V0.72 M0.28 0.5 H0.72", 0.1),
    "crosses": Pattern("Crosses", "M0.32 0.32 L0.68 0.68 M0.68 0.32 L0.32 0.68", 0.09),
    "stars": Pattern("Stars", "M0.5 0.2 L0.58 0.41 L0.8 0.42 L0.63 0.56 L0.69 0.78 L0.5 0.65 L0.31 0.78 L0.37 0.56 "
                     "L0.2 0.42 L0.42 0.41 Z"),
    "hearts": Pattern("Hearts", "M0.5 0.78 C0.3 0.64 0.22 0.54 0.22 0.4 C0.22 0.24 0.42 0.2 0.5 0.36 "
                      "C0.58 0.2 0.78 0.24 0.78 0.4 C0.78 0.54 0.7 0.64 0.5 0.78 Z"),
    "leaves": Pattern("Leaves", "M0.25 0.5 C0.25 0.2 0.5 0.1 0.5 0.1 C0.5 0.1 0.75 0.2 0.75 0.5 "
                      "C0.75 0.8 0.5 0.9 0.5 0.9 C0.5 0.9 0.25 0.8 0.25 0.5 Z"),
    "drops": Pattern("Drops",
                     "M0.5 0.15 C0.62 0.36 0.7 0.48 0.7 0.6 A0.2 0.2 0 0 1 0.3 0.6 C0.3 0.48 0.38 0.36 0.5 0.15 Z"),
    "petals": Pattern("Petals", _dot(0.5, 0.28, 0.14) + _dot(0.5, 0.72, 0.14) + _dot(0.28, 0.5, 0.14)
                      + _dot(0.72, 0.5, 0.14)),
    "confetti": Pattern("Confetti", "M0.1 0.2 L0.25 0.1 L0.3 0.2 L0.15 0.3 Z M0.6 0.15 L0.7 0.3 L0.6 0.35 L0.5 0.2 Z "
                        "M0.75 0.6 L0.95 0.55 L0.97 0.65 L0.77 0.7 Z M0.3 0.6 L0.45 0.75 L0.37 0.83 L0.22 0.68 Z "
                        "M0.6 0.9 L0.72 0.82 L0.78 0.9 L0.66 0.98 Z"),
    "weave": Pattern("Weave", "M0 0.1 H0.5 M0 0.25 H0.5 M0 0.4 H0.5 M0.6 0 V0.5 M0.75 0 V0.5 M0.9 0 V0.5 "
                     "M0.1 0.5 V1 M0.25 0.5 V1 M0.4 0.5 V1 M0.5 0.6 H1 M0.5 0.75 H1 M0.5 0.9 H1", 0.06),
    "rays": Pattern("Rays", "M0 0 L0.18 1 H0 Z M0.5 0 L0.68 1 H0.32 Z M1 0 V1 H0.82 Z"),
}  # fmt: skip
"""Every pattern by its name."""
