"""A promo from the slides of a talk: a scene of each slide, with what the speaker says of it and its picture."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from sqlalchemy.orm import Session

from glowreel.core.errors import BadMedia
from glowreel.core.script.lines import MOST_LETTERS, MOST_LINES, ScriptLine, key_phrase, roles_of
from glowreel.engine.office import SUFFIXES
from glowreel.services import promos, shelf
from glowreel.services.access import Actor, allow
from glowreel.services.scripting import Picture
from glowreel.services.setup import Runtime
from glowreel.store.blobs import room_wanted

MOST_BYTES = 200 * 1024**2
WAITS = 20.0
"""So many seconds the pictures of slides are waited for, in all; what takes longer comes on the Shelf all the same."""
CUE = "…"


@dataclass(frozen=True)
class Talk:
    """What slides became: a line for each, the picture of each on the Shelf, and how many slides were left out."""

    lines: tuple[ScriptLine, ...]
    shown: tuple[Picture | None, ...]
    left: int


def read(runtime: Runtime, actor: Actor, name: str, stream: BinaryIO) -> Talk:
    """Reads the slides of a talk and puts their pictures on the Shelf, in a folder of its name. Raises `BadMedia` for
    what cannot be read."""
    allow(actor, "add")
    name, suffix = shelf.clean_name(name)
    if suffix not in SUFFIXES:
        raise BadMedia("no-slides", f"{name} is no file of slides.", "Choose one that ends in .pptx.")
    with runtime.workspace() as folder:
        path = folder / "talk"
        _receive(path, stream, name)
        arguments = {"path": str(path.resolve()), "name": name, "drawn": False}
        slides = runtime.limited.run("slides", arguments, folder, name)["slides"]
        used = slides[:MOST_LINES]
        files = list(dict.fromkeys(one for slide in used for one in slide["pictures"][:1]))
        keys = dict(zip(files, _kept(runtime, actor, name, [folder / file for file in files]), strict=True))
    with runtime.database.unit() as unit:
        ready = _named(unit.session, actor, list(keys.values()))
    told = [slide for slide in used if slide["title"] or slide["points"] or slide["said"] or slide["pictures"]]
    shown = tuple(ready.get(keys.get((slide["pictures"] or [""])[0], "")) for slide in told)
    return Talk(_lines(told), shown, len(slides) - len(used))


def _receive(path: Path, stream: BinaryIO, name: str) -> None:
    size = 0
    with room_wanted(), path.open("wb") as file:
        while block := stream.read(1 << 20):
            size += len(block)
            if size > MOST_BYTES:
                raise BadMedia("too-large", f"{name} is larger than 200 MB.", "Save it with smaller pictures.")
            file.write(block)


def _kept(runtime: Runtime, actor: Actor, name: str, files: Sequence[Path]) -> list[str]:
    """Puts pictures on the Shelf, and waits a while until they were looked at."""
    keys = shelf.put_apart(runtime, actor, name, files)
    end = time.monotonic() + WAITS
    for key in keys:
        shelf.looked_at(runtime, key, within=max(0.0, end - time.monotonic()))
    return keys


def _named(session: Session, actor: Actor, keys: list[str]) -> dict[str, Picture]:
    known = promos.team_media(session, actor, set(keys))
    return {key: Picture(key, media.name, False) for key, media in known.items() if media.pictured}


def _lines(slides: Sequence[dict[str, object]]) -> tuple[ScriptLine, ...]:
    """A line of each slide: what is said of it, and its title large."""
    texts = [_spoken(slide) for slide in slides]
    roles = roles_of(texts)
    return tuple(
        ScriptLine(text, role, str(slide["title"])[:60] or key_phrase(text, role))
        for slide, text, role in zip(slides, texts, roles, strict=True)
    )


def _spoken(slide: dict[str, object]) -> str:
    points = slide["points"]
    assert isinstance(points, list | tuple)
    written = ". ".join(str(part).rstrip(".") for part in (slide["title"], *points) if part)
    text = str(slide["said"]) or written or CUE
    return text if len(text) <= MOST_LETTERS else f"{text[: MOST_LETTERS - 1].rsplit(' ', 1)[0]}{CUE}"
