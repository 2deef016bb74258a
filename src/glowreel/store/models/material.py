"""Files: on the Shelf, on their way in, and what was made from them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    ColumnElement,
    Float,
    ForeignKey,
    Index,
    Integer,
    String,
    Text,
    UniqueConstraint,
    or_,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.ext.hybrid import hybrid_property
from sqlalchemy.orm import Mapped, mapped_column

from glowreel.store.models.base import Base, now
from glowreel.store.models.linked import Linked


class MediaFile(Base):
    """A file on a team's Shelf. `facts` are the core's `Media` once it is ready; `strip` describes its film strip;
    `user_id` brought it in; `folder` and `tags` are how the team keeps it; `origin` is where it came from, if not from
    a person's hands (`services.sources.Origin`). A `private` one is listed for `user_id` alone."""

    __tablename__ = "media"
    __table_args__ = (
        Index("ux_media_once", "team_id", "hash", unique=True, postgresql_where=text("removed_at IS NULL")),
    )
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    name: Mapped[str] = mapped_column(String(255))
    private: Mapped[bool] = mapped_column(default=False, server_default="false")
    shared_by: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
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


class UploadLink(Linked, Base):
    """A way for files to come in without an account, on a telephone: on to the team's Shelf, and into what is shown of
    a promo where one is named. It ends at `until`, when `most` files came by it, or when it is ended."""

    __tablename__ = "upload_links"
    LINK = "files"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    promo_id: Mapped[str | None] = mapped_column(ForeignKey("promos.id", ondelete="CASCADE"), default=None)
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
