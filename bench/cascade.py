"""The cascade held against the browser: computed values, and what they come to for contrast.

Each page is read by Chromium, its scripts shut off by a policy, and by ``core/style/cascade``; the
elements of both are compared one by one. Told are, by property, how many values agree where ours
is known, how many are in doubt, and by page set how fast ours is; then texts whose contrast both
judge. ``python -m bench.cascade [N] [FOLDER|ADDRESS …]``: N pages of each (default 40); folders
of HTML files, the address of a site with a sitemap, a theme of WordPress or a scheme of the
console (``light``, ``dark``); by default the documentation packages of the fixed list, what other
HTML with style sheets lies below /usr/share/doc, the demo, a made site, a WordPress with three
themes, and the console in both schemes. ``python -m bench.cascade generated [N]`` tries N pages
that nobody wrote (default 1,000).
"""

from __future__ import annotations

import asyncio
import random
import re
import sys
import tempfile
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass, field, replace
from pathlib import Path
from urllib.parse import quote, urljoin, urlsplit

import httpx
from playwright.async_api import Browser, Route, async_playwright

from bench.made_site import make_pages, write_site
from bench.pages import listed_pages
from bench.started_sites import CONSOLE, SCHEMES, THEMES, console, wordpress
from plumrake.core.colours import contrast
from plumrake.core.dom import Document, Element, Style
from plumrake.core.page import Page
from plumrake.core.style.cascade.conditions import Screen
from plumrake.core.style.cascade.drawn_in import drawn_in, is_quirky
from plumrake.core.style.cascade.styling import Styler
from plumrake.demo.server import make_server
from plumrake.demo.site import write_environment
from plumrake.demo.wordpress.server import CORE
from plumrake.lenses.markup import decode, parse_document
from plumrake.lenses.rendered.decode import decode_document
from plumrake.lenses.rendered.jail import find_browser
from plumrake.lenses.rendered.scripts import collecting
from tests.cascade.styled import same
from tests.cascade.test_generated import several

_PAGES, _GENERATED = 40, 1_000
_DOC = Path("/usr/share/doc")
_SHOWN = 4


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
    if given[:1] == ["generated"]:
        count = int(given[1]) if len(given) > 1 else _GENERATED
        found = asyncio.run(several(0, count))
        print(
            f"{count:,} made pages: {len(found)} values differ from the browser's", *found, sep="\n"
        )
        return
    most = int(given[0]) if given and given[0].isdigit() else _PAGES
    asyncio.run(_compare(most, [one for one in given if not one.isdigit()]))


async def _compare(most: int, places: list[str]) -> None:
    async with async_playwright() as driver:
        browser = await driver.chromium.launch(
            executable_path=find_browser(), args=["--no-sandbox"]
        )
        for name, served in _sets(places):
            told = Told()
            with served as pages:
                draw = random.Random(20).sample(pages, min(most, len(pages)))
                for page in draw:
                    await _one(browser, page, told)
            _print(name, told)
        await browser.close()


def _sets(places: list[str]) -> Iterator[tuple[str, AbstractContextManager[list[str]]]]:
    for place in places:
        if place in THEMES:
            yield f"WordPress, {place}", wordpress(place)
            continue
        if place in SCHEMES:
            yield f"console, {place}", console(place)
            continue
        yield place, _listed(place) if place.startswith("http") else _folder(Path(place))
    if places:
        return
    for name, (folder, pages) in listed_pages().items():
        yield name, _folder(folder, pages)
    yield "other packages", _folder(_DOC, _others())
    yield "demo", _demo()
    yield "made site", _made()
    for theme in THEMES:
        if (CORE / "wp-content/themes" / theme).is_dir():
            yield f"WordPress, {theme}", wordpress(theme)
        else:
            print(f"{theme} is not installed; apt-get install wordpress-theme-{theme}")
    if not (CONSOLE / "index.html").is_file():
        print("the console is not built; make console")
        return
    for scheme in SCHEMES:
        yield f"console, {scheme}", console(scheme)


def _others() -> list[Path]:
    """Return HTML files of packages that the fixed list has not, three of each."""
    known = {"git-doc", "python3.11", "apache2-doc"}
    found: list[Path] = []
    for package in sorted(_DOC.iterdir()):
        if package.name not in known and package.is_dir() and not package.is_symlink():
            pages = [one for one in sorted(package.rglob("*.html")) if not one.is_symlink()]
            found += random.Random(20).sample(pages, min(3, len(pages)))
    return found


@contextmanager
def _folder(folder: Path, pages: list[Path] | None = None) -> Iterator[list[str]]:
    server = make_server(folder, 0)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    base = f"http://127.0.0.1:{server.server_address[1]}/"
    files = pages if pages is not None else sorted(folder.rglob("*.html"))
    yield [base + quote(str(file.relative_to(folder))) for file in files]
    server.shutdown()


@contextmanager
def _listed(address: str) -> Iterator[list[str]]:
    """Give the pages of a site's sitemap, that of the demo if need be."""
    sitemap = httpx.get(urljoin(address, "/sitemap.xml"), follow_redirects=True).text
    pages = re.findall(r"<loc>\s*([^<]+?)\s*</loc>", sitemap)
    inner = [
        one
        for page in pages
        if page.endswith(".xml")
        for one in re.findall(r"<loc>\s*([^<]+?)\s*</loc>", httpx.get(page).text)
    ]
    yield inner or pages


@contextmanager
def _demo() -> Iterator[list[str]]:
    with tempfile.TemporaryDirectory(prefix="plr-demo-") as folder:
        write_environment("live", Path(folder), "http://127.0.0.1")
        with _folder(Path(folder)) as pages:
            yield pages


@contextmanager
def _made() -> Iterator[list[str]]:
    with tempfile.TemporaryDirectory(prefix="plr-made-") as folder:
        write_site(Path(folder), make_pages(240))
        with _folder(Path(folder)) as pages:
            yield pages


async def _without_scripts(route: Route) -> None:
    """Let a page come, and its scripts not run."""
    if route.request.resource_type != "document":
        await route.continue_()
        return
    answer = await route.fetch()
    headers = {**answer.headers, "content-security-policy": "script-src 'none'"}
    await route.fulfill(response=answer, headers=headers)


async def _one(browser: Browser, url: str, told: Told) -> None:
    answer = await asyncio.to_thread(httpx.get, url, follow_redirects=True)
    source = decode(answer.content, answer.charset_encoding)
    context = await browser.new_context(
        viewport={"width": 1280, "height": 800}, reduced_motion="reduce"
    )
    tab = await context.new_page()
    await tab.route("**/*", _without_scripts)
    await tab.goto(url, wait_until="load")
    collected = await tab.evaluate(*collecting(200_000))
    await context.close()
    theirs = decode_document(str(collected), url, source, most_elements=200_000)
    began = time.perf_counter()
    ours = parse_document(source, url)
    style(ours, url)
    told.seconds += time.perf_counter() - began
    pairs, name = list(_pairs(ours, theirs)), urlsplit(url).path
    if not pairs:
        told.skipped += 1
        return
    told.pages += 1
    for own, their in pairs:
        told.elements += 1
        _hold(own, their, name, told)
    styled = replace(ours, gives=ours.gives | {"style"})
    _hold_verdicts(styled, theirs, pairs, name, told)


_stylers: dict[tuple[object, ...], Styler] = {}
_sheets: dict[str, str | None] = {}


def style(document: Document, url: str) -> None:
    """Style a document with the sheets that it draws in."""
    texts: dict[str, str | None] = {}
    screen = Screen()
    while True:
        found = drawn_in(document, Page(document).base, texts, screen)
        if not found.missing:
            break
        for address in found.missing:
            if address not in _sheets:
                answer = httpx.get(address) if address.startswith("http://127.") else None
                has_one = answer is not None and answer.is_success
                _sheets[address] = answer.text if answer is not None and has_one else None
            texts[address] = _sheets[address]
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
    if their.style is not None and not their.style.font_size:
        return  # in a frameset nothing is computed
    if own.style is None or their.style is None:
        if (own.style is None) != (their.style is None):
            told.other["(rendered)"].append(f"{page} {own!r}: {own.style is not None}")
        return
    for name, mine, other in zip(Style._fields, own.style, their.style, strict=True):
        if own.certainty is not None and name in own.certainty.doubts:
            told.doubtful[name] += 1
        elif same(name, mine, other):
            told.same[name] += 1
        else:
            told.other[name].append(f"{page} {own!r}: {mine} | {other}")
    for name in ("before", "after", "placeholder"):
        mine, other = getattr(own, name), getattr(their, name)
        if mine == other:
            told.same[name] += 1
        else:
            told.other[name].append(f"{page} {own!r}: {mine!r} | {other!r}")


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
