"""A link leads to a part of a page that is not there.

The page comes, but at its beginning: nothing on it has the id behind the ``#``. Whoever followed
the link has to look for what it promised.

## Who is hindered

People who hear the page or see only a piece of it at a time: they do not see at a glance where the
part might be.

## What an editor does

Correct what stands behind the ``#``, or leave it out.

## What a template developer does

Keep the ids of headings when their words change.

## Wrong

    <a href="/fees/#no-such-part">Fees by day</a>

## Right

    <a href="/fees/#by-day">Fees by day</a>

## Left alone

``#`` and ``#top``; pages whose scripts may make the part. Parts of other pages are looked for where
links are followed. A link past the menus is for ``page/skip-broken``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import facts_of, states_of, target_of
from plumrake.core.checks.page.shared import says_skip
from plumrake.core.dom import Element
from plumrake.core.evidence import LinkState
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="links/dead-anchor",
    weight=Weight.OBSTACLE,
    criteria=(),
    needs=Needs.TREE,
    messages={
        "no-part": "The link to {target} asks for a part “{part}” that the page does not have."
    },
)
def dead_anchor(page: Page) -> Iterator[Flag]:
    """Yield every link to a part that its target page lacks."""
    for link, state in (*_on_this_page(page), *states_of(page, "works")):
        if state.fragment is not False or says_skip(page, link):
            continue
        part = link.get("href").partition("#")[2].strip()
        yield failed(
            link,
            "no-part",
            target=target_of(link),
            part=part[:80],
            facts={**facts_of(link, state), "part": part},
            mends=(
                Mend(
                    "set-attribute",
                    "Name a part that is on the page, or leave it out.",
                    attribute="href",
                ),
            ),
        )


def _on_this_page(page: Page) -> Iterator[tuple[Element, LinkState]]:
    """Yield the links to parts of the page itself; for these no network is needed. Where links were
    followed, they are among those."""
    if page.evidence.network is not None:
        return
    for link in page.exposed(role="link"):
        written = link.get("href").strip()
        if "#" not in written:
            continue
        address, _, fragment = (page.resolved(written) or "").partition("#")
        if address == page.here:
            yield link, LinkState("works", fragment=page.has_part(fragment))
