"""What commands that read pages here and now have in common: the lens, and what is asked for."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from plumrake.cli.errors import Exit, fail, notice
from plumrake.lenses.rendered.jail import find_browser

_OPTIONS = (
    click.option(
        "--lens",
        type=click.Choice(["rendered", "markup"]),
        help="Read in a browser, or by the HTML and its style sheets. Default: rendered "
        "where there is a browser.",
    ),
    click.option(
        "--only", multiple=True, metavar="AREA[/SLUG]", help="Only this area or check; repeatable."
    ),
    click.option(
        "--without",
        multiple=True,
        metavar="AREA[/SLUG]",
        help="Not these; repeatable.",
    ),
    click.option(
        "--scope",
        "scope",
        multiple=True,
        metavar="CSS",
        help="Report only what lies in this part of the page; repeatable.",
    ),
    click.option(
        "--leave-out",
        multiple=True,
        metavar="CSS",
        help="Report nothing of this part of the page; repeatable.",
    ),
    click.option("--standard", help="wcag20, wcag21 or wcag22 (default)."),
    click.option("--level", help="a, aa (default) or aaa."),
    click.option(
        "--policy",
        "policy_file",
        type=click.Path(dir_okay=False, path_type=Path),
        help="A plumrake.toml. Default: the nearest one in the first target's folder or above it.",
    ),
)


def reading_options(command: Callable[..., Any]) -> Callable[..., Any]:
    """Give a command the options for the lens (``lens``), the policy (``policy_file``) and what is
    said over it."""
    for option in reversed(_OPTIONS):
        command = option(command)
    return command


def lens_for(wanted: str | None) -> str:
    """Return the lens that is wanted, or the default one; end with status 3 where it needs a
    browser and there is none."""
    lens = wanted or _default_lens()
    if lens == "rendered" and find_browser() is None:
        fail(
            (
                "no headless Chromium was found; install 'chromium-headless-shell', set "
                "PLUMRAKE_BROWSER, or give --lens markup"
            ),
            Exit.UNREAD,
        )
    return lens


def _default_lens() -> str:
    """Return ``rendered`` where there is a browser, else ``markup`` with a notice."""
    if find_browser() is not None:
        return "rendered"
    notice(
        "no headless Chromium was found, so only the markup is read; styles and contrast "
        "stay untested"
    )
    return "markup"
