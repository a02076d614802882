"""A link does something instead of leading somewhere.

A link promises another place. What opens a panel, sends or deletes is a button: it is announced as
one, and answers to the space bar.

## Who is hindered

People who listen to the page and expect another page, people who use the space bar, and everybody
who opens links in a new tab and gets an empty one.

## What an editor does

If the link has lost its address, write it again or delete the link.

## What a template developer does

Use ``button type="button"`` and give it the looks of a link, if that is wanted.

## Wrong

    <a href="#" onclick="openMenu()">Menu</a>

## Right

    <button type="button" onclick="openMenu()">Menu</button>

## Left alone

``role="button"`` (it says what it is), places in the page (``#fees``), and "Back to top".
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import target_of
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import normalised, shortened

_TOP = frozenset(
    "top oben anfang haut arriba su alto inizio boven góry początek upp toppen frig brig".split()
)


@check(
    id="links/acts-as-button",
    weight=Weight.OBSTACLE,
    criteria=("4.1.2", "2.1.1"),
    needs=Needs.TREE,
    messages={
        "nowhere": "The link “{name}” has the address “{target}”, which leads nowhere.",
        "script": "The link “{name}” runs a script instead of leading somewhere.",
        "no-address": (
            "“{name}” reacts to clicks like a link but has no address, so Tab does not reach it."
        ),
    },
)
def acts_as_button(page: Page) -> Iterator[Flag]:
    """Yield every ``a`` whose address is empty, ``#`` or a script, or that has no address but a
    click handler."""
    for link in page.every_exposed():
        if link.tag != "a" or page.explicit_role(link) not in ("", "link"):
            continue
        message = _message(link, normalised(page.name_of(link)))
        if message:
            name = page.name_of(link) or link.text() or "without a name"
            yield failed(
                link,
                message,
                name=shortened(name),
                target=link.get("href"),
                facts={"name": page.name_of(link), "target": target_of(link)},
                mends=(
                    Mend("rename-element", "If it does something, make it a button.", to="button"),
                    Mend(
                        "set-attribute",
                        "If it leads somewhere, write the address.",
                        attribute="href",
                    ),
                ),
            )


def _message(link: Element, name: str) -> str | None:
    if not link.has("href"):
        return "no-address" if link.has("onclick") or "click" in link.listeners else None
    address = link.get("href").strip().lower()
    if address.startswith("javascript:"):
        return "script"
    if (
        address == "#"
        and not link.has("onclick")
        and "click" not in link.listeners
        and _TOP & set(name.split())
    ):
        return None
    return "nowhere" if address in ("", "#") else None
