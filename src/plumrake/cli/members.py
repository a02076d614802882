"""Commands about who is in a site, as what."""

from __future__ import annotations

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail
from plumrake.cli.people import AREAS, ROLE
from plumrake.cli.shared import as_json_option, one_called, print_json
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake


@click.group("member")
def member_group() -> None:
    """Who is in a site: list, add, drop."""


@member_group.command("list")
@click.argument("site")
@as_json_option
@served
def list_members(rake: PlumRake, site: str, as_json: bool) -> None:
    """List who is in SITE, with their roles in it."""
    found = list(rake.people.members(site))
    if as_json:
        print_json(found)
        return
    for one in found:
        notes = ["in every site"] * one.is_everywhere + ["may not sign in"] * (not one.active)
        if one.areas is not None:
            notes.insert(0, f"for {' '.join(one.areas)} alone")
        more = f"  ({', '.join(notes)})" if notes else ""
        echo(f"{one.name:<24}{one.role:<11}{one.email}{more}")


@member_group.command("add")
@click.argument("site")
@click.argument("email")
@click.option("--role", type=ROLE, default="editor", show_default=True)
@AREAS
@served
def add_member(
    rake: PlumRake, site: str, email: str, role: models.Role, areas: tuple[str, ...]
) -> None:
    """Give who signs in with EMAIL a role in SITE, or another one than they had."""
    added = rake.people.add_member(site, email, role, areas)
    alone = f", for {' '.join(added.areas)} alone" if added.areas else ""
    echo(f"{added.name} is {added.role} in {site}{alone}")


@member_group.command("drop")
@click.argument("site")
@click.argument("person")
@served
def drop_member(rake: PlumRake, site: str, person: str) -> None:
    """Take PERSON (e-mail address, or what stands before its @) out of SITE; what they did there
    stays."""
    there = f"'plumrake member list {site}' lists who is there"
    found = one_called(rake.people.members(site), person, there)
    if found.is_everywhere:
        fail(
            f"{found.name} is {found.role} in every site; who runs the service changes that with "
            f"'plumrake person edit {person} --role none'",
            Exit.USAGE,
        )
    rake.people.drop_member(site, found.id)
    echo(f"{found.name} is not in {site} any more")
