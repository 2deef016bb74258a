"""For which channel a file is made, and how large that lets it be."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    op.add_column("export_files", sa.Column("channel", sa.String(40), nullable=False, server_default=""))
    op.add_column("export_files", sa.Column("most_megabytes", sa.Integer(), nullable=False, server_default="0"))


def downgrade() -> None:
    for name in ("most_megabytes", "channel"):
        op.drop_column("export_files", name)
