"""What is said in files, as teams corrected it, and whether captions are burnt into an export."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0016"
down_revision = "0015"


def upgrade() -> None:
    op.create_table(
        "written",
        sa.Column("team_id", sa.String(40), sa.ForeignKey("teams.id"), primary_key=True),
        sa.Column("hash", sa.String(64), primary_key=True),
        sa.Column("language", sa.String(12), primary_key=True),
        sa.Column("transcript", JSONB(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False, server_default=""),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "spoken",
        sa.Column("id", sa.BigInteger(), primary_key=True, autoincrement=True),
        sa.Column("team_id", sa.String(40), sa.ForeignKey("teams.id"), nullable=False),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("said", JSONB(), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("error", sa.String(400), nullable=False),
        sa.Column("media_id", sa.String(40), nullable=True),
        sa.Column("attempts", sa.Integer(), nullable=False),
        *(sa.Column(name, sa.DateTime(timezone=True), nullable=True) for name in ("lease_until", "sent_at")),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("team_id", "key", name="ux_spoken_once"),
    )
    op.add_column("exports", sa.Column("burn_in", sa.Boolean(), nullable=False, server_default=sa.true()))
    op.add_column("exports", sa.Column("lanes", JSONB(), nullable=False, server_default="{}"))


def downgrade() -> None:
    op.drop_column("exports", "lanes")
    op.drop_column("exports", "burn_in")
    op.drop_table("spoken")
    op.drop_table("written")
