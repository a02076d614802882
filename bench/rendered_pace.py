"""How fast a rendered sweep is beside the same browser only loading the same pages.

The pages are Debian's ``git-doc`` (real HTML, not ours), a made site of twelve templates, and a
WordPress with many posts of one kind, served on loopback. Both ways use two tabs of the same
binary. The sweep is the whole of it: service, queue, worker, checks, pictures, PostgreSQL; what
WordPress takes to make its pages is in both.
"""

from __future__ import annotations

import asyncio
import tempfile
import time
from pathlib import Path

from playwright.async_api import Browser, async_playwright

from bench.made_site import make_pages, write_site
from bench.service import Running, running, served
from bench.started_sites import many_posts
from plumrake import models
from plumrake.lenses.rendered.jail import find_browser

PAGES = Path("/usr/share/doc/git/html")
_MADE = 480


def main() -> None:
    """Print pages per second of both ways and their ratio, site by site."""
    if PAGES.is_dir():
        found = sorted(file for file in PAGES.rglob("*.html") if not file.is_symlink())
        _of_folder("git-doc", PAGES, ["/" + file.relative_to(PAGES).as_posix() for file in found])
    else:
        print("git-doc is not installed; apt-get install git-doc")
    with tempfile.TemporaryDirectory(prefix="plr-made-") as folder:
        pages = make_pages(_MADE)
        write_site(Path(folder), pages)
        _of_folder("made-site", Path(folder), [page.path for page in pages])
    with many_posts() as (origin, paths):
        _compare("wordpress", origin, paths)


def _of_folder(name: str, folder: Path, paths: list[str]) -> None:
    with served(folder) as origin:
        _compare(name, origin, paths)


def _compare(name: str, origin: str, paths: list[str]) -> None:
    bare = asyncio.run(bare_load(origin, paths))
    with running() as service:
        pace, memory = swept(service, name, origin, paths)
    print(
        f"{name}: {len(paths)} pages; only loaded {bare:.1f} pages/s, swept {pace:.1f} "
        f"pages/s, ratio {pace / bare:.2f}"
    )
    print(f"  most memory of worker and browser together: {memory / 2**20:.0f} MiB")


async def bare_load(origin: str, paths: list[str]) -> float:
    """Return pages per second of a browser that only loads pages, in two tabs."""
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


def swept(service: Running, name: str, origin: str, paths: list[str]) -> tuple[float, int]:
    """Return pages per second of a sweep, and the most memory (bytes) of worker and browser."""
    rake = service.rake
    site = models.NewSite(
        slug=name,
        name=name,
        live_address=f"{origin}/",
        found_by="list",
        listed_paths=paths,
        private_leave=True,
    )
    rake.sites.add(site)
    most = 0
    sweep = rake.sweeps.start(name)
    for _ in rake.sweeps.follow(sweep.id):
        most = max(most, service.memory())
    done = rake.sweeps.show(sweep.id)
    assert done.started_at is not None
    assert done.finished_at is not None
    assert done.read == len(paths), f"{done.unreadable} pages could not be read"
    return len(paths) / (done.finished_at - done.started_at).total_seconds(), most


if __name__ == "__main__":
    main()
