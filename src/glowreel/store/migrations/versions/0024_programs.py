"""Tokens of programs that work for a team, hooks that tell them; what was done in a team."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0024"
down_revision = "0023"

MOMENT = sa.DateTime(timezone=True)


def _must(name: str, kind: Any, *rules: Any, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, kind, *rules, nullable=False, **more)


def upgrade() -> None:
    op.create_table(
        "api_tokens", _must("id", sa.String(40), primary_key=True), _must("team_id", sa.String(40), index=True),
        _must("user_id", sa.String(40)), _must("name", sa.String(80)), _must("scopes", postgresql.JSONB()),
        _must("digest", sa.String(64), unique=True), _must("start", sa.String(12)), sa.Column("until", MOMENT),
        sa.Column("used_at", MOMENT), sa.Column("ended_at", MOMENT), _must("created_at", MOMENT),
        sa.ForeignKeyConstraint(["team_id"], ["teams.id"]), sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
    )  # fmt: skip

    op.create_table(
        "done", _must("id", sa.BigInteger(), sa.Identity(), primary_key=True), _must("team_id", sa.String(40)),
        _must("user_id", sa.String(40)), _must("event", sa.String(20)), _must("said", sa.String(400)),
        _must("at", MOMENT), sa.ForeignKeyConstraint(["team_id"], ["teams.id"]),
        sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
    )  # fmt: skip
    op.create_table(
        "hooks", _must("id", sa.String(40), primary_key=True), _must("team_id", sa.String(40), index=True),
        _must("user_id", sa.String(40)), _must("address", sa.String(500)), _must("happenings", postgresql.JSONB()),
        sa.Column("ended_at", MOMENT), _must("created_at", MOMENT),
        sa.ForeignKeyConstraint(["team_id"], ["teams.id"]), sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
    )  # fmt: skip
    op.create_table(
        "hook_calls", _must("id", sa.String(40), primary_key=True), _must("hook_id", sa.String(40), index=True),
        _must("body", postgresql.JSONB()), _must("state", sa.String(12)), _must("error", sa.String(400)),
        _must("attempts", sa.Integer()), _must("tries", sa.Integer()), _must("due_at", MOMENT),
        sa.Column("lease_until", MOMENT), sa.Column("told_at", MOMENT), _must("created_at", MOMENT),
        sa.ForeignKeyConstraint(["hook_id"], ["hooks.id"], ondelete="CASCADE"),
    )  # fmt: skip
    op.create_index("ix_hook_calls_due", "hook_calls", ["state", "due_at"])
    op.create_index("ix_done_team", "done", ["team_id", "id"])


def downgrade() -> None:
    for table in ("hook_calls", "hooks", "done"):
        op.drop_table(table)
    op.drop_table("api_tokens")
