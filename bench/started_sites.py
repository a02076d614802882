"""Sites that benchmarks start for themselves: a WordPress with each of three themes or with many
posts, and the console's own pages as they stand once their scripts have run, in both its themes."""

from __future__ import annotations

import contextlib
import json
import re
import shutil
import tempfile
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from urllib.parse import urlsplit

import httpx
from playwright.sync_api import Page, sync_playwright

import plumrake.service
from bench.made_site import made_texts
from bench.service import EMAIL, PASSWORD, demo_site, running, served
from plumrake.demo.ports import free_port
from plumrake.demo.wordpress.content import AUTHORS, ITEMS, Item
from plumrake.demo.wordpress.garden import fill
from plumrake.demo.wordpress.server import WordPress
from plumrake.lenses.rendered.jail import find_browser

THEMES = ("twentytwentyone", "twentytwentytwo", "twentytwentythree")
SCHEMES = ("light", "dark")
CONSOLE = Path(plumrake.service.__file__).parent / "console"
SITE = "bench"
_POSTS = 240
VIEWS = ("", "/sweeps", "/findings", "/causes", "/pages", "/fixes", "/policy", "/words", "/log")
OTHERS = ("/", "/desk", "/me", "/people", "/emails", "/checks/links/vague")
_SWITCH = """<?php $_SERVER['HTTP_HOST'] = '127.0.0.1'; require $argv[1];
switch_theme({theme}); echo get_stylesheet();"""
_SCRIPT = re.compile(r"<script\b.*?</script>|<link[^>]+modulepreload[^>]*>", re.DOTALL)


@contextlib.contextmanager
def wordpress(theme: str, more: Sequence[Item] = ()) -> Iterator[list[str]]:
    """Give the pages of the demo's WordPress in a theme, with more items in it."""
    with tempfile.TemporaryDirectory(prefix="plr-bench-") as folder:
        Path(folder).chmod(0o755)
        site = WordPress(Path(folder) / "wordpress", free_port())
        site.start()
        try:
            fill(site, PASSWORD, items=[*ITEMS, *more])
            script = site.folder / "theme.php"
            script.write_text(_SWITCH.format(theme=json.dumps(theme)))
            site.run(script)
            sitemap = httpx.get(f"{site.address}/wp-sitemap.xml").text
            lists = re.findall(r"<loc>([^<]+)</loc>", sitemap)
            pages = [
                page
                for one in lists
                for page in re.findall(r"<loc>([^<]+)</loc>", httpx.get(one).text)
            ]
            assert theme in httpx.get(pages[0]).text
            yield pages
        finally:
            site.stop()


@contextlib.contextmanager
def many_posts() -> Iterator[tuple[str, list[str]]]:
    """Give the origin of a WordPress with many more posts of one kind, and its pages' paths."""
    posts = (
        Item.of(
            "post",
            f"part-{number}",
            title,
            next(iter(AUTHORS)),
            *(f"<!-- wp:paragraph -->\n<p>{text}</p>\n<!-- /wp:paragraph -->" for text in texts),
        )
        for number, (title, texts) in enumerate(made_texts(_POSTS))
    )
    with wordpress(THEMES[-1], list(posts)) as pages:
        yield f"http://{urlsplit(pages[0]).netloc}", [urlsplit(page).path for page in pages]


@contextlib.contextmanager
def console(scheme: str) -> Iterator[list[str]]:
    """Give the console's pages of a swept site as documents without scripts, in a colour scheme."""
    folder = Path(tempfile.mkdtemp(prefix="plr-console-"))
    with ThreadPoolExecutor(1) as elsewhere:  # here a loop runs already
        elsewhere.submit(_swept_and_captured, folder, scheme).result()
    try:
        with served(folder) as origin:
            yield [f"{origin}/{file.name}" for file in sorted(folder.glob("*.html"))]
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _swept_and_captured(folder: Path, scheme: str) -> None:
    with running(workers=1) as service, demo_site(service.rake, SITE):
        sweep = service.rake.sweeps.start(SITE, lens="markup")
        assert list(service.rake.sweeps.follow(sweep.id))[-1].kind == "done"
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path=find_browser(), args=["--no-sandbox"]
            )
            context = browser.new_context(
                viewport={"width": 1280, "height": 800}, base_url=service.address
            )
            _capture(context.new_page(), folder, scheme)
            browser.close()
        for sheet in {
            name
            for file in folder.glob("*.html")
            for name in re.findall(r'href="(/assets/[^"]+[.]css)"', file.read_text())
        }:
            file = folder / sheet.strip("/")
            file.parent.mkdir(parents=True, exist_ok=True)
            file.write_text(httpx.get(service.address + sheet).text)


def _capture(page: Page, folder: Path, scheme: str) -> None:
    """Keep each view as it stands, with the rules that scripts put into its style sheets."""
    page.goto("/")
    page.evaluate(f"localStorage.setItem('plumrake-theme', {scheme!r})")
    origin = str(page.evaluate("location.origin"))
    page.goto("/sign-in")
    page.get_by_label("E-mail address").fill(EMAIL)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("button", name="Sign out", exact=True).wait_for()
    for number, place in enumerate((*OTHERS, *(f"/sites/{SITE}{view}" for view in VIEWS))):
        page.goto(place)
        page.get_by_role("heading", level=1).wait_for()
        page.wait_for_load_state("networkidle")
        source = str(page.evaluate("document.documentElement.outerHTML"))
        name = re.sub(r"\W+", "-", place).strip("-") or "start"
        text = "<!doctype html>" + _SCRIPT.sub("", source.replace(origin, ""))
        (folder / f"{number:02}-{name}.html").write_text(text, encoding="utf-8")
