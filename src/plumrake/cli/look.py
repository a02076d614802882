"""``plumrake look``: reading pages now, without a service."""

from __future__ import annotations

import asyncio
import contextlib
import datetime
import shutil
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import click

from plumrake.actions.look import (
    LookSettings,
    Target,
    look,
    resolve_targets,
    state_targets,
    with_site_findings,
)
from plumrake.actions.reading import PageResult
from plumrake.cli.errors import Exit, fail, notice
from plumrake.cli.policy import policy_for
from plumrake.cli.reading import lens_for, reading_options
from plumrake.cli.terminal import echo
from plumrake.core.decisions import finding_holds
from plumrake.core.journeys import BadJourneys, parse_journeys, states_of
from plumrake.core.policy import HOLDS
from plumrake.reports.as_json import to_json
from plumrake.reports.as_text import to_text
from plumrake.reports.pages import Reported

_PLAIN_EVERY = 5.0


@click.command("look")
@click.argument("targets", nargs=-1, required=True)
@reading_options
@click.option("--wait-for", metavar="CSS", help="Rendered lens: wait until this element is there.")
@click.option(
    "--journeys",
    "journeys_file",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="A YAML file of steps at the first address: each state that they read is looked at too.",
)
@click.option(
    "--hold",
    type=click.Choice(HOLDS),
    help="From which weight on a fault makes the exit status 1. Default: obstacle.",
)
@click.option(
    "--as", "form", type=click.Choice(["text", "json"]), default="text", show_default=True
)
@click.option(
    "--out",
    type=click.Path(dir_okay=False, writable=True, path_type=Path),
    help="Write the report to this file.",
)
@click.option(
    "--jobs",
    type=click.IntRange(1, 32),
    help="Pages read at once. Default: 2, or all cores for the markup lens.",
)
@click.option(
    "--network",
    is_flag=True,
    help="Let pages of local files reach the network. Default: they meet their own folder alone.",
)
def look_command(
    targets: tuple[str, ...],
    lens: str | None,
    policy_file: Path | None,
    journeys_file: Path | None,
    form: str,
    out: Path | None,
    jobs: int | None,
    network: bool,
    **said: Any,
) -> None:
    """Read pages now and say what is wrong: files, folders or addresses.

    Exit status: 0 nothing holds, 1 something does, 2 wrong usage, 3 something could not be read.
    """
    policy = policy_for(targets, policy_file, said)
    hold = policy.hold
    started, clock = datetime.datetime.now(datetime.UTC), time.monotonic()
    settings = LookSettings(lens_for(lens), policy, jobs=jobs, files_have_network=network)
    states = _states_in(journeys_file, targets, settings) if journeys_file is not None else []
    results = with_site_findings(
        asyncio.run(_gather([*resolve_targets(targets), *states], settings)), policy
    )
    pages = [reported(result) for result in results]
    if form == "json":
        seconds = time.monotonic() - clock
        report = to_json(
            pages,
            standard=policy.standard,
            level=policy.level,
            started=started.isoformat(timespec="seconds"),
            seconds=seconds,
            hold=hold,
        )
    else:
        width = min(shutil.get_terminal_size((100, 24)).columns, 120)
        report = to_text(pages, hold=hold, width=width, policy=policy)
    _write(report, out)
    for page in pages:
        if page.problem is not None:
            notice(f"{page.address}: {page.problem[1]}")
    if any(page.problem is not None for page in pages):
        sys.exit(Exit.UNREAD)
    if any(finding_holds(finding, hold) for page in pages for finding in page.findings):
        sys.exit(Exit.HELD)


def _states_in(file: Path, words: tuple[str, ...], settings: LookSettings) -> list[Target]:
    """Return the states that a file's journeys read at the first of the addresses; else end with
    status 2."""
    address = next((word for word in words if word.startswith(("http://", "https://"))), None)
    if address is None or settings.lens != "rendered":
        fail(
            (
                "journeys need a browser (--lens rendered) and an address to begin at, such as "
                "http://localhost:8000/"
            ),
            Exit.USAGE,
        )
    try:
        return state_targets(address, states_of(parse_journeys(file.read_text(encoding="utf-8"))))
    except (BadJourneys, UnicodeDecodeError, OSError) as error:
        fail(f"the journeys '{file}': {error}", Exit.USAGE)


async def _gather(targets: list[Target], settings: LookSettings) -> list[PageResult]:
    notices: list[str] = []
    results: list[PageResult] = []
    with _progress(len(targets)) as tell:
        async for result in look(targets, settings, notices):
            results.append(result)
            tell(len(results))
    for text in notices:
        notice(text)
    return results


@contextlib.contextmanager
def _progress(total: int) -> Iterator[Callable[[int], None]]:
    """Give what is told how many pages are read: a bar on a terminal, else a line now and then."""
    if sys.stderr.isatty():
        from rich.console import Console  # they take a tenth of a second to load
        from rich.progress import Progress

        with Progress(transient=True, console=Console(stderr=True)) as progress:
            bar = progress.add_task("reading", total=total)
            yield lambda done: progress.update(bar, completed=done)
        return
    last = time.monotonic()

    def say(done: int) -> None:
        nonlocal last
        if time.monotonic() - last > _PLAIN_EVERY:
            last = time.monotonic()
            notice(f"read {done} of {total} pages")

    yield say


def reported(result: PageResult) -> Reported:
    """Return a page's result in the shape that reports take."""
    return Reported(
        result.address,
        result.lens,
        result.title,
        result.language,
        (result.problem.code, result.problem.says) if result.problem is not None else None,
        result.content_hash,
        result.assessment.findings,
        tuple((item.check, item.needs) for item in result.assessment.untested),
    )


def _write(report: str, out: Path | None) -> None:
    if out is None:
        echo(report, nl=False)
        return
    try:
        out.write_text(report, encoding="utf-8")
    except OSError as error:
        fail(
            f"the report cannot be written to '{out}': {error.strerror}; choose another file",
            Exit.USAGE,
        )
