"""The link past the menus does not work.

It leads to a place that is not there, or it cannot be seen or reached when it is needed.

## Who is hindered

People who go by keyboard: they follow the link and are still before the menus, or focus disappears.

## What an editor does

Tell whoever keeps the templates.

## What a template developer does

Give the main content the id that the link names. Hide the link by moving it off the screen and
bring it back on focus, never by ``display: none``.

## Wrong

    <a href="#content">Skip to the content</a><nav>Menu</nav><main>Text</main>

## Right

    <a href="#content">Skip to the content</a><nav>Menu</nav><main id="content">Text</main>

## Left alone

Other links within the page.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.page.shared import part_of_page, says_skip
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_focusable
from plumrake.core.words import shortened


@check(
    id="page/skip-broken",
    weight=Weight.OBSTACLE,
    criteria=("2.4.1",),
    needs=Needs.TREE,
    messages={
        "no-target": "“{name}” leads to “{target}”, which is not on the page.",
        "hidden": "“{name}” is hidden from everyone, so nobody can use it.",
        "unseen": "“{name}” takes focus and does not show.",
    },
)
def skip_broken(page: Page) -> Iterator[Flag]:
    """Yield links past the menus whose target is missing, which are hidden, or which never show on
    focus."""
    main = page.landmarks.main
    for link in page.elements:
        if (
            link.tag != "a"
            or not says_skip(page, link)
            or (main is not None and link.index > main.index)
        ):
            continue
        name, target = link.text() or page.name_of(link), link.get("href").strip()
        part = part_of_page(page, link) or ""
        message = _fault(page, link, part)
        if message:
            mend = (
                Mend(
                    "link-past-menus",
                    "Let it lead to the main content.",
                    value=name,
                    to="own",
                    sure=page.landmarks.main is not None,
                )
                if message == "no-target"
                else Mend(
                    "advice",
                    "Move it off the screen instead of hiding it, and bring it back on focus.",
                )
            )
            yield failed(
                link,
                message,
                name=shortened(name),
                target=target,
                facts={"name": name, "target": target},
                mends=(mend,),
            )


def _fault(page: Page, link: Element, identifier: str) -> str | None:
    if not page.is_shown(link):
        return "hidden" if not _waits_for_script(page, link) else None
    if not page.has_part(identifier):
        return "no-target"
    walk = page.evidence.walk
    return (
        "unseen" if walk is not None and link.index in walk.unseen and is_focusable(link) else None
    )


def _waits_for_script(page: Page, link: Element) -> bool:
    """Tell whether the link is in something that is hidden as a whole with more than itself."""
    return any(
        not page.is_rendered(ancestor) and len(list(ancestor.elements())) > 1
        for ancestor in link.ancestors()
    )
