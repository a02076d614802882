"""A link leads to the staging site.

The address was copied while the page was being made ready. Visitors cannot reach that host, or they see what is not meant for
them yet.

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
    """Yield every link that names a host of the staging edition."""
    network = page.document.network
    hosts = {urlsplit(origin).netloc.casefold() for origin in network.staging} if network is not None else set()
    for link in page.exposed(role="link"):
        try:
            parts = urlsplit(link.get("href").strip())
        except ValueError:
            continue
        if not parts.netloc or parts.netloc.casefold() not in hosts:
            continue
        path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "") + (f"#{parts.fragment}" if parts.fragment else "")
        yield failed(
            link, "staging", target=target_of(link), facts={"target": target_of(link), "host": parts.netloc},
            mends=(Mend("set-attribute", "Write the address without its host.", attribute="href", value=path),),
        )  # fmt: skip
