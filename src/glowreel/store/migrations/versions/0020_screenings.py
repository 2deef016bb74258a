"""Screenings, the notes left at them, and what was decided there."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0020"
down_revision = "0019"

MOMENT = sa.DateTime(timezone=True)


def _text(name: str, length: int, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, sa.String(length), nullable=False, **more)


def _of(name: str, table: str, *, needed: bool = True, ends: str | None = None, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, sa.String(40), sa.ForeignKey(f"{table}.id", ondelete=ends), nullable=not needed, **more)


def _must(name: str, kind: Any) -> sa.Column[Any]:
    return sa.Column(name, kind, nullable=False)


def upgrade() -> None:
    op.create_table(
        "screenings", _text("id", 40, primary_key=True), _of("team_id", "teams", index=True),
        _of("promo_id", "promos", ends="CASCADE", index=True), _of("user_id", "users"),
        _text("digest", 64, unique=True), _must("turn", sa.Integer()), _must("formats", JSONB()),
        _must("viewers", JSONB()), _text("password", 200), _text("home", 200),
        _must("downloads", sa.Boolean()), _must("keeps", sa.Boolean()), _must("views", sa.Integer()),
        sa.Column("seen_at", MOMENT), sa.Column("until", MOMENT), sa.Column("ended_at", MOMENT),
        _must("created_at", MOMENT),
    )  # fmt: skip
    op.create_table(
        "screening_notes", _text("id", 40, primary_key=True), _of("team_id", "teams"),
        _of("promo_id", "promos", ends="CASCADE", index=True),
        _of("screening_id", "screenings", needed=False, ends="CASCADE"),
        _of("parent_id", "screening_notes", needed=False, ends="CASCADE"), _of("user_id", "users", needed=False),
        _text("who", 80), _must("revision_id", sa.BigInteger()), _text("format_id", 64), _must("moment", JSONB()),
        _must("lasts", sa.BigInteger()), _must("strokes", JSONB()), _must("text", sa.Text()),
        sa.Column("done_at", MOMENT), _text("done_by", 80), sa.Column("told_at", MOMENT), _must("created_at", MOMENT),
    )  # fmt: skip
    op.create_table(
        "verdicts", _text("id", 40, primary_key=True), _of("team_id", "teams"),
        _of("promo_id", "promos", ends="CASCADE", index=True),
        _of("screening_id", "screenings", needed=False, ends="SET NULL"), _of("user_id", "users", needed=False),
        _text("who", 80), _must("revision_id", sa.BigInteger()), _must("approved", sa.Boolean()),
        _must("keeps", sa.Boolean()), _must("text", sa.Text()), sa.Column("told_at", MOMENT),
        _must("created_at", MOMENT),
    )  # fmt: skip


def downgrade() -> None:
    for table in ("verdicts", "screening_notes", "screenings"):
        op.drop_table(table)
