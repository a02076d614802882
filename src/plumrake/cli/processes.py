"""Commands that run the processes: ``serve``, ``worker`` and ``migrate``."""

from __future__ import annotations

import asyncio
import logging
from typing import Any

import click
import psycopg
import structlog
import uvicorn
from pydantic import ValidationError

from plumrake.actions.passwords import WeakPassword
from plumrake.actions.people import EmailTaken, add_person
from plumrake.cli.errors import Exit, fail
from plumrake.cli.terminal import echo
from plumrake.jobs.privileges import give_up_root
from plumrake.jobs.worker import Post, run_worker
from plumrake.net.fetch import Limits
from plumrake.records import people
from plumrake.records.migrate import migrate
from plumrake.service.app import create_app
from plumrake.settings import Settings

GRACE_SECONDS = 3


def settings_or_fail() -> Settings:
    """Return the settings; leave with what is wrong of one."""
    try:
        return Settings()
    except ValidationError as error:
        first = error.errors()[0]
        says = first["msg"].removeprefix("Value error, ")
        name = f"the setting PLUMRAKE_{str(first['loc'][0]).upper()}: " if first["loc"] else ""
        fail(f"{name}{says}", Exit.USAGE)


def _set_up_logging(*, as_json: bool) -> None:
    final = (
        structlog.processors.JSONRenderer()
        if as_json
        else structlog.dev.ConsoleRenderer(colors=False)
    )
    shared: list[Any] = [
        structlog.stdlib.add_log_level,
        structlog.stdlib.add_logger_name,
        structlog.processors.TimeStamper(fmt="iso"),
    ]
    formatter = structlog.stdlib.ProcessorFormatter(
        foreign_pre_chain=[*shared, _without_colour],
        processors=[
            structlog.stdlib.ProcessorFormatter.remove_processors_meta,
            structlog.processors.format_exc_info,
            final,
        ],
    )
    handler = logging.StreamHandler()
    handler.setFormatter(formatter)
    logging.basicConfig(handlers=[handler], level=logging.INFO, force=True)
    for name in ("httpx", "procrastinate", "yoyo", "uvicorn.access"):
        logging.getLogger(name).setLevel(logging.WARNING)
    structlog.configure(
        processors=[*shared, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        logger_factory=structlog.stdlib.LoggerFactory(),
    )


def _without_colour(
    logger: object, name: str, event: structlog.typing.EventDict
) -> structlog.typing.EventDict:
    event.pop("color_message", None)
    return event


@click.command("serve")
def serve_command() -> None:
    """Run the service. Settings come from PLUMRAKE_DATABASE, PLUMRAKE_HOST, PLUMRAKE_PORT …"""
    settings = settings_or_fail()
    _set_up_logging(as_json=settings.log_json)
    uvicorn.run(
        create_app(settings),
        proxy_headers=bool(settings.proxies),
        forwarded_allow_ips=settings.proxies or None,
        host=settings.host,
        port=settings.port,
        log_config=None,
        access_log=False,
        timeout_graceful_shutdown=GRACE_SECONDS,
        server_header=False,
    )


@click.command("worker")
def worker_command() -> None:
    """Run a worker: it reads the pages of sweeps. Any number may run, on any machine that reaches
    the database.

    Started by root, it becomes the user 'plumrake-worker' where that user can do the work.
    """
    settings = settings_or_fail()
    _set_up_logging(as_json=settings.log_json)
    if notice := give_up_root():
        structlog.get_logger().warning("privileges", notice=notice)
    asyncio.run(
        run_worker(
            settings.database,
            jobs=settings.worker_jobs,
            tabs=settings.worker_tabs,
            limits=Limits(seconds=settings.page_seconds),
            mail=Post(settings.mail_server, settings.console_address),
            sources=settings.sources,
            describer=settings.describer_asked,
            kept=settings.kept,
            store=settings.store,
        )
    )


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
