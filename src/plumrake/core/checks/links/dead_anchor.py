"""A link leads to a part of a page that is not there.

The page comes, but at its beginning: nothing on it has the id behind the ``#``. Whoever followed the link has to look for what
it promised.

## Who is hindered

People who hear the page or see only a piece of it at a time: they do not see at a glance where the part might be.

## What an editor does

Correct what stands behind the ``#``, or leave it out.

## What a template developer does

Keep the ids of headings when their words change.

## Wrong

    <a href="/fees/#no-such-part">Fees by day</a>

## Right

    <a href="/fees/#by-day">Fees by day</a>

## Left alone

``#`` and ``#top``; pages whose scripts may make the part.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import facts_of, states_of, target_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="links/dead-anchor",
    weight=Weight.OBSTACLE,
    criteria=(),
    needs=Needs.NETWORK,
    messages={"no-part": "The link to {target} asks for a part “{part}” that the page does not have."},
)
def dead_anchor(page: Page) -> Iterator[Flag]:
    """Yield every link to a part that its target page lacks."""
    for link, state in states_of(page, "works"):
        if state.fragment is not False:
            continue
        part = link.get("href").partition("#")[2].strip()
        yield failed(
            link, "no-part", target=target_of(link), part=part[:80], facts={**facts_of(link, state), "part": part},
            mends=(Mend("set-attribute", "Name a part that is on the page, or leave it out.", attribute="href"),),
        )  # fmt: skip
