"""The cascade held against the browser: computed values, and what they come to for contrast.

Each page is read by Chromium, its scripts shut off by a policy, and by ``core/style/cascade``; the
elements of both are compared one by one. Told are, by property, how many values agree where ours
is known, how many are in doubt, and by page set how fast ours is; then texts whose contrast both
judge. ``python -m bench.cascade [N] [FOLDER …]``: N pages of each folder (default 40); folders of
HTML files, by default the documentation packages of the fixed list, what other HTML with style
sheets lies below /usr/share/doc, and the console's own.
"""

from __future__ import annotations

import asyncio
import random
import sys
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any
from urllib.parse import quote, unquote, urlsplit

from playwright.async_api import Browser, async_playwright

from bench.pages import listed_pages
from plumrake.core.colours import NotAColour, contrast, parse
from plumrake.core.dom import Document, Element, Style
from plumrake.core.page import Page
from plumrake.core.style.cascade.conditions import Screen
from plumrake.core.style.cascade.drawn_in import drawn_in, is_quirky
from plumrake.core.style.cascade.styling import Styler
from plumrake.lenses.markup import decode, parse_document
from plumrake.lenses.rendered.decode import decode_document
from plumrake.lenses.rendered.jail import find_browser
from plumrake.lenses.rendered.scripts import collecting

_PAGES = 40
_SHOWN = 4
_COLOURS = frozenset(name for name in Style._fields if name.endswith("color")) | {
    "text_fill",
    "fill",
    "stroke",
}
_ROUGH = frozenset(["cursor", "z_index", "clip", "clip_path", "filter", "background_image"])
"""Properties of which only a part is read: what is left of the value after its first word counts
for nothing."""


@dataclass
class Told:
    """What came of the pages of one set."""

    pages: int = 0
    skipped: int = 0
    elements: int = 0
    seconds: float = 0.0
    same: Counter[str] = field(default_factory=Counter)
    doubtful: Counter[str] = field(default_factory=Counter)
    other: dict[str, list[str]] = field(default_factory=lambda: defaultdict(list))
    verdicts: Counter[str] = field(default_factory=Counter)
    shown: dict[str, list[str]] = field(default_factory=lambda: defaultdict(list))


def main() -> None:
    """Print what was compared, set by set."""
    given = sys.argv[1:]
    most = int(given[0]) if given and given[0].isdigit() else _PAGES
    folders = [Path(one) for one in given if not one.isdigit()]
    asyncio.run(_compare(most, folders))


async def _compare(most: int, folders: list[Path]) -> None:
    async with async_playwright() as driver:
        browser = await driver.chromium.launch(
            executable_path=find_browser(), args=["--no-sandbox"]
        )
        for name, root, pages in _sets(most, folders):
            told = Told()
            with _served(root) as address:
                for page in pages:
                    url = f"{address}/{quote(str(page.relative_to(root)))}"
                    await _one(browser, root, page, url, told)
            _print(name, told)
        await browser.close()


def _sets(most: int, folders: list[Path]) -> Iterator[tuple[str, Path, list[Path]]]:
    draw = random.Random(20)
    if folders:
        for folder in folders:
            pages = sorted(folder.rglob("*.html"))
            yield str(folder), folder, draw.sample(pages, min(most, len(pages)))
        return
    for name, (folder, pages) in listed_pages().items():
        yield name, folder, draw.sample(pages, min(most, len(pages)))


class _Handler(SimpleHTTPRequestHandler):
    """Serves files, and shuts scripts off."""

    def end_headers(self) -> None:
        """Add the policy."""
        self.send_header("Content-Security-Policy", "script-src 'none'")
        super().end_headers()

    def log_message(self, *_: Any) -> None:
        """Say nothing."""


class _served:  # noqa: N801
    def __init__(self, root: Path) -> None:
        self._server = ThreadingHTTPServer(("127.0.0.1", 0), partial(_Handler, directory=str(root)))

    def __enter__(self) -> str:
        threading.Thread(target=self._server.serve_forever, daemon=True).start()
        return f"http://127.0.0.1:{self._server.server_address[1]}"

    def __exit__(self, *_: object) -> None:
        self._server.shutdown()


async def _one(browser: Browser, root: Path, page: Path, url: str, told: Told) -> None:
    source = decode(page.read_bytes(), None)
    context = await browser.new_context(
        viewport={"width": 1280, "height": 800}, reduced_motion="reduce"
    )
    tab = await context.new_page()
    await tab.goto(url, wait_until="load")
    answer = await tab.evaluate(*collecting(200_000))
    await context.close()
    theirs = decode_document(str(answer), url, source, most_elements=200_000)
    began = time.perf_counter()
    ours = parse_document(source, url)
    style(ours, root, url)
    told.seconds += time.perf_counter() - began
    pairs = list(_pairs(ours, theirs))
    if not pairs:
        told.skipped += 1
        return
    told.pages += 1
    for own, their in pairs:
        told.elements += 1
        _hold(own, their, page.name, told)
    styled = replace(ours, gives=ours.gives | {"style"})
    _hold_verdicts(styled, theirs, pairs, page.name, told)


_stylers: dict[tuple[object, ...], Styler] = {}


def style(document: Document, root: Path, url: str) -> None:
    """Style a document with the sheets that lie below a folder."""
    texts: dict[str, str | None] = {}
    screen = Screen()
    while True:
        found = drawn_in(document, url, texts, screen)
        if not found.missing:
            break
        for address in found.missing:
            parts = urlsplit(address)
            path = root / unquote(parts.path).lstrip("/")
            is_own = parts.netloc == urlsplit(url).netloc and path.is_file()
            texts[address] = path.read_text("utf-8", "replace") if is_own else None
    quirky = is_quirky(document.source)
    key = (quirky, *((id(one.sheet), one.layer, one.doubt) for one in found.placed))
    if key not in _stylers:
        _stylers[key] = Styler(found.placed, screen, is_quirky=quirky)
    _stylers[key].style(document)


def _pairs(ours: Document, theirs: Document) -> Iterator[tuple[Element, Element]]:
    """Yield the elements of both in order; nothing where the trees differ."""
    own = [one for one in ours.elements if not _inside(one, "noscript", "template")]
    their = [one for one in theirs.elements if not _inside(one, "noscript", "template")]
    if [one.tag for one in own] == [one.tag for one in their]:
        yield from zip(own, their, strict=True)


def _inside(element: Element, *tags: str) -> bool:
    return element.closest(*tags) is not None


def _hold(own: Element, their: Element, page: str, told: Told) -> None:
    if own.style is None or their.style is None:
        if (own.style is None) != (their.style is None):
            told.other["(rendered)"].append(f"{page} {own!r}: {own.style is not None}")
        return
    for name, mine, other in zip(Style._fields, own.style, their.style, strict=True):
        if own.standing is not None and name in own.standing.doubts:
            told.doubtful[name] += 1
        elif _same(name, mine, other):
            told.same[name] += 1
        else:
            told.other[name].append(f"{page} {own!r}: {mine} | {other}")
    for name in ("before", "after", "placeholder"):
        mine, other = getattr(own, name), getattr(their, name)
        if mine == other:
            told.same[name] += 1
        else:
            told.other[name].append(f"{page} {own!r}: {mine!r} | {other!r}")


def _same(name: str, mine: str, other: str) -> bool:
    if mine == other:
        return True
    if name in _COLOURS:
        try:
            one, two = parse(mine), parse(other)
        except NotAColour:
            return False
        return all(abs(a - b) < 1 / 400 for a, b in zip(one, two, strict=True))
    if name in _ROUGH:
        return _begins(mine) == _begins(other)
    if name == "font_size":
        return abs(float(mine.removesuffix("px")) - float(other.removesuffix("px"))) < 0.02
    return False


def _begins(value: str) -> str:
    return value.partition("(")[0].partition(" ")[0]


def _judged(document: Document) -> dict[int, tuple[bool | None, str]]:
    """Return for each element with text of its own whether its contrast fails (None: cannot be
    told), and the colours."""
    found: dict[int, tuple[bool | None, str]] = {}
    for run, surface in Page(document).text_runs:
        fails = None
        said = ""
        if surface is not None:
            fails = contrast(surface.text, surface.background) < run.required(aaa=False)
            said = f"{surface.text.hex()} on {surface.background.hex()}"
        found[run.owner.index] = fails, said
    return found


def _hold_verdicts(
    ours: Document, theirs: Document, pairs: list[tuple[Element, Element]], page: str, told: Told
) -> None:
    mine, other = _judged(ours), _judged(theirs)
    for own, their in pairs:
        one, two = mine.get(own.index), other.get(their.index)
        if one is None and two is None:
            continue
        kind = _kind(one, two)
        told.verdicts[kind] += 1
        if kind in ("invented", "missed") or "we say" in kind:
            told.shown[kind].append(f"{page} {own!r}: {one} | {two} {their.text(40)!r}")


Verdict = tuple[bool | None, str] | None


def _kind(one: Verdict, two: Verdict) -> str:
    """Return how two verdicts on a text stand to each other; None: it is not seen."""
    if one is not None and one[0] is None:
        return "in doubt, fails" if two and two[0] else "in doubt"
    mine = one is not None and bool(one[0])
    if two is not None and two[0] is None:
        return "pixels in the browser" + (", we say it fails" if mine else "")
    if mine == (two is not None and bool(two[0])):
        return "fails in both" if mine else "passes in both"
    return "invented" if mine else "missed"


def _print(name: str, told: Told) -> None:
    pace = told.pages / told.seconds if told.seconds else 0.0
    print(
        f"\n{name}: {told.pages} pages, {told.skipped} with another tree, {told.elements:,} "
        f"elements, {pace:.0f} pages/s a core"
    )
    for prop in (*Style._fields, "before", "after", "placeholder", "(rendered)"):
        others = told.other.get(prop, [])
        known = told.same[prop] + len(others)
        if others or told.doubtful[prop]:
            share = 100 * told.same[prop] / known if known else 0.0
            print(f"  {prop}: {share:.3f} % of {known:,}; {told.doubtful[prop]:,} in doubt")
            for one in random.Random(1).sample(others, min(_SHOWN, len(others))):
                print(f"      {one[:200]}")
    print("  texts:", ", ".join(f"{kind} {n:,}" for kind, n in told.verdicts.most_common()))
    for kind, rows in told.shown.items():
        for row in random.Random(1).sample(rows, min(_SHOWN, len(rows))):
            print(f"      {kind}: {row[:200]}")


if __name__ == "__main__":
    main()
