"""The gate's answer for a draft of a typical page of the demo, warm: through either lens, beside
the browser's bare load of that page.

``python -m bench.gate [TIMES]``. Service, worker, database and the demo site run for this alone;
times are those of the whole answer over HTTP.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import threading
import time
from pathlib import Path

from playwright.sync_api import sync_playwright

from bench.service import running
from plumrake import models
from plumrake.demo.server import make_server
from plumrake.demo.site import write_environment
from plumrake.lenses.rendered.jail import find_browser

PATH = "/visit/towpath/"


def main(times: int = 15) -> None:
    """Print the medians, and the rendered answer as a ratio to the bare load."""
    with tempfile.TemporaryDirectory() as folder, running(workers=1) as service:
        server = make_server(Path(folder), 0)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        origin = f"http://127.0.0.1:{server.server_address[1]}"
        write_environment("live", Path(folder), origin)
        service.rake.sites.add(
            models.NewSite(
                slug="bench", name="Bench", live_address=f"{origin}/", private_leave=True
            )
        )
        sweep = service.rake.sweeps.start("bench", section="/visit/")
        assert list(service.rake.sweeps.follow(sweep.id))[-1].kind == "done"
        page = (Path(folder) / PATH.strip("/") / "index.html").read_text()
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
        server.shutdown()


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
