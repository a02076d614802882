"""What the pictures of a page are known by: hashes of their files as the browser holds them."""

from __future__ import annotations

import asyncio
import base64
import hashlib

from playwright.async_api import Error

from plumrake.lenses.rendered.browser import Tab
from plumrake.net.shared_files import SharedFiles, hash_of_data


async def identify_pictures(tab: Tab, images: list[int], shared: SharedFiles) -> dict[int, str]:
    """Return the hash of each picture's file by the index of its element; what the browser cannot
    give is left out."""
    if not images:
        return {}
    sources: list[str] = await tab.run("sources.js", images)
    found = await asyncio.gather(*(_hash(tab, source, shared) for source in sources))
    return {
        index: content for index, content in zip(images, found, strict=True) if content is not None
    }


async def _hash(tab: Tab, source: str, shared: SharedFiles) -> str | None:
    if not source:
        return None
    if (of_data := hash_of_data(source)) is not None:
        return of_data
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
