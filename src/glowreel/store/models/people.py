"""Who there is: teams, people, where they are signed in, and what they pressed."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from glowreel.store.models.base import Base, now


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
