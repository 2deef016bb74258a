"""People in several teams, in roles; invitations; letters; and what is private to one person."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"

MOMENT = sa.DateTime(timezone=True)


def _text(name: str, length: int, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, sa.String(length), nullable=False, **more)


def _of(name: str, table: str, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, sa.String(40), sa.ForeignKey(f"{table}.id"), **{"nullable": False, **more})


def upgrade() -> None:
    op.create_table(
        "members", _of("user_id", "users", primary_key=True), _of("team_id", "teams", primary_key=True, index=True),
        _text("role", 20), sa.Column("created_at", MOMENT, nullable=False),
    )  # fmt: skip
    op.execute(
        "INSERT INTO members (user_id, team_id, role, created_at) SELECT id, team_id, 'owner', created_at FROM users"
    )
    op.create_table(
        "invitations", sa.Column("id", sa.String(40), primary_key=True), _of("team_id", "teams", index=True),
        _of("user_id", "users"), _text("role", 20), _text("email", 254), _text("digest", 64, unique=True),
        sa.Column("most", sa.Integer(), nullable=False), sa.Column("taken", sa.Integer(), nullable=False),
        sa.Column("until", MOMENT, nullable=False), sa.Column("ended_at", MOMENT),
        sa.Column("created_at", MOMENT, nullable=False),
    )  # fmt: skip
    op.create_table(
        "letters", sa.Column("id", sa.String(40), primary_key=True), _of("team_id", "teams", nullable=True, index=True),
        _text("to", 254), _text("subject", 200), sa.Column("text", sa.Text(), nullable=False),
        sa.Column("key", sa.String(120), unique=True), _text("state", 12), _text("error", 400),
        sa.Column("attempts", sa.Integer(), nullable=False), sa.Column("lease_until", MOMENT),
        sa.Column("sent_at", MOMENT), sa.Column("created_at", MOMENT, nullable=False),
    )  # fmt: skip
    for table in ("promos", "brands"):
        op.add_column(table, _of("user_id", "users", nullable=True))
    for table in ("promos", "brands", "media"):
        op.add_column(table, sa.Column("private", sa.Boolean(), nullable=False, server_default="false"))
        op.add_column(table, _of("shared_by", "users", nullable=True))
    op.execute(
        "UPDATE promos SET user_id = first.user_id FROM (SELECT DISTINCT ON (promo_id) promo_id, user_id FROM revisions"
        " WHERE user_id IN (SELECT id FROM users) ORDER BY promo_id, id) AS first WHERE first.promo_id = promos.id"
    )


def downgrade() -> None:
    for table in ("promos", "brands", "media"):
        op.drop_column(table, "shared_by")
        op.drop_column(table, "private")
    for table in ("promos", "brands"):
        op.drop_column(table, "user_id")
    for table in ("letters", "invitations", "members"):
        op.drop_table(table)
