"""Footage that is held still, and what is shown between two of its frames."""

from fractions import Fraction

import av
import cv2
import numpy as np
import pytest

from glowreel.core import commands as c
from glowreel.core.commands import Context, apply
from glowreel.core.derived import Need
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.needs import needs
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.between import Between, make_between
from glowreel.engine.footage import Footage
from glowreel.engine.sources import Sources
from glowreel.engine.steady import corrections, make_steady, smoothed, steadied
from glowreel.engine.still import draw_still
from tests.conftest import Files, Folder
from tests.core.build import numbered, sets
from tests.engine.build import promo_of

WIDE = SHIPPED["wide"]


def film(path, frames: list[np.ndarray], rate: int = 30):
    """A film of BGR pictures."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libx264", rate=rate, options={"crf": "8", "preset": "veryfast"})
        stream.height, stream.width, stream.pix_fmt = *frames[0].shape[:2], "yuv420p"
        for n, pixels in enumerate(frames):
            frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="bgr24")
            frame.pts, frame.time_base = n, Fraction(1, rate)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


def texture() -> np.ndarray:
    """Something with corners to follow, larger than a frame."""
    rng = np.random.default_rng(3)
    small = rng.integers(0, 255, (42, 62, 3), dtype=np.uint8)
    return cv2.resize(small, (620, 420), interpolation=cv2.INTER_NEAREST)


def shaken(count: int = 60) -> tuple[list[np.ndarray], np.ndarray]:
    """Frames of a camera that trembles, and by how much it is moved in each."""
    rng = np.random.default_rng(5)
    moves = rng.normal(0, 3.0, (count, 2))
    whole = texture()
    frames = [cv2.warpAffine(whole, np.float32([[1, 0, x - 90], [0, 1, y - 60]]), (426, 240)) for x, y in moves]
    return frames, moves


def steps_between(frames: list[np.ndarray]) -> np.ndarray:
    """By how many pixels each frame is moved against the one before."""
    grey = [cv2.cvtColor(f[20:-20, 20:-20, :3].copy(), cv2.COLOR_BGR2GRAY).astype(np.float32) for f in frames]
    found = [cv2.phaseCorrelate(a, b)[0] for a, b in zip(grey, grey[1:], strict=False)]
    return np.hypot(*np.array(found).T)


def test_a_trembling_camera_is_held_still(tmp_path) -> None:
    frames, _ = shaken()
    path = film(tmp_path / "shaky.mp4", frames)
    shares: list[float] = []
    facts = make_steady(path, tmp_path / "path", shares.append)
    rows = np.load(tmp_path / "path")
    assert len(rows) == len(frames) + 1
    assert 1.0 < facts["enlarged"] < 1.28
    assert shares == sorted(shares)
    assert shares[-1] > 0.9
    held = [
        steadied(cv2.cvtColor(f, cv2.COLOR_BGR2BGRA), rows, n * TICKS_PER_SECOND // 30, 1.0)
        for n, f in enumerate(frames)
    ]
    assert np.median(steps_between(held)) < 0.25 * np.median(steps_between(frames))
    whole = steadied(cv2.cvtColor(frames[4], cv2.COLOR_BGR2BGRA), rows, 4 * TICKS_PER_SECOND // 30, 0.0)
    assert np.array_equal(whole[:, :, :3], frames[4]), "none of it leaves it as it is"


def test_a_calm_pan_stays_a_pan_and_what_is_taken_back_has_a_limit() -> None:
    path = np.cumsum(np.full((90, 4), 0.01), axis=0)
    middle = smoothed(path, 8.0)[30:60]
    assert np.allclose(middle, path[30:60], atol=1e-9)
    wild = corrections([n / 30 for n in range(60)], [(0.4 * (-1) ** n, 0.0, 0.0, 0.0) for n in range(60)], 16 / 9)
    assert wild[0, 0] <= 1.281


def square(x: int) -> np.ndarray:
    """A patch of many colours on quiet ground, `x` pixels from the left."""
    pixels = np.full((180, 320, 3), 90, np.uint8)
    cv2.GaussianBlur(np.random.default_rng(1).integers(60, 120, (180, 320, 3), dtype=np.uint8), (0, 0), 4, pixels)
    patch = cv2.resize(np.random.default_rng(2).integers(0, 255, (6, 6, 3), dtype=np.uint8), (60, 60))
    pixels[60:120, x : x + 60] = patch
    return pixels


def test_a_frame_between_two_shows_what_moves_half_way(tmp_path) -> None:
    made = Between().pictures(square(100), square(112), (0.5,))[0]
    error = {x: float(np.abs(made.astype(int) - square(x)).mean()) for x in (100, 106, 112)}
    assert error[106] < 0.45 * min(error[100], error[112])
    cut = Between().pictures(square(100), 255 - square(20), (0.25, 0.75))
    assert np.array_equal(cut[0], square(100)), "nothing is made between two shots"
    path = film(tmp_path / "moves.mp4", [square(60 + 8 * n) for n in range(8)])
    assert make_between(path, tmp_path / "between", lambda share: None) == {"frames": 29}
    with Footage(tmp_path / "between") as reader:
        shown = reader.bgra(reader.frame(round(2.5 / 30 * TICKS_PER_SECOND)), 320, 180)[:, :, :3]
    far = {x: float(np.abs(shown.astype(int) - square(x)).mean()) for x in (76, 80, 84)}
    assert far[80] == min(far.values())


@pytest.fixture
def slowed(files: Files, library: Folder):
    """A second of footage, black in even frames and white in odd ones, four times as slow."""
    media = library.add(files.footage("blink.mp4", lambda n: (235, 235, 235) if n % 2 else (20, 20, 20)))
    promo = promo_of(media, commands=())
    context = Context(numbered("s"))
    promo = apply(promo, c.SetSpeed(item=promo.clips[0].id, speed=250), context).promo
    return promo, Sources(library), media


def test_slowed_footage_mixes_its_frames_or_names_what_is_to_be_made(slowed) -> None:
    promo, sources, media = slowed
    clip = promo.clips[0].id

    def light(promo, frame: int) -> float:
        return float(draw_still(promo, WIDE, promo.rate.frame_start(frame), 180, sources)[90, 160, 1])

    plain = [light(promo, n) for n in range(5)]
    assert max(plain[:4]) - min(plain[:4]) < 3, "each of its frames stands for four"
    mixed = apply(promo, sets(clip, between="blend"), Context(numbered("b"))).promo
    found = [light(mixed, n) for n in range(5)]
    assert np.allclose(np.diff(found), (found[4] - found[0]) / 4, atol=6), "evenly from one to the next"
    made = apply(promo, sets(clip, between="flow", steady=0.5), Context(numbered("f"))).promo
    assert set(needs(made)) == {Need(media.hash, "flow"), Need(media.hash, "steady")}
    assert abs(light(made, 1) - plain[1]) < 3, "the nearest as long as none are made"
