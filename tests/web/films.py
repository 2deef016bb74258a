"""Films and sounds as they come out, for tests that fetch them as the person at a browser would."""

from __future__ import annotations

import io
import urllib.request
from dataclasses import dataclass

import av
import numpy as np

from tests.web.conftest import Browser


@dataclass(frozen=True)
class Film:
    """A finished film: its size, how long it lasts in seconds, whether it sounds, and its frames."""

    wide: int
    high: int
    lasts: float
    sounds: bool
    data: bytes

    def frame(self, seconds: float) -> np.ndarray:
        """The frame at a moment, (high, wide, 3), 0 to 255."""
        with av.open(io.BytesIO(self.data)) as film:
            frames = (frame for frame in film.decode(video=0) if frame.time is not None)
            found = next(frame for frame in frames if frame.time >= seconds - 1e-6)
            return found.to_ndarray(format="rgb24").astype(int)

    def sound(self) -> np.ndarray:
        return samples_of(self.data)


def samples_of(data: bytes) -> np.ndarray:
    """What is heard on the left of a film or a sound, at 48 kHz."""
    with av.open(io.BytesIO(data)) as opened:
        resampled = av.AudioResampler("fltp", "stereo", 48000)
        parts = [part for frame in opened.decode(audio=0) for part in resampled.resample(frame)]
    return np.concatenate([part.to_ndarray()[0] for part in parts])


def fetched(browser: Browser, address: str) -> bytes:
    """A file that the person at the browser may have."""
    cookies = "; ".join(f"{cookie['name']}={cookie['value']}" for cookie in browser.driver.get_cookies())
    with urllib.request.urlopen(urllib.request.Request(address, headers={"Cookie": cookies})) as answer:
        return bytes(answer.read())


def film_of(data: bytes) -> Film:
    with av.open(io.BytesIO(data)) as film:
        video = film.streams.video[0]
        lasts = float((video.duration or 0) * (video.time_base or 0))
        return Film(video.width, video.height, lasts, bool(film.streams.audio), data)
