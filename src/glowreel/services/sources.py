"""Services outside from which files come: what each is called, how a file is had from it, and what is kept of where a
file came from.

A file that is on its way from one has its scheme and what it is there instead of an address: `stock:footage-sea-1`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import BinaryIO, Literal

import orjson
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select

from glowreel.core.errors import Refusal
from glowreel.outside.drive import port as drive
from glowreel.outside.maker import port as maker
from glowreel.outside.stock import port as stock
from glowreel.services.setup import Runtime
from glowreel.store.models import Connection, Upload

Tell = Callable[[int], None]
Save = Callable[[Runtime, Upload, str, BinaryIO, int, Tell], None]


class Origin(BaseModel):
    """Where a file came from: the service, what it is there, and what has to be said of it where it is used. `key` is
    the licence it was taken under, `wish` what it was made from."""

    model_config = ConfigDict(frozen=True)

    source: Literal["stock", "maker", "drive"]
    id: str = Field(max_length=400)
    title: str = Field(default="", max_length=300)
    credit: str = Field(default="", max_length=300)
    licence: str = Field(default="", max_length=100)
    key: str = Field(default="", max_length=200)
    machine: bool = False


@dataclass(frozen=True)
class Source:
    """A service: what it is called in sentences, and how a file is written that comes from it."""

    name: str
    save: Save


def _save_stock(runtime: Runtime, row: Upload, key: str, file: BinaryIO, most: int, tell: Tell) -> None:
    licence = str((row.origin or {}).get("key", ""))
    stock.Stock(runtime.settings.stock).save(key, licence, file, most, tell)


def _save_made(runtime: Runtime, row: Upload, key: str, file: BinaryIO, most: int, tell: Tell) -> None:
    wish = maker.Wish.model_validate(orjson.loads(key))
    maker.Maker(runtime.settings.maker).save(wish, file, most, tell)


def _save_driven(runtime: Runtime, row: Upload, key: str, file: BinaryIO, most: int, tell: Tell) -> None:
    with runtime.database.unit() as unit:
        mine = (Connection.user_id == row.user_id, Connection.team_id == row.team_id, Connection.service == "drive")
        token = unit.session.scalar(select(Connection.token).where(*mine))
    if token is None:
        raise Refusal("not-connected", f"{drive.NAME} is not connected any more.", "Connect it again.")
    drive.Drive(runtime.settings.drive, token).save(key, file, most, tell)


SOURCES: dict[str, Source] = {
    "stock": Source("the stock catalogue", _save_stock),
    "maker": Source("the maker of pictures", _save_made),
    "drive": Source(drive.NAME, _save_driven),
}
"""By scheme."""


def is_outside(url: str) -> bool:
    """Whether something comes from a service and not from an address of the web."""
    return url.partition(":")[0] in SOURCES


def name_of(url: str) -> str:
    """What the service is called that something comes from; nothing for an address of the web."""
    return SOURCES[url.partition(":")[0]].name if is_outside(url) else ""


def save(runtime: Runtime, row: Upload, file: BinaryIO, most: int, tell: Tell) -> None:
    """Writes what is on its way to a file."""
    scheme, _, key = row.url.partition(":")
    SOURCES[scheme].save(runtime, row, key, file, most, tell)
