"""Looks that come in files: tables of colours in the `.cube` form (a text with the size of the table and its rows, red
running fastest), of one dimension for each channel or of three.

A table is brought once to 128 steps of each channel, between which nothing is mixed any more when it is drawn: eight
bits of a picture lose at most half a step so.
"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.errors import BadMedia

Table = npt.NDArray[np.uint8]
"""Shape (128 · 128 · 128, 3): blue, green and red for each blue · 128² + green · 128 + red of the picture."""
STEPS = 128
LARGEST_3D, LARGEST_1D = 129, 65_536
MAX_BYTES = 60 * 1024**2
WORDS = ("TITLE", "LUT_3D_SIZE", "LUT_1D_SIZE", "DOMAIN_MIN", "DOMAIN_MAX", "LUT_3D_INPUT_RANGE", "LUT_1D_INPUT_RANGE")


def is_cube(path: Path) -> bool:
    """Whether a file looks like a table of colours, by what its beginning says."""
    with path.open("rb") as file:
        head = file.read(4096)
    return b"\0" not in head and (b"LUT_3D_SIZE" in head or b"LUT_1D_SIZE" in head)


def _lines(path: Path, name: str) -> tuple[dict[str, list[float]], npt.NDArray[np.float64]]:
    if path.stat().st_size > MAX_BYTES:
        raise BadMedia("too-large", f"{name} is larger than a table of colours can be.")
    said: dict[str, list[float]] = {}
    rows: list[str] = []
    try:
        for line in path.read_text("utf-8", "strict").splitlines():
            word, _, rest = line.strip().partition(" ")
            if not word or word.startswith("#") or word == "TITLE":
                continue
            if word in WORDS:
                said[word] = [float(number) for number in rest.split()]
            else:
                rows.append(line)
        numbers = np.array([row.split() for row in rows], np.float64)
    except (ValueError, UnicodeDecodeError) as error:
        raise BadMedia("broken", f"{name} is a table of colours, but it is damaged.") from error
    if numbers.ndim != 2 or numbers.shape[1] != 3 or not np.isfinite(numbers).all():
        raise BadMedia("broken", f"{name} is a table of colours, but it is damaged.")
    return said, numbers


def _domain(said: dict[str, list[float]]) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """From where to where each channel goes."""
    both = said.get("LUT_3D_INPUT_RANGE") or said.get("LUT_1D_INPUT_RANGE")
    low = np.full(3, both[0]) if both else np.array(said.get("DOMAIN_MIN", [0.0, 0.0, 0.0]))
    high = np.full(3, both[1]) if both else np.array(said.get("DOMAIN_MAX", [1.0, 1.0, 1.0]))
    return low, high


def read_cube(path: Path, name: str = "") -> Table:
    """The table of a file. Raises `BadMedia` with a sentence that names it."""
    name = name or path.name
    said, numbers = _lines(path, name)
    low, high = _domain(said)
    flat = "LUT_1D_SIZE" in said
    size = int((said.get("LUT_1D_SIZE") or said.get("LUT_3D_SIZE") or [0])[0])
    rows = size if flat else size**3
    if not 2 <= size <= (LARGEST_1D if flat else LARGEST_3D) or len(numbers) != rows or not (high > low).all():
        raise BadMedia("broken", f"{name} does not have as many colours as it says.")
    # Where each of the 128 steps lies in the table, for red, green and blue.
    where = (np.linspace(0, 1, STEPS)[:, None] - low) / (high - low) * (size - 1)
    where = np.clip(where, 0, size - 1)
    if flat:
        channels = [np.interp(where[:, n], np.arange(size), numbers[:, n]) for n in range(3)]
        blue, green, red = np.meshgrid(channels[2], channels[1], channels[0], indexing="ij")
        made = np.stack([blue, green, red], axis=-1)
    else:
        made = numbers.reshape(size, size, size, 3)[..., ::-1]
        # One axis after the other: first blue, then green, then red.
        for axis, channel in ((0, 2), (1, 1), (2, 0)):
            begin = np.minimum(where[:, channel].astype(int), size - 2)
            share = (where[:, channel] - begin).reshape([-1 if n == axis else 1 for n in range(4)])
            made = np.take(made, begin, axis) * (1 - share) + np.take(made, begin + 1, axis) * share
    table: Table = np.rint(np.clip(made, 0, 1) * 255).astype(np.uint8).reshape(-1, 3)
    return table


def put_on(plain: npt.NDArray[np.uint8], table: Table, amount: float) -> npt.NDArray[np.uint8]:
    """BGR pixels by a table, by a share of it."""
    place = plain.astype(np.uint32) * (STEPS - 1) + 127
    place //= 255
    index = (place[:, :, 0] * STEPS + place[:, :, 1]) * STEPS + place[:, :, 2]
    made = np.take(table, index, axis=0)
    return made if amount >= 1 else np.asarray(cv2.addWeighted(made, amount, plain, 1 - amount, 0))


def picture_of(table: Table, width: int = 320, height: int = 180) -> npt.NDArray[np.uint8]:
    """A picture of what a table does, BGRA: hues from left to right, dark below and light above."""
    hues, light = np.meshgrid(np.linspace(0, 179, width), np.linspace(255, 30, height))
    colours = np.stack([hues, np.full_like(hues, 150), light], axis=-1).astype(np.uint8)
    plain = np.asarray(cv2.cvtColor(colours, cv2.COLOR_HSV2BGR))
    plain[:, : width // 5] = light[:, : width // 5, None].astype(np.uint8)
    return np.dstack([put_on(plain, table, 1.0), np.full((height, width), 255, np.uint8)])
