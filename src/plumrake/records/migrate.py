"""Bringing a database to the newest shape. Safe to run from several places at once and after a
kill."""

from __future__ import annotations

import contextlib
from importlib.resources import as_file, files

import psycopg
from yoyo import get_backend, read_migrations

from plumrake.records import reference, roles

_LOCK = 0x706C756D72616B65 & 0x7FFFFFFFFFFFFFFF


def migrate(database: str) -> list[str]:
    """Apply what is missing to the database (a ``postgresql://`` address); return the names of what
    was applied."""
    with psycopg.connect(database, autocommit=True) as guard:
        guard.execute("SELECT pg_advisory_lock(%s)", (_LOCK,))
        backend = get_backend(database.replace("postgresql://", "postgresql+psycopg://", 1))
        with (
            as_file(files(__package__).joinpath("migrations")) as folder,
            contextlib.closing(backend.connection),
        ):
            backend.break_lock()
            migrations = backend.to_apply(read_migrations(str(folder)))
            with backend.lock():
                backend.apply_migrations(migrations)
        reference.fill(guard)
        roles.grant(guard)
        return [migration.id for migration in migrations]


def missing(database: str) -> list[str]:
    """Return the names of what ``migrate`` would apply."""
    with psycopg.connect(database) as connection:
        found = connection.execute("SELECT migration_id FROM _yoyo_migration").fetchall()
    applied = {name for (name,) in found}
    with as_file(files(__package__).joinpath("migrations")) as folder:
        return [one.id for one in read_migrations(str(folder)) if one.id not in applied]
