"""What a made-up network keeps: films that are being sent, posts, and what was ended; in files, so that it outlives the
process that plays it."""

from __future__ import annotations

import os
import secrets
import time
from pathlib import Path
from typing import Any

import orjson

from glowreel.core.channels import Channel
from glowreel.core.formats import shape_of
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.probe import probe

MOST_TAGS = 12
PROCESSES_FOR = 1.5
"""Seconds from a post until it is live."""
AN_HOUR, MOST_AN_HOUR = 3600.0, 120
SHAPES = {"wide": "wide", "cinema": "wide", "square": "square", "portrait": "tall", "tall": "tall"}


class Unlike(Exception):
    """Something that the network does not take, in a sentence."""


class Kept:
    """The rows of a network: a film or a post is a file of its own, written whole."""

    def __init__(self, folder: Path, channel: Channel) -> None:
        self.folder, self.channel = folder, channel
        for name in ("films", "posts"):
            (folder / name).mkdir(parents=True, exist_ok=True)

    def read(self, kind: str, key: str) -> dict[str, Any] | None:
        path = self.folder / kind / f"{key}.json"
        if not key.replace("-", "").isalnum() or not path.is_file():
            return None
        row: dict[str, Any] = orjson.loads(path.read_bytes())
        return row

    def write(self, kind: str, row: dict[str, Any]) -> None:
        path = self.folder / kind / f"{row['id']}.json"
        part = path.with_suffix(f".{secrets.token_hex(3)}.part")
        part.write_bytes(orjson.dumps(row))
        part.replace(path)

    def all(self, kind: str) -> list[dict[str, Any]]:
        rows = [orjson.loads(path.read_bytes()) for path in (self.folder / kind).glob("*.json")]
        return sorted(rows, key=lambda row: row["at"])

    def with_key(self, kind: str, account: str, key: str) -> dict[str, Any] | None:
        """What was made under a key before: whoever asks twice gets the same."""
        mine = (row for row in self.all(kind) if row["account"] == account)
        return next((row for row in mine if key in (row["key"], *row.get("earlier", ()))), None)

    def film(self, key: str) -> Path:
        return self.folder / "films" / f"{key}.mp4"

    def received(self, row: dict[str, Any]) -> int:
        path = self.film(row["id"])
        return path.stat().st_size if path.is_file() else 0

    def begin(self, account: str, key: str, size: int) -> dict[str, Any]:
        if size > self.channel.megabytes * 1_000_000:
            raise Unlike(f"a film has at most {self.channel.megabytes} MB.")
        row = self.with_key("films", account, key)
        if row is None:
            row = {"id": secrets.token_hex(8), "account": account, "key": key, "size": size, "at": time.time()}
            self.write("films", row)
        return row

    def add(self, row: dict[str, Any], at: int, part: bytes) -> None:
        """Adds bytes of a film where it ends; what it has already changes nothing."""
        there = self.received(row)
        if at > there or at + len(part) > row["size"]:
            raise Unlike("these bytes do not go on where the film ends.")
        with self.film(row["id"]).open("ab") as out:
            out.write(part[there - at :])
            os.fsync(out.fileno())

    def post(self, account: str, asked: dict[str, Any]) -> dict[str, Any]:
        """What is posted under a key, made the first time it is asked for."""
        if known := self.with_key("posts", account, asked["key"]):
            return known
        film = self.read("films", asked["film"])
        if film is None or self.received(film) != film["size"]:
            raise Unlike("the film has not come whole.")
        self._like(asked)
        lately = [row for row in self.all("posts") if row["account"] == account and row["at"] > time.time() - AN_HOUR]
        if len(lately) >= MOST_AN_HOUR:
            raise Unlike(f"an account posts at most {MOST_AN_HOUR} films an hour.")
        instead = self.read("posts", asked["instead"]) if asked["instead"] else None
        row = {**asked, "id": instead["id"] if instead else secrets.token_hex(6), "account": account, "at": time.time()}
        row["reason"] = self._unlike_film(self.film(film["id"]))
        row["earlier"] = [*instead.get("earlier", ()), instead["key"]] if instead else []
        row["film"], row["live_at"] = film["id"], time.time() + PROCESSES_FOR
        self.write("posts", row)
        return row

    def _like(self, asked: dict[str, Any]) -> None:
        channel = self.channel
        if not asked["title"].strip() or len(asked["title"]) > channel.title:
            raise Unlike(f"a title has 1 to {channel.title} letters.")
        if len(asked["text"]) > channel.caption:
            raise Unlike(f"a text has at most {channel.caption} letters.")
        if len(asked["tags"]) > MOST_TAGS:
            raise Unlike(f"a post has at most {MOST_TAGS} tags.")

    def _unlike_film(self, path: Path) -> str:
        """What keeps a film from being shown: found after it was posted, as networks do."""
        try:
            facts = probe(path, "The film")
        except Exception:
            return "The film cannot be read."
        lasts, shape = facts.length / TICKS_PER_SECOND, shape_of(facts.width, facts.height)
        if not self.channel.shortest <= lasts <= self.channel.longest + 0.5:
            return f"Films here last {self.channel.shortest:g} to {self.channel.longest:g} s; this one {lasts:.1f} s."
        if shape not in {SHAPES[one] for one in self.channel.shapes}:
            return f"Films here are {' or '.join(self.channel.shapes)}."
        return ""
