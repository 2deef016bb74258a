"""QR codes (ISO/IEC 18004) as paths in the unit square, with the quiet zone around them that they need."""

from __future__ import annotations

from functools import lru_cache

import segno

QUIET = 4
"""How many modules of room a code has around it."""


@lru_cache(maxsize=128)
def code_path(text: str) -> str:
    """The dark modules of the code for a text; runs of them in a row are one rectangle. A medium level of correction:
    a code in a moving picture is seen at an angle and for a short time."""
    rows = [bytes(row) for row in segno.make(text, error="m", micro=False).matrix]
    side = len(rows) + 2 * QUIET
    parts = []
    for down, row in enumerate(rows):
        across = 0
        while across < len(row):
            end = across
            while end < len(row) and row[end]:
                end += 1
            if end > across:
                x, y, wide = ((v + QUIET * (n < 2)) / side for n, v in enumerate((across, down, end - across)))
                parts.append(f"M{x:.5f} {y:.5f} h{wide:.5f} v{1 / side:.5f} h{-wide:.5f} Z")
            across = end + 1
    return " ".join(parts)
