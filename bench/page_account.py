"""Where the CPU time of a page goes in a rendered sweep, by process.

The sweep is the whole of it (service, queue, worker, browser, checks, pictures, PostgreSQL) over a
made site of twelve templates with small pages, on loopback. Whoever changes the engine prints this
before and after: ``python -m bench.page_account [PAGES]``.
"""

from __future__ import annotations

import contextlib
import os
import sys
import tempfile
import threading
from collections import defaultdict
from pathlib import Path

import psutil

from bench.made_site import make_pages, write_site
from bench.rendered_pace import swept
from bench.service import running
from plumrake.demo.server import make_server

_PAGES = 96
_EVERY_SECONDS = 0.15
_OF_THE_BROWSER = {
    "--type=renderer": "renderer",
    "--type=gpu-process": "gpu",
    "--type=utility": "network",
    "--type=zygote": "zygote",
    "--headless": "browser",
}
_KINDS = {
    "tesseract": "recognition",
    "forkserver": "assessors",
    "playwright": "driver",
    "plumrake worker": "worker",
    "plumrake serve": "service",
    "postgres": "database",
}


def main() -> None:
    """Print pages per second, and CPU milliseconds a page by process."""
    pages = make_pages(int(sys.argv[1]) if len(sys.argv) > 1 else _PAGES)
    with tempfile.TemporaryDirectory(prefix="plr-made-") as folder, running() as service:
        write_site(Path(folder), pages)
        server = make_server(Path(folder), 0)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        origin = f"http://127.0.0.1:{server.server_address[1]}"
        with Account() as account:
            pace, _ = swept(service, "made-site", origin, [page.path for page in pages])
        server.shutdown()
    most_first = sorted(account.spent.items(), key=lambda one: -one[1])
    spent = {kind: 1000 * seconds / len(pages) for kind, seconds in most_first}
    print(f"{pace:.1f} pages/s, {sum(spent.values()):.0f} CPU ms a page")
    for kind, milliseconds in spent.items():
        if milliseconds >= 0.5:
            print(f"  {kind:<12}{milliseconds:6.0f}")


class Account:
    """Sums up the CPU seconds that all processes spend meanwhile, by kind; those too that end."""

    def __init__(self) -> None:
        self._seen: dict[tuple[int, float], tuple[str, float]] = {}
        self._before: dict[tuple[int, float], float] = {}
        self._done = threading.Event()
        self._thread = threading.Thread(target=self._look_on, daemon=True)
        self.spent: dict[str, float] = defaultdict(float)

    def __enter__(self) -> Account:
        self._look()
        self._before = {key: seconds for key, (_, seconds) in self._seen.items()}
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._done.set()
        self._thread.join()
        for key, (kind, seconds) in self._seen.items():
            self.spent[kind] += seconds - self._before.get(key, 0.0)

    def _look_on(self) -> None:
        while not self._done.wait(_EVERY_SECONDS):
            self._look()

    def _look(self) -> None:
        for process in psutil.process_iter():
            if process.pid == os.getpid():
                continue
            with contextlib.suppress(psutil.Error):
                key, times = (process.pid, process.create_time()), process.cpu_times()
                known = self._seen.get(key, ("others", 0.0))[0]
                kind = known if known != "others" else _kind_of(" ".join(process.cmdline()))
                self._seen[key] = kind, times.user + times.system


def _kind_of(words: str) -> str:
    kinds = _OF_THE_BROWSER if "chrom" in words else _KINDS
    return next((kind for mark, kind in kinds.items() if mark in words), "others")


if __name__ == "__main__":
    main()
