"""Exports are planned by workers; the same bytes are on a Shelf once; waiting work is sent seldom."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

TWICE = """
UPDATE media SET removed_at = now() WHERE removed_at IS NULL AND id NOT IN (
    SELECT DISTINCT ON (team_id, hash) id FROM media WHERE removed_at IS NULL
    ORDER BY team_id, hash, (state = 'ready') DESC, created_at
)
"""


def upgrade() -> None:
    op.execute(TWICE)
    op.create_index(
        "ux_media_once", "media", ["team_id", "hash"], unique=True, postgresql_where=sa.text("removed_at IS NULL")
    )
    op.add_column("export_files", sa.Column("planned", sa.Float(), nullable=False, server_default="0"))
    op.add_column("media", sa.Column("sent_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("export_pieces", sa.Column("sent_at", sa.DateTime(timezone=True), nullable=True))


def downgrade() -> None:
    op.drop_column("export_pieces", "sent_at")
    op.drop_column("media", "sent_at")
    op.drop_column("export_files", "planned")
    op.drop_index("ux_media_once", "media")
