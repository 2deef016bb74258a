"""What leaves: exports, their files and the pieces of these."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import BigInteger, Float, ForeignKey, Index, Integer, String, Text, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from glowreel.core.film_forms import FILM_FORMS, USUAL_FORM, FilmForm
from glowreel.store.models.base import Base, now
from glowreel.store.models.linked import Linked
from glowreel.store.models.promos import PromoRow


class Export(Base):
    """One press of the button: a revision in one or several formats. `caption` is the text that goes with it where it
    is published; `making` is how its files are made (`core.film_forms.Making`);
    `request` is the press that began it, as logs name it."""

    __tablename__ = "exports"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id"), index=True)
    revision_id: Mapped[int] = mapped_column(BigInteger)
    title: Mapped[str] = mapped_column(String(120))
    caption: Mapped[str] = mapped_column(Text, default="")
    burn_in: Mapped[bool] = mapped_column(default=True)
    making: Mapped[dict[str, Any]] = mapped_column(JSONB, default=dict, server_default="{}")
    lanes: Mapped[dict[str, Any]] = mapped_column(default=dict)
    request: Mapped[str] = mapped_column(String(64), default="", server_default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)
    promo: Mapped[PromoRow] = relationship()
    files: Mapped[list[ExportFile]] = relationship(back_populates="export", order_by="ExportFile.number")

    @property
    def only_for(self) -> str | None:
        """Whose alone it is: what a promo is, its exports are."""
        return self.promo.only_for


class ExportFile(Linked, Base):
    """One format of an export: planning, queued, running, joining, done, failed or cancelled. `planned` is the share of
    its pieces that have a name, then how far it is put together; its link opens its watch page until `link_until`, and
    not at all where that is unset.
    `channel` is the name of the one that it is for, if any, which takes files of `most_megabytes`, 0 for any.
    `loudness` (LUFS) and `peak` (dBTP) were measured in its sound. `form` is the kind of file that it is
    (`core.film_forms`), and `tighter` by how much it is made smaller than asked, where it came out too large."""

    __tablename__ = "export_files"
    LINK = "film"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    export_id: Mapped[str] = mapped_column(ForeignKey("exports.id"), index=True)
    number: Mapped[int] = mapped_column(Integer, default=0)
    format_id: Mapped[str] = mapped_column(String(64))
    format_name: Mapped[str] = mapped_column(String(40))
    channel: Mapped[str] = mapped_column(String(40), default="")
    most_megabytes: Mapped[int] = mapped_column(Integer, default=0)
    form: Mapped[str] = mapped_column(String(12), default=USUAL_FORM, server_default=USUAL_FORM)
    tighter: Mapped[float] = mapped_column(Float, default=1.0, server_default="1")
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
    link_until: Mapped[datetime | None] = mapped_column(default=None)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    created_at: Mapped[datetime] = mapped_column(default=now)
    started_at: Mapped[datetime | None] = mapped_column(default=None)
    finished_at: Mapped[datetime | None] = mapped_column(default=None)
    export: Mapped[Export] = relationship(back_populates="files")
    pieces: Mapped[list[ExportPiece]] = relationship(back_populates="file", order_by="ExportPiece.number")

    @property
    def film_form(self) -> FilmForm:
        return FILM_FORMS[self.form]

    @property
    def frames_done(self) -> int:
        return sum(piece.frames_done for piece in self.pieces)

    @property
    def too_large(self) -> bool:
        """Whether its channel does not take a file of its size."""
        return bool(self.most_megabytes) and self.size > self.most_megabytes * 1_000_000


class ExportPiece(Base):
    """A run of frames that one worker encodes. `key` names its file by what it shows; `cost` is what it takes beside
    others, nothing where it was there already."""

    __tablename__ = "export_pieces"
    __table_args__ = (UniqueConstraint("file_id", "number"), Index("ix_pieces_state", "state"))
    id: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=True)
    file_id: Mapped[str] = mapped_column(ForeignKey("export_files.id"), index=True)
    number: Mapped[int] = mapped_column(Integer)
    first: Mapped[int] = mapped_column(Integer)
    count: Mapped[int] = mapped_column(Integer)
    key: Mapped[str] = mapped_column(String(64), default="")
    cost: Mapped[float] = mapped_column(Float, default=0.0, server_default="0")
    state: Mapped[str] = mapped_column(String(12), default="queued")
    frames_done: Mapped[int] = mapped_column(Integer, default=0)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime | None] = mapped_column(default=None)
    file: Mapped[ExportFile] = relationship(back_populates="pieces")


class WatchPage(Base):
    """What the watch page of a film says and allows beside it; a film without a row has what is usual. The call to
    action (`action`, leading to `leads_to`) shows from `action_at` seconds on, at the end where that is unset. `poster`
    is the frame shown before it plays, and `picture` the key of one that was sent for that. `password` is a hash.
    `asks` lets viewers ask questions. `links` are other pages, each with its words and its address."""

    __tablename__ = "watch_pages"
    file_id: Mapped[str] = mapped_column(ForeignKey("export_files.id", ondelete="CASCADE"), primary_key=True)
    title: Mapped[str] = mapped_column(String(120), default="")
    about: Mapped[str] = mapped_column(Text, default="")
    action: Mapped[str] = mapped_column(String(60), default="")
    leads_to: Mapped[str] = mapped_column(String(500), default="")
    action_at: Mapped[float | None] = mapped_column(Float)
    poster: Mapped[int | None] = mapped_column(Integer)
    downloads: Mapped[bool] = mapped_column(default=True)
    asks: Mapped[bool] = mapped_column(default=False)
    password: Mapped[str] = mapped_column(String(200), default="")
    links: Mapped[list[Any]] = mapped_column(JSONB, default=list, server_default="[]")
    picture: Mapped[str] = mapped_column(String(80), default="", server_default="")


class WatchCount(Base):
    """How often something happened on a day on the watch page of a film, and nothing of who it was: a `play`, a `press`
    of the call to action, a part of the film `seen` (`place`, of `services.watch_pages.PARTS`)."""

    __tablename__ = "watch_counts"
    file_id: Mapped[str] = mapped_column(ForeignKey("export_files.id", ondelete="CASCADE"), primary_key=True)
    day: Mapped[date] = mapped_column(primary_key=True)
    what: Mapped[str] = mapped_column(String(8), primary_key=True)
    place: Mapped[int] = mapped_column(Integer, primary_key=True)
    count: Mapped[int] = mapped_column(Integer, default=0)


class WatchQuestion(Base):
    """A question of somebody who watches, at a second of the film. Others see it once somebody of the team has answered
    it."""

    __tablename__ = "watch_questions"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    file_id: Mapped[str] = mapped_column(ForeignKey("export_files.id", ondelete="CASCADE"), index=True)
    who: Mapped[str] = mapped_column(String(80))
    at: Mapped[float] = mapped_column(Float)
    text: Mapped[str] = mapped_column(Text)
    answer: Mapped[str] = mapped_column(Text, default="")
    answered_by: Mapped[str] = mapped_column(String(80), default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
