"""A list of 100,000 rows: only what is on the screen is in the page, and one goes on without end or
jump."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from playwright.sync_api import Browser, Page

from bench.made_fixes import SITE, fill
from plumrake.actions.people import add_person
from plumrake.demo.ports import free_port
from tests.conftest import MANAGER, PASSWORD, Running, wait_for
from tests.console.conftest import sign_in

FINDINGS = 100_000
FAR_DOWN = 3000


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
    """Rows come in their order and without a gap far down the list; the page never holds more than
    some dozens of them."""
    page: Page = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=long.address
    ).new_page()
    sign_in(page, MANAGER, f"/sites/{SITE}/findings?sort=page")
    rows = page.get_by_role("list", name="Findings").locator("> li")
    rows.first.wait_for()

    def far_down() -> bool:
        page.keyboard.press("End")
        assert rows.count() < 80
        return int(rows.last.get_attribute("data-index") or 0) > FAR_DOWN

    wait_for(far_down, 60, "a row far down")
    read = rows.evaluate_all(
        "rows => rows.map((row) => [Number(row.dataset.index), row.querySelector('a').innerText])"
    )
    shown = [at for at, _ in read]
    assert shown == list(range(shown[0], shown[0] + len(shown)))
    assert all(text == f"Something is wrong with place {at % 100 + 1}" for at, text in read)

    def at_the_top() -> bool:  # rows that still come in may stop the browser on its way up
        page.keyboard.press("Home")
        return page.locator('[data-index="0"]').is_visible()

    wait_for(at_the_top, 60, "the first row")
    page.context.close()
