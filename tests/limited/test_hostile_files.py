"""Files made to break what reads them: each is read, or refused in a sentence, and the pool goes on."""

from pathlib import Path

import pytest
from attacks.files import bundles, media, write

from glowreel.core.errors import Refusal
from glowreel.limited.client import Died, Limited


@pytest.fixture(scope="module")
def pool() -> Limited:
    return Limited()


def outcome(pool: Limited, task: str, arguments: dict[str, object], folder: Path, name: str) -> object:
    """What came of it: the result, or the sentence of its refusal. Anything else is an error of ours."""
    try:
        return pool.run(task, arguments, folder, name)
    except Refusal as refusal:
        assert not isinstance(refusal, Died), f"{name} ended its process"
        assert refusal.sentence.endswith("."), refusal.sentence
        return refusal.sentence


def taken_in(pool: Limited, path: Path, folder: Path) -> object:
    arguments = {"path": str(path), "name": path.name, "id": "m", "hash": "0" * 64, "suffix": ""}
    return outcome(pool, "take-in", arguments, folder, path.name)


@pytest.mark.parametrize("attack", [a for a in media() if a.quick], ids=lambda a: a.name)
def test_media(pool: Limited, tmp_path: Path, attack) -> None:
    made = tmp_path / "made"
    made.mkdir()
    found = taken_in(pool, write(attack, tmp_path), made)
    if isinstance(found, dict):
        assert set(found["made"]) == {path.name for path in made.iterdir()}


@pytest.mark.parametrize(
    ("name", "sentence"),
    [
        ("deep.svg", "more than 100 groups"),
        ("uses.svg", "more than 20,000 shapes"),
        ("circle.svg", "refers to itself"),
        ("entities.svg", "uses entities"),
        ("many.svg", "more than 20,000 shapes"),
        ("pixels.png", "more pixels than can be used"),
        ("list.m3u8", "not footage, a picture or sound"),
        ("list.mp4", "not footage, a picture or sound"),
    ],
)
def test_media_are_refused_for_what_is_wrong_with_them(pool: Limited, tmp_path: Path, name: str, sentence: str) -> None:
    attack = next(a for a in media() if a.name == name)
    assert sentence in str(taken_in(pool, write(attack, tmp_path), tmp_path))


@pytest.mark.parametrize("attack", bundles(), ids=lambda a: a.name)
def test_timelines(pool: Limited, tmp_path: Path, attack) -> None:
    path = write(attack, tmp_path)
    folder = tmp_path / "unpacked"
    folder.mkdir()
    found = outcome(pool, "unpack", {"path": str(path)}, folder, path.name)
    if isinstance(found, dict):
        found = outcome(pool, "read", {"media": {}, "id": "p"}, folder, path.name)
    assert isinstance(found, str), f"{attack.name} was opened"
    assert not list(tmp_path.parent.glob("x"))
    assert sum(f.stat().st_size for f in folder.iterdir()) < 120_000_000
