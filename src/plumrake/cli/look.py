"""``plumrake look``: reading pages now, without a service."""

from __future__ import annotations

import asyncio
import contextlib
import datetime
import shutil
import sys
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any, cast

import click

from plumrake.actions.look import (
    LookSettings,
    Target,
    look,
    with_site_findings,
)
from plumrake.actions.reading import PageResult
from plumrake.actions.reporting import reported_pages
from plumrake.cli.errors import Exit, fail, notice
from plumrake.cli.look_targets import lines_of, states_in, targets_of, without_unchanged
from plumrake.cli.policy import policy_for
from plumrake.cli.reading import lens_for, reading_options
from plumrake.cli.terminal import echo
from plumrake.core.assess import checks_asked
from plumrake.core.decisions import finding_holds
from plumrake.core.policy import HOLDS
from plumrake.report_forms import ReportForm
from plumrake.reports.as_text import to_text
from plumrake.reports.baseline import (
    BadBaseline,
    Baseline,
    parse_baseline,
    written_baseline,
)
from plumrake.reports.pages import Reported
from plumrake.reports.report import REPORT_FORMS, About, written

_PLAIN_EVERY = 5.0
_MOST_GONE = 10


@click.command("look")
@click.argument("targets", nargs=-1)
@click.option(
    "--list",
    "list_file",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    metavar="FILE",
    help="Also what this file names: a file, folder or address a line.",
)
@click.option(
    "--most-pages", type=click.IntRange(1), metavar="N", help="Read the first N pages alone."
)
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
    "--as",
    "form",
    type=click.Choice(["text", *REPORT_FORMS]),
    default="text",
    show_default=True,
)
@click.option(
    "--out",
    type=click.Path(dir_okay=False, writable=True, path_type=Path),
    help="Write the report to this file.",
)
@click.option(
    "--baseline",
    "baseline_file",
    type=click.Path(dir_okay=False, path_type=Path),
    metavar="FILE",
    help="What is known: only what is not in it makes the exit status 1.",
)
@click.option("--keep-baseline", is_flag=True, help="Write what is found into the baseline.")
@click.option(
    "--changed-since",
    metavar="REVISION",
    help="Of the given files, only those that git says were changed since.",
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
    list_file: Path | None,
    most_pages: int | None,
    lens: str | None,
    policy_file: Path | None,
    journeys_file: Path | None,
    form: str,
    out: Path | None,
    baseline_file: Path | None,
    keep_baseline: bool,
    changed_since: str | None,
    jobs: int | None,
    network: bool,
    **said: Any,
) -> None:
    """Read pages now and say what is wrong: files, folders, archives, addresses, the address of a
    sitemap (….xml), or - for HTML on standard input.

    Exit status: 0 nothing holds, 1 something does, 2 wrong usage, 3 something could not be read.
    """
    targets = (*targets, *lines_of(list_file))
    policy = policy_for(targets, policy_file, said)
    baseline = _baseline_in(baseline_file, keeps=keep_baseline)
    started, clock = datetime.datetime.now(datetime.UTC), time.monotonic()
    settings = LookSettings(lens_for(lens), policy, jobs=jobs, files_have_network=network)
    states = states_in(journeys_file, targets, settings) if journeys_file is not None else []
    given = targets_of(targets)
    if changed_since is not None:
        given = without_unchanged(given, changed_since)
    given = given[:most_pages]
    results = with_site_findings(asyncio.run(_gather([*given, *states], settings)), policy)
    files = {one.shown_as: one.file for one in given if one.file is not None}
    reported = reported_pages(results, baseline=baseline, files=files if form == "sarif" else None)
    pages = [one.page for one in reported]
    gone = baseline.gone(pages) if baseline is not None else []
    if form == "text":
        width = min(shutil.get_terminal_size((100, 24)).columns, 120)
        told = [_only_new(page, baseline) for page in pages] if baseline is not None else pages
        causes = {key: note.cause for one in reported for key, note in one.notes.items()}
        text = to_text(told, hold=policy.hold, width=width, policy=policy, causes=causes)
        _write([text], out)
    else:
        about = About(
            ", ".join(Path.cwd().name if word == "." else word for word in targets),
            policy,
            started.isoformat(timespec="seconds"),
            [check.id for check in checks_asked(policy)],
            time.monotonic() - clock,
            gone,
        )
        _write(written(cast(ReportForm, form), reported, about), out)
    if gone:
        notice(f"{len(gone)} of the baseline's {len(baseline.known) if baseline else 0} are gone:")
        for one in gone[:_MOST_GONE]:
            notice(f"  {one.address}: {one.check}")
    if keep_baseline and baseline_file is not None:
        _keep_baseline(baseline_file, written_baseline(pages, baseline))
    _leave(pages, baseline, policy.hold)


def _leave(pages: Sequence[Reported], baseline: Baseline | None, hold: str) -> None:
    """Leave with the exit status that the pages make."""
    for page in pages:
        if page.problem is not None:
            notice(f"{page.address}: {page.problem[1]}")
    if any(page.problem is not None for page in pages):
        sys.exit(Exit.UNREAD)
    if any(
        finding_holds(one, hold) and (baseline is None or baseline.is_new(one.place_key))
        for page in pages
        for one in page.findings
    ):
        sys.exit(Exit.HELD)


def _only_new(page: Reported, baseline: Baseline) -> Reported:
    """Return a page with those findings that are not known."""
    return replace(
        page, findings=tuple(one for one in page.findings if baseline.is_new(one.place_key))
    )


def _baseline_in(file: Path | None, *, keeps: bool) -> Baseline | None:
    """Return the baseline of a file; one that is about to be written may be missing."""
    if file is None:
        if keeps:
            fail("--keep-baseline needs --baseline FILE, to write to", Exit.USAGE)
        return None
    if keeps and not file.exists():
        return Baseline({})
    try:
        return parse_baseline(file.read_text(encoding="utf-8"))
    except OSError as error:
        fail(
            f"the baseline '{file}' cannot be read: {error.strerror}; --keep-baseline writes one",
            Exit.USAGE,
        )
    except (BadBaseline, UnicodeDecodeError) as error:
        fail(f"the baseline '{file}': {error}", Exit.USAGE)


def _keep_baseline(file: Path, text: str) -> None:
    try:
        file.write_text(text, encoding="utf-8")
    except OSError as error:
        fail(f"the baseline cannot be written to '{file}': {error.strerror}", Exit.USAGE)
    notice(f"the baseline '{file}' is written: {text.count(chr(10)) - 1} findings are known now")


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


def _write(report: Iterable[str], out: Path | None) -> None:
    if out is None:
        for piece in report:
            echo(piece, nl=False)
        return
    try:
        with out.open("w", encoding="utf-8", newline="") as file:
            file.writelines(report)
    except OSError as error:
        fail(
            f"the report cannot be written to '{out}': {error.strerror}; choose another file",
            Exit.USAGE,
        )
