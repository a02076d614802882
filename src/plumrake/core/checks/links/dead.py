"""A link leads nowhere.

Whoever follows it finds an error. The address answers that there is no such page, its host does not
exist, or it cannot work as it is written.

## Who is hindered

Everybody; most of all people who pay for each step with effort, by keyboard, switch or voice.

## What an editor does

Correct the address, or take the link away. Where the page is only in staging, publish it first, or
both together.

## What a template developer does

Correct the address in the template; have old addresses lead on with a redirect.

## Wrong

    <a href="/gone/">Winter timetable</a>

## Right

    <a href="/boating/">Boating</a>

## Left alone

What cannot be told: closed to strangers, too busy, too slow (that is ``links/not-verifiable``);
parts of a page that are not there (``links/dead-anchor``).
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import facts_of, states_of, target_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="links/dead",
    weight=Weight.BARRIER,
    criteria=(),
    needs=Needs.NETWORK,
    messages={
        "dead": "The link to {target} leads nowhere: {reason}.",
        "only-in-staging": (
            "The link to {target} works in staging alone: on the live site {reason}."
        ),
    },
)
def dead(page: Page) -> Iterator[Flag]:
    """Yield every link whose target is not there."""
    for link, state in states_of(page, "dead", "only-in-staging"):
        yield failed(
            link,
            state.state,
            target=target_of(link),
            reason=state.says,
            facts=facts_of(link, state),
            mends=(
                Mend("set-attribute", "Correct the address of the link.", attribute="href"),
                Mend("unwrap", "Or take the link away, and keep its words."),
            ),
        )
