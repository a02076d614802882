"""``plumrake links``: what the links of a site lead to."""

from __future__ import annotations

import time

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit
from plumrake.cli.shared import as_json_option, counted, edition_option, print_json, sweep_option
from plumrake.client import PlumRake

_SAYS = {"works": "works", "only-in-staging": "only in staging", "dead": "dead", "no-part": "part missing", "unknown": "cannot be told"}


@click.command("links")
@click.argument("site")
@click.option("--follow", is_flag=True, help="Ask every address first; what was asked within half an hour is not asked again.")
@click.option("--all", "everything", is_flag=True, help="Those that work, and those never asked, too.")
@click.option("--state", type=click.Choice(list(_SAYS)), help="Only those.")
@sweep_option
@edition_option
@as_json_option
@served
def links_command(
    rake: PlumRake, site: str, follow: bool, everything: bool, state: models.LinkStateName | None, sweep: int | None,
    edition: models.Edition | None, as_json: bool,
) -> int:  # fmt: skip
    """List the links of SITE that do not lead where they should, or of which that cannot be told. Exit status 1 where one is dead."""
    if follow:
        _follow(rake, site, edition, quiet=as_json)
    found = list(rake.views.links(site, state=state, faulty=True if not (everything or state) else None, sweep=sweep, edition=edition))
    if as_json:
        print_json(found)
    else:
        _print(rake, site, found)
    return Exit.HELD if any(one.state in ("dead", "no-part", "only-in-staging") for one in found) else Exit.DONE


def _follow(rake: PlumRake, site: str, edition: models.Edition | None, *, quiet: bool) -> None:
    known: models.LinkRound | None = rake.views.follow_links(site, edition=edition)
    while known is not None and known.ended_at is None:
        time.sleep(0.5)
        known = rake.views.link_round(site)
    if known is not None and not quiet:
        click.echo(f"{counted(known.total, 'address', 'addresses')} asked")


def _print(rake: PlumRake, site: str, found: list[models.LinkText]) -> None:
    known = rake.views.link_round(site)
    if known is None:
        click.echo(f"the links of {site} were never followed; 'plumrake links {site} --follow' does that")
        return
    for one in found:
        click.echo(f"{_SAYS.get(one.state or '', 'not asked'):<16}{one.address}")
        reason = f"{one.says}; " if one.says else ""
        led = f"; led to {one.chain[-1]}" if one.chain else ""
        click.echo(f"{'':<16}{reason}“{one.text or '(no text)'}” on {counted(one.pages, 'page')}, first {one.first_path}{led}")
    states = known.states or {}
    click.echo(", ".join(f"{states[name]} {says}" for name, says in _SAYS.items() if name in states) or "no link leads anywhere")
