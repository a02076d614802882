"""Commands that look after what is kept: a copy of everything, that brought back, and tidying."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any, TypeVar

import click
import psycopg

from plumrake.actions.evidence import bring_back
from plumrake.actions.ports import Connect
from plumrake.actions.tidying import tidy
from plumrake.cli.errors import Exit, fail
from plumrake.cli.processes import settings_or_fail
from plumrake.cli.shared import counted
from plumrake.cli.terminal import echo
from plumrake.outbound.object_store import StoreAway
from plumrake.records.backup import BackupFailed, back_up, restore
from plumrake.settings import Settings

_MB = 1_000_000
_MANY = {"person": "people", "fix": "fixes"}
Given = TypeVar("Given")
_FILE = click.argument("file", type=click.Path(dir_okay=False, path_type=Path))


@click.command("backup")
@_FILE
def backup_command(file: Path) -> None:
    """Write all that the service keeps, pictures too, into FILE (pg_dump's custom format).

    Signed-in sessions and keys are not in it: keep PLUMRAKE_SECRETS_KEY in another place. The
    service may go on meanwhile.
    """
    size = _tried(lambda: back_up(settings_or_fail().database, file))
    echo(
        f"{file}: {size / _MB:.1f} MB. PLUMRAKE_SECRETS_KEY is not in it; without it connections "
        "and second factors have to be set up anew"
    )


@click.command("restore")
@_FILE
def restore_command(file: Path) -> None:
    """Bring what is in FILE into the empty database that PLUMRAKE_DATABASE names; copies of earlier
    versions are brought to the newest shape. All of it comes back, or nothing."""
    found = _tried(lambda: restore(settings_or_fail().database, file))
    echo(", ".join(counted(found.counts[one], one, _MANY.get(one, "")) for one in found.counts))
    if found.migrations:
        echo(f"brought from an earlier version by {counted(len(found.migrations), 'migration')}")
    echo("everybody signs in anew; start the service and the workers now")


@click.command("tidy")
def tidy_command() -> None:
    """Forget what is old: what sweeps found after PLUMRAKE_SWEEP_DAYS, pictures of pages after 90
    (of both but for the five newest sweeps of each environment), messages that were sent after 90,
    jobs that failed after 30, the log after PLUMRAKE_LOG_DAYS. A worker does it every night; this
    does it now."""
    settings = settings_or_fail()
    gone = _tried(lambda: asyncio.run(tidy(_connecting(settings), settings.kept)))
    echo(
        f"forgotten: {counted(gone.sweeps, 'sweep')}, "
        f"{counted(gone.evidence, 'piece')} of evidence, "
        f"{counted(gone.log_entries, 'entry', 'entries')} of the log, "
        f"{counted(gone.messages, 'message')}, {counted(gone.jobs, 'job')}"
    )


@click.command("bring-back")
def bring_back_command() -> None:
    """Bring every picture that was carried into the store (PLUMRAKE_EVIDENCE_STORE) back into the
    database. Do it with the workers stopped, then start them without that setting; the store keeps
    what it has."""
    settings = settings_or_fail()
    store = settings.store
    if store is None:
        fail("no store is set: PLUMRAKE_EVIDENCE_STORE says where the pictures are", Exit.USAGE)
    number, missing = _tried(lambda: asyncio.run(bring_back(_connecting(settings), store)))
    echo(f"{counted(number, 'picture')} brought back")
    if missing:
        fail(
            f"{counted(len(missing), 'picture')} the store does not have, the first {missing[0]}; "
            "they stay marked as there",
            Exit.UNREAD,
        )


def _connecting(settings: Settings) -> Connect:
    @asynccontextmanager
    async def connect() -> AsyncIterator[psycopg.AsyncConnection[Any]]:
        async with await psycopg.AsyncConnection.connect(settings.database) as connection:
            yield connection

    return connect


def _tried(act: Callable[[], Given]) -> Given:
    try:
        return act()
    except (BackupFailed, StoreAway) as error:
        fail(str(error), Exit.UNREAD)
    except psycopg.OperationalError as error:
        fail(
            f"the database does not answer: {str(error).splitlines()[0]}; check PLUMRAKE_DATABASE",
            Exit.UNREAD,
        )
