"""Promos made from a table: a batch for each table, a row for each of its lines."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Integer, String
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from glowreel.store.models.base import Base, now


class Batch(Base):
    """A table and the template that its rows fill: `columns` are its names, `matching` the column of each slot by its
    place, `pattern` how promos are named. Rows are made up to the number `wanted`; `formats` are exported at
    `short_side` once they are, where it `exports`."""

    __tablename__ = "batches"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    name: Mapped[str] = mapped_column(String(120))
    template: Mapped[str] = mapped_column(String(60))
    columns: Mapped[list[str]] = mapped_column(JSONB)
    matching: Mapped[dict[str, Any]] = mapped_column(default=dict)
    pattern: Mapped[str] = mapped_column(String(160))
    formats: Mapped[list[str]] = mapped_column(JSONB)
    short_side: Mapped[int] = mapped_column(Integer, default=1080)
    wanted: Mapped[int] = mapped_column(Integer, default=0)
    exports: Mapped[bool] = mapped_column(default=False)
    attempts: Mapped[int] = mapped_column(Integer, default=0)
    state: Mapped[str] = mapped_column(String(12), default="open")
    error: Mapped[str] = mapped_column(String(400), default="")
    lease_until: Mapped[datetime | None] = mapped_column(default=None)
    sent_at: Mapped[datetime] = mapped_column(default=now)
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None] = mapped_column(default=None)
    rows: Mapped[list[BatchRow]] = relationship(back_populates="batch", order_by="BatchRow.number")


class BatchRow(Base):
    """A line of a table: its `cells`; open, made, failed or skipped. `digest` is what it came to when it was made,
    `uploads` what is fetched for it by address."""

    __tablename__ = "batch_rows"
    batch_id: Mapped[str] = mapped_column(ForeignKey("batches.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(Integer, primary_key=True)
    cells: Mapped[list[str]] = mapped_column(JSONB)
    state: Mapped[str] = mapped_column(String(12), default="open")
    error: Mapped[str] = mapped_column(String(400), default="")
    digest: Mapped[str] = mapped_column(String(40), default="")
    uploads: Mapped[dict[str, Any]] = mapped_column(default=dict)
    promo_id: Mapped[str | None] = mapped_column(ForeignKey("promos.id", ondelete="SET NULL"), default=None)
    export_id: Mapped[str | None] = mapped_column(ForeignKey("exports.id", ondelete="SET NULL"), default=None)
    batch: Mapped[Batch] = relationship(back_populates="rows")
