"""How fast a rendered sweep is beside the same browser only loading the same pages.

The pages are Debian's ``git-doc`` (real HTML, not ours), served on loopback. Both ways use two tabs of the same
binary. The sweep is the whole of it: service, queue, worker, checks, pictures, PostgreSQL.
"""

from __future__ import annotations

import asyncio
import contextlib
import os
import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import psutil
import psycopg
from playwright.async_api import Browser, async_playwright

from plumrake import models
from plumrake.actions.people import add_person
from plumrake.client import PlumRake, PlumRakeError
from plumrake.demo.cluster import Cluster
from plumrake.demo.server import make_server
from plumrake.lenses.rendered.unprivileged import find_browser
from plumrake.records.migrate import migrate

PAGES = Path("/usr/share/doc/git/html")
EMAIL, PASSWORD = "bench@harrowmere.example", "bench on loopback"


def main() -> None:
    """Print pages per second of both ways and their ratio."""
    if not PAGES.is_dir():
        print("git-doc is not installed; apt-get install git-doc")
        return
    paths = ["/" + file.relative_to(PAGES).as_posix() for file in sorted(PAGES.rglob("*.html")) if not file.is_symlink()]
    server = make_server(PAGES, 0)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    origin = f"http://127.0.0.1:{server.server_address[1]}"
    bare = asyncio.run(_load(origin, paths))
    with _service() as (rake, worker):
        swept, memory = _sweep(rake, worker, origin, paths)
    server.shutdown()
    print(f"{len(paths)} pages; only loaded {bare:.1f} pages/s, swept {swept:.1f} pages/s, ratio {swept / bare:.2f}")
    print(f"most memory of worker and browser together: {memory / 2**20:.0f} MiB")


async def _load(origin: str, paths: list[str]) -> float:
    async with async_playwright() as playwright:
        browser = await playwright.chromium.launch(executable_path=find_browser())
        start = time.monotonic()
        await asyncio.gather(_tab(browser, origin, paths[::2]), _tab(browser, origin, paths[1::2]))
        seconds = time.monotonic() - start
        await browser.close()
    return len(paths) / seconds


async def _tab(browser: Browser, origin: str, paths: list[str]) -> None:
    page = await browser.new_page(viewport={"width": 1280, "height": 800})
    for path in paths:
        await page.goto(origin + path, wait_until="load")


@contextlib.contextmanager
def _service() -> Iterator[tuple[PlumRake, psutil.Process]]:
    """Run database, service and one worker; give a signed-in client and the worker's process."""
    folder = Path(tempfile.mkdtemp(prefix="plr-bench-"))
    cluster = Cluster(folder)
    cluster.start()
    migrate(cluster.address)
    asyncio.run(_add_manager(cluster.address))
    with contextlib.closing(socket.socket()) as listener:
        listener.bind(("127.0.0.1", 0))
        port = str(listener.getsockname()[1])
    environment = {**os.environ, "PLUMRAKE_DATABASE": cluster.address, "PLUMRAKE_PORT": port}
    quiet = subprocess.DEVNULL
    children = [
        subprocess.Popen([sys.executable, "-m", "plumrake", part], env=environment, stdout=quiet, stderr=quiet)
        for part in ("serve", "worker")
    ]
    try:
        with PlumRake(f"http://127.0.0.1:{port}") as rake:
            for _ in range(100):
                with contextlib.suppress(PlumRakeError):
                    rake.people.sign_in(EMAIL, PASSWORD)
                    break
                time.sleep(0.2)
            yield rake, psutil.Process(children[1].pid)
    finally:
        for child in children:
            child.terminate()
            child.wait(15)
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


async def _add_manager(database: str) -> None:
    async with await psycopg.AsyncConnection.connect(database) as connection:
        await add_person(connection, EMAIL, "Bench", "manager", PASSWORD)


def _sweep(rake: PlumRake, worker: psutil.Process, origin: str, paths: list[str]) -> tuple[float, int]:
    site = models.NewSite(
        slug="git-doc", name="git-doc", live_address=f"{origin}/", found_by="list", listed_paths=paths, private_leave=True
    )
    rake.sites.add(site)
    most = 0
    sweep = rake.sweeps.start("git-doc")
    for _ in rake.sweeps.follow(sweep.id):
        most = max(most, _memory(worker))
    done = rake.sweeps.show(sweep.id)
    assert done.started_at is not None
    assert done.finished_at is not None
    assert done.read == len(paths), f"{done.unreadable} pages could not be read"
    return len(paths) / (done.finished_at - done.started_at).total_seconds(), most


def _memory(worker: psutil.Process) -> int:
    total = 0
    for process in [worker, *worker.children(recursive=True)]:
        with contextlib.suppress(psutil.Error):
            total += process.memory_info().rss
    return total
