"""One word for one thing, everywhere people read: screens, sentences of the server, and the help."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "glowreel"

INSTEAD = {
    "click": "press", "clicks": "presses", "clicking": "pressing", "tap": "press", "delete": "remove",
    "deleted": "removed", "erase": "remove", "trash": "bin", "recycle": "bin", "project": "promo", "projects": "promos",
    "asset": "file", "assets": "files", "dashboard": "Desk", "homepage": "Desk", "workspace": "Desk",
    "please": "(nothing)", "sorry": "(nothing)", "oops": "(nothing)", "invalid": "what is wrong with it",
    "successfully": "(nothing)", "popup": "sheet", "wizard": "sheet", "modal": "sheet",
    "subtitle": "caption", "subtitles": "captions", "soundtrack": "music", "login": "sign in", "logout": "sign out",
    "username": "name", "thumbs": "thumbnails", "colors": "colours", "color": "colour", "gray": "grey",
    "abort": "cancel", "unable": "cannot", "utilize": "use", "leverage": "use",
}  # fmt: skip
"""Words that nobody reads here, and what stands in their place."""

NAMES = re.compile(r"(Shift |Ctrl )?Delete( takes one away)?|Noto Color Emoji")
"""What is engraved on a key, and a typeface, are called so."""


def _seen(path: Path) -> list[str]:
    """What people read of a file: text and labels of a template, whole sentences of code."""
    text = path.read_text("utf-8")
    if path.suffix == ".md":
        return [text]
    if path.suffix == ".html":
        bare = re.sub(r"\{#.*?#\}|\{%.*?%\}|\{\{.*?\}\}", " ", text, flags=re.DOTALL)
        labels = re.findall(r'(?:aria-label|title|placeholder|alt)="([^"]*)"', bare)
        return [*labels, *re.findall(r">([^<>]+)<", bare)]
    if path.suffix == ".py":
        text = re.sub(r'""".*?"""', "", text, flags=re.DOTALL)
    # A sentence begins with a capital letter and has more than one word; keys of tables and class names do not.
    return re.findall(r'(?<!r)["`]([A-Z][^"`\n]* [^"`\n]*)["`]', text)


def _files() -> list[Path]:
    inside = [SOURCE / "web", SOURCE / "services", SOURCE / "core"]
    kinds = ("*.html", "*.js", "*.py", "*.md")
    found = [path for folder in inside for kind in kinds for path in folder.rglob(kind)]
    return [path for path in found if "vendor" not in path.parts]


@pytest.fixture(scope="module")
def said() -> list[tuple[str, str]]:
    """Everything that is read, with the name of its file."""
    return [(path.name, NAMES.sub("", text)) for path in _files() for text in _seen(path)]


def test_no_other_word_is_used_for_the_same_thing(said: list[tuple[str, str]]) -> None:
    assert len(said) > 3000, "the sentences are found"
    other = re.compile(rf"\b({'|'.join(INSTEAD)})\b", re.IGNORECASE)
    found = [f"{name}: “{match[0]}” in “{' '.join(text.split())[:80]}”" for name, text in said
             if (match := other.search(text))]  # fmt: skip
    assert found == []


def test_nothing_is_shouted_and_nothing_is_said_twice(said: list[tuple[str, str]]) -> None:
    loud = [f"{name}: {text[:80]}" for name, text in said if re.search(r"[a-z]!(\s|$)", text)]
    assert loud == []
    twice = [f"{name}: {text[:80]}" for name, text in said if re.search(r"\b([a-z]{2,}) \1\b", text)]
    assert twice == []
