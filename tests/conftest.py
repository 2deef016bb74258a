"""Servers and files that tests share. Everything is real: PostgreSQL, Redis, the worker, the browser, the engine."""

from __future__ import annotations

import hashlib
import os
import shutil
import sys
import tempfile
import wave
from collections.abc import Callable, Iterator
from contextlib import suppress
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import psycopg
import pytest
from hypothesis import settings
from tools.stack import Stack

from glowreel.core.derived import Need
from glowreel.core.errors import Missing
from glowreel.core.media import Media
from glowreel.engine.ingest import make_samples
from glowreel.engine.probe import probe
from glowreel.services.access import Actor

settings.register_profile("steady", deadline=None)
settings.load_profile("steady")


def by(team: str, user: str | None = None) -> Actor:
    """Somebody of a team who may do everything."""
    return Actor("person", team, "owner", user)


LAST_LINES = 6000
"""So many letters of the log of the pages are shown beside a test that failed."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What waits for pages, workers and servers can be a moment late on a busy machine: it is tried twice more, and the
    run says so."""
    late = ("walks", "web", "services")
    for item in items:
        if any(Path(__file__).parent / name in item.path.parents for name in late):
            item.add_marker(pytest.mark.flaky(reruns=2))


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """Names what failed or is tried again at once, so that a long run is understood before it ends."""
    if report.outcome in ("failed", "rerun"):
        sys.stderr.write(f"\n{report.outcome}: {report.nodeid} ({report.when})\n")


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item):
    report = yield
    stack = getattr(item, "funcargs", {}).get("stack")
    log = stack.folder / "web.log" if report.failed and stack is not None else None
    if log is not None and log.exists():
        report.sections.append(("what the program said", log.read_text("utf-8", "replace")[-LAST_LINES:]))
    return report


@pytest.fixture(scope="session")
def workplace() -> Iterator[Path]:
    """A folder for the whole run, where the account of PostgreSQL can reach it."""
    folder = Path(tempfile.mkdtemp(prefix="glowreel-test-"))
    folder.chmod(0o755)
    yield folder
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def stack(workplace: Path) -> Iterator[Stack]:
    """The whole program with its demo, on free ports."""
    stack = Stack(workplace / "var")
    try:
        stack.start()
        yield stack
    finally:
        stack.stop()


UNWAITED = """
UPDATE export_files SET state = 'cancelled', finished_at = now(), lease_until = NULL
WHERE state IN ('planning', 'queued', 'running', 'joining')
"""


@pytest.fixture(autouse=True)
def nothing_left_to_make(request: pytest.FixtureRequest) -> Iterator[None]:
    """A film that a test began and did not wait for is stopped after it: the workers would make it while the next
    tests wait for theirs. What a test killed and did not start again is."""
    yield
    if "stack" not in request.fixturenames:
        return
    request.getfixturevalue("stack").make_whole()
    address = request.getfixturevalue("stack").environment["GLOWREEL_DATABASE"].replace("+psycopg", "")
    # A test that kills the database may leave it dead for a moment.
    with suppress(psycopg.Error), psycopg.connect(address, connect_timeout=5) as connection:
        connection.execute(UNWAITED)


@pytest.fixture(scope="session")
def runtime(stack: Stack):
    """The parts of the program in this process, on the same database and store."""
    os.environ.update(stack.environment)
    from glowreel.jobs import app

    return app.runtime


class Files:
    """Makes small real files whose contents are known."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def footage(
        self,
        name: str,
        paint: Callable[[int], tuple[int, int, int]],
        *,
        size: tuple[int, int] = (320, 180),
        rate: Fraction = Fraction(30),
        frames: int = 30,
        codec: str = "libx264",
        form: str = "yuv420p",
        times: list[int] | None = None,
        tone: float = 0,
        aspect: Fraction | None = None,
        matrix: int = 1,
    ) -> Path:
        """Footage in which frame n has one RGB colour, tagged with the matrix it is encoded with."""
        path = self.folder / name
        with av.open(str(path), "w") as out:
            stream = out.add_stream(codec, rate=rate, options={"crf": "6", "preset": "veryfast"})
            stream.width, stream.height, stream.pix_fmt = *size, form
            if aspect:
                stream.codec_context.sample_aspect_ratio = aspect
            stream.codec_context.time_base = Fraction(1, 1000) if times else 1 / rate
            stream.codec_context.colorspace = matrix
            stream.codec_context.color_range = 1
            audio = out.add_stream("aac", rate=44100, layout="mono") if tone else None
            for n in range(frames):
                pixels = np.full((size[1], size[0], 3), paint(n), np.uint8)
                frame = av.VideoFrame.from_ndarray(pixels, format="rgb24")
                space = {1: 1, 5: 5}[matrix]
                frame = frame.reformat(format=form, src_colorspace=space, dst_colorspace=space, dst_color_range=1)
                frame.colorspace, frame.color_range = matrix, 1
                frame.pts, frame.time_base = (times[n] if times else n), stream.codec_context.time_base
                out.mux(stream.encode(frame))
            out.mux(stream.encode(None))
            if audio is not None:
                t = np.arange(int(44100 * frames / rate)) / 44100
                samples = (0.5 * np.sin(2 * np.pi * tone * t)).astype(np.float32)
                for at in range(0, len(samples), 1024):
                    block = av.AudioFrame.from_ndarray(samples[None, at : at + 1024], format="fltp", layout="mono")
                    block.sample_rate, block.pts, block.time_base = 44100, at, Fraction(1, 44100)
                    out.mux(audio.encode(block))
                out.mux(audio.encode(None))
        return path

    def sound(self, name: str, samples: np.ndarray, rate: int = 48000) -> Path:
        """A WAV file of float samples, (n, channels)."""
        path = self.folder / name
        with wave.open(str(path), "wb") as out:
            out.setnchannels(samples.shape[1])
            out.setsampwidth(2)
            out.setframerate(rate)
            out.writeframes((samples * 32767).astype(np.int16).tobytes())
        return path


@pytest.fixture
def files(tmp_path: Path) -> Files:
    return Files(tmp_path)


class Folder:
    """The engine's `Library` over plain files, and the facts of each."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._paths: dict[str, Path] = {}

    def add(self, path: Path, **changes: object) -> Media:
        digest = hashlib.sha256(path.read_bytes()).hexdigest()
        self._paths[digest] = path
        facts = probe(path, path.name)
        fields = {
            key: getattr(facts, key) for key in ("kind", "length", "width", "height", "rate", "sounding", "alpha")
        }
        return Media(**{"id": f"m{digest[:8]}", "name": path.name, "hash": digest, **fields, **changes})

    def replace(self, media: Media, path: Path) -> None:
        """Lets a source be read from another file, as previews are from stand-ins."""
        self._paths[media.hash] = path

    def picture(self, source: str) -> Path:
        return self._paths[source]

    def made(self, need: Need, name: str) -> Path:
        path = self.folder / f"{need.source}.{need.maker}.{name}"
        if not path.exists():
            raise Missing("not-made", "It has not been made.")
        return path

    def samples(self, source: str) -> Path:
        path = self.folder / f"{source}.samples"
        if not path.exists():
            make_samples(self._paths[source], path)
        return path


@pytest.fixture
def library(tmp_path: Path) -> Folder:
    return Folder(tmp_path)
