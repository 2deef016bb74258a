"""Opening files as work of its own; what was made of a file, and by which maker."""

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
