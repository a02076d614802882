"""Pages in the browser alone, as the collector sees them, for benches that compare with it."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from plumrake.core.page import Page
from plumrake.lenses.markup import decode
from plumrake.lenses.rendered.browser import BrowserPool, Tab, TabKind
from plumrake.lenses.rendered.decode import decode_document
from plumrake.net.fetch import Fetched, Limits
from plumrake.net.guard import Guard
from plumrake.net.proxy import GuardProxy

MOST = 200_000


@asynccontextmanager
async def browser() -> AsyncIterator[BrowserPool]:
    """Have a browser that reaches no network."""
    async with GuardProxy(Guard(()), Limits().bytes) as proxy, BrowserPool(proxy) as pool:
        yield pool


@asynccontextmanager
async def shown(pool: BrowserPool, fetched: Fetched) -> AsyncIterator[Tab]:
    """Have a page loaded in a tab."""
    async with pool.tab(TabKind(has_network=False)) as tab:
        html = decode(fetched.body, fetched.charset).encode("utf-8", "replace")
        await tab.load(fetched, html, 20)
        yield tab


async def page_in(tab: Tab) -> Page:
    """Return the page that a tab shows."""
    return Page(decode_document(await tab.collect(30, MOST), "page", "", most_elements=MOST))
