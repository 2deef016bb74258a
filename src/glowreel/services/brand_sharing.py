"""Brands that leave their team: as one open file, and by a link that another team takes over.

The file is a zip with `brand.json` (see `docs/brands.md`) and the logos under `logos/`. A copy that came by a link
knows it, and is brought up to date from there as long as the link is open.
"""

from __future__ import annotations

import json
import secrets
import shutil
import zipfile
import zlib
from pathlib import Path, PurePosixPath
from typing import IO, Any

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.core.fonts import FONTS
from glowreel.core.roles import Brand
from glowreel.services import brands, shelf
from glowreel.services.access import Actor, authorise
from glowreel.services.blob_keys import original
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import BrandRow, MediaFile

VERSION = 1
MOST_BYTES = 80 * 1024**2
MOST_LOGO = 10 * 1024**2
MOST_FILES = 40
BOOK = "brand.json"
UNREADABLE = (
    zipfile.BadZipFile, zlib.error, KeyError, NotImplementedError, RuntimeError, EOFError, ValueError, TypeError,
    AttributeError,
)  # fmt: skip
"""What reading a file comes to that is no brand: no zip, no JSON, or JSON of another shape."""


def write(runtime: Runtime, session: Session, brand_id: str, actor: Actor, out: IO[bytes]) -> str:
    """Writes a brand with its logos as one file; answers with a name for it."""
    row = brands.find(session, brand_id, actor)
    brand = brands.snapshot(row)
    files: dict[str, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as bundle:
        for role, key in brand.logos.items():
            media = session.get(MediaFile, key)
            if media is None:
                continue
            name = f"logos/{role}{media.suffix}"
            with runtime.blobs.local(original(media.hash)).open("rb") as source, bundle.open(name, "w") as target:
                shutil.copyfileobj(source, target)
            files[role] = name
        book = brand.model_dump(mode="json", exclude={"origin", "version", "logos"})
        told = {"format": "glow-reel-brand", "version": VERSION, **book, "logos": files}
        bundle.writestr(BOOK, json.dumps(told, ensure_ascii=False, indent=2), zipfile.ZIP_DEFLATED)
    plain = "".join(letter if letter.isalnum() else "-" for letter in row.name).strip("-") or "brand"
    return f"{plain}.brand.zip"


def read(runtime: Runtime, unit: Unit, actor: Actor, path: Path) -> BrandRow:
    """A new brand from such a file. Raises `Refusal` with a sentence for what is none, or holds too much."""
    try:
        with zipfile.ZipFile(path) as bundle:
            return _read(runtime, unit, actor, bundle)
    except UNREADABLE as error:
        raise Refusal("no-brand", "That is no brand file.", "Choose one that was saved from a brand book.") from error


def _read(runtime: Runtime, unit: Unit, actor: Actor, bundle: zipfile.ZipFile) -> BrandRow:
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
    logos = {}
    for role, name in dict(told.get("logos") or {}).items():
        info = infos[str(name)]
        if info.file_size > MOST_LOGO:
            raise Refusal("too-large", f"The logo {name} is larger than 10 MB.", "Save a smaller one.")
        folder = Path(runtime.settings.cache) / "uploads"
        with bundle.open(info) as file:
            source, size = shelf.receive(runtime.blobs, folder, file, limit=MOST_LOGO)  # type: ignore[arg-type]
        logos[role] = shelf.add(unit, actor, PurePosixPath(str(name)).name, source, size).id
    return _added(unit.session, actor, {**told, "logos": logos})


def _added(session: Session, actor: Actor, told: dict[str, Any]) -> BrandRow:
    """A new brand of what was told, checked: fonts that are not here are left to their roles."""
    fonts = {role: family for role, family in dict(told.get("fonts") or {}).items() if family in FONTS}
    wanted = {key: told[key] for key in ("colours", "palette", "tone", "never", "logos") if key in told}
    try:
        brand = Brand.model_validate({**wanted, "fonts": fonts, "name": str(told.get("name", ""))[:80]})
    except ValidationError as error:
        raise Refusal("no-brand", "There is something in that brand file that no brand has.") from error
    book = brand.model_dump(mode="json", exclude={"name", "origin", "version"})
    return brands.add(session, actor, brand.name, book)


def share(session: Session, brand_id: str, actor: Actor, *, open_: bool) -> BrandRow:
    """Opens a link to a brand, or closes it: then nobody takes it over any more, and copies stay as they are."""
    row = authorise(session, BrandRow, brand_id, actor, "edit", lock=True)
    row.token = (row.token or secrets.token_urlsafe(24)) if open_ else None
    return row


def shared(session: Session, token: str) -> BrandRow:
    """The brand that a link opens, whoever's it is; `Missing` where the link is closed."""
    row = session.scalar(select(BrandRow).where(BrandRow.token == token, BrandRow.removed_at.is_(None)))
    if row is None:
        raise Missing("closed", "This link leads nowhere: it was closed, or never was.", "Ask for a new one.")
    return row


def take_over(unit: Unit, token: str, actor: Actor) -> BrandRow:
    """A copy of a shared brand for the actor's team, that knows where it came from."""
    source = shared(unit.session, token)
    if source.team_id == actor.team_id:
        raise Refusal("own", "This brand is your team's own already.", "Send the link to another team.")
    row = _added(unit.session, actor, {"name": source.name, **_lent(unit, source, actor)})
    row.source_token, row.source_version = token, source.version
    return row


def newer(session: Session, row: BrandRow) -> bool:
    """Whether what a copy came from has a newer state, and is still shared."""
    if row.source_token is None:
        return False
    source = session.scalar(select(BrandRow).where(BrandRow.token == row.source_token, BrandRow.removed_at.is_(None)))
    return source is not None and source.version > row.source_version


def bring(unit: Unit, brand_id: str, actor: Actor) -> BrandRow:
    """Brings a copy to the newest state of what it came from; what was before can be undone."""
    row = authorise(unit.session, BrandRow, brand_id, actor, "edit", lock=True)
    if row.source_token is None:
        raise Refusal("no-source", "This brand did not come by a link.")
    source = shared(unit.session, row.source_token)
    book = _lent(unit, source, actor)
    changed = brands.change(unit.session, brand_id, actor, name=source.name, **book)
    changed.source_version = source.version
    return changed


def _lent(unit: Unit, source: BrandRow, actor: Actor) -> dict[str, Any]:
    """What a brand of another team holds, its logos on the actor's Shelf."""
    logos = {}
    for role, key in (source.book.get("logos") or {}).items():
        media = unit.session.get(MediaFile, key)
        if media is not None:
            logos[role] = shelf.lent(unit, actor, media).id
    return {**source.book, "logos": logos}
