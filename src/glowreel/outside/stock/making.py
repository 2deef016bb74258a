"""Making the files of the made-up catalogue, once each, at most two at a time."""

from __future__ import annotations

import secrets
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from threading import Lock

from glowreel.outside.art import files, tunes
from glowreel.outside.stock.catalogue import Recipe

HEARD = 24
"""So many seconds of music are heard before it is taken."""
SUFFIXES = {"footage": ".mp4", "photo": ".jpg", "illustration": ".png", "music": ".m4a", "effect": ".m4a"}
TYPES = {".mp4": "video/mp4", ".jpg": "image/jpeg", ".png": "image/png", ".m4a": "audio/mp4", ".webp": "image/webp"}


class FileMaker:
    """Where files are made, and the folder in which they stay."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._folder.mkdir(parents=True, exist_ok=True)
        self._pool = ThreadPoolExecutor(2)
        self._going: dict[str, Future[None]] = {}
        self._shares: dict[str, float] = {}
        self._lock = Lock()

    def file(self, recipe: Recipe) -> Path:
        """Where an entry's file lies, once it is made."""
        return self._folder / f"{recipe.entry.id}{SUFFIXES[recipe.entry.kind]}"

    def share(self, recipe: Recipe) -> float:
        """How much of an entry's file is made; has it made where nobody has. Raises what went wrong."""
        if self.file(recipe).is_file():
            return 1.0
        key = recipe.entry.id
        with self._lock:
            going = self._going.get(key)
            if going is None or (going.done() and going.exception() is None):
                going = self._going[key] = self._pool.submit(self._make, recipe)
            elif going.done():
                del self._going[key]
                going.result()
        return min(0.99, self._shares.get(key, 0.0))

    def _make(self, recipe: Recipe) -> None:
        path = self.file(recipe)
        part = path.with_suffix(f".{secrets.token_hex(4)}.part")
        entry = recipe.entry

        def tell(share: float) -> None:
            self._shares[entry.id] = share

        try:
            if recipe.painting is not None and entry.kind == "footage":
                files.film(recipe.painting, entry.width, entry.height, entry.seconds, part, tell)
            elif recipe.painting is not None:
                part.write_bytes(files.picture(recipe.painting, entry.width, entry.height, SUFFIXES[entry.kind]))
            else:
                files.sound(samples(recipe), part)
            part.replace(path)
        finally:
            part.unlink(missing_ok=True)

    def small(self, recipe: Recipe, name: str) -> bytes | None:
        """One of the small files of an entry; None for one that it does not have."""
        path = self._folder / f"{recipe.entry.id}-{name}"
        if path.is_file():
            return path.read_bytes()
        data = self._small(recipe, name, path)
        if data is not None:
            part = path.with_name(f"{path.name}.{secrets.token_hex(4)}")
            part.write_bytes(data)
            part.replace(path)
        return data

    def _small(self, recipe: Recipe, name: str, path: Path) -> bytes | None:
        entry = recipe.entry
        if recipe.painting is not None:
            if name == "poster.jpg":
                return files.picture(recipe.painting, *files.small_size(entry.width, entry.height), ".jpg")
            if name == "loop.webp" and entry.kind == "footage":
                return files.preview(recipe.painting, entry.width, entry.height, entry.seconds)
            return None
        if name != "sound.m4a":
            return None
        heard = path.with_name(f"{path.name}.{secrets.token_hex(4)}")
        try:
            files.sound(samples(recipe)[: HEARD * tunes.RATE], heard, 96_000)
            return heard.read_bytes()
        finally:
            heard.unlink(missing_ok=True)


def samples(recipe: Recipe) -> tunes.Sound:
    """What an entry sounds like."""
    if recipe.tune is not None:
        return tunes.compose(recipe.tune)
    assert recipe.effect is not None
    return tunes.effect(*recipe.effect)
