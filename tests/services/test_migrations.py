"""Every schema there ever was, a row in each of its tables, brought up to date: no row is lost, all are read."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import sqlalchemy as sa
from alembic import command
from alembic.script import ScriptDirectory
from sqlalchemy.dialects import postgresql
from sqlalchemy.orm import Session
from tools.stack import Stack

from glowreel.store.database import Database
from glowreel.store.models import Base

MOMENT = datetime(2026, 5, 1, 9, 30, tzinfo=UTC)


def value(column: sa.Column[Any], made: dict[str, dict[str, Any]], number: int) -> Any:
    """Something that a column takes: what its foreign key leads to, else a value of its type."""
    for key in column.foreign_keys:
        return made[key.column.table.name][key.column.name]
    kind = column.type
    if isinstance(kind, postgresql.JSONB):
        return {}
    if isinstance(kind, sa.Boolean):
        return False
    if isinstance(kind, sa.Integer | sa.BigInteger | sa.Float):
        return number
    if isinstance(kind, sa.DateTime):
        return MOMENT
    if isinstance(kind, sa.Date):
        return MOMENT.date()
    if isinstance(kind, sa.LargeBinary):
        return b"{}"
    return f"x{number}"[: getattr(kind, "length", None) or 20]


def fill(connection: sa.Connection, made: dict[str, dict[str, Any]], number: int) -> None:
    """Puts a row into every table that has none yet; only what must be said is."""
    known = sa.MetaData()
    known.reflect(connection)
    for table in known.sorted_tables:
        if table.name in made or table.name == "alembic_version":
            continue
        there = connection.execute(sa.select(table).limit(1)).first()
        if there is not None:  # A migration made it of what was there.
            made[table.name] = dict(there._mapping)
            continue
        needed = [column for column in table.columns if not column.nullable and column.server_default is None]
        row = {column.name: value(column, made, number) for column in needed if column.identity is None}
        inserted = connection.execute(sa.insert(table).values(**row).returning(table)).one()
        made[table.name] = dict(inserted._mapping)


def test_a_row_of_every_table_of_every_schema_is_there_at_the_end(stack: Stack) -> None:
    database = Database(stack.postgres.ready("ancient"), lambda task, arguments: None)
    config = database._config()
    revisions = [script.revision for script in ScriptDirectory.from_config(config).walk_revisions()][::-1]
    made: dict[str, dict[str, Any]] = {}
    for number, revision in enumerate(revisions, 1):
        with database.engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, revision)
            fill(connection, made, number)
    database.migrate()
    assert set(made) == set(Base.metadata.tables), "every table was filled"
    with Session(database.engine) as session:
        for name, row in made.items():
            table = Base.metadata.tables[name]
            keys = [column == row[column.name] for column in table.primary_key]
            assert session.execute(sa.select(sa.func.count()).select_from(table).where(*keys)).scalar() == 1, name
        for mapper in Base.registry.mappers:
            assert session.execute(sa.select(mapper.class_).limit(1)).unique().first() is not None, mapper.class_
    database.engine.dispose()
