"""A list of 100,000 rows: only what is on the screen is in the page, and one goes on without end or jump."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from playwright.sync_api import Browser, Page

from bench.made_fixes import SITE, fill
from plumrake.actions.people import add_person
from tests.conftest import MANAGER, PASSWORD, Running, free_port
from tests.console.conftest import sign_in

FINDINGS = 100_000


@pytest.fixture
def long(database: str, tmp_path: Path) -> Iterator[Running]:
    """The service with a site of 100,000 findings."""
    import asyncio
    from concurrent.futures import ThreadPoolExecutor

    async def person() -> None:
        async with await psycopg.AsyncConnection.connect(database) as connection:
            await add_person(connection, MANAGER, "Philippa Wren", "manager", PASSWORD)

    with ThreadPoolExecutor(1) as elsewhere:
        elsewhere.submit(asyncio.run, person()).result()
    fill(database, pages=FINDINGS // 100, per_page=100, causes=5000, people=5, live=False)
    running = Running(database, free_port(), tmp_path)
    running.start("serve")
    running.wait_until_ready()
    yield running
    running.stop()


def test_a_hundred_thousand_rows(long: Running, browser: Browser) -> None:
    """Rows come in their order and without a gap far down the list; the page never holds more than some dozens of them."""
    page: Page = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=long.address).new_page()
    sign_in(page, MANAGER, f"/sites/{SITE}/findings")
    rows = page.get_by_role("list", name="Findings").locator("> li")
    rows.first.wait_for()
    for _ in range(40):
        page.keyboard.press("End")
        page.wait_for_timeout(120)
        assert rows.count() < 80
    page.wait_for_timeout(1500)  # the parts that were scrolled past come in
    read = rows.evaluate_all("rows => rows.map((row) => [Number(row.dataset.index), row.querySelector('a').innerText])")
    shown = [at for at, _ in read]
    assert shown == list(range(shown[0], shown[0] + len(shown)))
    assert shown[-1] > 3000
    assert all(text == f"Something is wrong with place {at % 100 + 1}" for at, text in read)
    page.keyboard.press("Home")
    page.locator('[data-index="0"]').wait_for()
    page.context.close()
