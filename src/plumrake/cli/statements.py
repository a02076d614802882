"""``plumrake statement``: the accessibility statement of a site."""

from __future__ import annotations

from pathlib import Path
from typing import get_args

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.shared import as_json_option, print_json
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_language_option = click.option(
    "--language",
    type=click.Choice(get_args(models.StatementLanguage)),
    default="en",
    show_default=True,
)


@click.group("statement")
def statement_group() -> None:
    """The accessibility statement: proposed from the facts, edited by you, versions kept."""


@statement_group.command("propose")
@click.argument("site")
@_language_option
@served
def propose_statement(rake: PlumRake, site: str, language: models.StatementLanguage) -> None:
    """Print a statement (Markdown) from what is known of SITE; fill in what stands in square
    brackets."""
    echo(rake.statements.propose(site, language).body)


@statement_group.command("write")
@click.argument("site")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@_language_option
@served
def write_statement(
    rake: PlumRake, site: str, file: Path, language: models.StatementLanguage
) -> None:
    """Keep FILE (Markdown) as the newest version of SITE's statement."""
    body = file.read_text(encoding="utf-8")
    made = rake.statements.write(site, models.NewStatement(language=language, body=body))
    echo(f"version {made.id} is kept; 'plumrake statement publish {site} {made.id}' publishes it")


@statement_group.command("publish")
@click.argument("site")
@click.argument("version", type=int)
@served
def publish_statement(rake: PlumRake, site: str, version: int) -> None:
    """Let VERSION be the public one: from today on its age is counted."""
    rake.statements.publish(site, version)
    echo(
        f"version {version} is public; 'plumrake statement show {site} {version} --as html' gives "
        "the page to put on the site"
    )


@statement_group.command("list")
@click.argument("site")
@as_json_option
@served
def list_statements(rake: PlumRake, site: str, as_json: bool) -> None:
    """List the versions of SITE's statement, the newest first."""
    found = rake.statements.list(site)
    if as_json:
        print_json(found)
        return
    for one in found:
        public = (
            f"public since {one.published_at:%Y-%m-%d}, by {one.published_by}"
            if one.published_at is not None
            else "not public"
        )
        echo(f"{one.id:>5}  {one.language}  {one.made_at:%Y-%m-%d}  {one.made_by:<20} {public}")
    if not found:
        echo(f"{site} has no statement; 'plumrake statement propose {site}' prints one to edit")


@statement_group.command("show")
@click.argument("site")
@click.argument("version", type=int)
@click.option(
    "--as",
    "form",
    type=click.Choice(get_args(models.StatementForm)),
    default="md",
    show_default=True,
)
@served
def show_statement(rake: PlumRake, site: str, version: int, form: models.StatementForm) -> None:
    """Print VERSION as Markdown, or as a page."""
    echo(rake.statements.text(site, version, form))
