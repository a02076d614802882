"""``plumrake view``: one page as others meet it."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Callable
from typing import Any

import click

from plumrake.actions.look import LookSettings, resolve_targets, view
from plumrake.cli.errors import Exit, fail
from plumrake.cli.reading import lens_for
from plumrake.cli.terminal import echo
from plumrake.core.policy import Policy
from plumrake.core.views import VIEWS

Row = dict[str, Any]


@click.command("view")
@click.argument("target")
@click.option("--as", "form", type=click.Choice(list(VIEWS)), default="outline", show_default=True)
@click.option(
    "--lens",
    type=click.Choice(["rendered", "markup"]),
    help="Default: rendered where there is a browser.",
)
@click.option("--wait-for", metavar="CSS", help="Rendered lens: wait until this element is there.")
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def view_command(
    target: str, form: str, lens: str | None, wait_for: str | None, as_json: bool
) -> None:
    """Show TARGET, a file or an address, as others meet it."""
    targets = resolve_targets([target])
    if len(targets) != 1:
        fail(f"'{target}' holds {len(targets)} pages; name one of them", Exit.USAGE)
    page, problem = asyncio.run(
        view(
            targets[0],
            LookSettings(lens_for(lens), Policy(wait_for=wait_for, only=("headings",))),
        )
    )
    if page is None:
        fail(f"{target}: {problem.says if problem is not None else 'not read'}", Exit.UNREAD)
    rows = VIEWS[form](page)
    if as_json:
        echo(json.dumps(rows, indent=2, ensure_ascii=False))
        return
    for row in rows:
        echo(_LINES[form](row))
    if not rows:
        echo("nothing of this kind is on the page")


def _outline(row: Row) -> str:
    fault = f"   ← {', '.join(row['faults'])}" if row["faults"] else ""
    if row["kind"] == "page":
        return f"the page “{row['name']}”{fault}"
    if row["kind"] == "heading":
        return (
            f"{'  ' * row['depth']}{'  ' * (row['level'] - 1)}{row['level']} "
            f"{row['name'] or '(empty)'}{fault}"
        )
    return f"{'  ' * row['depth']}[{row['kind']}] {row['name'] or '(untitled)'}{fault}"


def _colours(row: Row) -> str:
    verdict = "passes" if row["passes"] else f"fails, {row['required']:g}:1 is required"
    return (
        f"{row['text']} on {row['background']}  {row['ratio']:>5.2f}:1  {row['uses']:>4} uses  "
        f"{verdict:<28} {row['selector']}"
    )


def _names(row: Row) -> str:
    lines = [
        (
            f"{row['role']}: "
            f"{row['name'] or '(no name)'}{'' if row['exposed'] else '  (hidden)'}   "
            f"{row['selector']}"
        )
    ]
    lines += [
        f"    {step['step']}  {step['says']}: “{step['text']}”   {step['selector']}"
        for step in row["trace"]
    ]
    return "\n".join(lines)


def _pictures(row: Row) -> str:
    text = "(decorative)" if row["decorative"] else row["name"] or "(no text)"
    return f"{row['file'] or '(no file)':<32} {text}   {row['selector']}"


_LINES: dict[str, Callable[[Row], str]] = {
    "outline": _outline,
    "heard": lambda row: str(row["line"]),
    "order": lambda row: str(row["text"]),
    "links": lambda row: f"{row['name'] or '(no name)':<40} {row['target']}",
    "pictures": _pictures,
    "colours": _colours,
    "names": _names,
}
