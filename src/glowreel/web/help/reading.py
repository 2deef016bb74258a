"""The words of the help: which page belongs to which screen, and what it says.

PAGES ── pages/<key>.md ── the first heading is its title ── HTML, once
WHERE ── blueprint or endpoint ── the page that opens there
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from markdown_it import MarkdownIt

FOLDER = Path(__file__).parent / "pages"

PAGES = (
    "desk", "templates", "script", "tables", "brand", "shelf", "sources", "editor", "screenings", "exports",
    "watch-page", "going-out", "team", "account", "storage", "machines",
)  # fmt: skip
"""In the order in which people meet the screens."""

WHERE = {
    "desk": "desk", "gallery": "templates", "scripts": "script", "batches": "tables", "brands": "brand",
    "shelf": "shelf", "sources": "sources", "picturing": "sources", "driving": "sources", "editor": "editor",
    "screenings": "screenings", "exports": "exports", "turns": "exports", "watch_pages": "watch-page",
    "going": "going-out", "publishing": "going-out", "team": "team", "programs": "team", "account": "account",
    "storage": "storage", "machines": "machines",
}  # fmt: skip
"""The page that opens on the screens of a blueprint."""


@dataclass(frozen=True)
class HelpPage:
    """A page of the help: its key, its title, and its words as HTML without the title."""

    key: str
    title: str
    words: str


def about(blueprint: str | None) -> str:
    """The key of the page that belongs to where somebody is."""
    return WHERE.get(blueprint or "", PAGES[0])


@cache
def page(key: str) -> HelpPage | None:
    """A page by its key; None where there is none. Each heading can be led to as `help-` and its words."""
    if key not in PAGES:
        return None
    tokens = (reader := MarkdownIt("commonmark", {"html": False})).parse((FOLDER / f"{key}.md").read_text("utf-8"))
    title = tokens[1].content
    for opening, words in zip(tokens[3:], tokens[4:], strict=False):
        if opening.type == "heading_open":
            # The page has a title of its own, under which these stand.
            opening.attrs["id"] = "help-" + re.sub(r"[^a-z]+", "-", words.content.lower()).strip("-")
    return HelpPage(key, title, reader.renderer.render(tokens[3:], reader.options, {}))


@cache
def titles() -> dict[str, str]:
    """The titles of all pages by their keys, in order."""
    return {key: found.title for key in PAGES if (found := page(key))}
