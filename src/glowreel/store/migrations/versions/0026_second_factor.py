"""People may have a second factor beside their password."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0026"
down_revision = "0025"


def upgrade() -> None:
    op.add_column("users", sa.Column("second_secret", sa.String(64), nullable=False, server_default=""))
    op.add_column("users", sa.Column("second_step", sa.BigInteger(), nullable=False, server_default="0"))
    op.add_column("users", sa.Column("second_paper", postgresql.JSONB(), nullable=False, server_default="[]"))
