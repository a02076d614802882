"""What the commands that ask the service share."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import TypeVar, get_args

import click
from pydantic import BaseModel

from plumrake import models
from plumrake.cli.errors import Exit, fail
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_Called = TypeVar("_Called", models.Person, models.Member)

as_json_option = click.option("--json", "as_json", is_flag=True, help="Print JSON.")


def print_json(items: BaseModel | Iterable[BaseModel]) -> None:
    """Print what the service answered as JSON."""
    data = (
        items.model_dump(mode="json")
        if isinstance(items, BaseModel)
        else [item.model_dump(mode="json") for item in items]
    )
    echo(json.dumps(data, indent=2, ensure_ascii=False))


def counted(number: int, one: str, many: str = "") -> str:
    """Return "1 page", "2 pages"; ``many`` where it is not the word with an s."""
    return f"{number} {one}" if number == 1 else f"{number} {many or one + 's'}"


environment_option = click.option(
    "--environment",
    type=click.Choice(["live", "staging"]),
    help="Default: whichever was read last.",
)
live_option = click.option(
    "--environment", type=click.Choice(["live", "staging"]), default="live", show_default=True
)
sweep_option = click.option(
    "--sweep", type=int, help="Of this sweep. Default: the newest finished one."
)
check_option = click.option("--check", metavar="AREA[/SLUG]")
weight_option = click.option("--weight", type=click.Choice(["barrier", "obstacle", "friction"]))
outcome_option = click.option("--outcome", type=click.Choice(["failed", "cantTell"]))
words_option = click.option(
    "--words",
    type=click.Choice(get_args(models.WordsChoice)),
    help="Words in no dictionary: apart, under 'plumrake words' (the default, unless --check or "
    "--cause is given), with all else, or only they.",
)


def person_named(rake: PlumRake, name: str) -> models.Person:
    """Return the person with an e-mail address, or whose address has this before its @; else end
    with status 2."""
    return one_called(rake.people.list(), name, "'plumrake person list' lists everybody")


def one_called(people: Iterable[_Called], name: str, else_see: str) -> _Called:
    """Return the one of some people with an e-mail address, or whose address has this before its @;
    else end with status 2."""
    wanted = name.casefold()
    found = [
        person
        for person in people
        if wanted in (person.email.casefold(), person.email.partition("@")[0].casefold())
    ]
    if len(found) != 1:
        who = "nobody" if not found else "more than one person"
        fail(f"{who} is called '{name}'; {else_see}", Exit.USAGE)
    return found[0]


def group_named(rake: PlumRake, name: str) -> models.Group:
    """Return the group with a name; else end with status 2."""
    found = next(
        (group for group in rake.people.groups() if group.name.casefold() == name.casefold()), None
    )
    if found is None:
        fail(f"no group is called '{name}'; 'plumrake group list' lists them", Exit.USAGE)
    return found


def owner_choice(
    rake: PlumRake, person: str | None, group: str | None, *, author: bool = False
) -> models.OwnerChoice | None:
    """Return the owner that a person's or a group's name stands for, or whoever wrote the page;
    None without any, and several end with status 2."""
    if (person is not None) + (group is not None) + author > 1:
        fail("name one of a person, a group and the author, not several", Exit.USAGE)
    if author:
        return models.OwnerChoice(author=True)
    if person is not None:
        return models.OwnerChoice(person_id=person_named(rake, person).id)
    return models.OwnerChoice(group_id=group_named(rake, group).id) if group is not None else None
