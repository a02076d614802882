"""How far text and background colours agree with the pixels of a screenshot, on plain backgrounds.

Of every page of the list a few runs of text are taken at even distances. A run agrees when the
commonest colour in the box of its widest line is its background, every other pixel lies between
background and text colour, and some pixel comes near the text colour (smoothed type seldom reaches
it).
"""

from __future__ import annotations

import asyncio
import io
from collections import Counter
from typing import Any

from PIL import Image

from bench.pages import listed_pages
from bench.tabs import browser, page_in, shown
from plumrake.core.geometry import Box
from plumrake.core.page import Page
from plumrake.core.style.background import Surface
from plumrake.core.style.runs import Run
from plumrake.lenses.reader import PageReader
from plumrake.lenses.rendered.browser import Tab
from plumrake.lenses.rendered.shots import shot

EACH = 2
_TALLEST, _LEAST_WIDE = 8000, 30


def main() -> None:
    """Print how many of the sampled runs agree, and those that do not."""
    asyncio.run(_main())


async def _main() -> None:
    sampled, agreed, told = 0, 0, []
    async with browser() as pool, PageReader("markup") as reader:
        for folder, files in listed_pages().values():
            for file in files:
                fetched = await reader._fetch_file(file, folder, None, {})
                async with shown(pool, fetched) as tab:
                    page = await page_in(tab)
                    for run, surface in _sample(page):
                        sampled += 1
                        why = await _differs(tab, run, surface)
                        agreed += why is None
                        if why is not None:
                            told.append(f"{file.name} {page.selector_of(run.owner)[:70]}: {why}")
    print(
        f"{sampled} runs of text sampled, {agreed} agree with the pixels "
        f"({100 * agreed / max(1, sampled):.1f} %)"
    )
    for line in told[:20]:
        print("  ", line)


def _sample(page: Page) -> list[tuple[Run, Surface]]:
    known = [
        (run, surface)
        for run, surface in page.text_runs
        if surface is not None and len(run.text.strip()) > 6
    ]
    usable = [
        (run, surface)
        for run, surface in known
        if _widest(run)[1] < _TALLEST and _widest(run)[2] > _LEAST_WIDE and _widest(run)[0] >= 0
    ]
    step = max(1, len(usable) // EACH)
    return usable[::step][:EACH]


def _widest(run: Run) -> Box:
    return max(run.lines, key=lambda line: line[2])


async def _differs(tab: Tab, run: Run, surface: Surface) -> str | None:
    x, y, width, height = _widest(run)
    picture = await shot(
        tab, (round(x) + 1, round(y) + 1, round(width) - 2, max(1, round(height) - 2))
    )
    with Image.open(io.BytesIO(picture)) as opened:
        data: Any = opened.convert("RGB").get_flattened_data()
    pixels: Counter[tuple[int, ...]] = Counter(data)
    text, ground = (
        tuple(round(255 * part) for part in colour[:3])
        for colour in (surface.text, surface.background)
    )
    common = pixels.most_common(1)[0][0]
    if max(abs(a - b) for a, b in zip(common, ground, strict=True)) > 1:
        return f"commonest pixel {common}, background {ground}"
    span = [a - b for a, b in zip(text, ground, strict=True)]
    length = sum(part * part for part in span) or 1
    nearest = 0.0
    for pixel in pixels:
        offset = [a - b for a, b in zip(pixel, ground, strict=True)]
        share = sum(a * b for a, b in zip(offset, span, strict=True)) / length
        nearest = max(nearest, share)
        rest = max(abs(a - share * b) for a, b in zip(offset, span, strict=True))
        if rest > 12 and pixels[pixel] > 2:
            return f"pixel {pixel} is no mixture of {text} and {ground}"
    return None if 0.5 <= nearest <= 1.1 else f"type reaches {nearest:.2f} of the way to {text}"


if __name__ == "__main__":
    main()
