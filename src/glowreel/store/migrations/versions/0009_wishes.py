"""How a team likes to work."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.add_column("teams", sa.Column("wishes", postgresql.JSONB(), nullable=False, server_default="{}"))


def downgrade() -> None:
    op.drop_column("teams", "wishes")
