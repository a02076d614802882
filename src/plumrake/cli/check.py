"""``plumrake check``: what this machine has for reading pages, and, where it runs the service, what
the service needs; what is missing, and what to do."""

from __future__ import annotations

import asyncio
import os
import shutil
import sys
import tempfile
from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, NamedTuple
from urllib.parse import urlsplit

import click
import psycopg

from plumrake.cli.errors import Exit
from plumrake.cli.shared import counted
from plumrake.cli.terminal import echo
from plumrake.lenses.rendered.jail import NONE, find_browser, kind_of
from plumrake.spelling.dictionaries import DictionaryUnreadable, installed, lexicon

if TYPE_CHECKING:
    from plumrake.records.health import Health
    from plumrake.settings import Settings

_CLOCK_SECONDS, _JOB_SECONDS = 2.0, 300.0
_WALLED = "between sites, by the database itself"
_NOT_WALLED = "none before this role, which owns the tables or may pass"
_FREE_BYTES, _GB = 2_000_000_000, 1_000_000_000
_HERE = frozenset({"127.0.0.1", "::1", "localhost"})


class Told(NamedTuple):
    """What was looked at, how it is, and what is missing with what to do (empty: nothing)."""

    name: str
    has: str
    lacks: str = ""


@click.command("check")
def check_command() -> None:
    """Say what this machine has for reading pages, and what it lacks: the browser and how it is
    kept apart, dictionaries, the reading of words in pictures; and where PLUMRAKE_DATABASE is set,
    what the service needs: database, migrations, workers, clock, the log, the connections of all
    sites, certificates, mail, keys, disk.

    Exit status: 0 nothing is missing, 3 something is.
    """
    lacks: list[str] = []
    for told in _all():
        echo(f"{told.name:<20}{told.has}")
        lacks += [f"{told.name}: {told.lacks}"] if told.lacks else []
    for lack in lacks:
        echo(f"plumrake: {lack}", err=True)
    sys.exit(Exit.UNREAD if lacks else Exit.DONE)


def _all() -> Iterator[Told]:
    looks: tuple[Callable[[], Told], ...] = (_browser, _dictionaries, _recognition, _disk)
    for look in looks:
        yield look()
    if "PLUMRAKE_DATABASE" in os.environ:
        yield from _service()


def _browser() -> Told:
    browser = find_browser()
    if browser is None:
        lack = "none was found; install 'chromium-headless-shell' or set PLUMRAKE_BROWSER"
        return Told("browser", "none: pages are read from their markup alone", lack)
    kind = kind_of(browser)
    kept = [
        f"user {kind.user}" if kind.user != NONE else "the user of this command",
        "a network of its own" if kind.has_own_network else "the machine's network",
        "walls by bubblewrap" if kind.walls != NONE else "the machine's files",
        "Chromium's sandbox" if kind.has_sandbox else "no sandbox",
    ]
    return Told(
        "browser", f"{browser} ({', '.join(kept)})", kind.notice.removeprefix("the browser is ")
    )


def _dictionaries() -> Told:
    names = sorted(installed())
    if not names:
        lack = "none is installed; 'hunspell-en-gb' is Debian's for English"
        return Told("dictionaries", "none", lack)
    try:
        known = lexicon(names[0].replace("_", "-"))
        if known is not None:
            known.knows("word")
    except DictionaryUnreadable as problem:
        return Told("dictionaries", ", ".join(names), str(problem))
    return Told("dictionaries", ", ".join(names))


def _recognition() -> Told:
    from plumrake.lenses.rendered.recognition import can_recognise

    if can_recognise():
        return Told("words in pictures", "Tesseract")
    lack = "install 'tesseract-ocr', and pytesseract beside plumrake"
    return Told("words in pictures", "not read", lack)


def _disk() -> Told:
    free = shutil.disk_usage(tempfile.gettempdir()).free
    lack = "" if free > _FREE_BYTES else "the browser needs 2 GB there; make room, or set TMPDIR"
    return Told("disk", f"{free / _GB:.0f} GB free in {tempfile.gettempdir()}", lack)


def _service() -> Iterator[Told]:
    """Look at what the service needs, by its settings."""
    from plumrake.cli.processes import settings_or_fail
    from plumrake.records.health import health_of
    from plumrake.records.migrate import missing

    settings = settings_or_fail()
    try:
        health = asyncio.run(health_of(settings.database))
        waiting = missing(settings.database)
    except psycopg.errors.UndefinedTable:
        yield Told("database", "empty", "run 'plumrake migrate'")
    except psycopg.Error as error:
        says = str(error).splitlines()[0] if str(error) else type(error).__name__
        yield Told("database", "does not answer", f"{says}; check PLUMRAKE_DATABASE")
    else:
        yield Told("database", f"PostgreSQL {health.version}, {health.bytes / _GB:.1f} GB")
        lack = f"run 'plumrake migrate': {', '.join(waiting)}" if waiting else ""
        yield Told("migrations", f"{len(waiting)} to apply" if waiting else "all applied", lack)
        off = abs(health.clock_off)
        yield Told(
            "clock",
            f"{off:.1f} s off the database's",
            "let both machines keep time (chrony, systemd-timesyncd)" * (off > _CLOCK_SECONDS),
        )
        yield Told(
            "workers",
            "alive" if health.worked_on else "none",
            "no worker runs: start 'plumrake worker'" * (not health.worked_on),
        )
        waits = health.oldest_job_seconds
        lack = "look at the workers' logs; more workers, or 'plumrake worker' started again"
        yield Told("jobs", f"the oldest waits for {waits:.0f} s", lack * (waits > _JOB_SECONDS))
        yield Told("walls", _WALLED if health.is_walled else _NOT_WALLED)
        yield _log(health)
        yield from asyncio.run(_sites(settings))
    yield _mail(settings.mail_host, settings.mail_port)
    yield _key(settings.secrets_key)
    yield _address(settings.console_address)


async def _sites(settings: Settings) -> list[Told]:
    """Look at what the sites need: their connections, and certificates."""
    from plumrake.actions.checkup import look_at_certificates, look_at_connections

    async with await psycopg.AsyncConnection.connect(settings.database) as connection:
        sources = await look_at_connections(connection, settings.sources)
        kept = await look_at_certificates(connection, settings.console_address)
        pictures = await _evidence(connection, settings)
    end = f", the first ends on {kept.first_end:%Y-%m-%d}" if kept.first_end else ""
    return [
        Told("connections", _well(sources.well, sources.number), "; ".join(sources.lacks)),
        Told("certificates", _well(kept.well, kept.number) + end, "; ".join(kept.lacks)),
        pictures,
    ]


async def _evidence(
    connection: psycopg.AsyncConnection[tuple[object, ...]], settings: Settings
) -> Told:
    """Look at where pictures are, and whether the store takes and gives."""
    from plumrake.actions.evidence import look_at_store
    from plumrake.records import evidence

    figures = await evidence.figures(connection)
    if settings.store is None:
        lack = "they are in a store: set PLUMRAKE_EVIDENCE_STORE" if figures.carried else ""
        away = f", {figures.carried} in a store that is not set" if figures.carried else ""
        return Told("evidence", f"{counted(figures.here, 'picture')} in the database{away}", lack)
    has = (
        f"{counted(figures.here, 'picture')} in the database, {figures.carried} in "
        f"{settings.evidence_store}"
    )
    problem = await look_at_store(settings.store)
    return Told("evidence", has, f"{problem}; check PLUMRAKE_EVIDENCE_…" if problem else "")


def _well(well: int, number: int) -> str:
    if not number:
        return "none"
    return f"{number} in order" if well == number else f"{well} of {number} in order"


def _log(health: Health) -> Told:
    broken = health.log_broken_at
    if broken is not None:
        says = f"does not hold from place {broken} on"
        return Told("log", says, "somebody changed the database by hand: find out who")
    return Told("log", "told of to the role that migrates" if health.is_walled else "whole")


def _mail(host: str, port: int) -> Told:
    import smtplib

    if not host:
        return Told("mail", "none", "nobody is told by e-mail: set PLUMRAKE_MAIL_HOST")
    try:
        with smtplib.SMTP(host, port, timeout=5) as server:
            server.noop()
    except (OSError, smtplib.SMTPException) as error:
        return Told("mail", f"{host}:{port}", f"it does not answer: {error}; check PLUMRAKE_MAIL_…")
    return Told("mail", f"{host}:{port} answers")


def _key(key: str) -> Told:
    from plumrake.actions.sealing import NotSealed, sealed

    try:
        sealed(key, "")
    except NotSealed:
        lack = "connections with a secret and apps for codes want PLUMRAKE_SECRETS_KEY"
        return Told("secrets key", "none" if not key else "no key", lack)
    return Told("secrets key", "set")


def _address(address: str) -> Told:
    host = urlsplit(address).hostname or ""
    open_to_all = not address.startswith("https://") and host not in _HERE
    lack = "passwords go over the network in plain: put a proxy with TLS in front" * open_to_all
    return Told("address", address, lack)
