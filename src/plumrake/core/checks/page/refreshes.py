"""The page loads itself anew.

After some time the page is taken away while somebody is still reading or writing in it.

## Who is hindered

People who read slowly or listen, people with magnification, and everybody in the middle of a form.

## What an editor does

Tell whoever keeps the templates. For a page that has moved, ask for a redirect.

## What a template developer does

Redirect on the server, or at once (0 seconds). For news that come in, offer a button or announce
them by script.

## Wrong

    <html lang="en"><head><meta http-equiv="refresh" content="30"></head><body></body></html>

## Right

    <html lang="en"><head><meta http-equiv="refresh" content="0;
      url=/moorings/"></head><body></body></html>

## Left alone

Redirects at once, and times over 20 hours.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_MOST = 72_000


@check(
    id="page/refreshes",
    weight=Weight.OBSTACLE,
    criteria=("2.2.1",),
    needs=Needs.TREE,
    act_rule="bc659a",
    messages={
        "anew": "The page loads anew after {seconds} seconds.",
        "elsewhere": "After {seconds} seconds the page leads to {target} by itself.",
    },
)
def refreshes(page: Page) -> Iterator[Flag]:
    """Yield the first ``meta refresh`` that is valid when its time is from 1 second to 20 hours."""
    for meta in page.elements:
        if meta.tag != "meta" or meta.get("http-equiv").strip().lower() != "refresh":
            continue
        match = re.match(
            r"\s*(\d+)(?:\.[\d.]*)?(?:\s*[;,]\s*|\s+|$)(?:url\s*=\s*)?[\"']?(.*?)[\"']?\s*$",
            meta.get("content"),
            re.IGNORECASE,
        )
        if match is None:
            continue
        seconds, target = int(match.group(1)[:9]), match.group(2)
        if 1 <= seconds <= _MOST:
            mend = Mend("remove-element", "Take it away; redirect on the server instead.")
            facts = {"seconds": seconds, "target": target or None}
            yield failed(
                meta,
                "elsewhere" if target else "anew",
                seconds=seconds,
                target=shortened(target),
                facts=facts,
                mends=(mend,),
            )
        return
