"""Where films go: accounts on channels, and what is posted there."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Float, ForeignKey, Index, Integer, String, Text, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from glowreel.store.models.base import Base, now
from glowreel.store.models.going_out import ExportFile
from glowreel.store.models.people import User
from glowreel.store.models.promos import PromoRow


class ChannelAccount(Base):
    """An account on a channel for which somebody of a team allowed the program to post. `token` lets it in until
    `until`, `refresh` brings the next one. It is kept when it was left, for what was posted there."""

    __tablename__ = "channel_accounts"
    __table_args__ = (UniqueConstraint("team_id", "channel", "account", name="ux_account_once"),)
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    channel: Mapped[str] = mapped_column(String(40))
    account: Mapped[str] = mapped_column(String(200))
    token: Mapped[str] = mapped_column(String(400))
    refresh: Mapped[str] = mapped_column(String(400))
    until: Mapped[datetime] = mapped_column()
    left_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
    user: Mapped[User] = relationship(lazy="selectin")


class Delivery(Base):
    """A finished film on its way into somebody's cloud drive: queued, running, done or failed; `share` of it is sent.
    There it lies in `folder` as `name`, described by `about`."""

    __tablename__ = "deliveries"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    file_id: Mapped[str] = mapped_column(ForeignKey("export_files.id", ondelete="CASCADE"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    folder: Mapped[str] = mapped_column(String(300), default="")
    name: Mapped[str] = mapped_column(String(140))
    about: Mapped[str] = mapped_column(Text, default="")
    state: Mapped[str] = mapped_column(String(12), default="queued")
    error: Mapped[str] = mapped_column(String(400), default="")
    share: Mapped[float] = mapped_column(Float, default=0.0)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime] = mapped_column()
    created_at: Mapped[datetime] = mapped_column(default=now)


class Post(Base):
    """A film on its way to a channel, or there: planned, sending, processing, live, failed or gone (taken down).

    It goes out at `at` (said in the time zone `zone`), once its film is made. `due_at` is when a worker looks at it
    next, `tries` how often in a row that went wrong, `share` how much of the film is sent. `version` counts up with
    each film that takes the place of the one before; with it and `id` the channel knows whether it has it already.
    `remote_id` and `address` are where it is there. Posts of one press share `set_id`; `still` is the second of the
    film that is shown before it plays."""

    __tablename__ = "posts"
    __table_args__ = (Index("ix_posts_due", "state", "due_at"), Index("ix_posts_at", "team_id", "at"))
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"))
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id", ondelete="CASCADE"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    set_id: Mapped[str] = mapped_column(String(40), index=True)
    account_id: Mapped[str] = mapped_column(ForeignKey("channel_accounts.id"))
    file_id: Mapped[str | None] = mapped_column(ForeignKey("export_files.id", ondelete="SET NULL"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    text: Mapped[str] = mapped_column(Text, default="")
    tags: Mapped[list[str]] = mapped_column(JSONB, default=list)
    still: Mapped[float] = mapped_column(Float, default=0.0)
    home: Mapped[str] = mapped_column(String(200), default="")
    zone: Mapped[str] = mapped_column(String(60), default="UTC")
    at: Mapped[datetime] = mapped_column()
    state: Mapped[str] = mapped_column(String(12), default="planned")
    error: Mapped[str] = mapped_column(String(400), default="")
    version: Mapped[int] = mapped_column(Integer, default=1)
    share: Mapped[float] = mapped_column(Float, default=0.0)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    tries: Mapped[int] = mapped_column(Integer, default=0)
    due_at: Mapped[datetime] = mapped_column()
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    remote_id: Mapped[str] = mapped_column(String(100), default="")
    address: Mapped[str] = mapped_column(String(500), default="")
    live_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
    account: Mapped[ChannelAccount] = relationship(lazy="selectin")
    file: Mapped[ExportFile | None] = relationship(lazy="selectin")
    promo: Mapped[PromoRow] = relationship(lazy="selectin")

    @property
    def only_for(self) -> str | None:
        """Whose alone it is: what a promo is, its posts are."""
        return self.promo.only_for
