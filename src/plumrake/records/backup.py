"""Copies of a database in a file, and databases from such a file: PostgreSQL's own pg_dump and
pg_restore, in their custom format."""

from __future__ import annotations

import os
import shutil
import subprocess
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import psycopg
from psycopg import sql
from psycopg.conninfo import conninfo_to_dict

from plumrake.records.migrate import migrate

_LEFT_OUT = (
    "session",
    "known_browser",
    "challenge",
    "password_reset",
    "sign_in_attempt",
    "start_key",
    "service_secret",
)
"""What lets somebody in, or is over in a moment; and keys, which are kept apart from the data."""
_DEBIANS = Path("/usr/lib/postgresql")
_COUNTED = ("site", "person", "sweep", "finding", "fix")
_VARIABLES = {
    "host": "PGHOST",
    "port": "PGPORT",
    "user": "PGUSER",
    "password": "PGPASSWORD",
    "dbname": "PGDATABASE",
    "sslmode": "PGSSLMODE",
    "sslrootcert": "PGSSLROOTCERT",
}


class BackupFailed(RuntimeError):
    """A copy could not be made, or brought back; the message says why."""


@dataclass(frozen=True, slots=True)
class Restored:
    """What came back: how many rows of the tables that people know, and which migrations were
    applied to what an older version had kept."""

    counts: Mapping[str, int]
    migrations: list[str]


def back_up(database: str, file: Path) -> int:
    """Write all that is kept in a database into a new file that only its owner can read; return its
    bytes. Raises ``BackupFailed``."""
    part = file.with_name(f"{file.name}.part")
    if file.exists():
        raise BackupFailed(f"{file} is there already; choose another name")
    try:
        os.close(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600))
        left_out = [f"--exclude-table-data=public.{table}" for table in _LEFT_OUT]
        _run(
            "pg_dump",
            database,
            "--format=custom",
            "--schema=public",
            "--schema=partitions",
            "--no-owner",
            "--no-privileges",
            *left_out,
            f"--file={part}",
        )
        part.rename(file)
    except OSError as error:
        raise BackupFailed(f"{file} cannot be written: {error.strerror}") from None
    finally:
        part.unlink(missing_ok=True)
    return file.stat().st_size


def restore(database: str, file: Path) -> Restored:
    """Bring what is in a file into an empty database, and that to the newest shape: all of it, or
    nothing. Raises ``BackupFailed``."""
    if not file.is_file():
        raise BackupFailed(f"there is no file {file}")
    with psycopg.connect(database) as connection:
        [(tables,)] = connection.execute(
            "SELECT count(*) FROM pg_tables WHERE schemaname = 'public'"
        ).fetchall()
    if tables:
        raise BackupFailed("the database is not empty; make a new one, and name it")
    _run(
        "pg_restore",
        database,
        "--no-owner",
        "--no-privileges",
        "--exit-on-error",
        "--single-transaction",
        "--clean",
        "--if-exists",
        f"--dbname={conninfo_to_dict(database).get('dbname', 'plumrake')}",
        str(file),
    )
    migrations = migrate(database)
    with psycopg.connect(database) as connection:
        counts = {
            table: connection.execute(
                sql.SQL("SELECT count(*) FROM {}").format(sql.Identifier(table))
            ).fetchall()[0][0]
            for table in _COUNTED
        }
    return Restored(counts, migrations)


def _run(program: str, database: str, *words: str) -> None:
    """Run a program of PostgreSQL's on a database; what it signs in with is in its environment, not
    among its words, which other users of the machine can see."""
    known = conninfo_to_dict(database)
    settings = {
        variable: str(known[name]) for name, variable in _VARIABLES.items() if known.get(name)
    }
    done = subprocess.run(
        [_program(program), *words],
        env={"PATH": os.environ.get("PATH", ""), "LC_ALL": "C", **settings},
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        says = [line for line in done.stderr.splitlines() if line.strip()]
        raise BackupFailed(says[0] if says else f"{program} ended with {done.returncode}")


def _program(name: str) -> str:
    """Return where a program of PostgreSQL's is: the newest one on this machine, which can read
    older servers."""
    newest = sorted(_DEBIANS.glob(f"*/bin/{name}"), key=lambda file: int(file.parts[-3]))
    found = str(newest[-1]) if newest else shutil.which(name)
    if found is None:
        raise BackupFailed(f"{name} is not installed; Debian has it in 'postgresql-client'")
    return found
