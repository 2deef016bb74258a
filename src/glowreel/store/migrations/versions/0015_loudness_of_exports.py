"""How loud a finished film was found to be, the text that goes with it, and what somebody marked in the library."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    for name in ("loudness", "peak"):
        op.add_column("export_files", sa.Column(name, sa.Float(), nullable=True))
    op.add_column("exports", sa.Column("caption", sa.Text(), nullable=False, server_default=""))
    op.add_column("users", sa.Column("favourites", JSONB(), nullable=True))


def downgrade() -> None:
    op.drop_column("users", "favourites")
    op.drop_column("exports", "caption")
    for name in ("peak", "loudness"):
        op.drop_column("export_files", name)
