"""An empty service leads by the hand: its first person, its first site, pages found and read, what
now."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from plumrake.demo.ports import free_port
from tests.conftest import Running, wait_for
from tests.keyboard import press, write
from tests.small_site import SmallSite, small_site


@pytest.fixture
def empty(database: str, tmp_path: Path) -> Iterator[Running]:
    """A service on a database without anybody."""
    running = Running(database, free_port(), tmp_path)
    running.start("serve")
    running.start("worker")
    running.wait_until_ready()
    yield running
    running.stop()


def _printed(running: Running) -> str:
    found = re.findall(r"http://\S+/start#[\w-]+", (running.folder / "serve.log").read_text())
    return str(found[-1]) if found else ""


@pytest.fixture
def canal(tmp_path: Path) -> Iterator[SmallSite]:
    """The site of the first person: three pages that are found by their links."""
    (tmp_path / "site").mkdir()
    site = small_site(
        tmp_path / "site",
        {
            "/": (
                "<h1>Canal</h1><p><a href=/fees/>What it costs</a>, <a href=/locks/>the "
                "locks</a></p>"
            ),
            "/fees/": "<h1>Fees</h1>",
            "/locks/": "<h1></h1>",
        },
    )
    yield site
    site.server.shutdown()


def test_from_nobody_to_the_first_sweep(empty: Running, browser: Browser, canal: SmallSite) -> None:
    """By keyboard: the address that the service printed, the first person, a site, its pages found,
    the overview; then the way in is shut."""
    wait_for(lambda: _printed(empty), 60, "the printed address")
    page: Page = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=empty.address
    ).new_page()
    page.goto("/")
    expect(page.get_by_text("Nobody can sign in here yet.")).to_be_visible()
    page.goto("/start#wrong-key")
    for label, text in (
        ("Your name", "Maud Ferris"),
        ("E-mail address", "maud@harrowmere.example"),
        ("Password, twelve characters or more", "lock-gates-at-dawn"),
    ):
        write(page, page.get_by_label(label), text)
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("not the key that the service printed")
    write(page, page.get_by_label("Key"), _printed(empty).rpartition("#")[2])
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Register a site")

    write(page, page.get_by_label("Name", exact=True), "Harrowmere Canal Trust")
    write(page, page.get_by_label("Address of the live site"), canal.address)
    press(
        page, page.get_by_role("checkbox", name=re.compile("These addresses are private")), "Space"
    )
    press(page, page.get_by_role("button", name="Register it and read it for the first time"))
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"Sweep \d+: live"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("done", timeout=120_000)
    page.keyboard.press("g")
    page.keyboard.press("o")
    expect(page.get_by_role("heading", level=1)).to_have_text("Harrowmere Canal Trust")
    expect(page.get_by_role("region", name="Live")).to_contain_text("2 of 3 pages ready to publish")

    page.goto(_printed(empty).replace("localhost", "127.0.0.1"))
    expect(page.get_by_role("heading", level=1)).to_have_text("There is somebody already")
    page.context.close()
