"""The port to a cloud drive: somebody allows the program in there, then folders and files are seen and taken."""

from __future__ import annotations

from collections.abc import Callable
from typing import BinaryIO
from urllib.parse import urlencode

from pydantic import BaseModel, ConfigDict, Field

from glowreel.outside.fetching import PICTURE_BYTES, Fetched
from glowreel.outside.service import Service

NAME = "Millpond"


class DriveFile(BaseModel):
    """A file there: its key, its name, in which folder, its kind as a media type, and its bytes, 0 where not known."""

    model_config = ConfigDict(frozen=True)

    id: str = Field(max_length=200)
    name: str = Field(max_length=200)
    folder: str = Field(default="", max_length=400)
    kind: str = Field(default="", max_length=100)
    size: int = Field(default=0, ge=0)


class Listing(BaseModel):
    """What a folder holds, or what was found."""

    model_config = ConfigDict(frozen=True)

    folder: str = Field(default="", max_length=400)
    folders: tuple[str, ...] = ()
    files: tuple[DriveFile, ...] = ()


class Arrived(BaseModel):
    """A file that is being sent there: its key, and how many bytes have come."""

    model_config = ConfigDict(frozen=True)

    id: str = Field(max_length=200)
    received: int = Field(ge=0)


class Allowed(BaseModel):
    """What somebody allowed: the token for it, and whose files they are."""

    model_config = ConfigDict(frozen=True)

    token: str = Field(min_length=8, max_length=400)
    account: str = Field(max_length=200)


def ask_at(address: str, back: str, state: str) -> str:
    """Where somebody is sent to allow the program in; they come back to `back` with a code and the state."""
    return f"{address.rstrip('/')}/allow?{urlencode({'back': back, 'state': state})}"


class Drive:
    """A drive at an address, as whoever allowed it sees it."""

    def __init__(self, address: str, token: str = "") -> None:
        self._service = Service(address, NAME, token)

    def allowed(self, code: str) -> Allowed:
        """What a code stands for that somebody came back with; it can be used once, and soon."""
        return self._service.told(Allowed, "/token", body={"code": code}, missing="That took too long.")

    def listing(self, folder: str = "", words: str = "") -> Listing:
        """What a folder holds; with words, every file below it whose name has them."""
        asked = {"folder": folder, "find": words}
        return self._service.told(Listing, "/files", asked, missing="That folder is gone.")

    def file(self, key: str) -> DriveFile:
        return self._service.told(DriveFile, f"/files/{key}", missing="That file is gone.")

    def small(self, key: str) -> Fetched:
        """A small picture of a file, where it has one."""
        return self._service.file(f"/files/{key}/small.jpg", ("image/",), PICTURE_BYTES)

    def save(self, key: str, file: BinaryIO, most: int, tell: Callable[[int], None]) -> None:
        self._service.save(f"/files/{key}/content", file, most, tell)

    def begin(self, key: str, folder: str, name: str, about: str, size: int) -> Arrived:
        """A file of so many bytes to be put into a folder, described by `about`; what has come of it, where one of that
        key was begun before."""
        body = {"key": key, "folder": folder, "name": name, "about": about, "size": size}
        return self._service.told(Arrived, "/files", body=body)

    def send(self, file: str, at: int, part: bytes) -> Arrived:
        """Sends bytes of a file, from the byte `at` on."""
        return Arrived.model_validate(self._service.send(f"/files/{file}/content", part, {"at": at}))

    def leave(self) -> None:
        """Ends what was allowed."""
        self._service.ask("/leave", body={})
