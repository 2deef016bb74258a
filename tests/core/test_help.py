"""The help names what is there: its pages, the screens they open on, and the labels that they speak of."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from glowreel.web.help import reading

WEB = Path(reading.__file__).parents[1]


WITHOUT = {
    "alone",
    "activity",
    "sound",
    "history",
    "review",
    "said",
    "preview",
    "find",
    "uploads",
    "by_link",
    "watching",
    "watch",
    "connecting",
    "api",
    "help",
}
"""Areas that have no screen of their own for somebody who is signed in: parts of others, and pages for strangers."""


def drawn() -> str:
    """Everything that screens are drawn from, but the help itself."""
    files = [path for kind in ("*.html", "*.js", "*.py") for path in WEB.rglob(kind) if path.parent.name != "vendor"]
    return re.sub(r"\s+", " ", " ".join(path.read_text("utf-8") for path in files))


def test_every_page_is_there_once_and_opens_somewhere() -> None:
    assert sorted(path.stem for path in reading.FOLDER.glob("*.md")) == sorted(reading.PAGES)
    assert set(reading.WHERE.values()) == set(reading.PAGES)
    assert len(set(reading.titles().values())) == len(reading.PAGES)
    assert reading.page("../settings") is None


def test_every_blueprint_that_is_named_is_one() -> None:
    made = set(re.findall(r'Blueprint\("(\w+)"', " ".join(path.read_text("utf-8") for path in WEB.rglob("*.py"))))
    assert made - set(reading.WHERE) == WITHOUT
    # The editor's page has a part for each face of its bench.
    bench = (WEB / "editor" / "templates" / "editor" / "bench.html").read_text("utf-8")
    faces = re.findall(r'id="tab-(\w+)"', bench)
    assert len(faces) == 4
    editor = reading.page("editor")
    assert editor is not None
    assert all(f'id="help-{face}"' in editor.words for face in faces)


@pytest.mark.parametrize("key", reading.PAGES)
def test_every_label_that_a_page_speaks_of_is_on_a_screen(key: str) -> None:
    text = (reading.FOLDER / f"{key}.md").read_text("utf-8")
    screens = drawn()
    missing = [label for label in re.findall(r"\*\*(.+?)\*\*", text.replace("\n", " ")) if label not in screens]
    assert not missing
