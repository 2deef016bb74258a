"""What a revision did is a sentence."""

from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.alter_column("revisions", "words", new_column_name="sentence")


def downgrade() -> None:
    op.alter_column("revisions", "sentence", new_column_name="words")
