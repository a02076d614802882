"""``plumrake migrate``."""

from __future__ import annotations

import asyncio

import click
import psycopg

from plumrake.actions.passwords import WeakPassword
from plumrake.actions.people import EmailTaken, add_person
from plumrake.cli.errors import Exit, fail
from plumrake.cli.processes import settings_or_fail
from plumrake.cli.terminal import echo
from plumrake.records import people
from plumrake.records.migrate import migrate


@click.command("migrate")
@click.option(
    "--manager",
    metavar="EMAIL",
    help="Also add the first manager, where there is nobody yet; asks for the password.",
)
def migrate_command(manager: str | None) -> None:
    """Bring the database to the newest shape."""
    settings = settings_or_fail()
    try:
        applied = migrate(settings.database)
    except (psycopg.errors.DeadlockDetected, psycopg.errors.LockNotAvailable):
        fail(
            "the tables are busy, so nothing was changed; do it again, or stop the workers before",
            Exit.UNREAD,
        )
    except psycopg.OperationalError as error:
        fail(
            f"the database does not answer: {str(error).splitlines()[0]}; check PLUMRAKE_DATABASE",
            Exit.UNREAD,
        )
    except psycopg.errors.InsufficientPrivilege:
        fail(
            "the role in PLUMRAKE_DATABASE does not own the tables; migrate as the one that does",
            Exit.USAGE,
        )
    echo(f"{len(applied)} migrations applied" if applied else "the database is up to date")
    if manager is not None:
        password = click.prompt("Password", hide_input=True, confirmation_prompt=True)
        asyncio.run(_first_manager(settings.database, manager, password))


async def _first_manager(database: str, email: str, password: str) -> None:
    async with await psycopg.AsyncConnection.connect(database) as connection:
        if await people.all_people(connection):
            fail("there are people already; a manager adds further ones in the console", Exit.USAGE)
        try:
            await add_person(connection, email, email.partition("@")[0], "manager", password)
        except (EmailTaken, WeakPassword) as error:
            fail(str(error), Exit.USAGE)
    echo(f"{email} can sign in as manager")
