"""What the pictures of a page are known by: hashes of their files as the browser holds them."""

from __future__ import annotations

import asyncio
import base64
import hashlib

from playwright.async_api import Error

from plumrake.core.page import Page
from plumrake.lenses.rendered.browser import Tab
from plumrake.net.shared_files import SharedFiles

_MOST = 400


async def identify_pictures(tab: Tab, page: Page, shared: SharedFiles) -> dict[int, str]:
    """Return the hash of each picture's file by the index of its element; what the browser cannot
    give is left out."""
    pictures = [
        one
        for one in page.elements
        if one.tag == "img" or (one.tag == "input" and one.get("type").strip().lower() == "image")
    ]
    pictures = pictures[:_MOST]
    if not pictures:
        return {}
    sources: list[str] = await tab.run("sources.js", [element.index for element in pictures])
    hashes = dict(
        zip(
            sources,
            await asyncio.gather(*(_hash(tab, source, shared) for source in sources)),
            strict=True,
        )
    )
    return {
        element.index: found
        for element, source in zip(pictures, sources, strict=True)
        if (found := hashes[source]) is not None
    }


async def _hash(tab: Tab, source: str, shared: SharedFiles) -> str | None:
    if not source:
        return None
    if source.startswith("data:"):
        return hashlib.sha256(source.encode()).hexdigest()
    if (kept := shared.hashes.get(source)) is not None:
        return kept
    try:
        answer = await tab.resource(source)
    except Error:
        return None
    content = (
        base64.b64decode(answer["content"])
        if answer["base64Encoded"]
        else answer["content"].encode()
    )
    found = hashlib.sha256(content).hexdigest()
    shared.remember(shared.hashes, source, found)
    return found
