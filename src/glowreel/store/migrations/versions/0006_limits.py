"""Opening files as work of its own; sign-ins, resets and presses that are kept; links that end."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.add_column("media", sa.Column("made", sa.Integer(), nullable=False, server_default="0"))
    time = sa.DateTime(timezone=True)
    op.create_table(
        "openings",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("team_id", sa.String(40), sa.ForeignKey("teams.id"), nullable=False, index=True),
        sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id")),
        sa.Column("name", sa.String(255), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("doing", sa.String(200), nullable=False),
        sa.Column("error", sa.String(400), nullable=False),
        sa.Column("notices", JSONB(), nullable=False),
        sa.Column("promo_id", sa.String(40), sa.ForeignKey("promos.id")),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("lease_until", time),
        sa.Column("sent_at", time),
        sa.Column("created_at", time, nullable=False),
    )
    op.create_table(
        "sign_ins",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id"), nullable=False, index=True),
        sa.Column("digest", sa.String(64), nullable=False, unique=True),
        sa.Column("address", sa.String(60), nullable=False),
        sa.Column("device", sa.String(40), nullable=False),
        sa.Column("created_at", time, nullable=False),
        sa.Column("seen_at", time, nullable=False),
        sa.Column("until", time, nullable=False),
        sa.Column("ended_at", time),
    )
    op.create_table(
        "password_resets",
        sa.Column("digest", sa.String(64), primary_key=True),
        sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id"), nullable=False, index=True),
        sa.Column("until", time, nullable=False),
        sa.Column("used_at", time),
    )
    op.create_table(
        "presses",
        sa.Column("user_id", sa.String(40), sa.ForeignKey("users.id"), primary_key=True),
        sa.Column("press", sa.String(40), primary_key=True),
        sa.Column("result", sa.String(40), nullable=False),
        sa.Column("created_at", time, nullable=False),
    )
    op.add_column("exports", sa.Column("removed_at", time))
    op.add_column("export_files", sa.Column("link_until", time))
    op.execute("UPDATE export_files SET link_until = now() + interval '90 days'")
    op.drop_constraint("users_email_key", "users", type_="unique")
    op.create_index("ix_users_email", "users", ["email"])
