"""Where a link leads cannot be told.

The address gave no answer that says whether the page is there: it wants a sign-in, is too busy, too
slow, or answers with an error of its own.

## Who is hindered

Perhaps nobody: a person has to try it.

## What an editor does

Open the link once, and say that it is fine, or correct it.

## What a template developer does

Nothing, unless the site itself answers so.

## Wrong

    <a href="https://other.invalid/busy/">Members of the society</a>

## Right

    <a href="/boating/">Boating</a>

## Left alone

Links that work, and links that are dead.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import facts_of, states_of, target_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="links/not-verifiable",
    weight=Weight.FRICTION,
    criteria=(),
    needs=Needs.NETWORK,
    only_people="Somebody has to open the link and look.",
    messages={"unknown": "Where the link to {target} leads cannot be told: {reason}."},
    questions={"unknown": "Does the link lead to what it says?"},
)
def not_verifiable(page: Page) -> Iterator[Flag]:
    """Yield every link whose target gave no answer that says whether it is there."""
    for link, state in states_of(page, "unknown"):
        yield cant_tell(
            link,
            "unknown",
            target=target_of(link),
            reason=state.says,
            facts=facts_of(link, state),
            mends=(
                Mend("advice", "Open the link and see; judge it fine, or correct its address."),
            ),
        )
