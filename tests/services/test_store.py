"""Files by key, units of work, and the demo's own promises."""

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from moto.server import ThreadedMotoServer
from sqlalchemy import text

from glowreel.core.errors import Missing
from glowreel.core.recipe.picture import part_box
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.demo.generate.__main__ import painted
from glowreel.demo.generate.music import RATE, SONGS, compose
from glowreel.demo.generate.shots import FOOTAGE, PHOTOS
from glowreel.demo.scenario import FILES, MEDIA, finished, probed, started
from glowreel.engine.typesetting import measure
from glowreel.services.setup import Runtime, Settings
from glowreel.store.blobs import Blobs
from tests.core.build import numbered


@pytest.fixture(scope="module")
def bucket() -> Iterator[str]:
    """A store that speaks S3, run for these tests."""
    server = ThreadedMotoServer("127.0.0.1", 0, verbose=False)
    server.start()
    host, port = server.get_host_and_port()
    told = {"AWS_ENDPOINT_URL": f"http://{host}:{port}", "AWS_ACCESS_KEY_ID": "test", "AWS_SECRET_ACCESS_KEY": "test",
            "AWS_DEFAULT_REGION": "us-east-1"}  # fmt: skip
    before = {name: os.environ.get(name) for name in told}
    os.environ.update(told)
    yield "s3://glowreel"
    server.stop()
    for name, value in before.items():
        os.environ.pop(name) if value is None else os.environ.update({name: value})


@pytest.fixture(params=["disk", "s3"])
def blobs(request, tmp_path: Path) -> Blobs:
    """On a disk, and on an S3-compatible store."""
    url = str(tmp_path / "blobs") if request.param == "disk" else request.getfixturevalue("bucket") + tmp_path.name
    return Blobs(url.replace("_", "-"), tmp_path / "cache")


def test_what_is_written_can_be_read_and_removed(blobs: Blobs) -> None:
    blobs.write("a/b.txt", lambda out: out.write_text("hello") and None)
    assert blobs.has("a/b.txt")
    assert blobs.size("a/b.txt") == 5
    assert blobs.local("a/b.txt").read_text() == "hello"
    blobs.remove("a/b.txt")
    assert not blobs.has("a/b.txt")


def test_a_file_is_there_whole_or_not_at_all(blobs: Blobs, tmp_path: Path) -> None:
    def fails(out: Path) -> None:
        out.write_text("half")
        raise RuntimeError("stopped")

    with pytest.raises(RuntimeError):
        blobs.write("x.bin", fails)
    assert not blobs.has("x.bin")
    assert not list((tmp_path / "cache").glob("part-*"))
    with pytest.raises(Missing, match="missing from the store"):
        blobs.local("x.bin")


def test_tasks_are_sent_only_after_the_commit(runtime: Runtime, monkeypatch) -> None:
    sent: list[str] = []
    monkeypatch.setattr(runtime.database, "send", lambda task, args: sent.append(task))
    with runtime.database.unit() as unit:
        unit.later("one")
        assert sent == []
    assert sent == ["one"]
    with pytest.raises(RuntimeError), runtime.database.unit() as unit:
        unit.later("two")
        raise RuntimeError("rolled back")
    assert sent == ["one"]


def test_a_failed_unit_leaves_nothing_behind(runtime: Runtime) -> None:
    with pytest.raises(RuntimeError), runtime.database.unit() as unit:
        unit.session.execute(text("INSERT INTO teams (id, name, created_at) VALUES ('t-x', 'x', now())"))
        raise RuntimeError("rolled back")
    with runtime.database.unit() as unit:
        assert not unit.session.scalar(text("SELECT count(*) FROM teams WHERE id = 't-x'"))


def test_migrating_twice_changes_nothing(runtime: Runtime) -> None:
    runtime.database.migrate()


def test_settings_come_from_the_environment(monkeypatch) -> None:
    monkeypatch.setenv("GLOWREEL_DEMO", "1")
    monkeypatch.setenv("GLOWREEL_FRAMES_MB", "64")
    monkeypatch.setenv("GLOWREEL_SECURE_COOKIES", "0")
    settings = Settings.from_environment()
    assert (settings.demo, settings.frames_mb, settings.secure_cookies) == (True, 64, False)


def test_the_demo_is_what_it_says() -> None:
    media = {name: probed(MEDIA / name) for name in FILES}
    kinds = [m.kind for m in media.values()]
    assert kinds.count("footage") >= 6
    assert kinds.count("photo") >= 8
    assert kinds.count("sound") >= 2
    assert all((MEDIA / name).stat().st_size < 4_000_000 for name in FILES)
    assert sum((MEDIA / name).stat().st_size for name in FILES) < 40_000_000
    promo = finished(media, numbered())
    assert timeline(promo).length == 20 * TICKS_PER_SECOND
    assert len(promo.scenes) == 5
    assert len(started(media, numbered("b")).scenes) == 1


def test_the_demos_words_are_inside_the_frame_in_every_format() -> None:
    media = {name: probed(MEDIA / name) for name in FILES}
    promo = finished(media, numbered())
    for format in promo.formats:
        width, height = format.canon
        for item in promo.items:
            box = part_box(promo, format, item, measure)
            if box is None or item.kind != "words":
                continue
            assert box.x >= 0
            assert box.y >= 0
            assert box.x + box.width <= width + 1
            assert box.y + box.height <= height + 1


def test_the_generator_draws_and_composes_the_same_every_time() -> None:
    import numpy as np

    for shot in (PHOTOS[0], FOOTAGE[4]):
        small = type(shot)(shot.name, shot.paint, 320, 180, shot.rate, shot.seconds)
        first, second = (np.zeros((180, 320, 4), np.uint8) for _ in range(2))
        painted(small, 2.0, first)
        painted(small, 2.0, second)
        assert np.array_equal(first, second)
        assert first[:, :, :3].std() > 15
    song = type(SONGS[0])("short", 120, SONGS[0].chords, 2, False, "soft")
    samples = compose(song)
    assert samples.shape == (7 * RATE, 2)
    assert 0.7 < np.abs(samples).max() < 0.9
    assert np.abs(samples[-100:]).max() < 0.02, "songs end in silence"
