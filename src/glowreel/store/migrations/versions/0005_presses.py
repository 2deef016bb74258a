"""A press that is sent twice, because its answer was lost, is carried out once."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("revisions", sa.Column("press", sa.String(length=40), nullable=True))
    op.create_index("ux_revision_press", "revisions", ["promo_id", "press"], unique=True)


def downgrade() -> None:
    op.drop_index("ux_revision_press", "revisions")
    op.drop_column("revisions", "press")
