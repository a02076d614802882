"""A database as it was: what a test changed is put back, so that no test needs another one."""

from __future__ import annotations

import time
from collections.abc import Sequence

import psycopg
from psycopg.sql import SQL, Identifier, Literal

from plumrake.records.roles import ROLES

SCHEMA = "as_it_was"
QUEUE = "procrastinate_%"
QUIET_SECONDS = 15.0
BUSY = """
SELECT true FROM procrastinate_workers w, procrastinate_jobs j
WHERE w.last_heartbeat > now() - interval '20 seconds'
    AND EXISTS (SELECT FROM pg_stat_activity
        WHERE datname = current_database() AND usename = %s)
    AND (j.status = 'doing' AND j.worker_id = w.id
        OR j.status = 'todo' AND coalesce(j.scheduled_at, now()) <= now())
LIMIT 1"""
FORGET_WORK = "DELETE FROM procrastinate_jobs WHERE status = 'todo' AND id > %s"

State = dict[str, tuple[int, int]]


class AsItWas:
    """The rows of a database at one moment, but for the queue's own: what is asked for later is
    forgotten. Only tables that changed are copied, so that both ways are quick; readers are never
    kept waiting, and no trigger tells of it."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._taken: State = {}
        self._last_job = 0

    def take(self) -> None:
        """Remember all rows as they are now, once no job is under way."""
        with psycopg.connect(self._address) as connection:
            wait_until_quiet(connection)
            connection.execute(SQL("CREATE SCHEMA IF NOT EXISTS {}").format(Identifier(SCHEMA)))
            now = state_of(connection)
            for table in changed(self._taken, now):
                copy = Identifier(SCHEMA, table)
                connection.execute(SQL("DROP TABLE IF EXISTS {}").format(copy))
                connection.execute(
                    SQL("CREATE UNLOGGED TABLE {} AS TABLE {}").format(copy, Identifier(table))
                )
            self._taken = now
            self._last_job = last_job(connection)

    def put_back(self) -> None:
        """Let the rows be as they were; numbers given meanwhile are not given again."""
        with psycopg.connect(self._address) as connection:
            wait_until_quiet(connection)
            connection.execute("SET LOCAL session_replication_role = replica")
            connection.execute(FORGET_WORK, [self._last_job])
            written = changed(self._taken, state_of(connection))
            for table in written:
                connection.execute(SQL("DELETE FROM {}").format(Identifier(table)))
            for table in written:
                columns = SQL(", ").join(map(Identifier, columns_of(connection, table)))
                connection.execute(
                    SQL("INSERT INTO {} ({}) OVERRIDING SYSTEM VALUE SELECT {} FROM {}").format(
                        Identifier(table), columns, columns, Identifier(SCHEMA, table)
                    )
                )
            self._taken |= state_of(connection, written)


def last_job(connection: psycopg.Connection) -> int:
    """The number of the last job that was asked for."""
    row = connection.execute("SELECT coalesce(max(id), 0) FROM procrastinate_jobs").fetchone()
    return int(row[0]) if row else 0


def wait_until_quiet(connection: psycopg.Connection, seconds: float = QUIET_SECONDS) -> None:
    """Wait until the workers that live have nothing under way or due, for so long at most. One that
    is gone may still be on the queue's list of them, but is not connected."""
    end = time.monotonic() + seconds
    while time.monotonic() < end and connection.execute(BUSY, [ROLES["worker"]]).fetchone():
        connection.commit()
        time.sleep(0.05)
    connection.commit()


def changed(before: State, now: State) -> list[str]:
    """The tables whose rows are others than before."""
    return [table for table, state in now.items() if state != before.get(table)]


def state_of(connection: psycopg.Connection, tables: Sequence[str] | None = None) -> State:
    """For each table, or for some, the number of its rows and the last transaction that wrote one;
    by one query, since this is asked three times for each test."""
    if tables is None:
        tables = [
            name
            for (name,) in connection.execute(
                "SELECT tablename FROM pg_tables"
                " WHERE schemaname = 'public' AND NOT tablename LIKE %s",
                [QUEUE],
            )
        ]
    each = [
        SQL("SELECT {}, count(*), coalesce(max(xmin::text::bigint), 0) FROM {}").format(
            Literal(name), Identifier(name)
        )
        for name in tables
    ]
    if not each:
        return {}
    found = connection.execute(SQL(" UNION ALL ").join(each))
    return {name: (rows, last) for name, rows, last in found}


def columns_of(connection: psycopg.Connection, table: str) -> list[str]:
    """The columns of a table that are written, not worked out."""
    rows = connection.execute(
        "SELECT column_name FROM information_schema.columns"
        " WHERE table_schema = 'public' AND table_name = %s AND is_generated = 'NEVER'",
        [table],
    ).fetchall()
    return [name for (name,) in rows]
