"""The console on a service with a million findings: first views cold, moves between views warm,
scrolling, size of its scripts.

``python -m bench.console [FINDINGS] [FIXES]``. Times are those of headless Chromium from the start
of the navigation (or the key) until the view's last part is painted, medians; beside each stands
the ratio to a bare page of the same service (its health answer), loaded in the same run.
"""

from __future__ import annotations

import gzip
import re
import statistics
import sys
import time
from collections.abc import Callable
from importlib.resources import files
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from bench.made_fixes import SITE, fill
from bench.service import EMAIL, PASSWORD, running
from plumrake.lenses.rendered.jail import find_browser

_PER_PAGE = 100
_TIMES = 7
VIEWS = {
    "overview": (f"/sites/{SITE}", "main .weights"),
    "causes": (f"/sites/{SITE}/causes", "main li"),
    "findings": (f"/sites/{SITE}/findings", "main li"),
    "pages": (f"/sites/{SITE}/pages", "main li"),
    "fixes": (f"/sites/{SITE}/fixes", "main .line"),
    "board": (f"/sites/{SITE}/board", "main .ticket"),
}
KEYS = {
    "causes": "g c",
    "findings": "g i",
    "pages": "g p",
    "fixes": "g f",
    "board": "g b",
    "overview": "g o",
}
_FRAMES = """() => new Promise((done) => {
  const gaps = []; let last = performance.now(), at = 0;
  const step = (now) => {
    gaps.push(now - last); last = now; at += 1; scrollBy(0, 120);
    at < 240 ? requestAnimationFrame(step) : done(gaps.slice(1));
  };
  requestAnimationFrame(step);
})"""


def main(findings: int = 1_000_000, fixes: int = 50_000) -> None:
    """Print the sizes, the times of each view cold and warm, and the gaps between frames while
    scrolling."""
    _sizes()
    with running(workers=0) as service, sync_playwright() as playwright:
        fill(
            service.database,
            pages=findings // _PER_PAGE,
            per_page=_PER_PAGE,
            causes=fixes,
            people=50,
            live=False,
        )
        print(f"{findings:,} findings, {fixes:,} fixes")
        browser = playwright.chromium.launch(executable_path=find_browser())
        server = service.rake.server

        def fresh() -> Page:
            context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=server)
            context.request.post("/api/v1/session", data={"email": EMAIL, "password": PASSWORD})
            return context.new_page()

        bare = _median(lambda: _cold(fresh(), "/health/live", "body"))
        print(f"  bare answer in the browser, cold: {bare * 1000:.0f} ms")
        for name, (place, there) in VIEWS.items():
            seconds = _median(lambda place=place, there=there: _cold(fresh(), place, there))  # type: ignore[misc]
            print(
                f"  {name:<10} cold {seconds * 1000:6.0f} ms ({seconds / bare:4.1f} × the "
                "bare answer)"
            )
        page = fresh()
        page.goto(VIEWS["overview"][0])
        page.locator(VIEWS["overview"][1]).first.wait_for()
        for name, keys in [*KEYS.items(), *KEYS.items()][: len(KEYS)]:
            _warm(page, keys, VIEWS[name][1])
        for name, keys in KEYS.items():
            seconds = statistics.median(
                _warm_from_elsewhere(page, name, keys) for _ in range(_TIMES)
            )
            print(f"  {name:<10} warm {seconds * 1000:6.0f} ms")
        for name in ("findings", "causes", "fixes"):
            page.goto(VIEWS[name][0])
            page.locator(VIEWS[name][1]).first.wait_for()
            page.wait_for_timeout(800)
            gaps = sorted(page.evaluate(_FRAMES))
            print(
                f"  scrolling {name}: {len(gaps)} frames, median "
                f"{statistics.median(gaps):.1f} ms, longest {gaps[-1]:.1f} ms, over 50 ms: "
                f"{sum(gap > 50 for gap in gaps)}"
            )
        browser.close()


def _sizes() -> None:
    folder = Path(str(files("plumrake.service"))) / "console"
    index = (folder / "index.html").read_text()
    first = re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', index)
    size = sum(len(gzip.compress((folder / name).read_bytes())) for name in first)
    print(f"initial JavaScript: {len(first)} files, {size / 1000:.0f} kB compressed")


def _median(measure: Callable[[], float]) -> float:
    return statistics.median(measure() for _ in range(_TIMES))


def _cold(page: Page, place: str, there: str) -> float:
    start = time.perf_counter()
    page.goto(place, wait_until="commit")
    page.locator(there).first.wait_for()
    seconds = time.perf_counter() - start
    page.context.close()
    return seconds


def _warm(page: Page, keys: str, there: str) -> float:
    page.locator("main").evaluate("element => element.focus()")
    first, second = keys.split()
    page.keyboard.press(first)
    start = time.perf_counter()
    page.keyboard.press(second)
    page.locator(there).first.wait_for()
    return time.perf_counter() - start


def _warm_from_elsewhere(page: Page, name: str, keys: str) -> float:
    other = "g y" if name != "overview" else "g c"
    _warm(page, other, "main form" if other == "g y" else VIEWS["causes"][1])
    page.wait_for_timeout(150)
    return _warm(page, keys, VIEWS[name][1])


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
