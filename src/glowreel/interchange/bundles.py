"""`.otioz` bundles: a zip of `content.otio`, `version.txt` and the media it links, opened with suspicion."""

from __future__ import annotations

import hashlib
import json
import shutil
import zipfile
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path, PurePosixPath
from urllib.parse import unquote, urlsplit

import opentimelineio as otio
from pydantic import ValidationError

from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.normalise import normalise
from glowreel.core.upgrade import upgrade
from glowreel.core.value import NewId
from glowreel.interchange.timelines import Found, from_elsewhere, media_name, own_document, parse, to_otio

MAX_MEMBERS = 2000
MAX_UNPACKED = 8 * 1024**3
MAX_TEXT = 64 * 1024**2


def write_bundle(promo: Promo, locate: Callable[[str], Path], out: Path) -> None:
    """Writes the promo and every file it uses; `locate` finds a file by its hash."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED, allowZip64=True) as bundle:
        text = otio.adapters.write_to_string(to_otio(promo), "otio_json")
        bundle.writestr("content.otio", text, zipfile.ZIP_DEFLATED)
        bundle.writestr("version.txt", "1.0.0")
        for media in {m.hash: m for m in promo.media.values()}.values():
            bundle.write(locate(media.hash), f"media/{media_name(media)}")


@dataclass
class Unpacked:
    """What was in a bundle: the text of its timeline, and its media by the name they are linked with."""

    text: str
    files: dict[str, Path] = field(default_factory=dict)
    hashes: dict[str, str] = field(default_factory=dict)


def unpack(path: Path, folder: Path) -> Unpacked:
    """Unpacks a bundle, or takes a bare `.otio`, into a folder. Names inside are never used as paths.

    Refuses more than 2000 files, more than 8 GB, and anything that is not plainly a file.
    """
    if not zipfile.is_zipfile(path):
        if path.stat().st_size > MAX_TEXT:
            raise Refusal("too-large", "That timeline file is larger than 64 MB.")
        try:
            return Unpacked(path.read_text("utf-8"))
        except UnicodeDecodeError as error:
            raise Refusal("not-otio", "That is not an OpenTimelineIO file or bundle.") from error
    try:
        with zipfile.ZipFile(path) as bundle:
            return _unpack(bundle, folder)
    except (zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, RuntimeError, EOFError) as error:
        raise Refusal("broken", "That bundle is damaged.", "Save it again and retry.") from error


def _unpack(bundle: zipfile.ZipFile, folder: Path) -> Unpacked:
    members = bundle.infolist()
    if len(members) > MAX_MEMBERS or sum(m.file_size for m in members) > MAX_UNPACKED:
        raise Refusal("too-large", "That bundle holds more than 2000 files or 8 GB.")
    texts = [m for m in members if m.filename == "content.otio"]
    if not texts or texts[0].file_size > MAX_TEXT:
        raise Refusal("not-otio", "There is no timeline in that bundle.")
    result = Unpacked(bundle.read(texts[0]).decode("utf-8", "replace"))
    for number, member in enumerate(members):
        name = PurePosixPath(member.filename)
        if member.is_dir() or name.parts[:1] != ("media",) or ".." in name.parts or name.is_absolute():
            continue
        suffix = name.suffix.lower() if name.suffix[1:].isalnum() and len(name.suffix) < 9 else ""
        target = folder / f"{number}{suffix}"
        with bundle.open(member) as source, target.open("wb") as out:
            shutil.copyfileobj(source, out, 1 << 20)
        with target.open("rb") as made:
            digest = hashlib.file_digest(made, "sha256").hexdigest()
        result.files[member.filename] = target
        result.hashes[digest] = member.filename
    return result


def file_of(unpacked: Unpacked, url: str) -> Path | None:
    """The unpacked file that a link means: by its whole name, else by its last part."""
    plain = unquote(urlsplit(url).path)
    if plain in unpacked.files:
        return unpacked.files[plain]
    last = PurePosixPath(plain.replace("\\", "/")).name
    return next((path for name, path in unpacked.files.items() if PurePosixPath(name).name == last), None)


def read_own(text: str, new_id: NewId) -> Promo | None:
    """The promo that a bundle of ours carries, put under all rules again; None for timelines from elsewhere."""
    data = own_document(parse(text))
    if data is None:
        return None
    data = upgrade(data)
    try:
        promo = Promo.model_validate_json(json.dumps(data))
    except ValidationError as error:
        raise Refusal("broken", "The promo in that bundle is damaged.", "Save it again and retry.") from error
    return normalise(promo, promo, frozenset(), new_id)


def read_foreign(text: str, find: Callable[[str], Media | None], new_id: NewId, promo_id: str) -> Found:
    return from_elsewhere(parse(text), find, new_id, promo_id)


def check_media(promo: Promo, hashes: Mapping[str, str]) -> None:
    """Refuses a bundle of ours from which a file is missing or in which one was changed."""
    for media in promo.media.values():
        if media.hash not in hashes:
            raise Refusal("missing", f"The bundle lacks {media.name}, or it was changed.", "Save the bundle again.")
