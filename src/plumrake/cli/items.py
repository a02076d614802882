"""``plumrake going-out`` and ``plumrake author``: what is not public yet, and who writes."""

from __future__ import annotations

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.shared import as_json_option, counted, person_named, print_json
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake
from plumrake.models.labels import ITEM_STATUS_LABELS


@click.command("going-out")
@click.argument("site")
@click.option("--mine", is_flag=True, help="What one wrote oneself alone.")
@click.option("--again", is_flag=True, help="Have the content system's items listed anew first.")
@as_json_option
@served
def going_out_command(rake: PlumRake, site: str, mine: bool, again: bool, as_json: bool) -> None:
    """List what of SITE is not public yet, with what the gate says of it as it would go out."""
    if again:
        rake.items.sync(site)
    found = rake.items.going_out(site, mine=mine)
    if as_json:
        print_json(found)
        return
    for one in found:
        echo(f"{_answer(one):>12}  {one.title}  {one.path}")
        due = f", due {one.due_at:%Y-%m-%d %H:%M} UTC" if one.due_at is not None else ""
        status = f"{one.kind}, {ITEM_STATUS_LABELS.get(one.status, one.status)}{due}"
        echo(f"{'':>14}{status}; by {one.author}, changed {one.changed_at:%Y-%m-%d %H:%M} UTC")
        echo(f"{'':>14}edit it at {one.edit}")
        if one.decision == "held":
            echo(f"{'':>14}{one.reason} 'plumrake gate show {one.clearance_id}' says which.")
    held = sum(one.decision == "held" for one in found)
    echo(f"{counted(len(found), 'item')} not public yet, {held} held")


def _answer(one: models.GoingOut) -> str:
    if one.clearance_state == "waiting":
        return "being read"
    if one.decision is None:
        return "not read yet"
    return f"held by {one.holding}" if one.decision == "held" else "clear"


@click.group("author")
def author_group() -> None:
    """Who writes in a site's content system, and who that is here."""


@author_group.command("list")
@click.argument("site")
@as_json_option
@served
def list_authors(rake: PlumRake, site: str, as_json: bool) -> None:
    """List the authors of SITE."""
    found = rake.items.authors(site)
    if as_json:
        print_json(found)
        return
    for one in found:
        known = one.person or "nobody here"
        how = " (by hand)" if one.by_hand else ""
        echo(f"{one.author} <{one.email}>, {counted(one.items, 'item')}: {known}{how}")


@author_group.command("is")
@click.argument("site")
@click.argument("email")
@click.argument("person", required=False)
@served
def set_author(rake: PlumRake, site: str, email: str, person: str | None) -> None:
    """Say that the author of SITE with EMAIL is PERSON here; without PERSON, whoever has that
    address."""
    number = person_named(rake, person).id if person is not None else None
    rake.items.set_author(site, email, number)
    echo(f"{email} is {person or 'whoever has that address'}")
