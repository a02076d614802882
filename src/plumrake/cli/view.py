"""``plumrake view``: one page as others meet it."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from plumrake.actions.look import LookSettings, Target, drawn, resolve_targets, view
from plumrake.cli.errors import Exit, fail
from plumrake.cli.reading import lens_for
from plumrake.cli.terminal import echo
from plumrake.core.policy import Policy
from plumrake.core.views import VIEWS
from plumrake.lenses.read_options import DrawnAs
from plumrake.reports.focus_picture import with_path_of_tab
from plumrake.reports.preview_picture import LOOKS, OWN_LAYOUTS, Look, preview

Row = dict[str, Any]


@click.command("view")
@click.argument("target")
@click.option(
    "--as",
    "form",
    type=click.Choice([*VIEWS, "preview"]),
    default="outline",
    show_default=True,
    help="'preview' draws the page as people with low vision see it (--out).",
)
@click.option(
    "--lens",
    type=click.Choice(["rendered", "markup"]),
    help="Default: rendered where there is a browser.",
)
@click.option("--wait-for", metavar="CSS", help="Rendered lens: wait until this element is there.")
@click.option(
    "--out",
    type=click.Path(dir_okay=False, path_type=Path),
    metavar="FILE.png",
    help="Of 'focus': the page's picture with the focus mark of each stop and the path of Tab; of "
    "'preview': the original and its looks side by side.",
)
@click.option(
    "--look",
    "looks",
    type=click.Choice(LOOKS),
    multiple=True,
    help="Of 'preview': only these. Default: all.",
)
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def view_command(
    target: str,
    form: str,
    lens: str | None,
    wait_for: str | None,
    out: Path | None,
    looks: tuple[Look, ...],
    as_json: bool,
) -> None:
    """Show TARGET, a file or an address, as others meet it."""
    targets = resolve_targets([target])
    if len(targets) != 1:
        fail(f"'{target}' holds {len(targets)} pages; name one of them", Exit.USAGE)
    if form == "preview":
        _draw_preview(target, targets[0], LookSettings(lens_for(lens)), looks or LOOKS, out)
        return
    if out is not None and form != "focus":
        fail("--out draws a picture: write --as focus or --as preview with it", Exit.USAGE)
    only = ("headings", "keyboard", "contrast/focus-mark") if form == "focus" else ("headings",)
    settings = LookSettings(lens_for(lens), Policy(wait_for=wait_for, only=only))
    obtained = asyncio.run(view(targets[0], settings))
    page, problem = obtained.page, obtained.problem
    if page is None:
        fail(f"{target}: {problem.says if problem is not None else 'not read'}", Exit.UNREAD)
    rows = VIEWS[form](page)
    if out is not None:
        picture = _drawn(target, targets[0], settings, ["focus"])["focus"]
        out.write_bytes(with_path_of_tab(picture, rows))
    if as_json:
        echo(json.dumps(rows, indent=2, ensure_ascii=False))
        return
    for row in rows:
        echo(_LINES[form](row))
    if not rows:
        echo("nothing of this kind is on the page")


def _draw_preview(
    named: str,
    target: Target,
    settings: LookSettings,
    looks: tuple[Look, ...],
    out: Path | None,
) -> None:
    if out is None:
        fail("a preview is a picture: say with --out FILE.png where it is to go", Exit.USAGE)
    layouts = [kind for kind in OWN_LAYOUTS if kind in looks]
    pictures = _drawn(named, target, settings, ["whole", *layouts])
    out.write_bytes(preview(pictures["whole"], {one: pictures[one] for one in layouts}, looks))
    echo(f"{out}: the original and {len(looks)} looks of it")


def _drawn(
    named: str, target: Target, settings: LookSettings, kinds: list[DrawnAs]
) -> dict[DrawnAs, bytes]:
    """Return a page's pictures, or end with why they could not be had."""
    pictures: dict[DrawnAs, bytes] = {}
    for kind, obtained in asyncio.run(drawn(target, settings, kinds)).items():
        if obtained.problem is not None:
            fail(f"{named}: {obtained.problem.says}", Exit.UNREAD)
        if obtained.picture is None:
            fail(f"{named} was not pictured; that needs the rendered lens", Exit.UNREAD)
        pictures[kind] = obtained.picture
    return pictures


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


def _focus(row: Row) -> str:
    faults = f"   ← {', '.join(row['faults'])}" if row["faults"] else ""
    return f"{row['number']:>4}  {row['role']:<12} {row['name'] or '(no name)'}{faults}"


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
    "focus": _focus,
}
