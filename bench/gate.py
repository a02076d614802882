"""The gate's answer for a draft of a typical page of the demo, warm: through either lens, beside
the browser's bare load of that page.

``python -m bench.gate [TIMES]``. Service, worker, database and the demo site run for this alone;
times are those of the whole answer over HTTP.
"""

from __future__ import annotations

import statistics
import sys
import time

from playwright.sync_api import sync_playwright

from bench.service import demo_site, running
from plumrake.lenses.rendered.jail import find_browser

PATH = "/visit/towpath/"


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
                )  # type: ignore[arg-type]
                spent.append(time.perf_counter() - start)
                assert answer.state == "answered"
            median = statistics.median(spent[3:])
            print(
                f"  {lens:<9} {median * 1000:6.0f} ms at the median, "
                f"{max(spent[3:]) * 1000:.0f} ms at most, {median / bare:.1f} × the bare load"
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
