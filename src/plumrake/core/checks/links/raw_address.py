"""A link is called by its address.

A long address read aloud is a string of letters, dots and slashes. It seldom says what is there.

## Who is hindered

People who listen to the page, and people who find long strings of signs hard to read.

## What an editor does

Put into the link what its target is called: its title, or the organisation's name.

## What a template developer does

Where addresses are turned into links by themselves, let editors set a text.

## Wrong

    <p>See <a href="https://canal.example/boating/moorings/winter">https://canal.example/boating/moorings/winter</a>.</p>

## Right

    <p>See <a href="https://canal.example/boating/moorings/winter">winter moorings</a>.</p>

## Left alone

Addresses of up to 20 characters ("canal.example"), e-mail addresses and telephone numbers.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.checks.links.shared import target_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import shortened

_LONGEST = 20
_URL = re.compile(r"(?:[a-z][a-z0-9+.-]*://|www\.)\S+", re.IGNORECASE)
_BARE = re.compile(
    r"(?:[a-z0-9](?:[a-z0-9-]*[a-z0-9])?\.)+([a-z]{2,24})(?::\d+)?(/\S*)?", re.IGNORECASE
)
_ENDINGS = frozenset(
    (
        "com org net edu gov mil int info biz name io dev app eu example test museum travel coop "
        "online site shop blog cymru wales scot london"
    ).split()
)
_ALSO_FILES = frozenset(["py", "pl", "rs", "sh", "so", "md", "js", "ts", "cc", "ps", "ai", "gz"])


@check(
    id="links/raw-address",
    weight=Weight.FRICTION,
    criteria=("2.4.4",),
    needs=Needs.TREE,
    parameters={"longest": _LONGEST},
    messages={"address": "The link is called by its address, “{name}”."},
)
def raw_address(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every link whose name is a URL or a domain with path of more than ``longest``
    characters."""
    for link in page.exposed(role="link"):
        name = page.name_of(link)
        if len(name) > options["longest"] and _is_address(name):
            yield failed(
                link,
                "address",
                name=shortened(name),
                facts={"name": name, "target": target_of(link), "length": len(name)},
                mends=(Mend("replace-text", "Write what the target is called."),),
            )


def _is_address(name: str) -> bool:
    if _URL.fullmatch(name):
        return True
    match = _BARE.fullmatch(name.rstrip(".,;"))
    if match is None:
        return False
    ending, path = match.group(1).lower(), match.group(2)
    return ending in _ENDINGS or (
        len(ending) == 2 and (path is not None or ending not in _ALSO_FILES)
    )
