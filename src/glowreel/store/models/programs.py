"""Programs that work for a team: tokens that let them in, hooks that tell them; and what was done in a team."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, ForeignKey, Identity, Index, Integer, String
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from glowreel.store.models.base import Base, now
from glowreel.store.models.people import User


class ApiToken(Base):
    """What lets a program work for a team, in the name of whoever made it and with no more rights: `digest` is of the
    token, which is shown once; `start` is its first letters, by which it is known again. It ends at `until`."""

    __tablename__ = "api_tokens"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    name: Mapped[str] = mapped_column(String(80))
    scopes: Mapped[list[str]] = mapped_column(JSONB)
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    start: Mapped[str] = mapped_column(String(12))
    until: Mapped[datetime | None] = mapped_column(default=None)
    used_at: Mapped[datetime | None] = mapped_column(default=None)
    ended_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
    user: Mapped[User] = relationship(lazy="selectin")


class Done(Base):
    """Something that was done in a team: by whom, which event of `services.audit.EVENTS`, and how that is said."""

    __tablename__ = "done"
    __table_args__ = (Index("ix_done_team", "team_id", "id"),)
    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"))
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    event: Mapped[str] = mapped_column(String(20))
    said: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(default=now)


class Hook(Base):
    """An address that is told of some of `services.hooks.HAPPENINGS`."""

    __tablename__ = "hooks"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    address: Mapped[str] = mapped_column(String(500))
    happenings: Mapped[list[str]] = mapped_column(JSONB)
    ended_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)


class HookCall(Base):
    """A call to a hook: queued, told or failed; `due_at` is when it is tried next, `tries` how often it went wrong."""

    __tablename__ = "hook_calls"
    __table_args__ = (Index("ix_hook_calls_due", "state", "due_at"),)
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    hook_id: Mapped[str] = mapped_column(ForeignKey("hooks.id", ondelete="CASCADE"), index=True)
    body: Mapped[dict[str, Any]] = mapped_column()
    state: Mapped[str] = mapped_column(String(12), default="queued")
    error: Mapped[str] = mapped_column(String(400), default="")
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    tries: Mapped[int] = mapped_column(Integer, default=0)
    due_at: Mapped[datetime] = mapped_column()
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    told_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
