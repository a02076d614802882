"""What the commands that ask the service share."""

from __future__ import annotations

import json
from collections.abc import Iterable

import click
from pydantic import BaseModel

as_json_option = click.option("--json", "as_json", is_flag=True, help="Print JSON.")


def print_json(items: BaseModel | Iterable[BaseModel]) -> None:
    """Print what the service answered as JSON."""
    data = items.model_dump(mode="json") if isinstance(items, BaseModel) else [item.model_dump(mode="json") for item in items]
    click.echo(json.dumps(data, indent=2, ensure_ascii=False))


def counted(number: int, one: str) -> str:
    """Return "1 page", "2 pages"."""
    return f"{number} {one}" if number == 1 else f"{number} {one}s"


edition_option = click.option("--edition", type=click.Choice(["live", "staging"]), help="Default: whichever was read last.")
sweep_option = click.option("--sweep", type=int, help="Of this sweep. Default: the newest finished one.")
check_option = click.option("--check", metavar="AREA[/SLUG]")
weight_option = click.option("--weight", type=click.Choice(["barrier", "obstacle", "friction"]))
outcome_option = click.option("--outcome", type=click.Choice(["failed", "cantTell"]))
