"""Shots of parts of a page as pixels."""

from __future__ import annotations

import base64

from plumrake.lenses.rendered.browser import Tab


async def shot(tab: Tab, clip: tuple[float, float, float, float], scale: int = 1) -> bytes:
    """Return a part of the page (x, y, width, height in CSS px of the page) as PNG, ``scale``
    pixels per CSS px."""
    area = dict(zip(("x", "y", "width", "height"), clip, strict=True)) | {"scale": scale}
    answer = await tab.send(
        "Page.captureScreenshot",
        {"format": "png", "clip": area, "captureBeyondViewport": True, "optimizeForSpeed": True},
    )
    return base64.b64decode(answer["data"])
