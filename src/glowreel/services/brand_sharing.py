"""Brands that leave their team: as one open file, and by a link that another team takes over.

The file is a zip with `brand.json` (see `docs/brands.md`) and the logos under `logos/`. A copy that came by a link
knows it, and is brought up to date from there as long as the link is open.
"""

from __future__ import annotations

import json
import shutil
import time
import zipfile
import zlib
from pathlib import Path, PurePosixPath
from typing import IO, Any

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.brand import Book, upgraded
from glowreel.core.errors import Missing, Refusal
from glowreel.core.fonts import FONTS
from glowreel.services import brands, promos, shelf, storage
from glowreel.services.access import Actor, authorise
from glowreel.services.blob_keys import original
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.keys import digest
from glowreel.store.models import BrandRow, MediaFile

VERSION = 2
MOST_BYTES = 200 * 1024**2
MOST_LOGO = 10 * 1024**2
MOST_FILE = 100 * 1024**2
MOST_FILES = 260
BOOK = "brand.json"
TAKEN = ("palettes", "wears", "rules", "watermark", "styles", "manner", "tone", "never")
"""What a brand file says as a brand does."""
UNREADABLE = (
    zipfile.BadZipFile, zlib.error, KeyError, NotImplementedError, RuntimeError, EOFError, ValueError, TypeError,
    AttributeError,
)  # fmt: skip
"""What reading a file comes to that is no brand: no zip, no JSON, or JSON of another shape."""


def write(runtime: Runtime, session: Session, brand_id: str, actor: Actor, out: IO[bytes]) -> str:
    """Writes a brand with its files as one file; answers with a name for it. Raises `Refusal` where they are more than
    such a file may hold."""
    row = brands.find(session, brand_id, actor)
    book = brands.book_of(row)
    held = session.scalars(select(MediaFile.size).where(MediaFile.id.in_({*book.files, *book.material}))).all()
    if sum(held) > MOST_BYTES or max(held, default=0) > MOST_FILE:
        raise Refusal(
            "too-large", f"The files of {row.name} are more than the {MOST_BYTES >> 20} MB that a brand file may hold.",
            "Take large footage out of its material first.",
        )  # fmt: skip
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as bundle:

        def put(folder: str, key: str, name: str) -> str | None:
            media = session.get(MediaFile, key)
            if media is None:
                return None
            path = f"{folder}/{name}{media.suffix}"
            with runtime.blobs.local(original(media.hash)).open("rb") as source, bundle.open(path, "w") as target:
                shutil.copyfileobj(source, target)
            return path

        told = book.model_dump(mode="json", include={"name", "fonts", *TAKEN})
        told["logos"] = {role: path for role, key in book.logos.items() if (path := put("logos", key, role))}
        faces = [put("fonts", face.media, f"{number}-{_plain(face.family)}") for number, face in enumerate(book.faces)]
        told["font_files"] = [path for path in faces if path]
        material = [put("material", key, f"{number}") for number, key in enumerate(book.material)]
        names = [
            session.get_one(MediaFile, key).name for key, path in zip(book.material, material, strict=True) if path
        ]
        told["material"] = dict(zip([path for path in material if path], names, strict=True))
        told = {"format": "glow-reel-brand", "version": VERSION, **told}
        bundle.writestr(BOOK, json.dumps(told, ensure_ascii=False, indent=2), zipfile.ZIP_DEFLATED)
    return f"{_plain(row.name)}.brand.zip"


def _plain(name: str) -> str:
    return "".join(letter if letter.isalnum() else "-" for letter in name).strip("-") or "brand"


def read(runtime: Runtime, actor: Actor, path: Path) -> tuple[str, str]:
    """A new brand from such a file: its identifier and name. Raises `Refusal` with a sentence for what is none, or
    holds too much."""
    try:
        with zipfile.ZipFile(path) as bundle:
            return _read(runtime, actor, bundle)
    except UNREADABLE as error:
        raise Refusal("no-brand", "That is no brand file.", "Choose one that was saved from a brand book.") from error


def _read(runtime: Runtime, actor: Actor, bundle: zipfile.ZipFile) -> tuple[str, str]:
    infos = {info.filename: info for info in bundle.infolist()}
    if len(infos) > MOST_FILES or sum(info.file_size for info in infos.values()) > MOST_BYTES:
        raise Refusal("too-large", "That file holds more than a brand may.", "Leave some of its files out.")
    if infos[BOOK].file_size > 1024**2:
        raise Refusal("too-large", "That file holds more than a brand may.", "Leave some of its files out.")
    told = json.loads(bundle.read(BOOK))
    if told.get("format") != "glow-reel-brand":
        raise Refusal("no-brand", "That is no brand file.", "Choose one that was saved from a brand book.")
    if int(told.get("version", 0)) > VERSION:
        raise Refusal("newer", "This brand was saved with a newer Glow Reel.", "Update this one to open it.")
    with runtime.database.unit() as unit:
        storage.check_room(runtime, unit.session, actor, sum(info.file_size for info in infos.values()))
    told = upgraded(told)
    # Looked at before any of its files comes on the Shelf.
    _book({**told, "logos": dict.fromkeys(dict(told.get("logos") or {}), "m-new"), "material": (), "faces": ()})

    def taken(name: str, limit: int, called: str = "") -> str:
        return _on_the_shelf(runtime, actor, bundle, infos[name], limit, called or PurePosixPath(name).name)

    logos = {role: taken(str(name), MOST_LOGO) for role, name in dict(told.get("logos") or {}).items()}
    files = [taken(str(name), MOST_LOGO) for name in list(told.get("font_files") or ())]
    material = [taken(str(name), MOST_FILE, str(called)) for name, called in dict(told.get("material") or {}).items()]
    until = time.monotonic() + shelf.WAIT
    for key in files:  # Words are set in them at once: they have to be there first.
        shelf.looked_at(runtime, key, until - time.monotonic())
    with runtime.database.unit() as unit:
        known = promos.team_media(unit.session, actor, set(files))
        faces = [brands.face_of(known[key]).model_dump() for key in files if key in known]
        row = _added(unit.session, actor, {**told, "logos": logos, "faces": faces, "material": material})
        return row.id, row.name


def _on_the_shelf(
    runtime: Runtime, actor: Actor, bundle: zipfile.ZipFile, info: zipfile.ZipInfo, limit: int, called: str
) -> str:
    """Puts a file of a brand file on the Shelf; answers with its identifier there."""
    if info.file_size > limit:
        raise Refusal("too-large", f"{called} is larger than {limit >> 20} MB.", "Save a smaller one.")
    folder = Path(runtime.settings.cache) / "uploads"
    with bundle.open(info) as file:
        source, size = shelf.receive(runtime.blobs, folder, file, limit=limit)  # type: ignore[arg-type]
    with runtime.database.unit() as unit:
        return shelf.add(unit, actor, called, source, size).id


def _book(told: dict[str, Any]) -> Book:
    """What was told, checked: fonts that are not here are left to their roles."""
    own = {face["family"] for face in told.get("faces", ())}
    fonts = {role: name for role, name in dict(told.get("fonts") or {}).items() if name in FONTS or name in own}
    wanted = {key: told[key] for key in (*TAKEN, "logos", "faces", "material") if key in told}
    try:
        return Book.model_validate({**wanted, "fonts": fonts, "name": str(told.get("name", ""))[:80]})
    except ValidationError as error:
        raise Refusal("no-brand", "There is something in that brand file that no brand has.") from error


def _added(session: Session, actor: Actor, told: dict[str, Any]) -> BrandRow:
    book = _book(told)
    return brands.add(session, actor, book.name, book.model_dump(mode="json", exclude=brands.FACTS))


def share(session: Session, brand_id: str, actor: Actor, *, open_: bool) -> BrandRow:
    """Opens a link to a brand, or closes it: then nobody takes it over any more, and copies stay as they are."""
    row = authorise(session, BrandRow, brand_id, actor, "edit", lock=True)
    if not open_:
        row.close_link()
    elif row.digest is None:
        row.new_link()
    return row


def shared(session: Session, token: str) -> BrandRow:
    """The brand that a link opens, whoever's it is; `Missing` where the link is closed."""
    return _still_shared(_behind(session, digest(token)))


def _behind(session: Session, kept: str) -> BrandRow | None:
    return session.scalar(select(BrandRow).where(BrandRow.behind_digest(kept), BrandRow.removed_at.is_(None)))


def _still_shared(row: BrandRow | None) -> BrandRow:
    if row is None:
        raise Missing("closed", "This link leads nowhere: it was closed, or never was.", "Ask for a new one.")
    return row


def take_over(unit: Unit, token: str, actor: Actor) -> BrandRow:
    """A copy of a shared brand for the actor's team, that knows where it came from."""
    source = shared(unit.session, token)
    if source.team_id == actor.team_id:
        raise Refusal("own", "This brand is your team's own already.", "Send the link to another team.")
    row = _added(unit.session, actor, {"name": source.name, **_lent(unit, source, actor)})
    row.source_digest, row.source_version = source.digest, source.version
    return row


def newer(session: Session, row: BrandRow) -> bool:
    """Whether what a copy came from has a newer state, and is still shared."""
    if row.source_digest is None:
        return False
    source = _behind(session, row.source_digest)
    return source is not None and source.version > row.source_version


def bring(unit: Unit, brand_id: str, actor: Actor) -> BrandRow:
    """Brings a copy to the newest state of what it came from; what was before can be undone."""
    row = authorise(unit.session, BrandRow, brand_id, actor, "edit", lock=True)
    if row.source_digest is None:
        raise Refusal("no-source", "This brand did not come by a link.")
    source = _still_shared(_behind(unit.session, row.source_digest))
    book = _lent(unit, source, actor)
    changed = brands.change(unit.session, brand_id, actor, name=source.name, **book)
    changed.source_version = source.version
    return changed


def _lent(unit: Unit, source: BrandRow, actor: Actor) -> dict[str, Any]:
    """What a brand of another team holds, its files on the actor's Shelf. Scenes stay with their team."""
    book = brands.book_of(source)
    keys: dict[str, str] = {}
    for key in (*book.files, *book.material):
        media = unit.session.get(MediaFile, key)
        if media is not None:
            keys[key] = shelf.lent(unit, actor, media).id
    told = book.model_dump(mode="json", include={*TAKEN, "fonts"})
    told["logos"] = {role: keys[key] for role, key in book.logos.items() if key in keys}
    told["faces"] = [{**face.model_dump(), "media": keys[face.media]} for face in book.faces if face.media in keys]
    told["material"] = [keys[key] for key in book.material if key in keys]
    return told
