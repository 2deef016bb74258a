"""How far apart what was recorded together is: a click and a flash every two seconds, on a screen and before a camera,
recorded by the page as it records itself, laid on a timeline, and measured in the copies that it is drawn from."""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import av
import numpy as np
from tools.browser import FAKES, open_browser
from tools.stack import Stack

Show = Callable[[str, str, str, bool], None]
SECONDS = 600
EVERY = 2.0
TICKS = 705_600_000

STAGED = """
const context = new AudioContext();
const out = context.createMediaStreamDestination();
const board = () => { const canvas = document.createElement('canvas'); canvas.width = 640; canvas.height = 360;
  return {canvas, paper: canvas.getContext('2d')}; };
const boards = [board(), board()];
let next = context.currentTime + 1;
const beep = (at) => { const tone = context.createOscillator(), gain = context.createGain();
  tone.frequency.value = 1000; gain.gain.value = 0; gain.gain.setValueAtTime(0.9, at);
  gain.gain.setValueAtTime(0, at + 0.03); tone.connect(gain).connect(out); tone.start(at); tone.stop(at + 0.05); };
// The clicks are all planned at once: they come when they should, however busy the page is.
for (let n = 0; n < arguments[0] / 2 + 60; n += 1) beep(next + 2 * n);
// How late each flash was painted: a page that is busy paints it later, and that is not the recording's fault.
window.late = [];
let shown = false;
const paint = () => {
  const now = context.currentTime;
  while (now >= next + 0.2) { if (!shown) window.late.push(null); next += 2; shown = false; }
  const lit = now >= next;
  if (lit && !shown) { window.late.push(now - next); shown = true; }
  for (const {paper} of boards) {
    paper.fillStyle = lit ? '#fff' : '#111'; paper.fillRect(0, 0, 640, 360);
    paper.fillStyle = '#777'; paper.fillRect((now * 60) % 640, 340, 30, 10);
  }
  if (window.staged) requestAnimationFrame(paint);
};
window.staged = true;
paint();
navigator.mediaDevices.getUserMedia = async () => new MediaStream(
  [...boards[0].canvas.captureStream(30).getVideoTracks(),
   ...out.stream.getAudioTracks().map((track) => track.clone())]);
navigator.mediaDevices.getDisplayMedia = async () => boards[1].canvas.captureStream(30);
"""


def recording(folder: Path, show: Show) -> None:
    seconds = int(os.environ.get("GLOWREEL_BENCH_SECONDS", SECONDS))
    stack = Stack(folder / "var")
    try:
        stack.start()
        os.environ.update(stack.environment)
        with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
            state = _recorded(stack, Path(profile), seconds)
        _measured(state, seconds, show)
    finally:
        stack.stop()


def _recorded(stack: Stack, profile: Path, seconds: int) -> dict[str, Any]:
    """Records both for so long through the page; what the promo is then."""
    from tests.web.conftest import Browser

    driver = open_browser(profile, more=FAKES)
    try:
        browser = Browser(driver, stack.address)
        browser.open_copy()
        browser.js(STAGED, seconds)
        browser.click("#open-studio")
        browser.click('[data-records="both"]')
        browser.click("#studio-record")
        browser.until(lambda: browser.all("#studio.is-recording"), "the recording", 60)
        time.sleep(seconds)
        browser.click("#studio-record")
        browser.until(lambda: not browser.all("#studio.is-recording"), "its end")
        browser.js("window.staged = false")
        browser.until(lambda: not browser.all("#studio[open]"), "it on the timeline", 2400)
        browser.settled()
        return {**browser.state(), "late": browser.js("return window.late")}
    finally:
        driver.quit()


def _measured(state: dict[str, Any], seconds: int, show: Show) -> None:
    screen = next(row for row in state["main"] if row["label"].startswith("Screen"))
    layers = [row for track in state["tracks"] if track["kind"] == "layer" for row in track["rows"]]
    camera = next(row for row in layers if row["label"].startswith("Camera"))
    flashes = [_flashes(row["media"]) - row.get("before", 0) + row["start"] for row in (screen, camera)]
    clicks = _clicks(screen["media"]) - screen.get("before", 0) + screen["start"]
    late = _lateness(clicks, flashes[0], state["late"])
    _added(screen, clicks, flashes[0], show)
    for label, first, second, waits in (
        ("click against flash, same recording", clicks, flashes[0], late),
        ("camera against screen", flashes[1], flashes[0], np.zeros(len(flashes[0]))),
    ):
        apart = np.array([first[np.abs(first - one).argmin()] - one for one in second]) + waits
        apart = apart[np.abs(apart) < EVERY / 2]
        begins, ends = (float(np.median(part)) for part in (apart[:15], apart[-15:]))
        worst = float(np.abs(apart).max())
        told = (
            f"median {statistics.median(apart) * 1000:+.0f} ms, worst {worst * 1000:.0f} ms, drift"
            f" {(ends - begins) * 1000:+.0f} ms ({len(apart)} in {seconds} s)"
        )
        show(f"recording: {label}", told, "worst ≤ 1 frame (33 ms)", worst <= 1 / 30 + 0.001)


def _added(screen: dict[str, Any], clicks: Any, flashes: Any, show: Show) -> None:
    """What the program itself puts between sound and picture: the same file as the browser wrote it, beside what is
    seen and heard of it. The browser paints, captures and hears with up to a frame of its own."""
    pictures, heard = _written(screen["media"])
    written = np.array([heard[np.abs(heard - one).argmin()] - one for one in pictures])
    shown = np.array([clicks[np.abs(clicks - one).argmin()] - one for one in flashes])
    count = min(len(written), len(shown))
    more = shown[:count] - written[:count]
    more = more[np.abs(more) < EVERY / 2]
    worst = float(np.abs(more).max())
    told = f"median {np.median(more) * 1000:+.1f} ms, worst {worst * 1000:.1f} ms ({len(more)})"
    show("recording: what is added to the file as it was written", told, "worst ≤ 1 frame (33 ms)", worst <= 1 / 30)


def _written(media: str) -> tuple[Any, Any]:
    """When the picture becomes white and when the tone begins in the file as the browser wrote it, in seconds."""
    from glowreel.jobs.app import runtime
    from glowreel.services.blob_keys import original
    from glowreel.store.models import MediaFile

    with runtime.database.unit() as unit:
        path = runtime.blobs.local(original(unit.session.get_one(MediaFile, media).hash))
    with av.open(str(path)) as file:
        flashes = _whitened(file)
    with av.open(str(path)) as file:
        parts, begins = [], None
        for frame in file.decode(audio=0):
            begins = float(frame.time) if begins is None else begins
            parts.append(np.abs(frame.to_ndarray()[0].astype(np.float32)))
    return flashes, (begins or 0.0) + _begun(np.concatenate(parts))


def _lateness(clicks: Any, flashes: Any, late: list[float | None]) -> Any:
    """How late each of the flashes was painted, in seconds; not a number for one that belongs to none that was. The
    recording begins somewhere in the middle of what was staged: where the lateness told explains most, it fits."""
    numbers = [int(np.abs(clicks - one).argmin()) for one in flashes]
    apart = np.array([clicks[number] - one for number, one in zip(numbers, flashes, strict=True)])

    def told(first: int) -> Any:
        found = [late[first + number] if first + number < len(late) else None for number in numbers]
        return np.array([np.nan if one is None else one for one in found])

    tried = [told(first) for first in range(max(1, len(late) - len(clicks) + 1))]
    return min(tried, key=lambda waits: float(np.nanmedian(np.abs(apart + waits - np.nanmedian(apart + waits)))))


def _local(media: str, name: str) -> Path:
    from glowreel.jobs.app import runtime
    from glowreel.services.blob_keys import derived
    from glowreel.store.models import MediaFile

    with runtime.database.unit() as unit:
        source = unit.session.get_one(MediaFile, media).hash
    return runtime.blobs.local(derived(source, name))


def _flashes(media: str) -> Any:
    """When the picture becomes white, in seconds."""
    with av.open(str(_local(media, "proxy"))) as file:
        return _whitened(file)


def _whitened(file: Any) -> Any:
    times, lights = [], []
    for frame in file.decode(video=0):
        times.append(float(frame.time or 0.0))
        lights.append(frame.to_ndarray(format="gray")[20:200:20, ::20].mean())
    lit = np.array(lights) > 120
    return np.array(times)[1:][lit[1:] & ~lit[:-1]]


def _clicks(media: str) -> Any:
    """When the tone begins, in seconds."""
    from glowreel.engine.soundcopy import stored_samples

    return _begun(np.abs(stored_samples(_local(media, "samples"))[:, 0].astype(np.float32)))


def _begun(samples: Any) -> Any:
    """When a tone begins in samples at 48 kHz, in seconds."""
    loud = samples > 0.3 * samples.max()
    at = np.nonzero(loud)[0]
    starts = at[np.insert(np.diff(at) > 48_000 // 2, 0, True)]
    return starts / 48_000
