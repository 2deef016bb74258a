"""Named versions"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("revisions", sa.Column("name", sa.String(length=80), nullable=True))


def downgrade() -> None:
    op.drop_column("revisions", "name")
