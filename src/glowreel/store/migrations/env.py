"""Alembic's entry point: migrates the database that the caller connected."""

from alembic import context

from glowreel.store.models import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
with context.begin_transaction():
    context.run_migrations()
