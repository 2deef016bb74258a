"""What a picture is of, and where that goes: faces first, then people, then what stands out. Found once for a file.

Footage is looked at a few times a second, from its stand-in. What is found is joined to tracks; of each shot the track
that is largest and longest there is the subject. Its path is held where it stands still, and smoothed until it is no
faster and turns no quicker than a camera would. Positions are shares of the picture.
"""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from functools import partial
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt
from av.video.reformatter import VideoReformatter

from glowreel.core.subject import MOST_POINTS, MOST_SHOTS, Shot, Subject
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.faces import faces_in
from glowreel.engine.footage import Pixels, plane_pixels
from glowreel.engine.mattes import people_in
from glowreel.engine.reading import Pictures, open_media
from glowreel.engine.steady import smoothed
from glowreel.engine.things import found_in, prepare

Floats = npt.NDArray[np.float64]
RATE = 4.0
"""So often a second footage is looked at."""
LOOKED_AT = 360
"""The short side, in pixels, of pictures in which faces are looked for."""
NEAR, GAP = 0.17, 1.3
"""How far, in shares of the picture, and how long, in seconds, something may be away and still be the same."""
LASTING = 0.2
"""For what share of a shot something must be there to be its subject."""
SECOND = 0.35
"""How large, beside the first, a second one must be to count."""
LEAST_PEOPLE, LEAST_THING = 0.012, 0.012
"""How much of a picture people, or what stands out, take at the least."""
MOST_THING = 0.62
"""What takes more than that of a picture is its ground, and nothing that stands out."""
CLOSELY, RARELY = 0.5, 1.5
"""Seconds from one look for small faces to the next, and where there were none before; people are looked for as often
as the first says."""
THINGS_EVERY = 8.0
"""Seconds from one look for what stands out to the next: it takes long. Between them it is followed by its colours."""
FOLLOWED = (96, 54)
"""The size of the pictures in which colours are followed."""
STILL = 0.055
"""What stays within so much to either side stands still."""
SLACK = 0.035
"""How far the subject goes from where the view looks before the view goes along."""
SPEED, TURNS = 0.55, 1.1
"""How fast the view goes at the most, in shares of the picture a second; and how much faster it gets in a second."""
AHEAD = 6
"""So many pictures at most wait to be looked at."""
UNCHANGED = 0.002
"""Where less than this of the light differs from when it was looked at last, a picture is not looked at again: a
recorded screen stands still for most of its time."""
LONG, SELDOM = 120.0, 1.0
"""Of what is longer than the first, as many pictures are looked at as of that, spread over it, but none more than the
second apart (s): a recording of ten minutes is not kept waiting as long as it is."""
CALMER = 8.0
"""What changes at once in something long counts as new again only after a time: that many times what pictures are
farther apart there. What flashes for ten minutes is not looked at anew with each flash."""
CUT = 0.13
"""How much of the light changes at once, on average, where a cut is."""
CUT_TIMES = 4.0
"""And how many times as much as just before."""
TOLERANCE = 0.004
"""By how much a path may differ from what was found when points are left out."""


@dataclass
class Seen:
    """Something found in one look: when, where its middle is, and how large it is, in shares of the picture."""

    at: float
    across: float
    down: float
    size: float


@dataclass
class Track:
    """The same thing in one look after another."""

    seen: list[Seen] = field(default_factory=list)

    @property
    def weight(self) -> float:
        """How much of a subject it is: its size over all the time, more where it is in the middle."""
        return sum(one.size * (1.15 - abs(one.across - 0.5)) for one in self.seen)


@dataclass
class Look:
    """One look at a picture: its time in seconds, whether a cut lies before it, and what was found by kind."""

    at: float
    faces: list[Seen] = field(default_factory=list)
    people: Seen | None = None
    thing: Seen | None = None

    def again(self, at: float) -> Look:
        """The same at another time, of a picture in which nothing changed."""

        def then(mark: Seen | None) -> Seen | None:
            return replace(mark, at=at) if mark is not None else None

        return Look(at, [replace(face, at=at) for face in self.faces], then(self.people), then(self.thing))


def face_marks(pixels: Pixels, at: float = 0.0, *, closely: bool = True) -> list[Seen]:
    """The faces in a picture. What must stay in view of somebody lies a little below their face."""
    high, wide = pixels.shape[:2]
    return [
        Seen(at, (box.x + box.width / 2) / wide, min(1.0, (box.y + box.height * 0.75) / high),
             box.width * box.height / (wide * high))
        for box in faces_in(pixels, closely=closely)
    ]  # fmt: skip


def people_mark(pixels: Pixels, at: float = 0.0) -> Seen | None:
    """Where people are: the middle of them across; down, nearer to their heads than to their feet."""
    return _mark(people_in(pixels), at, LEAST_PEOPLE, 0.3)


def thing_mark(pixels: Pixels, at: float = 0.0) -> tuple[Seen, Any] | None:
    """Where what stands out is, and how surely each pixel belongs to it."""
    shares = found_in(np.ascontiguousarray(pixels[:, :, :3]))
    found = _mark(shares, at, LEAST_THING, 0.5)
    return (found, shares) if found is not None and found.size < MOST_THING else None


def _mark(shares: Any, at: float, least: float, down: float) -> Seen | None:
    """The largest connected piece of what is more likely than not: its middle across, a quantile of it down."""
    sure = (shares > 0.5).astype(np.uint8)
    count, labels, stats, middles = cv2.connectedComponentsWithStats(sure)
    if count < 2:
        return None
    largest = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    size = float(stats[largest, cv2.CC_STAT_AREA]) / sure.size
    if size < least:
        return None
    rows = np.nonzero((labels == largest).any(axis=1))[0]
    high, wide = sure.shape
    lies = rows[0] + down * (rows[-1] - rows[0]) if down != 0.5 else float(middles[largest][1])
    return Seen(at, float(middles[largest][0]) / wide, float(lies) / high, size)


class Colours:
    """Follows what stands out by the colours that tell it from its ground (Swain and Ballard, 1991)."""

    def __init__(self, pixels: Pixels, shares: Any, mark: Seen) -> None:
        small = cv2.resize(pixels[:, :, :3], FOLLOWED, interpolation=cv2.INTER_AREA)
        mask = cv2.resize(shares, FOLLOWED, interpolation=cv2.INTER_AREA) > 0.5
        lab = cv2.cvtColor(small, cv2.COLOR_BGR2Lab).reshape(-1, 3)
        own, ground = (self._counted(lab[where]) for where in (mask.reshape(-1), ~mask.reshape(-1)))
        self._telling = own / (own + ground + 1e-6)
        self._last = mark

    @staticmethod
    def _bins(lab: Any) -> Any:
        return (lab[:, 0] // 32).astype(int) * 256 + (lab[:, 1] // 16).astype(int) * 16 + (lab[:, 2] // 16).astype(int)

    def _counted(self, lab: Any) -> Any:
        counts = np.bincount(self._bins(lab), minlength=8 * 256).astype(np.float64)
        return counts / max(1.0, counts.sum())

    def find(self, pixels: Pixels, at: float) -> Seen | None:
        """Where it is now: the piece in its colours that is nearest to where it was, and about as large."""
        small = cv2.resize(pixels[:, :, :3], FOLLOWED, interpolation=cv2.INTER_AREA)
        lab = cv2.cvtColor(small, cv2.COLOR_BGR2Lab).reshape(-1, 3)
        like = cv2.GaussianBlur(self._telling[self._bins(lab)].reshape(FOLLOWED[1], FOLLOWED[0]), (0, 0), 1.0)
        count, _, stats, middles = cv2.connectedComponentsWithStats((like > 0.5).astype(np.uint8))
        found = []
        for n in range(1, count):
            size = stats[n, cv2.CC_STAT_AREA] / (FOLLOWED[0] * FOLLOWED[1])
            one = Seen(at, middles[n][0] / FOLLOWED[0], middles[n][1] / FOLLOWED[1], size)
            away = float(np.hypot(one.across - self._last.across, one.down - self._last.down))
            if 0.35 < size / self._last.size < 2.8 and away <= NEAR * max(1.0, RATE * (at - self._last.at)):
                found.append((away, one))
        if not found:
            return None
        self._last = min(found, key=lambda pair: pair[0])[1]
        return self._last


def joined(looks: Sequence[Sequence[Seen]]) -> list[Track]:
    """Tracks of what was found in one look after another: each goes on with what is nearest to where it was."""
    tracks: list[Track] = []
    for found in looks:
        free = list(found)
        for track in sorted(tracks, key=lambda one: -one.weight):
            last = track.seen[-1]
            near = [one for one in free if one.at - last.at <= GAP
                    and np.hypot(one.across - last.across, one.down - last.down) <= NEAR]  # fmt: skip
            if near:
                chosen = min(near, key=lambda one: float(np.hypot(one.across - last.across, one.down - last.down)))
                track.seen.append(chosen)
                free.remove(chosen)
        tracks += [Track([one]) for one in free]
    return sorted(tracks, key=lambda track: -track.weight)


def held(path: Floats) -> Floats:
    """A path that goes along only where what it follows has gone farther than the slack; one point where it stays."""
    middle = np.median(path, axis=0)
    still = np.abs(path - middle).max(axis=0) <= STILL
    made = path.copy()
    for side in range(2):
        if still[side]:
            made[:, side] = middle[side]
            continue
        now = float(np.median(path[: max(1, len(path) // 8), side]))
        for place, value in enumerate(path[:, side]):
            now = min(max(now, value - SLACK), value + SLACK)
            made[place, side] = now
    return made


def calmed(path: Floats, step: float) -> Floats:
    """A path, a row every `step` seconds, smoothed until it is no faster and turns no quicker than it may."""
    deviation, made = 0.3 / step, path
    for _ in range(14):
        made = smoothed(path, deviation)
        speed = np.abs(np.diff(made, axis=0)) / step
        turns = np.abs(np.diff(made, 2, axis=0)) / step**2
        if speed.max(initial=0.0) <= SPEED and turns.max(initial=0.0) <= TURNS:
            break
        deviation *= 1.35
    return made


def simpler(times: Floats, path: Floats, tolerance: float = TOLERANCE) -> list[int]:
    """The rows that say as much as all of them, to within a tolerance (Ramer, Douglas and Peucker)."""
    kept, open_ = {0, len(times) - 1}, [(0, len(times) - 1)]
    while open_:
        first, last = open_.pop()
        if last - first < 2:
            continue
        shares = (times[first : last + 1] - times[first]) / max(1e-9, times[last] - times[first])
        straight = path[first] + shares[:, None] * (path[last] - path[first])
        away = np.abs(path[first : last + 1] - straight).max(axis=1)
        worst = int(np.argmax(away))
        if away[worst] > tolerance:
            kept.add(first + worst)
            open_ += [(first, first + worst), (first + worst, last)]
    return sorted(kept)


def _path(track: Track, begin: float, end: float) -> tuple[tuple[int, float, float], ...]:
    """The path of a track through a shot, as points."""
    count = max(2, round((end - begin) * RATE) + 1)
    times = np.linspace(begin, end, count)
    at = [one.at for one in track.seen]
    rough = np.stack([np.interp(times, at, [getattr(one, side) for one in track.seen])
                      for side in ("across", "down")], axis=1)  # fmt: skip
    path = np.clip(calmed(held(rough), float(times[1] - times[0]) or 1.0), 0, 1)
    tolerance, rows = TOLERANCE, simpler(times, path)
    while len(rows) > MOST_POINTS:
        tolerance *= 1.6
        rows = simpler(times, path, tolerance)
    if np.abs(path - path[0]).max() < 1e-6:
        rows = rows[:1]
    return tuple(
        (round(times[row] * TICKS_PER_SECOND), round(float(path[row, 0]), 4), round(float(path[row, 1]), 4))
        for row in rows
    )


def shot_of(looks: Sequence[Look], begin: float, end: float) -> Shot:
    """The shot between two times: whose path is followed, and that of a second one."""
    at = round(begin * TICKS_PER_SECOND)
    needed = max(1.0, LASTING * len(looks))
    faces = [track for track in joined([look.faces for look in looks]) if len(track.seen) >= needed]
    if faces:
        first, *rest = faces
        second = next((one for one in rest if one.weight > SECOND * first.weight), None)
        return Shot(at=at, first=_path(first, begin, end), second=_path(second, begin, end) if second else ())
    # People who are not told from something else at every look are the same something.
    found = [[one] if (one := look.people or look.thing) is not None else [] for look in looks]
    tracks = joined(found)
    if tracks and len(tracks[0].seen) >= needed:
        return Shot(at=at, first=_path(tracks[0], begin, end))
    return Shot(at=at)


def subject_of_photo(pixels: Pixels) -> Subject:
    """Where the subject of a photo is; BGRA pixels."""
    small = _small(pixels, LOOKED_AT)
    faces = sorted(face_marks(small), key=lambda one: -one.size)
    looks = [Look(0.0, faces=faces, people=None if faces else people_mark(small))]
    if not faces and looks[0].people is None:
        thing = thing_mark(small)
        looks[0].thing = thing[0] if thing is not None else None
    shot = shot_of(looks, 0.0, 0.0)
    return Subject(shots=(shot,)) if shot.first else Subject()


def _small(pixels: Pixels, short: int) -> Pixels:
    high, wide = pixels.shape[:2]
    scale = short / min(high, wide)
    size = max(1, round(wide * scale)), max(1, round(high * scale))
    made: Pixels = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA) if scale < 1 else pixels
    return made


def cuts_in(lights: Sequence[Any]) -> list[int]:
    """The places of frames before which a cut is, from small grey pictures of all frames."""
    changes = [float(np.abs(now.astype(np.int16) - before).mean()) / 255
               for before, now in zip(lights, lights[1:], strict=False)]  # fmt: skip
    found: list[int] = []
    for place, change in enumerate(changes):
        around = changes[max(0, place - 6) : place] + changes[place + 1 : place + 4]
        usual = float(np.median(around)) if around else 0.0
        if change > CUT and change > CUT_TIMES * usual and (not found or place + 1 - found[-1] > 5):
            found.append(place + 1)
    return found


@dataclass(frozen=True)
class Frame:
    """A frame of footage: its time in seconds, its light as a small grey picture, and its pixels, BGRA, when wanted."""

    at: float
    light: Any
    pixels: Callable[[], Pixels]


class _Watcher:
    """Looks at one picture after another, at what takes long less often."""

    def __init__(self) -> None:
        self._closely, self._people, self._thought = -RARELY, -CLOSELY, -THINGS_EVERY
        self._faces, self._somebody, self._passed = False, False, False
        self._colours: Colours | None = None

    def look(self, pixels: Pixels, at: float, sudden: bool) -> Look:
        """What is found in a picture; `sudden` says that it is unlike the one before."""
        closely = sudden or at - self._closely >= (CLOSELY if self._faces else RARELY) - 1e-6
        # Where nobody's face was seen the last time, every other look is enough.
        self._passed = not (closely or self._faces or self._passed)
        look = Look(at, faces=[] if self._passed else face_marks(pixels, at, closely=closely))
        if closely:
            self._closely, self._faces = at, bool(look.faces)
        if look.faces or self._people_in(pixels, look, sudden):
            return look
        if sudden or at - self._thought >= THINGS_EVERY:
            found, self._thought = thing_mark(pixels, at), at
            self._colours = Colours(pixels, found[1], found[0]) if found is not None else None
            look.thing = found[0] if found is not None else None
        elif self._colours is not None:
            look.thing = self._colours.find(pixels, at)
        return look

    def _people_in(self, pixels: Pixels, look: Look, sudden: bool) -> bool:
        """Whether there are people, as far as is known by now."""
        if sudden or look.at - self._people >= CLOSELY - 1e-6:
            look.people, self._people = people_mark(pixels, look.at), look.at
            self._somebody = look.people is not None
        return self._somebody


def subject_of_footage(frames: Iterable[Frame], progress: Callable[[float], None], length: float) -> Subject:
    """Where the subject of footage is, from its frames in order; `length` in seconds."""
    lights: list[Any] = []
    times: list[float] = []
    every = min(SELDOM, max(1.0, length / LONG) / RATE)
    looks = list(_looks(frames, every, lights, times, lambda at: progress(min(1.0, at / max(1e-6, length)))))
    if not looks:
        return Subject()
    begins = [0.0, *(times[place] for place in cuts_in(lights))][:MOST_SHOTS]
    shots = []
    for begin, end in zip(begins, [*begins[1:], times[-1] + 1e-6], strict=True):
        within = [look for look in looks if begin - 1e-6 <= look.at < end - 1e-6] or looks[-1:]
        shots.append(shot_of(within, begin, max(end - 1 / 30, begin)))
    return Subject(shots=tuple(shots)) if any(shot.first for shot in shots) else Subject()


def _looks(
    frames: Iterable[Frame], every: float, lights: list[Any], times: list[float], tell: Callable[[float], None]
) -> Iterator[Look]:
    """What is found in frames, `every` so many seconds; `lights` and `times` of all of them are added to the lists.
    While one is looked at, the next ones are decoded."""
    watcher, waiting, last, leapt = _Watcher(), deque[Future[Look] | float](), -1.0, -math.inf
    apart = CALMER * (every - 1 / RATE)
    before, seen = Look(0.0), None  # What was found last, and the light of the picture it was found in.
    with ThreadPoolExecutor(1, "watcher") as eyes, ThreadPoolExecutor(1, "model") as ready:
        ready.submit(prepare)  # It takes as long as looking at the first picture.
        for frame in frames:
            changed = np.abs(frame.light.astype(np.int16) - lights[-1]).mean() / 255 if lights else 0.0
            sudden = bool(changed > CUT) and frame.at - leapt >= apart
            leapt = frame.at if sudden else leapt
            lights.append(frame.light)
            times.append(frame.at)
            if last >= 0 and frame.at - last < every - 1e-6 and not sudden:
                continue
            last = frame.at
            light = frame.light.astype(np.int16)
            if seen is not None and np.abs(light - seen).mean() / 255 < UNCHANGED:
                waiting.append(frame.at)
            else:
                waiting.append(eyes.submit(watcher.look, frame.pixels(), frame.at, sudden))
                seen = light
            if len(waiting) > AHEAD:
                before = _found(waiting.popleft(), before)
                yield before
            tell(frame.at)
        while waiting:
            before = _found(waiting.popleft(), before)
            yield before


def _found(waiting: Future[Look] | float, before: Look) -> Look:
    """What was found in a picture, or, of one that is as the one before, the same at its time."""
    return before.again(waiting) if isinstance(waiting, float) else waiting.result()


def frames_of(path: Path) -> Iterator[Frame]:
    """The frames of a stand-in in order, the pixels of each as long as it is at hand."""
    with open_media(path) as source:
        stream = source.streams.video[0]
        zero, reformatter = stream.start_time or 0, VideoReformatter()
        pictures = Pictures(source, stream)
        wide, high = stream.width, stream.height // (2 if pictures.stacked else 1)
        scale = LOOKED_AT / min(wide, high)
        size = max(2, round(wide * scale)), max(2, round(high * scale))

        def pixels(frame: Any) -> Pixels:
            tall = size[1] * (2 if pictures.stacked else 1)
            drawn = reformatter.reformat(frame, width=size[0], height=tall, format="bgra")
            return plane_pixels(drawn)[: size[1]].copy()

        for frame in pictures:
            small = reformatter.reformat(frame, width=32, height=18, format="gray", interpolation="AREA")
            light = np.asarray(small.to_ndarray())[: 9 if pictures.stacked else 18].copy()
            yield Frame(float((frame.pts - zero) * stream.time_base), light, partial(pixels, frame))
