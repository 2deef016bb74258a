"""Links to films, for files and to brands are kept as digests of their keys."""

import sqlalchemy as sa
from alembic import op

revision = "0027"
down_revision = "0026"

HASHED = "encode(sha256(convert_to({0}, 'UTF8')), 'hex')"


def upgrade() -> None:
    for table in ("export_files", "upload_links", "brands"):
        op.add_column(table, sa.Column("digest", sa.String(64), unique=True))
        op.add_column(table, sa.Column("before", sa.String(64), unique=True))
        op.add_column(table, sa.Column("turn", sa.Integer(), nullable=False, server_default="0"))
        # The keys were drawn by lot: they open what they did, and each row is given one that is worked out later.
        op.execute(f"UPDATE {table} SET digest = {HASHED.format('token')}, turn = -1 WHERE token IS NOT NULL")
        op.drop_column(table, "token")
    op.add_column("brands", sa.Column("source_digest", sa.String(64)))
    op.execute(f"UPDATE brands SET source_digest = {HASHED.format('source_token')} WHERE source_token IS NOT NULL")
    op.drop_column("brands", "source_token")
