"""The panel on the site itself: for those who may edit the page, and for nobody else."""

from __future__ import annotations

import json
import subprocess
import sys
from importlib.resources import files
from pathlib import Path
from typing import Any

import httpx
import pytest
from playwright.sync_api import Browser, expect

from tests.wordpress.conftest import PEOPLE, Garden

TAKES_LONG = True


def test_it_leads_from_place_to_place(browser: Browser, garden: Garden) -> None:
    """The panel says how many there are, keys lead through them, the place is framed, and it opens
    finding and editor; the page's own elements stay as they are."""
    garden.sweep()
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{garden.address}/wp-login.php?redirect_to=/prices/")
    page.fill("#user_login", "orla")
    page.fill("#user_pass", PEOPLE)
    page.click("#wp-submit")
    page.goto(f"{garden.address}/prices/")
    page.locator("#wp-admin-bar-plumrake a").click()
    panel = page.locator("#plumrake-marks section")
    expect(panel).to_contain_text("found on this page")
    before = page.evaluate("document.querySelector('main').outerHTML")
    panel.focus()
    for _ in range(8):
        page.keyboard.press("n")
        if "no header cell" in panel.inner_text():
            break
    expect(panel).to_contain_text("has no header cell")
    expect(panel).to_contain_text("2nd block, Table: Settings → Header section on")
    framed = page.locator("#plumrake-marks .frame").bounding_box()
    table = page.locator("main table").bounding_box()
    assert framed is not None
    assert table is not None
    assert abs(framed["x"] + 6 - table["x"]) < 3
    assert abs(framed["y"] + 6 - table["y"]) < 3
    expect(panel.get_by_role("link", name="Open the finding")).to_have_attribute(
        "href", f"{garden.running.address}/sites/garden/findings/{_number(garden)}"
    )
    expect(panel.get_by_role("link", name="Open for editing")).to_be_visible()
    assert page.evaluate("document.querySelector('main').outerHTML") == before
    page.keyboard.press("Escape")
    expect(page.locator("#plumrake-marks")).to_have_count(0)
    page.close()


def _number(garden: Garden) -> int:
    found = garden.manager.findings.list("garden", check="tables/no-headers", path="/prices/")
    return next(one.id for one in found if one.path == "/prices/")


def test_visitors_get_nothing_of_it(garden: Garden) -> None:
    """Neither the script nor what was found is for strangers."""
    page = httpx.get(f"{garden.address}/prices/?plumrake-marks=1", follow_redirects=True).text
    assert "plumrake" not in page
    found = httpx.get(f"{garden.address}/?rest_route=/plumrake/v1/found&path=/prices/")
    assert found.status_code == 401


@pytest.mark.parametrize("press", ["", ".next"])
def test_our_own_checks_find_nothing_in_it(tmp_path: Path, press: str) -> None:
    """The panel holds itself to what it tells others."""
    marks = files("plumrake.connectors") / "wordpress" / "plumrake" / "marks.js"
    (tmp_path / "marks.js").write_text(marks.read_text(encoding="utf-8"), encoding="utf-8")
    found = {
        "id": 7,
        "says": "A heading has no text.",
        "selector": "#gone",
        "nearest_visible": "main",
        "where": "1st block, Heading",
        "in_editor": "write the heading",
        "own_help": {"says": "Ask the web team.", "link": "https://help.example/"},
        "fix_id": 3,
    }
    (tmp_path / "found.json").write_text(json.dumps({"findings": [found]}))
    given: dict[str, Any] = {
        "route": "found.json",
        "nonce": "",
        "service": "https://rake.example",
        "site": "garden",
        "edit": "/edit/",
        "words": {
            name: f"Words for {name}"
            for name in (
                "title asks found nothing away place hidden before next shut finding fix edit more"
            ).split()
        },
    }
    click = (
        "setTimeout(() => document.getElementById('plumrake-marks').shadowRoot"
        f".querySelector('{press}').click(), 200)"
        if press
        else ""
    )
    (tmp_path / "index.html").write_text(
        '<!doctype html><html lang="en"><head><meta name="viewport" content="width=device-width">'
        "<title>Prices of the garden</title></head><body><main><h1>Prices of the garden</h1>"
        "<p>An adult pays nine pounds, a child four.</p></main>"
        f"<script>window.plumrakeMarks = {json.dumps(given)}</script>"
        f'<script src="marks.js"></script><script>{click}</script></body></html>'
    )
    done = subprocess.run(
        [sys.executable, "-m", "plumrake", "look", "index.html", "--as", "json"],
        cwd=tmp_path,
        capture_output=True,
        text=True,
        check=False,
    )
    told = json.loads(done.stdout)
    [page] = told["pages"]
    assert page["problem"] is None
    assert [(one["check"], one["says"]) for one in page["findings"]] == []
