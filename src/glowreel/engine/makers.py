"""What is made from a file when it comes in: names as the store keeps them, and what each is for."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Maker:
    """What it makes, in one line, and of which kinds of file."""

    meaning: str
    of: str


MAKERS: dict[str, Maker] = {
    "proxy": Maker(
        "the stand-in that previews are drawn from: short side 540, key frames close together", "footage, photo"
    ),
    "samples": Maker("all of its sound, 16-bit stereo at 48 kHz", "footage with sound, sound"),
    "peaks": Maker("the loudest excursion in each hundredth of a second, one byte each", "footage with sound, sound"),
    "poster.jpg": Maker("a small picture of it", "footage, photo"),
    "strip.jpg": Maker("small pictures side by side, one every half second or more", "footage"),
    "picture": Maker("a drawing's pixels, drawn once", "photo that is a drawing"),
}
