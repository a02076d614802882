"""A link leads to the staging site.

The address was copied while the page was being made ready. Visitors cannot reach that host, or they
see what is not meant for them yet.

## Who is hindered

Everybody who follows it.

## What an editor does

Write the address without its host: ``/fees/`` instead of ``https://staging.example.org/fees/``.

## What a template developer does

Print addresses relative to the site.

## Wrong

    <a href="http://staging.case.invalid/fees/">Fees</a>

## Right

    <a href="/fees/">Fees</a>

## Left alone

Addresses that are relative, wherever the page stands.
"""

from __future__ import annotations

from collections.abc import Iterator
from urllib.parse import urlsplit

from plumrake.core.addresses import normalised, origin
from plumrake.core.checks.links.shared import target_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="links/staging-address",
    weight=Weight.BARRIER,
    criteria=(),
    needs=Needs.NETWORK,
    messages={"staging": "The link to {target} leads to the staging site."},
)
def staging_address(page: Page) -> Iterator[Flag]:
    """Yield every link that names a host of the staging environment."""
    network = page.evidence.network
    staging = {normalised(one).rstrip("/") for one in network.staging} if network else set()
    for link in page.exposed(role="link"):
        whole = page.resolved(link.get("href")) if link.get("href").strip() else None
        if whole is None or not _names_a_host(link.get("href")) or origin(whole) not in staging:
            continue
        path, host = whole.removeprefix(origin(whole)), urlsplit(whole).netloc
        yield failed(
            link,
            "staging",
            target=target_of(link),
            facts={"target": target_of(link), "host": host},
            mends=(
                Mend(
                    "set-attribute",
                    "Write the address without its host.",
                    attribute="href",
                    value=path,
                ),
            ),
        )


def _names_a_host(written: str) -> bool:
    """Tell whether an address as written names its host, so that it leads there from everywhere."""
    text = written.strip().replace("\\", "/")
    return text.startswith("//") or "://" in text.partition("?")[0].partition("#")[0]
