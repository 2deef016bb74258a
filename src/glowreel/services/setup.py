"""Settings, and the parts that every process of the program shares."""

from __future__ import annotations

import os
import secrets
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, fields
from functools import cached_property
from pathlib import Path

from glowreel.core.errors import Missing
from glowreel.engine import memory
from glowreel.engine.typesetting import find_own
from glowreel.limited.client import Limited
from glowreel.outside.models import ModelFolder
from glowreel.services.blob_keys import BlobLibrary
from glowreel.store.blobs import Blobs
from glowreel.store.database import Database, Send
from glowreel.store.models.linked import Installation


@dataclass(frozen=True)
class Settings:
    """Read from the environment as GLOWREEL_<NAME>. Every field has a default that works on one machine."""

    database: str = "postgresql+psycopg://localhost/glowreel"
    redis: str = "redis://127.0.0.1:6379/0"
    blobs: str = "var/blobs"
    cache: str = "var/cache"
    secret: str = ""
    demo: bool = False
    frames_mb: int = 512
    memory_mb: int = 512
    secure_cookies: bool = False
    proxies: int = 0
    limited: str = ""
    imports: int = 2
    address: str = ""
    letters: str = "var/letters"
    smtp: str = ""
    outbox: str = ""
    monitor: str = ""
    quota_gb: int = 50
    reserve_mb: int = 500
    stand_ins: str = ""
    stock: str = ""
    maker: str = ""
    drive: str = ""
    networks: str = ""
    models: str = "var/models"
    fetch_models: bool = True
    speech_model: str = "speech-many"

    @classmethod
    def from_environment(cls) -> Settings:
        found: dict[str, object] = {}
        for field in fields(cls):
            value = os.environ.get(f"GLOWREEL_{field.name.upper()}")
            if value is None:
                continue
            found[field.name] = (
                int(value) if field.type == "int" else value not in ("", "0") if field.type == "bool" else value
            )
        return cls(**found)  # type: ignore[arg-type]


class Runtime:
    """What the settings lead to. Made once in each process; connections open when first used."""

    def __init__(self, settings: Settings, send: Send) -> None:
        self.settings = settings
        self._send = send
        Installation.secret = settings.secret
        os.umask(0o027)  # What this process writes is for it and its group alone.
        memory.process.limit = settings.memory_mb * memory.MEGABYTE
        find_own(self._letters)

    def _letters(self, source: str) -> Path | None:
        """Where a file of letters lies, by its hash."""
        try:
            return self.library.picture(source)
        except Missing:
            return None

    @cached_property
    def database(self) -> Database:
        return Database(self.settings.database, self._send)

    @cached_property
    def blobs(self) -> Blobs:
        return Blobs(self.settings.blobs, Path(self.settings.cache) / "blobs")

    @cached_property
    def limited(self) -> Limited:
        """The pool of limited processes: all that strangers sent is worked on there."""
        return Limited(self.settings.limited)

    @cached_property
    def models(self) -> ModelFolder:
        """What is too large to come with the program."""
        return ModelFolder(Path(self.settings.models))

    @contextmanager
    def workspace(self) -> Iterator[Path]:
        """A folder for the files of one piece of work, gone afterwards."""
        folder = Path(self.settings.cache) / "work" / secrets.token_hex(8)
        folder.mkdir(parents=True)
        try:
            yield folder
        finally:
            shutil.rmtree(folder, ignore_errors=True)

    @cached_property
    def library(self) -> BlobLibrary:
        return BlobLibrary(self.blobs)
