"""What watch pages say, how they are watched, and what is asked there."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"


def _must(name: str, kind: Any, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, kind, nullable=False, **more)


def _film(**more: Any) -> sa.Column[Any]:
    return _must("file_id", sa.String(40), **more)


def _ends() -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint(["file_id"], ["export_files.id"], ondelete="CASCADE")


def upgrade() -> None:
    op.create_table(
        "watch_pages", _film(primary_key=True), _must("title", sa.String(120)), _must("about", sa.Text()),
        _must("action", sa.String(60)), _must("leads_to", sa.String(500)), sa.Column("action_at", sa.Float()),
        sa.Column("poster", sa.Integer()), _must("downloads", sa.Boolean()), _must("asks", sa.Boolean()),
        _must("password", sa.String(200)), _ends(),
    )  # fmt: skip
    op.create_table(
        "watch_counts", _film(primary_key=True), _must("day", sa.Date(), primary_key=True),
        _must("what", sa.String(8), primary_key=True), _must("place", sa.Integer(), primary_key=True),
        _must("count", sa.Integer()), _ends(),
    )  # fmt: skip
    op.create_table(
        "watch_questions", _must("id", sa.String(40), primary_key=True), _film(index=True),
        _must("who", sa.String(80)), _must("at", sa.Float()), _must("text", sa.Text()), _must("answer", sa.Text()),
        _must("answered_by", sa.String(80)), _must("created_at", sa.DateTime(timezone=True)), _ends(),
    )  # fmt: skip


def downgrade() -> None:
    for table in ("watch_questions", "watch_counts", "watch_pages"):
        op.drop_table(table)
