"""Accounts on channels and posts there; films in turn behind one link; links and pictures of watch pages; who cuts a
promo alone."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0022"
down_revision = "0021"

MOMENT = sa.DateTime(timezone=True)


def _must(name: str, kind: Any, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, kind, nullable=False, **more)


def upgrade() -> None:
    op.create_table(
        "channel_accounts", _must("id", sa.String(40), primary_key=True),
        _must("team_id", sa.String(40), index=True), _must("user_id", sa.String(40)),
        _must("channel", sa.String(40)), _must("account", sa.String(200)), _must("token", sa.String(400)),
        _must("refresh", sa.String(400)), _must("until", MOMENT), sa.Column("left_at", MOMENT),
        _must("created_at", MOMENT), sa.ForeignKeyConstraint(["team_id"], ["teams.id"]),
        sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
        sa.UniqueConstraint("team_id", "channel", "account", name="ux_account_once"),
    )  # fmt: skip
    op.create_table(
        "posts", _must("id", sa.String(40), primary_key=True), _must("team_id", sa.String(40)),
        _must("promo_id", sa.String(40), index=True), _must("user_id", sa.String(40)),
        _must("set_id", sa.String(40), index=True), _must("account_id", sa.String(40)),
        sa.Column("file_id", sa.String(40), index=True), _must("title", sa.String(200)), _must("text", sa.Text()),
        _must("tags", postgresql.JSONB()), _must("still", sa.Float()), _must("home", sa.String(200)),
        _must("zone", sa.String(60)), _must("at", MOMENT), _must("state", sa.String(12)),
        _must("error", sa.String(400)), _must("version", sa.Integer()), _must("share", sa.Float()),
        _must("attempts", sa.Integer()), _must("tries", sa.Integer()), _must("due_at", MOMENT),
        sa.Column("lease_until", MOMENT), _must("remote_id", sa.String(100)), _must("address", sa.String(500)),
        sa.Column("live_at", MOMENT), _must("created_at", MOMENT),
        sa.ForeignKeyConstraint(["team_id"], ["teams.id"]), sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
        sa.ForeignKeyConstraint(["promo_id"], ["promos.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["account_id"], ["channel_accounts.id"]),
        sa.ForeignKeyConstraint(["file_id"], ["export_files.id"], ondelete="SET NULL"),
    )  # fmt: skip
    op.create_table(
        "deliveries", _must("id", sa.String(40), primary_key=True), _must("team_id", sa.String(40), index=True),
        _must("file_id", sa.String(40), index=True), _must("user_id", sa.String(40)), _must("folder", sa.String(300)),
        _must("name", sa.String(140)), _must("about", sa.Text()), _must("state", sa.String(12)),
        _must("error", sa.String(400)), _must("share", sa.Float()), _must("attempts", sa.Integer()),
        sa.Column("lease_until", MOMENT), _must("sent_at", MOMENT), _must("created_at", MOMENT),
        sa.ForeignKeyConstraint(["team_id"], ["teams.id"]), sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
        sa.ForeignKeyConstraint(["file_id"], ["export_files.id"], ondelete="CASCADE"),
    )  # fmt: skip
    op.create_table(
        "turns", _must("id", sa.String(40), primary_key=True), _must("team_id", sa.String(40), index=True),
        _must("promo_id", sa.String(40), index=True), _must("user_id", sa.String(40)),
        _must("digest", sa.String(64), unique=True), _must("name", sa.String(120)), _must("files", postgresql.JSONB()),
        _must("visits", sa.Integer()), sa.Column("ended_at", MOMENT), _must("created_at", MOMENT),
        sa.ForeignKeyConstraint(["team_id"], ["teams.id"]), sa.ForeignKeyConstraint(["user_id"], ["users.id"]),
        sa.ForeignKeyConstraint(["promo_id"], ["promos.id"], ondelete="CASCADE"),
    )  # fmt: skip
    op.create_table(
        "turn_counts", _must("turn_id", sa.String(40), primary_key=True),
        _must("file_id", sa.String(40), primary_key=True), _must("what", sa.String(8), primary_key=True),
        _must("count", sa.Integer()), sa.ForeignKeyConstraint(["turn_id"], ["turns.id"], ondelete="CASCADE"),
    )  # fmt: skip
    op.add_column("watch_pages", _must("links", postgresql.JSONB(), server_default="[]"))
    op.add_column("watch_pages", _must("picture", sa.String(80), server_default=""))
    op.add_column("promos", sa.Column("cut_by", sa.String(40), sa.ForeignKey("users.id")))
    op.add_column("promos", sa.Column("cut_until", MOMENT))
    op.create_index("ix_posts_due", "posts", ["state", "due_at"])
    op.create_index("ix_posts_at", "posts", ["team_id", "at"])


def downgrade() -> None:
    for table, column in (
        ("promos", "cut_until"),
        ("promos", "cut_by"),
        ("watch_pages", "picture"),
        ("watch_pages", "links"),
    ):
        op.drop_column(table, column)
    for table in ("turn_counts", "turns", "deliveries", "posts"):
        op.drop_table(table)
    op.drop_table("channel_accounts")
