"""`.otioz` bundles: a zip of `content.otio`, `version.txt` and the media it links, opened with suspicion."""

from __future__ import annotations

import hashlib
import zipfile
import zlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path, PurePosixPath
from typing import IO, Any
from urllib.parse import unquote, urlsplit

import opentimelineio as otio

from glowreel.core.brand import Brand
from glowreel.core.document import Clip, Promo
from glowreel.core.errors import Refusal
from glowreel.core.limits import check_limits
from glowreel.core.media import Media
from glowreel.core.normalise import normalise
from glowreel.core.reading import read_document
from glowreel.core.setting import APart
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.value import NewId
from glowreel.interchange.edit_lists import as_timeline
from glowreel.interchange.elsewhere import FindMedia, Found, from_elsewhere, link_name
from glowreel.interchange.plain import KEY, MAX_TEXT, check_text
from glowreel.interchange.timelines import media_name, to_otio

MAX_MEMBERS = 2000
MAX_UNPACKED = 8 * 1024**3
MAX_MEMBER = 2 * 1024**3
BLOCK = 1 << 20
PLENTY = 50 * 1024**2
MAX_RATIO = 200
"""What unpacks to more than so many times its size, beyond the first 50 MB, is made to fill the disk."""

Progress = Callable[[float], None]


def write_bundle(promo: Promo, locate: Callable[[str], Path], out: Path) -> None:
    """Writes the promo and every file it uses; `locate` finds a file by its hash."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED, allowZip64=True) as bundle:
        text = otio.adapters.write_to_string(to_otio(promo), "otio_json")
        bundle.writestr("content.otio", text, zipfile.ZIP_DEFLATED)
        bundle.writestr("version.txt", "1.0.0")
        for media in {m.hash: m for m in promo.media.values()}.values():
            bundle.write(locate(media.hash), f"media/{media_name(media)}")


@dataclass(frozen=True)
class UnpackedFile:
    """A file of a bundle: the name it is linked by, where it was unpacked to, and what it holds."""

    name: str
    path: Path
    hash: str
    size: int


@dataclass
class Unpacked:
    """What was in a bundle: the text of its timeline, and its media."""

    text: str
    files: list[UnpackedFile] = field(default_factory=list)

    def by_hash(self, source: str) -> UnpackedFile | None:
        return next((file for file in self.files if file.hash == source), None)

    def by_link(self, url: str) -> UnpackedFile | None:
        """The file that a link means: by its whole name, else by its last part."""
        plain = unquote(urlsplit(url).path)
        whole = next((file for file in self.files if file.name == plain), None)
        return whole or next((file for file in self.files if PurePosixPath(file.name).name == link_name(url)), None)


def unpack(path: Path, folder: Path, progress: Progress = lambda share: None) -> Unpacked:
    """Unpacks a bundle, or takes a bare `.otio` or an edit list of another form, into a folder. Names inside are never
    used as paths.

    Bytes are counted while they are unpacked, whatever the bundle says of itself. Refuses more than 2000 files, more
    than 8 GB, what unpacks to many times its size, and anything that is not plainly a file.
    """
    if not zipfile.is_zipfile(path):
        foreign = as_timeline(path)
        if foreign is not None:
            return Unpacked(foreign)
        if path.stat().st_size > MAX_TEXT:
            raise Refusal("too-large", "That timeline file is larger than 64 MB.")
        try:
            return Unpacked(path.read_text("utf-8-sig"))
        except UnicodeDecodeError as error:
            raise Refusal("not-otio", "That is not an OpenTimelineIO file or bundle.") from error
    try:
        with zipfile.ZipFile(path) as bundle:
            return _unpack(bundle, folder, _Allowance(path.stat().st_size, progress))
    except (
        zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, RuntimeError, EOFError, zlib.error, ValueError,
    ) as error:  # fmt: skip
        raise Refusal("broken", "That bundle is damaged.", "Save it again and retry.") from error


class _Allowance:
    """How much may still be unpacked."""

    def __init__(self, packed: int, progress: Progress) -> None:
        self._left = self._all = min(MAX_UNPACKED, PLENTY + packed * MAX_RATIO)
        self._packed, self._progress, self._done = max(1, packed), progress, 0

    def take(self, count: int) -> None:
        self._left -= count
        self._done += count
        if self._left < 0:
            raise Refusal("too-large", "That bundle unpacks to more than a bundle may hold.")
        self._progress(min(1.0, self._done / self._packed))

    def read(self, opened: IO[bytes], most: int, put: Callable[[bytes], object]) -> int:
        """Passes on what is in a member, block by block; answers with its size."""
        size = 0
        while block := opened.read(BLOCK):
            size += len(block)
            if size > most:
                raise Refusal("too-large", "That bundle holds a file larger than 2 GB.")
            self.take(len(block))
            put(block)
        return size


def _unpack(bundle: zipfile.ZipFile, folder: Path, allowance: _Allowance) -> Unpacked:
    members = bundle.infolist()
    if len(members) > MAX_MEMBERS:
        raise Refusal("too-large", f"That bundle holds more than {MAX_MEMBERS} files.")
    texts = [m for m in members if m.filename == "content.otio"]
    if not texts or texts[0].file_size > MAX_TEXT:
        raise Refusal("not-otio", "There is no timeline in that bundle.")
    text = bytearray()
    with bundle.open(texts[0]) as opened:
        allowance.read(opened, MAX_TEXT, text.extend)
    result = Unpacked(text.decode("utf-8", "replace"))
    for number, member in enumerate(members):
        name = PurePosixPath(member.filename)
        if member.is_dir() or name.parts[:1] != ("media",) or ".." in name.parts or name.is_absolute():
            continue
        suffix = name.suffix.lower() if name.suffix[1:].isalnum() and len(name.suffix) < 9 else ""
        target = folder / f"{number}{suffix}"
        digest = hashlib.sha256()
        with bundle.open(member) as opened, target.open("wb") as out:

            def keep(block: bytes, out: IO[bytes] = out, digest: Any = digest) -> None:
                out.write(block)
                digest.update(block)

            size = allowance.read(opened, MAX_MEMBER, keep)
        result.files.append(UnpackedFile(member.filename, target, digest.hexdigest(), size))
    return result


@dataclass(frozen=True)
class Links:
    """What a timeline needs: whether it is a promo of ours, and by hash or by link, the names of the files."""

    own: bool
    wanted: dict[str, str]
    said: dict[str, Media] = field(default_factory=dict)
    """What a promo of ours says of its files, by hash; to be believed only where nobody else's machine is at stake."""


def links(text: str) -> Links:
    """The files that a timeline links."""
    data = check_text(text)
    own = _own(data)
    if own is not None:
        promo = read_document(own)
        said = {media.hash: media for media in promo.media.values()}
        return Links(True, {source: media.name for source, media in said.items()}, said)
    wanted: dict[str, str] = {}
    _collect(data, wanted)
    return Links(False, wanted)


def _own(data: Any) -> Any | None:
    """The document that a timeline of ours carries along."""
    metadata = data.get("metadata") if isinstance(data, dict) else None
    held = metadata.get(KEY) if isinstance(metadata, dict) else None
    return held.get("promo") if isinstance(held, dict) else None


def _collect(value: Any, wanted: dict[str, str]) -> None:
    if isinstance(value, dict):
        url = value.get("target_url")
        if isinstance(url, str) and len(url) < 4000 and len(wanted) < MAX_MEMBERS:
            wanted[url] = link_name(url) or "Linked file"
        for part in value.values():
            _collect(part, wanted)
    elif isinstance(value, list):
        for part in value:
            _collect(part, wanted)


def read(text: str, find: FindMedia, new_id: NewId, promo_id: str) -> Found:
    """The promo that a timeline means. `find` gives the facts of a file, by hash for one of ours, else by link.

    What a document says about its media is never believed: the facts are those that were measured. Raises `Refusal`.
    """
    own = _own(check_text(text))
    if own is None:
        found = from_elsewhere(text, find, new_id, promo_id)
        return Found(check_limits(found.promo), found.notices)
    promo = read_document(own)
    facts = {key: _measured(media, find) for key, media in promo.media.items()}
    promo = _renamed(promo, facts, promo_id)
    return Found(check_limits(normalise(promo, promo, frozenset(), new_id)), [])


def _measured(media: Media, find: FindMedia) -> Media:
    facts = find(media.hash)
    if facts is None:
        raise Refusal("missing", f"The bundle lacks {media.name}, or it was changed.", "Save the bundle again.")
    if facts.kind != media.kind or facts.length + TICKS_PER_SECOND // 10 < media.length:
        raise Refusal("forged", f"{media.name} is not what the promo in that bundle takes it for.")
    return facts


def _renamed(promo: Promo, facts: Mapping[str, Media], promo_id: str) -> Promo:
    """The promo with its media under their new identifiers, and as a promo of its own."""

    def renamed(part: APart) -> APart:
        fills = {name: fill.changed(media=facts[fill.media].id) for name, fill in part.fills.items()}
        source = part.source and part.source.changed(media=facts[part.source.media].id)
        inner = {"cells": tuple(renamed(cell) for cell in part.cells)} if isinstance(part, Clip) and part.cells else {}
        return part.changed(source=source, fills=fills, **inner) if part.materials else part

    scenes = tuple(s.changed(clips=tuple(renamed(clip) for clip in s.clips)) for s in promo.scenes)
    tracks = {
        side: tuple(t.changed(items=tuple(renamed(item) for item in t.items)) for t in getattr(promo, side))
        for side in ("layers", "sounds")
    }
    media = {facts[key].id: facts[key] for key in promo.media}
    return promo.changed(id=promo_id, scenes=scenes, media=media, brand=_branded(promo.brand, facts), **tracks)


def _branded(brand: Brand, facts: Mapping[str, Media]) -> Brand:
    """The brand with its files under their new identifiers; those that did not come along are left out."""
    faces = tuple(face.changed(media=facts[face.media].id) for face in brand.faces if face.media in facts)
    logos = {role: facts[key].id for role, key in brand.logos.items() if key in facts}
    return brand.changed(faces=faces, logos=logos)
