"""The tables. Each row that a person can reach belongs to a team."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    ColumnElement,
    DateTime,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    String,
    Text,
    UniqueConstraint,
    or_,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.ext.hybrid import hybrid_property
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship


def new_key(prefix: str) -> str:
    """A fresh identifier that cannot be guessed."""
    return f"{prefix}-{secrets.token_urlsafe(12)}"


def now() -> datetime:
    return datetime.now(UTC)


class Base(DeclarativeBase):
    type_annotation_map = {datetime: DateTime(timezone=True), dict[str, Any]: JSONB}


class Team(Base):
    __tablename__ = "teams"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    created_at: Mapped[datetime] = mapped_column(default=now)
    wishes: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    """How the team likes to work; what is not said is as usual (see `services.wishes`)."""


class User(Base):
    __tablename__ = "users"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"))
    email: Mapped[str] = mapped_column(String(254), index=True)
    name: Mapped[str] = mapped_column(String(120))
    password: Mapped[str] = mapped_column(String(200))
    favourites: Mapped[list[str] | None] = mapped_column(JSONB)
    created_at: Mapped[datetime] = mapped_column(default=now)
    team: Mapped[Team] = relationship(lazy="joined")


class SignIn(Base):
    """Somebody signed in on a device. `digest` is of the key in the cookie."""

    __tablename__ = "sign_ins"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"), index=True)
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    address: Mapped[str] = mapped_column(String(60), default="")
    device: Mapped[str] = mapped_column(String(40), default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    until: Mapped[datetime] = mapped_column()
    ended_at: Mapped[datetime | None] = mapped_column(default=None)


class PasswordReset(Base):
    """A link by which somebody may set a new password, once. `digest` is of the key in the link."""

    __tablename__ = "password_resets"
    digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"), index=True)
    until: Mapped[datetime] = mapped_column()
    used_at: Mapped[datetime | None] = mapped_column(default=None)


class Press(Base):
    """A press of a button that makes something, and what it made."""

    __tablename__ = "presses"
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"), primary_key=True)
    press: Mapped[str] = mapped_column(String(40), primary_key=True)
    result: Mapped[str] = mapped_column(String(40), default="")
    created_at: Mapped[datetime] = mapped_column(default=now)


class MediaFile(Base):
    """A file on a team's Shelf. `facts` are the core's `Media` once it is ready; `strip` describes its film strip;
    `user_id` brought it in; `folder` and `tags` are how the team keeps it; `origin` is where it came from, if not from
    a person's hands (`services.sources.Origin`)."""

    __tablename__ = "media"
    __table_args__ = (
        Index("ux_media_once", "team_id", "hash", unique=True, postgresql_where=text("removed_at IS NULL")),
    )
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    name: Mapped[str] = mapped_column(String(255))
    folder: Mapped[str] = mapped_column(String(80), default="", server_default="")
    tags: Mapped[list[str]] = mapped_column(JSONB, default=list, server_default="[]")
    hash: Mapped[str] = mapped_column(String(64), index=True)
    suffix: Mapped[str] = mapped_column(String(10), default="")
    size: Mapped[int] = mapped_column(BigInteger)
    state: Mapped[str] = mapped_column(String(12), default="queued")
    progress: Mapped[float] = mapped_column(Float, default=0.0)
    error: Mapped[str] = mapped_column(String(400), default="")
    facts: Mapped[dict[str, Any] | None] = mapped_column(default=None)
    strip: Mapped[dict[str, Any] | None] = mapped_column(default=None)
    origin: Mapped[dict[str, Any] | None] = mapped_column(default=None)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    made: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)

    @hybrid_property
    def usable(self) -> bool:
        """Whether it was looked at once, be it by an earlier program: also while it is looked at anew."""
        return self.state == "ready" or self.made > 0

    @usable.inplace.expression
    @classmethod
    def _usable(cls) -> ColumnElement[bool]:
        return or_(cls.state == "ready", cls.made > 0)


class UploadLink(Base):
    """A way for files to come in without an account, on a telephone: on to the team's Shelf, and into what is shown of
    a promo where one is named. It ends at `until`, when `most` files came by it, or when it is ended."""

    __tablename__ = "upload_links"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    promo_id: Mapped[str | None] = mapped_column(ForeignKey("promos.id", ondelete="CASCADE"), default=None)
    token: Mapped[str] = mapped_column(String(64), unique=True)
    most: Mapped[int] = mapped_column(Integer)
    taken: Mapped[int] = mapped_column(Integer, default=0)
    until: Mapped[datetime] = mapped_column()
    ended_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Upload(Base):
    """A file on its way in, piece by piece. What has come lies in the cache under its name; `media_id` is what it
    became once it was whole. With `url` it is fetched from there by a worker, or from the service that its scheme
    names, and `error` says why that failed; its size is 0 until it is known. `promo_id` is for which promo it is, if
    for any. Nobody goes on with it after `until`."""

    __tablename__ = "uploads"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    link_id: Mapped[str | None] = mapped_column(
        ForeignKey("upload_links.id", ondelete="CASCADE"), default=None, index=True
    )
    promo_id: Mapped[str | None] = mapped_column(ForeignKey("promos.id", ondelete="SET NULL"), default=None)
    name: Mapped[str] = mapped_column(String(255))
    size: Mapped[int] = mapped_column(BigInteger)
    media_id: Mapped[str | None] = mapped_column(String(40), default=None)
    known: Mapped[bool] = mapped_column(default=False)
    url: Mapped[str] = mapped_column(String(2000), default="")
    origin: Mapped[dict[str, Any] | None] = mapped_column(default=None)
    error: Mapped[str] = mapped_column(String(400), default="")
    seen_at: Mapped[datetime] = mapped_column(default=now)
    until: Mapped[datetime] = mapped_column()
    created_at: Mapped[datetime] = mapped_column(default=now)


class Connection(Base):
    """What somebody connected outside, for themselves and within one team: a service, whose account it is there, and
    the token by which the program is let in."""

    __tablename__ = "connections"
    __table_args__ = (UniqueConstraint("user_id", "team_id", "service", name="ux_connection_once"),)
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    service: Mapped[str] = mapped_column(String(40))
    account: Mapped[str] = mapped_column(String(200))
    token: Mapped[str] = mapped_column(String(400))
    created_at: Mapped[datetime] = mapped_column(default=now)


class Derived(Base):
    """Something made from a file on demand, once for all who use it: by which maker, in which version, with which
    settings. `facts` are what was found, once it is ready; `used_at` is when it was last wanted."""

    __tablename__ = "derived"
    __table_args__ = (UniqueConstraint("hash", "maker", "key", name="ux_derived_once"),)
    id: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=True)
    hash: Mapped[str] = mapped_column(String(64))
    media_id: Mapped[str] = mapped_column(String(40))
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    maker: Mapped[str] = mapped_column(String(40))
    version: Mapped[int] = mapped_column(Integer)
    key: Mapped[str] = mapped_column(String(20))
    settings: Mapped[dict[str, Any] | None] = mapped_column(default=None)
    state: Mapped[str] = mapped_column(String(12), default="queued")
    progress: Mapped[float] = mapped_column(Float, default=0.0)
    error: Mapped[str] = mapped_column(String(400), default="")
    facts: Mapped[dict[str, Any] | None] = mapped_column(default=None)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
    used_at: Mapped[datetime] = mapped_column(default=now)


class Opening(Base):
    """A bundle or timeline that somebody sent, on its way to becoming a promo: queued, running, done or failed."""

    __tablename__ = "openings"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    name: Mapped[str] = mapped_column(String(255))
    state: Mapped[str] = mapped_column(String(12), default="queued")
    progress: Mapped[float] = mapped_column(Float, default=0.0)
    doing: Mapped[str] = mapped_column(String(200), default="")
    error: Mapped[str] = mapped_column(String(400), default="")
    notices: Mapped[list[str]] = mapped_column(JSONB, default=list)
    promo_id: Mapped[str | None] = mapped_column(ForeignKey("promos.id"), default=None)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)


class BrandRow(Base):
    """A brand of a team: `book` is the core's `Brand`, `past` what it was before, newest last; `version` counts its
    states. One of a team's is `usual`: new promos have it. `token` opens it to whoever has the link; a copy
    of one of another team knows by which link it came, and in which state."""

    __tablename__ = "brands"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    book: Mapped[dict[str, Any]] = mapped_column(default=dict)
    past: Mapped[list[dict[str, Any]]] = mapped_column(JSONB, default=list)
    version: Mapped[int] = mapped_column(Integer, default=1)
    usual: Mapped[bool] = mapped_column(default=False)
    token: Mapped[str | None] = mapped_column(String(64), unique=True, default=None)
    source_token: Mapped[str | None] = mapped_column(String(64), default=None)
    source_version: Mapped[int] = mapped_column(Integer, default=0, server_default="0")
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)


class PromoRow(Base):
    """A promo, or a template (`kind`), which is one that others are made from. A retired template makes no new ones."""

    __tablename__ = "promos"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    name: Mapped[str] = mapped_column(String(120))
    kind: Mapped[str] = mapped_column(String(12), default="promo", server_default="promo")
    head_id: Mapped[int] = mapped_column(BigInteger, default=0)
    tip_id: Mapped[int] = mapped_column(BigInteger, default=0)
    summary: Mapped[dict[str, Any]] = mapped_column(default=dict)
    created_at: Mapped[datetime] = mapped_column(default=now)
    updated_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)
    retired_at: Mapped[datetime | None] = mapped_column(default=None)
    folder: Mapped[str] = mapped_column(String(80), default="", server_default="")


class Revision(Base):
    """One state of a promo. Never changed; removed only with its promo, when it is very old, or when more is typed into
    the same words. `document` is whole, or what is different from the revision `base_id`. `press` names the gesture it
    comes from, `typing` what was being typed into, so that typing that goes on is one step."""

    __tablename__ = "revisions"
    __table_args__ = (Index("ux_revision_press", "promo_id", "press", unique=True),)
    id: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=True)
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id"), index=True)
    parent_id: Mapped[int | None] = mapped_column(BigInteger, default=None)
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    sentence: Mapped[str] = mapped_column(String(400))
    name: Mapped[str | None] = mapped_column(String(80), default=None)
    press: Mapped[str | None] = mapped_column(String(40), default=None)
    base_id: Mapped[int | None] = mapped_column(BigInteger, default=None, index=True)
    typing: Mapped[str | None] = mapped_column(String(200), default=None)
    document: Mapped[bytes] = mapped_column(LargeBinary)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Export(Base):
    """One press of the button: a revision in one or several formats. `caption` is the text that goes with it where it
    is published."""

    __tablename__ = "exports"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id"), index=True)
    revision_id: Mapped[int] = mapped_column(BigInteger)
    title: Mapped[str] = mapped_column(String(120))
    caption: Mapped[str] = mapped_column(Text, default="")
    burn_in: Mapped[bool] = mapped_column(default=True)
    lanes: Mapped[dict[str, Any]] = mapped_column(default=dict)
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)
    promo: Mapped[PromoRow] = relationship()
    files: Mapped[list[ExportFile]] = relationship(back_populates="export", order_by="ExportFile.number")


class Written(Base):
    """What is said in a file, as a team corrected it: for every promo of theirs in which it is written down later."""

    __tablename__ = "written"
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), primary_key=True)
    hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    language: Mapped[str] = mapped_column(String(12), primary_key=True)
    transcript: Mapped[dict[str, Any]] = mapped_column(JSONB)
    text: Mapped[str] = mapped_column(Text, default="")
    updated_at: Mapped[datetime] = mapped_column(default=now)


class Spoken(Base):
    """A line of text that is spoken: by which voice, how fast, how words are read; and the file that it became. The
    same line is spoken once (`key`)."""

    __tablename__ = "spoken"
    __table_args__ = (UniqueConstraint("team_id", "key", name="ux_spoken_once"),)
    id: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"))
    key: Mapped[str] = mapped_column(String(64))
    said: Mapped[dict[str, Any]] = mapped_column(JSONB)
    state: Mapped[str] = mapped_column(String(12), default="queued")
    error: Mapped[str] = mapped_column(String(400), default="")
    media_id: Mapped[str | None] = mapped_column(String(40), default=None)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)


class ExportFile(Base):
    """One format of an export: planning, queued, running, joining, done, failed or cancelled. `planned` is the share of
    its pieces that have a name; `token` opens its watch page until `link_until`, and not at all where that is unset.
    `channel` is the name of the one that it is for, if any, which takes files of `most_megabytes`, 0 for any.
    `loudness` (LUFS) and `peak` (dBTP) were measured in its sound."""

    __tablename__ = "export_files"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    export_id: Mapped[str] = mapped_column(ForeignKey("exports.id"), index=True)
    number: Mapped[int] = mapped_column(Integer, default=0)
    format_id: Mapped[str] = mapped_column(String(64))
    format_name: Mapped[str] = mapped_column(String(40))
    channel: Mapped[str] = mapped_column(String(40), default="")
    most_megabytes: Mapped[int] = mapped_column(Integer, default=0)
    short_side: Mapped[int] = mapped_column(Integer)
    width: Mapped[int] = mapped_column(Integer)
    height: Mapped[int] = mapped_column(Integer)
    state: Mapped[str] = mapped_column(String(12), default="planning")
    planned: Mapped[float] = mapped_column(Float, default=0.0)
    error: Mapped[str] = mapped_column(String(400), default="")
    frames: Mapped[int] = mapped_column(Integer)
    reused: Mapped[int] = mapped_column(Integer, default=0)
    size: Mapped[int] = mapped_column(BigInteger, default=0)
    loudness: Mapped[float | None] = mapped_column(Float)
    peak: Mapped[float | None] = mapped_column(Float)
    token: Mapped[str] = mapped_column(String(64), unique=True)
    link_until: Mapped[datetime | None] = mapped_column(default=None)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    created_at: Mapped[datetime] = mapped_column(default=now)
    started_at: Mapped[datetime | None] = mapped_column(default=None)
    finished_at: Mapped[datetime | None] = mapped_column(default=None)
    export: Mapped[Export] = relationship(back_populates="files")
    pieces: Mapped[list[ExportPiece]] = relationship(back_populates="file", order_by="ExportPiece.number")

    @property
    def frames_done(self) -> int:
        return sum(piece.frames_done for piece in self.pieces)

    @property
    def too_large(self) -> bool:
        """Whether its channel does not take a file of its size."""
        return bool(self.most_megabytes) and self.size > self.most_megabytes * 1_000_000


class ExportPiece(Base):
    """A run of frames that one worker encodes. `key` names its file by what it shows."""

    __tablename__ = "export_pieces"
    __table_args__ = (UniqueConstraint("file_id", "number"), Index("ix_pieces_state", "state"))
    id: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=True)
    file_id: Mapped[str] = mapped_column(ForeignKey("export_files.id"), index=True)
    number: Mapped[int] = mapped_column(Integer)
    first: Mapped[int] = mapped_column(Integer)
    count: Mapped[int] = mapped_column(Integer)
    key: Mapped[str] = mapped_column(String(64), default="")
    state: Mapped[str] = mapped_column(String(12), default="queued")
    frames_done: Mapped[int] = mapped_column(Integer, default=0)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime | None] = mapped_column(default=None)
    file: Mapped[ExportFile] = relationship(back_populates="pieces")
