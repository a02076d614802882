"""Commands about sweeps: start, follow, stop, resume, what changed."""

from __future__ import annotations

import sys
from collections.abc import Iterator

import click
from rich.console import Console
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail, notice
from plumrake.cli.shared import as_json_option, counted, print_json
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_MOST_SHOWN = 20
_KINDS = {"new": "new", "reopened": "came back", "gone": "gone", "still": "still there"}


@click.group("sweep")
def sweep_group() -> None:
    """Readings of a whole site."""


@sweep_group.command("start")
@click.argument("site")
@click.option(
    "--environment", type=click.Choice(["live", "staging"]), default="live", show_default=True
)
@click.option(
    "--section",
    default="/",
    show_default=True,
    metavar="PATH",
    help="Only pages whose path begins so.",
)
@click.option(
    "--lens", type=click.Choice(["rendered", "markup"]), default="rendered", show_default=True
)
@click.option("--page", "paths", multiple=True, metavar="PATH", help="Only this page; repeatable.")
@click.option(
    "--changed",
    is_flag=True,
    help="Do not even ask for pages that their sitemap says are unchanged.",
)
@click.option("--fresh", is_flag=True, help="Read unchanged pages anew too.")
@click.option("--follow", is_flag=True, help="Show the progress until the sweep ends.")
@served
def start_sweep(
    rake: PlumRake,
    site: str,
    environment: models.Environment,
    section: str,
    lens: models.Lens,
    paths: tuple[str, ...],
    changed: bool,
    fresh: bool,
    follow: bool,
) -> None:
    """Start reading all pages of SITE. Pages that are as they were keep their findings without a
    browser."""
    if not section.startswith("/"):
        fail(f"--section: '{section}' is no path; begin it with '/'", Exit.USAGE)
    sweep = rake.sweeps.start(
        site,
        environment=environment,
        section=section,
        lens=lens,
        changed=changed,
        fresh=fresh,
        paths=paths,
    )
    echo(f"sweep {sweep.id} of {site}, {environment}, is under way")
    if follow:
        _follow(rake, sweep.id)


def _follow(rake: PlumRake, sweep_id: int, after: int = 0) -> None:
    last = models.Progress(id=0, kind="queued")
    columns = (TextColumn("reading"), BarColumn(), MofNCompleteColumn(), TimeRemainingColumn())
    with Progress(*columns, console=Console(stderr=True), disable=not sys.stderr.isatty()) as bar:
        task = bar.add_task("reading", total=None)
        for last in rake.sweeps.follow(sweep_id, after=after):
            done = last.read + last.unreadable
            bar.update(task, total=last.total or None, completed=done)
            if not sys.stderr.isatty() and last.kind == "progress":
                notice(_so_far(last))
    if last.kind == "failed":
        fail(f"sweep {sweep_id} could not go on: {last.problem}", Exit.UNREAD)
    if last.kind == "stopped":
        echo(
            f"sweep {sweep_id} was stopped after {_so_far(last)}; 'plumrake sweep resume "
            f"{sweep_id}' goes on"
        )
        return
    unread = f", {last.unreadable} could not be read" if last.unreadable else ""
    unchanged = f"; {last.unchanged} were as before" if last.unchanged else ""
    echo(f"sweep {sweep_id} is done: {last.ready} of {last.total} pages ready{unread}{unchanged}")
    for line in _addresses(rake.sweeps.show(sweep_id)):
        echo(line)


def _addresses(sweep: models.Sweep) -> Iterator[str]:
    """Yield what a sweep learnt about the site's addresses beside its pages."""
    if sweep.unlisted:
        are = "page is" if sweep.unlisted == 1 else "pages are"
        yield f"  {sweep.unlisted} {are} linked and not in the sitemap"
    if sweep.redirects:
        lead = "address leads" if sweep.redirects == 1 else "addresses lead"
        yield f"  {sweep.redirects} {lead} to other pages and count as none"


def _so_far(progress: models.Progress) -> str:
    done = f"{progress.read + progress.unreadable} of {progress.total} pages"
    faults = ", ".join(
        f"{count} {weight}{'s' if count != 1 else ''}"
        for weight, count in sorted(progress.found.items())
    )
    left = f", about {progress.seconds_left} s left" if progress.seconds_left else ""
    return f"{done}, {progress.rate:g} pages/s{left}{f'; {faults}' if faults else ''}"


@sweep_group.command("stop")
@click.argument("number", type=int)
@served
def stop_sweep(rake: PlumRake, number: int) -> None:
    """Stop a sweep; what was read stays."""
    sweep = rake.sweeps.stop(number)
    echo(
        f"sweep {number} is stopped after {sweep.read + sweep.unreadable} of {sweep.total} "
        f"pages; 'plumrake sweep resume {number}' goes on"
    )


@sweep_group.command("resume")
@click.argument("number", type=int)
@click.option("--follow", is_flag=True, help="Show the progress until the sweep ends.")
@served
def resume_sweep(rake: PlumRake, number: int, follow: bool) -> None:
    """Let a stopped sweep read the rest of its pages."""
    already = max((event.id for event in rake.sweeps.follow(number)), default=0)
    sweep = rake.sweeps.resume(number)
    echo(f"sweep {number} goes on; {sweep.total - sweep.read - sweep.unreadable} pages are left")
    if follow:
        _follow(rake, number, already)


@sweep_group.command("changes")
@click.argument("number", type=int)
@click.option(
    "--against",
    type=int,
    metavar="NUMBER",
    help="The older sweep, of any environment. Default: the one before.",
)
@as_json_option
@served
def changes(rake: PlumRake, number: int, against: int | None, as_json: bool) -> None:
    """Say what changed since the sweep before: findings, pages and causes."""
    found = rake.sweeps.changes(number, against=against)
    if as_json:
        print_json(found)
        return
    echo(f"sweep {number} against sweep {found.base_id}")
    for kind, words in _KINDS.items():
        counts = [
            f"{one.count} to look at"
            if one.weight == "doubtful"
            else counted(one.count, one.weight)
            for one in found.figures
            if one.kind == kind
        ]
        echo(f"  {words:<13}{', '.join(counts) or 'nothing'}")
    for page in found.pages[:_MOST_SHOWN]:
        echo(f"  page {page.kind:<12}{page.path}")
    if len(found.pages) > _MOST_SHOWN:
        echo(f"  … and {len(found.pages) - _MOST_SHOWN} more pages; --json lists them")
    for cause in found.causes[:_MOST_SHOWN]:
        echo(
            f"  cause {cause.kind:<9}{cause.check:<36} {cause.pages_before} → "
            f"{cause.pages_now} pages  {cause.says}"
        )
    if len(found.causes) > _MOST_SHOWN:
        echo(f"  … and {len(found.causes) - _MOST_SHOWN} more causes; --json lists them")


@sweep_group.command("list")
@click.argument("site")
@click.option(
    "--given", is_flag=True, help="Also those of given pages: proofs of fixes, pages read again."
)
@as_json_option
@served
def list_sweeps(rake: PlumRake, site: str, given: bool, as_json: bool) -> None:
    """List a site's sweeps, the newest first."""
    found = list(rake.sweeps.list(site, given=given))
    if as_json:
        print_json(found)
        return
    for sweep in found:
        echo(
            f"{sweep.id:>6}  {sweep.created_at:%Y-%m-%d %H:%M}  "
            f"{sweep.environment:<8}{sweep.state:<8}"
            f"{sweep.ready} of {sweep.total - sweep.left_out} pages ready"
            f"{'; only these counts are kept' if sweep.forgotten_at else ''}"
        )


@sweep_group.command("show")
@click.argument("number", type=int)
@as_json_option
@served
def show_sweep(rake: PlumRake, number: int, as_json: bool) -> None:
    """Show a sweep, with the pages that could not be read."""
    sweep = rake.sweeps.show(number)
    if as_json:
        print_json(sweep)
        return
    echo(f"sweep {sweep.id} of {sweep.site}, {sweep.environment}, {sweep.lens}: {sweep.state}")
    echo(
        f"  {sweep.read + sweep.unreadable} of {sweep.total} pages done, {sweep.ready} "
        f"ready, {sweep.unreadable} could not be read, {sweep.unchanged} were as before"
    )
    if sweep.problem:
        echo(f"  {sweep.problem}")
    for line in _addresses(sweep):
        echo(line)
    if sweep.forgotten_at:
        echo(f"  what it found was forgotten on {sweep.forgotten_at:%Y-%m-%d}, for its age")
        return
    for reading in rake.sweeps.readings(number, status="unreadable"):
        echo(f"  not read  {reading.path}: {reading.problem_says} ({reading.problem_code})")
