"""Commands that run the parts: ``serve``, ``worker``, ``migrate`` and ``demo``."""

from __future__ import annotations

import asyncio
import logging
import sys
from pathlib import Path
from typing import Any

import click
import psycopg
import structlog
import uvicorn
from pydantic import ValidationError

from plumrake.actions.people import EmailTaken, WeakPassword, add_person
from plumrake.cli.errors import Exit, fail
from plumrake.client import PlumRakeError
from plumrake.demo.cluster import ClusterError
from plumrake.demo.cms import Trust, create_cms
from plumrake.demo.run import Demo
from plumrake.demo.seed import SITE
from plumrake.demo.site import EDITIONS, write_edition
from plumrake.demo.week import Week, WeekPlayed, week_key
from plumrake.jobs.worker import Post, run_worker
from plumrake.lenses.fetch import Limits
from plumrake.records import people
from plumrake.records.migrate import migrate
from plumrake.service.app import create_app
from plumrake.settings import Settings

_GRACE_SECONDS = 3


def _settings() -> Settings:
    try:
        return Settings()
    except ValidationError as error:
        first = error.errors()[0]
        fail(f"the setting PLUMRAKE_{str(first['loc'][0]).upper()}: {first['msg']}", Exit.USAGE)


def _set_up_logging(*, as_json: bool) -> None:
    final = structlog.processors.JSONRenderer() if as_json else structlog.dev.ConsoleRenderer(colors=False)
    shared: list[Any] = [structlog.stdlib.add_log_level, structlog.stdlib.add_logger_name, structlog.processors.TimeStamper(fmt="iso")]
    formatter = structlog.stdlib.ProcessorFormatter(
        foreign_pre_chain=[*shared, _without_colour],
        processors=[structlog.stdlib.ProcessorFormatter.remove_processors_meta, structlog.processors.format_exc_info, final],
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


def _without_colour(logger: object, name: str, event: structlog.typing.EventDict) -> structlog.typing.EventDict:
    event.pop("color_message", None)
    return event


@click.command("serve")
def serve_command() -> None:
    """Run the service. Settings come from PLUMRAKE_DATABASE, PLUMRAKE_HOST, PLUMRAKE_PORT …"""
    settings = _settings()
    _set_up_logging(as_json=settings.log_json)
    uvicorn.run(
        create_app(settings), host=settings.host, port=settings.port, log_config=None, access_log=False,
        timeout_graceful_shutdown=_GRACE_SECONDS, server_header=False,
    )  # fmt: skip


@click.command("worker")
def worker_command() -> None:
    """Run a worker: it reads the pages of sweeps. Any number may run, on any machine that reaches the database."""
    settings = _settings()
    _set_up_logging(as_json=settings.log_json)
    asyncio.run(
        run_worker(
            settings.database,
            jobs=settings.worker_jobs,
            tabs=settings.worker_tabs,
            limits=Limits(seconds=settings.page_seconds),
            mail=Post(settings.mail_server, settings.console_address),
        )
    )


@click.command("migrate")
@click.option("--manager", metavar="EMAIL", help="Also add the first manager, where there is nobody yet; asks for the password.")
def migrate_command(manager: str | None) -> None:
    """Bring the database to the newest shape."""
    settings = _settings()
    try:
        applied = migrate(settings.database)
    except psycopg.OperationalError as error:
        fail(f"the database does not answer: {str(error).splitlines()[0]}; check PLUMRAKE_DATABASE", Exit.UNREAD)
    click.echo(f"{len(applied)} migrations applied" if applied else "the database is up to date")
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
    click.echo(f"{email} can sign in as manager")


@click.group("demo")
def demo_group() -> None:
    """The Harrowmere Canal Trust: a made-up site to try everything on."""


@demo_group.command("up")
@click.option("--folder", type=click.Path(file_okay=False, path_type=Path), default=Path("var/demo"), show_default=True)
@click.option(
    "--port", default=8600, show_default=True, help="The console's port; the site's editions and the mailbox take the next three."
)
def up_command(folder: Path, port: int) -> None:
    """Start database, demo site, service and worker, and print the console's address."""
    try:
        Demo(folder.resolve(), port, click.echo).up()
    except ClusterError as error:
        fail(str(error), Exit.UNREAD)
    except OSError as error:
        fail(f"a port from {port} to {port + 3} is in use ({error.strerror}); choose another with --port", Exit.UNREAD)


@demo_group.command("week")
@click.option("--folder", type=click.Path(file_okay=False, path_type=Path), default=Path("var/demo"), show_default=True)
@click.option("--port", default=8600, show_default=True, help="The console's port.")
def week_command(folder: Path, port: int) -> None:
    """Play a week of the Trust's people at work on staging, on a demo that runs, and compare its end with the answer key."""
    try:
        week = Week(f"http://127.0.0.1:{port}", folder.resolve() / "site" / "staging", click.echo)
        figures = week.play()
    except WeekPlayed as error:
        fail(str(error), Exit.USAGE)
    except PlumRakeError as error:
        fail(f"{error}; is the demo up ('plumrake demo up')?", Exit.UNREAD)
    key = week_key()
    for name, expected in key.items():
        click.echo(
            f"{name}: {'as in the answer key' if figures[name] == expected else f'{figures[name]}, but the answer key says {expected}'}"
        )
    if figures != key:
        sys.exit(Exit.HELD)


@demo_group.command("site")
@click.argument("folder", type=click.Path(file_okay=False, path_type=Path))
@click.option("--edition", type=click.Choice(EDITIONS), default="live", show_default=True)
def site_command(folder: Path, edition: str) -> None:
    """Write the demo site's files into FOLDER."""
    pages = write_edition(edition, folder, "http://127.0.0.1:8601")
    click.echo(f"{pages} pages of the {edition} edition are in {folder}")


@demo_group.command("cms")
@click.option("--live", type=click.Path(exists=True, file_okay=False, path_type=Path), required=True, help="The folder of the live site.")
@click.option("--drafts", type=click.Path(file_okay=False, path_type=Path), required=True, help="Where drafts are kept.")
@click.option("--rake", default="http://127.0.0.1:8600", show_default=True, help="Plum Rake's address.")
@click.option("--port", type=int, default=8604, show_default=True)
def cms_command(live: Path, drafts: Path, rake: str, port: int) -> None:
    """Run the stand-in CMS alone; 'demo up' runs it with all else."""
    secret = drafts / "webhook-secret"
    trust = Trust(live, drafts, rake, SITE, secret.read_text().strip() if secret.is_file() else "")
    uvicorn.run(create_cms(trust), host="127.0.0.1", port=port, log_level="warning", access_log=False, timeout_graceful_shutdown=_GRACE_SECONDS)
