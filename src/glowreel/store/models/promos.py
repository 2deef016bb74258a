"""Promos with their history, and brands."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, ForeignKey, Index, Integer, LargeBinary, String
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from glowreel.store.models.base import Base, now
from glowreel.store.models.linked import Linked


class BrandRow(Linked, Base):
    """A brand of a team: `book` is the core's `Brand`, `past` what it was before, newest last; `version` counts its
    states. One of a team's is `usual`: new promos have it. Whoever has its link may take it over; a copy
    of one of another team knows by which link it came, and in which state."""

    __tablename__ = "brands"
    LINK = "brand"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    private: Mapped[bool] = mapped_column(default=False, server_default="false")
    shared_by: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    book: Mapped[dict[str, Any]] = mapped_column(default=dict)
    past: Mapped[list[dict[str, Any]]] = mapped_column(JSONB, default=list)
    version: Mapped[int] = mapped_column(Integer, default=1)
    usual: Mapped[bool] = mapped_column(default=False)
    source_digest: Mapped[str | None] = mapped_column(String(64), default=None)
    source_version: Mapped[int] = mapped_column(Integer, default=0, server_default="0")
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)


class PromoRow(Base):
    """A promo, or a template (`kind`), which is one that others are made from. A retired template makes no new ones.
    It is the team's; or `private`: for `user_id` alone, who began it. `shared_by` made it the team's again."""

    __tablename__ = "promos"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    name: Mapped[str] = mapped_column(String(120))
    kind: Mapped[str] = mapped_column(String(12), default="promo", server_default="promo")
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    private: Mapped[bool] = mapped_column(default=False, server_default="false")
    shared_by: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    head_id: Mapped[int] = mapped_column(BigInteger, default=0)
    tip_id: Mapped[int] = mapped_column(BigInteger, default=0)
    summary: Mapped[dict[str, Any]] = mapped_column(default=dict)
    created_at: Mapped[datetime] = mapped_column(default=now)
    updated_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)
    retired_at: Mapped[datetime | None] = mapped_column(default=None)
    folder: Mapped[str] = mapped_column(String(80), default="", server_default="")
    cut_by: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    """Who cuts it alone, until `cut_until`."""
    cut_until: Mapped[datetime | None] = mapped_column(default=None)

    @property
    def only_for(self) -> str | None:
        """Whose alone it is, if it is not the team's."""
        return self.user_id if self.private else None


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
