"""``plumrake export``: a sweep as a report in an open format; ``plumrake account``: how a site
stands."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import get_args

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail, notice
from plumrake.cli.shared import environment_option, live_option, sweep_option
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake


@click.command("export")
@click.argument("site")
@click.option(
    "--as",
    "form",
    type=click.Choice(get_args(models.ReportForm)),
    required=True,
    help="CSV for spreadsheets, SARIF and JUnit for pipelines, EARL for evaluations, HTML to read.",
)
@sweep_option
@environment_option
@click.option(
    "--out", type=click.Path(dir_okay=False, path_type=Path), help="Default: standard output."
)
@served
def export_command(
    rake: PlumRake,
    site: str,
    form: models.ReportForm,
    sweep: int | None,
    environment: models.Environment | None,
    out: Path | None,
) -> None:
    """Write a sweep of SITE as a report: all pages with what was found there, what was waived, and
    what is new since the sweep before."""
    pieces = rake.exports.sweep(site, form, sweep=sweep, environment=environment)
    if out is None:
        for piece in pieces:
            sys.stdout.buffer.write(piece)
        sys.stdout.buffer.flush()
        return
    size = 0
    try:
        with out.open("wb") as file:
            for piece in pieces:
                size += file.write(piece)
    except OSError as error:
        fail(f"the report cannot be written to '{out}': {error.strerror}", Exit.USAGE)
    notice(f"'{out}' is written: {size:,} bytes")


@click.command("account")
@click.argument("site", required=False)
@click.option(
    "--as",
    "form",
    type=click.Choice(get_args(models.AccountForm)),
    default="md",
    show_default=True,
    help="HTML to print, Markdown to read on, CSV for spreadsheets.",
)
@live_option
@click.option(
    "--out", type=click.Path(dir_okay=False, path_type=Path), help="Default: standard output."
)
@served
def account_command(
    rake: PlumRake,
    site: str | None,
    form: models.AccountForm,
    environment: models.Environment,
    out: Path | None,
) -> None:
    """Account for SITE, or for all sites: figures over time, what is open and with whom, what was
    tested by machine and by eye, and what was not."""
    text = rake.exports.account(site, form, environment)
    if out is None:
        echo(text)
        return
    try:
        out.write_text(text, encoding="utf-8", newline="")
    except OSError as error:
        fail(f"the account cannot be written to '{out}': {error.strerror}", Exit.USAGE)
    notice(f"'{out}' is written")
