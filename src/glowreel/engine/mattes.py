"""Mattes: what of a picture belongs to what is cut out, as grey pictures. Made by models, once; fitted when drawn."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
import numpy.typing as npt
from av.video.reformatter import Interpolation

from glowreel.core.errors import BadMedia
from glowreel.core.recipe.model import Matte
from glowreel.engine.drawing import part
from glowreel.engine.effects.key import moved_edge
from glowreel.engine.footage import TURNS, Pixels, plane_pixels
from glowreel.engine.photo import load_photo
from glowreel.engine.reading import Pictures, open_media
from glowreel.engine.svg import draw_svg, is_svg

Shares = npt.NDArray[np.float32]
PEOPLE = Path(__file__).parent / "models" / "people.tflite"
"""Tells people from the rest in a picture of 256 by 256 (Apache 2.0; see its licence beside it)."""
SIDE = 256
WORKING = 480
"""The short side of mattes, in pixels."""
STEADY = 0.55
"""How much a matte keeps of the one before where little changes, so that edges do not flicker."""
CLEAR, SURE = 0.1, 0.85
"""Below and above these, what the model says counts as nothing and as all."""


@cache
def _people() -> Callable[[Pixels], Shares]:
    """From a picture (256, 256, 3), red first, to how surely each pixel belongs to a person."""
    from ai_edge_litert.interpreter import Interpreter  # Loads slowly, and only makers need it.

    model = Interpreter(str(PEOPLE), num_threads=2)
    model.allocate_tensors()
    into, out = model.get_input_details()[0]["index"], model.get_output_details()[0]["index"]

    def look(picture: Pixels) -> Shares:
        model.set_tensor(into, (picture.astype(np.float32) / 255)[None])
        model.invoke()
        found: Shares = model.get_tensor(out)[0, :, :, 0].copy()
        return found

    return look


def people_in(pixels: Pixels) -> Shares:
    """How surely each spot of a picture, BGR or BGRA, belongs to a person, 256 by 256."""
    small = cv2.resize(pixels, (SIDE, SIDE), interpolation=cv2.INTER_AREA)
    return _people()(np.ascontiguousarray(small[:, :, 2::-1]))


def guided(guide: Any, rough: Any, radius: int, smooth: float) -> Shares:
    """A matte that follows the edges of a picture: the guided filter (He, Sun and Tang, 2013), both between 0 and 1.
    What it does is found at half the size (He and Sun, 2015), which takes a quarter of the time."""

    def mean(values: Any) -> Any:
        return cv2.boxFilter(values, -1, (2 * reach + 1, 2 * reach + 1), borderType=cv2.BORDER_REFLECT)

    size = guide.shape[1::-1]
    half = max(2, size[0] // 2), max(2, size[1] // 2)
    small = [cv2.resize(plane, half, interpolation=cv2.INTER_AREA) for plane in (guide, rough)]
    reach = max(1, radius // 2)
    mean_guide, mean_rough = mean(small[0]), mean(small[1])
    slope = (mean(small[0] * small[1]) - mean_guide * mean_rough) / (mean(small[0] ** 2) - mean_guide**2 + smooth)
    offset = mean_rough - slope * mean_guide
    slope, offset = (cv2.resize(mean(plane), size, interpolation=cv2.INTER_LINEAR) for plane in (slope, offset))
    made: Shares = np.clip(slope * guide + offset, 0, 1)
    return made


class People:
    """Finds people in one picture after another; edges stay steady from one to the next."""

    def __init__(self) -> None:
        self._look = _people()
        self._before: Shares | None = None

    def matte(self, pixels: Pixels, *, follows: bool = True) -> Pixels:
        """The matte of an upright BGR picture of the working size, as bytes. `follows` says that it goes on from the
        one before."""
        high, wide = pixels.shape[:2]
        small = cv2.resize(pixels, (SIDE, SIDE), interpolation=cv2.INTER_AREA)
        found = self._look(np.ascontiguousarray(small[:, :, 2::-1]))
        before = self._before if follows else None
        if before is not None:
            # Where nearly nothing changed, most of it stays; where something moved, none.
            kept = STEADY * np.clip(1 - np.abs(found - before) * 4, 0, 1)
            found = found * (1 - kept) + before * kept
        self._before = found
        rough = cv2.resize(found, (wide, high), interpolation=cv2.INTER_LINEAR)
        grey: Any = cv2.cvtColor(pixels, cv2.COLOR_BGR2GRAY)
        fine = guided(grey.astype(np.float32) / 255, rough, max(2, min(high, wide) // 60), 4e-4)
        sure = np.clip((fine - CLEAR) / (SURE - CLEAR), 0, 1)
        return np.rint(sure * 255).astype(np.uint8)


def _working_size(width: int, height: int) -> tuple[int, int]:
    scale = min(1.0, WORKING / max(1, min(width, height)))
    return max(2, round(width * scale / 2) * 2), max(2, round(height * scale / 2) * 2)


def make_people(
    original: Path, kind: str, settings: Mapping[str, Any], out: Path, tell: Callable[[float], None]
) -> dict[str, Any]:
    """Makes the matte of a photo (a grey PNG) or of footage (grey pictures at the times of its own, in an MP4 file).
    Answers with how much of it is people, as a share."""
    people = People()
    if kind == "photo":
        pixels = draw_svg(original, 1024) if is_svg(original) else load_photo(original)
        size = _working_size(pixels.shape[1], pixels.shape[0])
        matte = people.matte(np.ascontiguousarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA)[:, :, :3]))
        done, data = cv2.imencode(".png", matte)
        if not done:
            raise BadMedia("unreadable", f"{original.name} could not be cut out.")
        out.write_bytes(data.tobytes())
        return {"share": round(float(matte.mean()) / 255, 4)}
    return _footage(original, people, out, tell)


def _footage(original: Path, people: People, out: Path, tell: Callable[[float], None]) -> dict[str, Any]:
    with open_media(original) as source, av.open(str(out), "w", format="mp4") as target:
        stream = source.streams.video[0]
        length = float((stream.duration or 0) * (stream.time_base or 0)) or float(source.duration or 0) / 1_000_000
        made: Any = None
        total, count, last, begin = 0.0, 0, -1, None
        clock = Fraction(1, 90_000)
        for frame in Pictures(source, stream, 0):
            turn = int(getattr(frame, "rotation", 0) or 0) % 360
            wide, high = (frame.height, frame.width) if turn in (90, 270) else (frame.width, frame.height)
            size = _working_size(wide, high)
            upright = (size[1], size[0]) if turn in (90, 270) else size
            pixels = plane_pixels(frame.reformat(*upright, "bgra", interpolation=Interpolation.FAST_BILINEAR))
            if turn in TURNS:
                pixels = np.asarray(cv2.rotate(pixels, TURNS[turn]))
            matte = people.matte(np.asarray(cv2.cvtColor(pixels, cv2.COLOR_BGRA2BGR)))
            if made is None:
                made = target.add_stream("libx264", options={"preset": "veryfast", "crf": "16", "g": "15", "bf": "0"})
                made.width, made.height, made.pix_fmt = size[0], size[1], "gray"
                made.codec_context.time_base = clock
            grey = av.VideoFrame.from_ndarray(matte, format="gray")
            at = Fraction(frame.pts) * (frame.time_base or stream.time_base or clock)
            begin = at if begin is None else begin
            grey.pts, grey.time_base = max(last + 1, round((at - begin) / clock)), clock
            last = int(grey.pts)
            target.mux(made.encode(grey))
            total, count = total + float(matte.mean()) / 255, count + 1
            tell(min(1.0, float(at - begin) / length) if length else 0.5)
        if made is None:
            raise BadMedia("broken", f"{original.name} has no picture that can be decoded.")
        target.mux(made.encode(None))
    return {"share": round(total / max(1, count), 4)}


# ---- when it is drawn ----


@part(2)
def fitted(matte: Pixels, how: Matte, width: int, height: int) -> Pixels:
    """A matte at the size of a picture, its edge moved and softened as it is wanted."""
    made: Any = matte
    if how.largest:
        count, labels, stats, _ = cv2.connectedComponentsWithStats((made > 127).astype(np.uint8))
        if count > 2:
            largest = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
            # What is half there around it stays with it.
            near = cv2.dilate((labels == largest).astype(np.uint8), np.ones((5, 5), np.uint8))
            made = made * near
    if how.soft > 0:
        made = cv2.GaussianBlur(made, (0, 0), max(0.3, how.soft * 0.02 * min(made.shape[:2])))
    if how.grow:
        moved = moved_edge(made.astype(np.float32) / 255, how.grow)
        made = np.rint(moved * 255).astype(np.uint8)
    return np.asarray(cv2.resize(made, (width, height), interpolation=cv2.INTER_LINEAR))


@part()
def cut_by(pixels: Pixels, alpha: Pixels) -> Pixels:
    """Premultiplied pixels of which only that is left what the matte shows."""
    return np.asarray(cv2.multiply(pixels, cv2.merge([alpha] * 4), scale=1 / 255))
