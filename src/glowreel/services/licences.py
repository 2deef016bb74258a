"""Under which licences the parts of this program are, as the product itself lists them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache
from importlib import metadata
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
KINDS = {"fonts": "font", "vendor": "styles or scripts", "models": "model", "stickers": "drawings"}
"""What lies in which folder."""
NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]*")


@dataclass(frozen=True)
class Part:
    """A part of the program: its name, its version where it has one, and its licence by name."""

    name: str
    version: str
    licence: str


@dataclass(frozen=True)
class Shipped:
    """Something whose files lie in the program itself, with the text of its licence."""

    name: str
    text: str


@cache
def packages() -> tuple[Part, ...]:
    """Every package that this program needs to run, and what those need, by name."""
    found: dict[str, Part] = {}
    waiting = ["glowreel"]
    while waiting:
        try:
            about = metadata.distribution(waiting.pop())
        except metadata.PackageNotFoundError:
            continue  # Wanted only on another system.
        name = about.metadata["Name"]
        if name.lower() in found:
            continue
        found[name.lower()] = Part(name, about.version, _licence(about))
        for line in about.requires or ():
            match = NAME.match(line)
            if match and "extra ==" not in line:
                waiting.append(match[0])
    found.pop("glowreel", None)
    return tuple(found[key] for key in sorted(found))


def _licence(about: metadata.Distribution) -> str:
    """What a package says of its licence: an expression, a classifier, or the first line of a text."""
    said: Any = about.metadata
    known = [line.rpartition(" :: ")[2] for line in said.get_all("Classifier") or () if line.startswith("License ::")]
    plain = (said.get("License") or "").strip().splitlines()
    return str(said.get("License-Expression") or ", ".join(known) or (plain[0][:80] if plain else "see its package"))


@cache
def shipped() -> tuple[Shipped, ...]:
    """What lies in the program itself: fonts, styles, scripts, drawings, models."""
    paths = sorted([*ROOT.rglob("*.LICENSE"), *ROOT.rglob("OFL-*.txt")], key=lambda path: path.name.lower())
    texts: dict[str, str] = {}
    for path in paths:
        name = path.stem.removeprefix("OFL-").replace("-", " ").capitalize()
        kind = KINDS.get(path.parent.name, "part")
        texts.setdefault(f"{name} ({kind})", path.read_text("utf-8", "replace"))
    return tuple(Shipped(name, text) for name, text in texts.items())
