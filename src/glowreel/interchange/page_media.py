"""What a web page shows: its pictures, footage, sounds and logo, with the addresses of the largest that it offers of
each. Nothing is fetched here."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import PurePosixPath
from typing import Literal
from urllib.parse import unquote, urljoin, urlsplit

from selectolax.lexbor import LexborHTMLParser, LexborNode

MOST = 60
SUFFIXES: dict[str, Literal["picture", "footage", "sound"]] = {
    **dict.fromkeys((".jpg", ".jpeg", ".png", ".webp", ".gif", ".avif", ".heic", ".svg"), "picture"),
    **dict.fromkeys((".mp4", ".mov", ".webm", ".mkv", ".m4v"), "footage"),
    **dict.fromkeys((".mp3", ".wav", ".ogg", ".flac", ".m4a", ".opus"), "sound"),
}  # fmt: skip
"""Of links that lead to a file."""
TINY = 48
"""Pictures that say of themselves that they are smaller, in pixels, are dots and counters."""


@dataclass(frozen=True)
class Shown:
    """One thing that a page shows: where it stands, what it is, and what it is called."""

    url: str
    kind: Literal["logo", "picture", "footage", "sound"]
    name: str


def shown_on(text: str, base: str) -> list[Shown]:
    """What a page shows, in its order, its logos first, each address once."""
    tree = LexborHTMLParser(text)
    found: dict[str, Shown] = {}
    for address, kind, name in _all(tree):
        url = urljoin(base, address.strip())
        if urlsplit(url).scheme in ("http", "https") and url not in found and len(url) < 2000:
            found[url] = Shown(url, kind, " ".join(name.split())[:80] or _file_name(url))
    order = sorted(found.values(), key=lambda shown: shown.kind != "logo")
    return order[:MOST]


Found = tuple[str, Literal["logo", "picture", "footage", "sound"], str]


def _all(tree: LexborHTMLParser) -> Iterator[Found]:
    for node in tree.css("img, source, video, audio, a[href], meta[property], link[rel]"):
        told = {name: value or "" for name, value in node.attributes.items()}
        yield from _of_node(node, told)


def _of_node(node: LexborNode, told: dict[str, str]) -> Iterator[Found]:
    name = told.get("alt") or told.get("title") or told.get("aria-label") or ""
    if node.tag == "img":
        if not _tiny(told):
            address = _largest(told.get("srcset", "")) or told.get("src", "") or told.get("data-src", "")
            logo = "logo" in " ".join(told.values()).lower()
            yield from _one(address, "logo" if logo else "picture", name)
    elif node.tag == "source":
        parent = node.parent.tag if node.parent is not None else ""
        kind = {"video": "footage", "audio": "sound", "picture": "picture"}.get(parent or "")
        if kind:
            yield from _one(_largest(told.get("srcset", "")) or told.get("src", ""), kind, name)
    elif node.tag in ("video", "audio"):
        yield from _one(told.get("src", ""), "footage" if node.tag == "video" else "sound", name)
        yield from _one(told.get("poster", ""), "picture", name)
    elif node.tag == "a":
        kind = SUFFIXES.get(PurePosixPath(urlsplit(told.get("href", "")).path).suffix.lower())
        if kind:
            yield from _one(told["href"], kind, name or node.text(strip=True))
    elif node.tag == "meta" and told.get("property") in ("og:image", "og:video", "og:audio"):
        kind = {"image": "picture", "video": "footage", "audio": "sound"}[told["property"][3:]]
        yield from _one(told.get("content", ""), kind, "")
    elif node.tag == "link" and "apple-touch-icon" in told.get("rel", ""):
        yield from _one(told.get("href", ""), "logo", "")


def _one(address: str, kind: str, name: str) -> Iterator[Found]:
    if address and not address.startswith(("data:", "blob:", "javascript:")):
        yield address, kind, name  # type: ignore[misc]


def _tiny(told: dict[str, str]) -> bool:
    sizes = [int(told[side]) for side in ("width", "height") if told.get(side, "").isdigit()]
    return bool(sizes) and min(sizes) < TINY


def _largest(choices: str) -> str:
    """The address of the widest or sharpest of several copies (`srcset`)."""
    best, most = "", -1.0
    for choice in re.split(r",\s+", choices.strip()):
        parts = choice.split()
        if not parts:
            continue
        measure = re.fullmatch(r"([\d.]+)[wx]", parts[1]) if len(parts) > 1 else None
        size = float(measure[1]) if measure and measure[1].count(".") < 2 and measure[1] != "." else 1.0
        if size > most:
            best, most = parts[0], size
    return best


def _file_name(url: str) -> str:
    return unquote(PurePosixPath(urlsplit(url).path).name)[:80] or (urlsplit(url).hostname or "")
