"""Pictures of a page in its own layout as people meet it: narrow, with larger text, with wider
spacing, with the mark of each stop of Tab."""

from __future__ import annotations

import asyncio
import io
import time

from PIL import Image
from playwright.async_api import Error

from plumrake.lenses.read_options import DrawnAs
from plumrake.lenses.rendered.browser import Tab
from plumrake.lenses.rendered.shots import shot

NARROW = 320, 640
"""CSS px: what 1280 px are at 400 % (WCAG 2.2, 1.4.10)."""
TALLEST = 12_000
_MOST_STOPS = 80
_AROUND = 12
"""CSS px around a stop that belong to its mark."""
_WIDEST = 2560

_Cut = tuple[bytes, tuple[int, int]]


async def draw(tab: Tab, drawn_as: DrawnAs, seconds: float) -> bytes | None:
    """Return the page's picture as JPEG, drawn as is wanted; None where the browser does not manage
    it in time."""
    end = time.monotonic() + seconds
    try:
        async with asyncio.timeout(seconds):
            if drawn_as == "narrow":
                await tab.set_size(*NARROW)
            elif drawn_as in ("enlarged", "spaced"):
                await tab.run("trials.js", drawn_as)
            elif drawn_as == "focus":
                await tab.run("trials.js", "still")
    except (Error, TimeoutError):
        return None
    picture = await tab.picture(max(1.0, end - time.monotonic()), TALLEST)
    if picture is None or drawn_as != "focus":
        return picture
    cuts = await _marks(tab, end)
    return await asyncio.to_thread(_with_cuts, picture, cuts)


async def _marks(tab: Tab, end: float) -> list[_Cut]:
    """Return a shot of each stop of Tab while it has the focus, and where it lies on the page; as
    many as there is time for."""
    cuts: list[_Cut] = []
    seen: set[int] = set()
    try:
        while len(cuts) < _MOST_STOPS:
            async with asyncio.timeout(max(0.0, end - time.monotonic())):
                await tab.press("Tab", 1)
                stop = await tab.run("walk.js", ["stop", None])
                if stop is None or stop["index"] in seen:
                    break
                seen.add(stop["index"])
                x, y, width, height = stop["place"]
                left, top = max(0.0, x - _AROUND), max(0.0, y - _AROUND)
                wide = min(x + width + _AROUND, _WIDEST) - left
                high = min(y + height + _AROUND, TALLEST) - top
                if width >= 1 and height >= 1 and wide >= 1 and high >= 1:
                    left, top = int(left), int(top)
                    cuts.append((await shot(tab, (left, top, wide, high)), (left, top)))
    except (Error, TimeoutError):
        pass
    return cuts


def _with_cuts(picture: bytes, cuts: list[_Cut]) -> bytes:
    with Image.open(io.BytesIO(picture)) as opened:
        whole = opened.convert("RGB")
    for content, at in cuts:
        with Image.open(io.BytesIO(content)) as cut:
            whole.paste(cut.convert("RGB"), at)
    out = io.BytesIO()
    whole.save(out, "JPEG", quality=70)
    return out.getvalue()
