"""Who there is: teams, people, where they are signed in, and what they pressed."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, ForeignKey, Integer, String, Text
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
    """The team they work in now, of those they are a member of."""
    email: Mapped[str] = mapped_column(String(254), index=True)
    name: Mapped[str] = mapped_column(String(120))
    password: Mapped[str] = mapped_column(String(200))
    favourites: Mapped[list[str] | None] = mapped_column(JSONB)
    second_secret: Mapped[str] = mapped_column(String(64), default="", server_default="")
    """Of the device that makes codes for signing in; nothing where the password is enough."""
    second_step: Mapped[int] = mapped_column(BigInteger, default=0, server_default="0")
    """The half minute of the last code that was used: no code passes twice."""
    second_paper: Mapped[list[str]] = mapped_column(JSONB, default=list, server_default="[]")
    """Digests of the codes on paper that are left."""
    created_at: Mapped[datetime] = mapped_column(default=now)
    team: Mapped[Team] = relationship(lazy="joined")


class Member(Base):
    """Somebody in a team, in a role of `services.access.ROLES`."""

    __tablename__ = "members"
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), primary_key=True, index=True)
    role: Mapped[str] = mapped_column(String(20))
    created_at: Mapped[datetime] = mapped_column(default=now)
    user: Mapped[User] = relationship()
    team: Mapped[Team] = relationship()


class Invitation(Base):
    """A way into a team in a role: by a letter to `email`, for one person; or by a link, for up to `most`. `digest` is
    of the key in its address. It ends at `until`, when so many have come, or when it is ended."""

    __tablename__ = "invitations"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    role: Mapped[str] = mapped_column(String(20))
    email: Mapped[str] = mapped_column(String(254), default="")
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    most: Mapped[int] = mapped_column(Integer)
    taken: Mapped[int] = mapped_column(Integer, default=0)
    until: Mapped[datetime] = mapped_column()
    ended_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
    user: Mapped[User] = relationship()
    team: Mapped[Team] = relationship()


class Letter(Base):
    """A letter on its way, or sent: it is written with what it tells of, in one commit, and sent afterwards. `key`
    names what it is about, where that is told once only."""

    __tablename__ = "letters"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str | None] = mapped_column(ForeignKey("teams.id"), default=None, index=True)
    to: Mapped[str] = mapped_column(String(254))
    subject: Mapped[str] = mapped_column(String(200))
    text: Mapped[str] = mapped_column(Text)
    key: Mapped[str | None] = mapped_column(String(120), unique=True, default=None)
    state: Mapped[str] = mapped_column(String(12), default="queued")
    error: Mapped[str] = mapped_column(String(400), default="")
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)


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
