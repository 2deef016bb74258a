"""Exports say of which form their files are, how they are made, and which request began them; pieces what they cost."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0025"
down_revision = "0024"


def _new(table: str, name: str, kind: Any, default: str) -> None:
    op.add_column(table, sa.Column(name, kind, nullable=False, server_default=default))


def upgrade() -> None:
    _new("exports", "making", postgresql.JSONB(), "{}")
    _new("exports", "request", sa.String(64), "")
    _new("export_files", "form", sa.String(12), "h264")
    _new("export_files", "tighter", sa.Float(), "1")
    _new("export_pieces", "cost", sa.Float(), "0")
