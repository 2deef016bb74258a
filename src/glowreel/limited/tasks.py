"""What limited processes can be asked to do. Arguments and results are plain data; files lie in a folder."""

from __future__ import annotations

import secrets
import time
from collections.abc import Callable
from dataclasses import asdict
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from glowreel.core.derived import Need
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Unreadable
from glowreel.core.film_forms import Making, as_made
from glowreel.core.media import Media
from glowreel.core.pieces import Piece
from glowreel.core.recipe.picture import find_format
from glowreel.engine import office
from glowreel.engine.export import render_pieces
from glowreel.engine.filming import Out
from glowreel.engine.intake import media_of, take_in
from glowreel.engine.makers import MAKERS, Material, made_name
from glowreel.engine.pages import draw_pages
from glowreel.engine.photo import load_photo
from glowreel.engine.sources import Sources
from glowreel.engine.spoken import speak, write_line
from glowreel.engine.typesetting import find_own
from glowreel.interchange import bundles, tables

EVERY = 0.25

Arguments = dict[str, Any]


class Tell:
    """How a task says how far it is, and how long it needs."""

    def __init__(self, send: Callable[[dict[str, Any]], None]) -> None:
        self._send = send
        self._last = 0.0

    def share(self, share: float) -> None:
        """The share that is done, 0 to 1; passed on a few times a second."""
        now = time.monotonic()
        if now - self._last >= EVERY:
            self._last = now
            self._send({"share": float(share)})

    def longer(self, seconds: float) -> None:
        """So many seconds more than usual are needed."""
        self._send({"needs": float(seconds)})


def _take_in(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Looks at one file; see `engine.intake`. Answers with its `facts` as a promo keeps them, `strip` and `made`."""
    intake = take_in(Path(arguments["path"]), arguments["name"], folder, tell.share, tell.longer)
    media = media_of(intake.facts, arguments["id"], arguments["name"], arguments["hash"], arguments["suffix"])
    strip = asdict(intake.strip) if intake.strip else None
    return {"facts": media.model_dump(mode="json"), "strip": strip, "made": list(intake.made)}


def _unpack(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Unpacks a bundle or takes a bare timeline. Answers with what is `wanted`, by hash for one of ours (`own`), else
    by link: its name, and the file in the bundle, if any. The text lies in the folder as `timeline.json`."""
    unpacked = bundles.unpack(Path(arguments["path"]), folder, tell.share)
    (folder / "timeline.json").write_text(unpacked.text, "utf-8")
    links = bundles.links(unpacked.text)
    wanted = {}
    for key, name in links.wanted.items():
        file = unpacked.by_hash(key) if links.own else unpacked.by_link(key)
        held = {"path": str(file.path), "hash": file.hash, "size": file.size} if file is not None else None
        wanted[key] = {"name": name, "file": held}
    return {"own": links.own, "wanted": wanted}


def _read(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """The promo that an unpacked timeline means. `media` are the facts of what it links, by hash for a bundle of ours,
    by link for others. Answers with the promo's JSON and sentences about what could not be kept."""
    text = (folder / "timeline.json").read_text("utf-8")
    media = {key: Media.model_validate(facts) for key, facts in arguments["media"].items()}
    found = bundles.read(text, media.get, lambda prefix: f"{prefix}-{secrets.token_urlsafe(9)}", arguments["id"])
    return {"promo": found.promo.model_dump(mode="json"), "notices": found.notices}


class _Paths:
    """The engine's `Library` over paths that were looked up beforehand."""

    def __init__(self, paths: dict[str, str], made: dict[str, str], samples: dict[str, str]) -> None:
        self._paths, self._made, self._samples = paths, made, samples

    def picture(self, source: str) -> Path:
        if source not in self._paths:
            raise Unreadable(source, "is missing from the store")
        return Path(self._paths[source])

    def samples(self, source: str) -> Path:
        if source not in self._samples:
            raise Unreadable(source, "has no sound in the store")
        return Path(self._samples[source])

    def made(self, need: Need, name: str) -> Path:
        found = self._made.get(f"{need.source}/{made_name(need, name)}")
        if found is None:
            raise Missing("not-made", "Something that this film is made with has not been made.")
        return Path(found)


def _piece(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Encodes one piece of an export in several formats, to `piece-0` and so on in the folder; `outs` are formats,
    each with its short side and how it is made: all at one rate, and all with a background or none. `paths` are the
    originals by hash, `made` what was made of them, by hash and name; `samples` the working copies of sound that is
    seen."""
    asked = [(format, side, Making.model_validate(making)) for format, side, making in arguments["outs"]]
    promo = as_made(Promo.model_validate(arguments["promo"]), asked[0][2])
    piece = Piece(arguments["first"], arguments["count"])
    find_own(lambda source: Path(found) if (found := arguments["paths"].get(source)) else None)
    sources = Sources(_Paths(arguments["paths"], arguments["made"], arguments["samples"]))
    outs = [
        Out(find_format(promo, format), short_side, folder / f"piece-{number}", making)
        for number, (format, short_side, making) in enumerate(asked)
    ]
    render_pieces(
        promo, outs, piece, sources, lambda done, total: tell.share(float(Fraction(done, total))),
        arguments["threads"],
    )  # fmt: skip
    return {}


def _derive(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Makes what one row of `engine.makers` makes of a file, in the folder. Answers with its `facts`."""
    maker = MAKERS[arguments["maker"]]
    assert maker.make is not None
    samples = arguments["samples"]
    before = arguments.get("before")
    material = Material(
        Path(arguments["original"]), Path(samples) if samples else None, arguments.get("kind", ""),
        Path(before) if before else None, Path(arguments["model"]) if arguments.get("model") else None,
    )  # fmt: skip
    return {"facts": maker.make(material, arguments["settings"], folder, tell.share)}


def _pages(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Draws the pages of a document into the folder. Answers with their file names, in order."""
    return {"pages": draw_pages(Path(arguments["path"]), arguments["name"], folder, tell.share)}


def _slides(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Reads the slides of a talk. Answers with them (`slides`), their pictures being in the folder, and, with `drawn`
    and a program that draws them on this machine, with the file names of its `pages`."""
    from glowreel.interchange.slides import read_slides  # What it needs is large, and seldom wanted.

    path, name = Path(arguments["path"]), arguments["name"]
    pages = []
    if arguments["drawn"] and office.program() is not None:
        pages = draw_pages(office.as_document(path, name, folder), name, folder, tell.share)
    slides = [] if pages else [asdict(slide) for slide in read_slides(path, name, folder, tell.share)]
    return {"slides": slides, "pages": pages}


def _speak(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Speaks a line of text into `line.wav` in the folder. Answers with its `words`, as makers tell them."""
    model = Path(arguments["model"]) if arguments.get("model") else None
    line, rows = speak(arguments["text"], arguments["voice"], arguments["speed"], arguments["says"], model)
    write_line(folder / "line.wav", line)
    return {"words": [[*row, 0] for row in rows]}


def _table(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Reads a table; answers with its `columns` and `rows`."""
    table = tables.read_file(Path(arguments["path"]), arguments["name"])
    return {"columns": list(table.columns), "rows": [list(row) for row in table.rows]}


def _still(arguments: Arguments, folder: Path, tell: Tell) -> dict[str, Any]:
    """Makes a picture that was sent a small JPEG, `still.jpg`, of at most `side`; its transparency lies on white."""
    pixels = load_photo(Path(arguments["path"]), int(arguments["side"]))
    ground = np.full_like(pixels, 255)
    ground -= pixels[:, :, 3:]
    picture = Image.fromarray(np.ascontiguousarray((pixels + ground)[:, :, 2::-1]))
    picture.save(folder / "still.jpg", quality=90)
    return {"width": picture.width, "height": picture.height}


TASKS: dict[str, Callable[[Arguments, Path, Tell], dict[str, Any]]] = {
    "take-in": _take_in,
    "unpack": _unpack,
    "read": _read,
    "piece": _piece,
    "derive": _derive,
    "speak": _speak,
    "pages": _pages,
    "slides": _slides,
    "still": _still,
    "table": _table,
}
