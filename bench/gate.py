"""The gate's answer for a draft of a typical page of the demo, warm: through either lens, beside
the browser's bare load of that page; and for a draft without a fault of a page of a made site, of
which the browser has shown all that it is made of.

``python -m bench.gate [TIMES]``. Service, worker, database and the demo site run for this alone;
times are those of the whole answer over HTTP.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from pathlib import Path

from playwright.sync_api import sync_playwright

from bench.made_site import make_pages, write_site
from bench.patterns import site
from bench.service import demo_site, running
from plumrake.lenses.rendered.jail import find_browser

PATH = "/visit/towpath/"
_MADE = 48


def main(times: int = 15) -> None:
    """Print the medians, and the rendered answer as a ratio to the bare load."""
    with running(workers=1) as service, demo_site(service.rake, "bench") as (folder, origin):
        sweep = service.rake.sweeps.start("bench", section="/visit/")
        assert list(service.rake.sweeps.follow(sweep.id))[-1].kind == "done"
        page = (folder / PATH.strip("/") / "index.html").read_text()
        bare = bare_load(origin + PATH, times)
        print(f"  bare load in the browser: {bare * 1000:.0f} ms")
        for lens in ("markup", "rendered"):
            spent = []
            for number in range(times + 3):
                start = time.perf_counter()
                answer = service.rake.gate.ask(
                    "bench",
                    PATH,
                    document=page.replace("</article>", f"<p>Number {number}.</p></article>"),
                    lens=lens,
                )
                spent.append(time.perf_counter() - start)
                assert answer.state == "answered"
            median = statistics.median(spent[3:])
            print(
                f"  {lens:<9} {median * 1000:6.0f} ms at the median, "
                f"{max(spent[3:]) * 1000:.0f} ms at most, {median / bare:.1f} × the bare load"
            )
    known(times)


def known(times: int) -> None:
    """Print the median for drafts that are made of what is known."""
    with tempfile.TemporaryDirectory(prefix="plr-made-") as folder:
        pages = make_pages(_MADE)
        write_site(Path(folder), pages)
        with running(workers=1) as service, site(service, folder, {"tried-anyway": 1000}) as slug:
            sweep = service.rake.sweeps.start(slug)
            assert list(service.rake.sweeps.follow(sweep.id))[-1].kind == "done"
            page = next(one for one in pages if one.slip is None)
            spent, by_source = [], 0
            for number in range(times + 3):
                start = time.perf_counter()
                answer = service.rake.gate.ask(
                    slug,
                    page.path + "index.html",  # as the folder's sweep found it
                    document=page.html.replace("</p></main>", f" Number {number}.</p></main>"),
                )
                spent.append(time.perf_counter() - start)
                by_source += any(one["check"] == "keyboard/trap" for one in answer.untested)
            print(
                f"  a draft of what is known: {statistics.median(spent[3:]) * 1000:.0f} ms at the "
                f"median, {max(spent[3:]) * 1000:.0f} ms at most; {by_source} of {times + 3} were "
                f"answered by their source ({answer.decision})"
            )


def bare_load(address: str, times: int) -> float:
    """Return the median of the seconds that the browser takes to load a page."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=find_browser())
        spent = []
        for _ in range(times):
            tab = browser.new_page()
            start = time.perf_counter()
            tab.goto(address, wait_until="load")
            spent.append(time.perf_counter() - start)
            tab.close()
        browser.close()
    return statistics.median(spent)


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
