"""The command that shows what was done."""

from __future__ import annotations

import time
from itertools import islice

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail
from plumrake.cli.shared import as_json_option, counted
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_LOOK_EVERY_SECONDS = 2.0


@click.command("log")
@click.argument("site", required=False)
@click.option("--kind", metavar="BEGINNING", help="Kinds that begin so, as 'sign-in' or 'site.'.")
@click.option("--most", type=click.IntRange(1), default=50, show_default=True, help="So many.")
@click.option("--follow", is_flag=True, help="Go on as more is done, one JSON object a line.")
@click.option("--check", is_flag=True, help="Say whether every entry hangs on the one before it.")
@as_json_option
@served
def log_command(
    rake: PlumRake,
    site: str | None,
    kind: str | None,
    most: int,
    follow: bool,
    check: bool,
    as_json: bool,
) -> None:
    """Show what was done in SITE, or, to who runs the service, anywhere; the newest last."""
    if check:
        _check(rake.log.state())
        return
    found = list(islice(rake.log.entries(site, kind=kind), most))[::-1]
    for entry in found:
        echo(entry.model_dump_json() if as_json or follow else _line(entry))
    if not found and not follow:
        echo("nothing yet")
    newest = found[-1].id if found else 0
    while follow:
        time.sleep(_LOOK_EVERY_SECONDS)
        for entry in list(rake.log.entries(site, kind=kind, since=newest))[::-1]:
            echo(entry.model_dump_json())
            newest = entry.id


def _check(state: models.LogState) -> None:
    kept = counted(state.sealed, "entry is sealed", "entries are sealed")
    if state.broken_at is not None:
        fail(
            f"the log does not hold from place {state.broken_at} on: an entry was changed, or is "
            "missing before it",
            Exit.HELD,
        )
    echo(f"the log is whole: {kept}, {state.unsealed} not yet")


def _line(entry: models.LogEntry) -> str:
    where = f" in {entry.site}" if entry.site and entry.site != entry.about else ""
    by = f" by {entry.by}" if entry.by else ""
    from_there = f" from {entry.from_address}" if entry.from_address else ""
    return (
        f"{entry.at:%Y-%m-%d %H:%M:%S}  {entry.kind:<22}{entry.about}{where}{by}{from_there}"
        f"{_changes(entry)}"
    )


def _changes(entry: models.LogEntry) -> str:
    before, after = entry.before or {}, entry.after or {}
    told = [
        f"{name}: {before[name]} -> {after[name]}"
        if name in before and name in after
        else f"{name}: {after.get(name, before.get(name))}"
        for name in dict.fromkeys([*before, *after])
        if (before.get(name), after.get(name)) != (None, None)
    ]
    return f"\n{'':>21}{'; '.join(told)}" if told else ""
