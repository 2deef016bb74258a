"""Files by key, on a disk or in an S3-compatible store, through fsspec."""

from __future__ import annotations

import errno
import os
import secrets
import shutil
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

import fsspec

from glowreel.core.errors import Missing, NoRoom

MOST_COPIES = 20 * 1024**3
STILL_NEEDED, LOOKS_EVERY = 3600, 60.0
"""Local copies of a remote store: bytes of them in all; seconds for which one that was needed stays in any case, and
after which they are looked through again."""
FILE_MODE, FOLDER_MODE = 0o640, 0o750
"""Files are readable for the group that backs them up, and for nobody else."""


@contextmanager
def room_wanted() -> Iterator[None]:
    """A disk that fills up in here is said to be full, whichever library noticed it."""
    try:
        yield
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            raise NoRoom() from error
        raise


class Blobs:
    """Where files are kept. Keys are made by this program alone, never from what people type.

    `url` is a folder or any fsspec URL. Readers that need a local file get the file itself on a disk, or a local copy
    of a remote one.
    """

    def __init__(self, url: str, cache: Path) -> None:
        # What other machines put there meanwhile must be seen: nothing of a remote store's lists is remembered.
        remote = {"use_listings_cache": False, "skip_instance_cache": True} if "://" in url else {}
        self._fs, root = fsspec.core.url_to_fs(url, **remote)
        self._root = str(root).rstrip("/")
        self._local = self._fs.protocol == "file" or "file" in self._fs.protocol
        self._cache, self._look_again = cache, 0.0
        self._fs.makedirs(self._root, exist_ok=True)
        if self._local:
            os.chmod(self._root, FOLDER_MODE)
        cache.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)

    def _path(self, key: str) -> str:
        return f"{self._root}/{key}" if key else self._root

    def has(self, key: str) -> bool:
        return bool(self._fs.exists(self._path(key)))

    def size(self, key: str) -> int:
        return int(self._fs.size(self._path(key)))

    def write(self, key: str, make: Callable[[Path], None]) -> None:
        """Lets `make` write a local file and keeps it under the key: all of it or nothing."""
        part = self._cache / f"part-{secrets.token_hex(8)}{Path(key).suffix}"
        try:
            with room_wanted():
                make(part)
            self.take(key, part)
        finally:
            part.unlink(missing_ok=True)

    def take(self, key: str, path: Path) -> None:
        """Moves a local file into the store."""
        target = self._path(key)
        with room_wanted():
            self._fs.makedirs(target.rsplit("/", 1)[0], exist_ok=True)
        with room_wanted():
            if not self._local:
                self._fs.put_file(str(path), target)
                path.unlink()
                return
            staging = f"{target}.{secrets.token_hex(4)}.part"
            try:
                shutil.move(path, staging)
                os.chmod(staging, FILE_MODE)
                os.replace(staging, target)
            finally:
                Path(staging).unlink(missing_ok=True)

    def local(self, key: str) -> Path:
        """A local path to read from. Raises `Missing` where there is nothing under the key."""
        if self._local:
            path = Path(self._path(key))
            if not path.exists():
                raise Missing("no-file", "A file of this promo is missing from the store.", "Upload it again.")
            return path
        copy = self._cache / "copies" / key
        if copy.exists():
            with suppress(OSError):
                os.utime(copy)
        else:
            self._make_room()
            if not self.has(key):
                raise Missing("no-file", "A file of this promo is missing from the store.", "Upload it again.")
            copy.parent.mkdir(parents=True, exist_ok=True)
            part = copy.with_name(copy.name + f".{secrets.token_hex(4)}.part")
            try:
                with room_wanted():
                    self._fs.get_file(self._path(key), str(part))
                part.replace(copy)
            finally:
                part.unlink(missing_ok=True)
        return copy

    def _make_room(self) -> None:
        """Keeps local copies of a remote store within bounds: those go first that nobody has needed for longest."""
        if time.monotonic() < self._look_again:
            return
        self._look_again = time.monotonic() + LOOKS_EVERY
        with suppress(OSError):
            found = [(path.stat(), path) for path in (self._cache / "copies").rglob("*") if path.is_file()]
            held = sum(about.st_size for about, _ in found)
            for about, path in sorted(found, key=lambda one: one[0].st_mtime):
                if held <= MOST_COPIES or time.time() - about.st_mtime < STILL_NEEDED:
                    return
                path.unlink(missing_ok=True)
                held -= about.st_size

    def remove(self, key: str) -> None:
        if self.has(key):
            self._fs.rm_file(self._path(key))

    def listing(self, prefix: str) -> Iterator[tuple[str, datetime]]:
        """Every key under a prefix, with when it was last written."""
        if not self._fs.exists(self._path(prefix)):
            return
        for path, info in self._fs.find(self._path(prefix), detail=True).items():
            changed = info.get("mtime") or info.get("LastModified") or info.get("created")
            if isinstance(changed, int | float):
                changed = datetime.fromtimestamp(changed, UTC)
            if isinstance(changed, datetime):
                yield path[len(self._root) + 1 :], changed

    def forget_parts(self, older: timedelta) -> int:
        """Removes unfinished files that a killed process left; answers with how many."""
        count = 0
        before = datetime.now(UTC) - older
        for key, changed in list(self.listing("")):
            if key.endswith(".part") and changed < before:
                self.remove(key)
                count += 1
        return count
