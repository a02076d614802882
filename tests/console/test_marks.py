"""The panel on a staging site: one script line, no secret in the page, no other site's cookie."""

from __future__ import annotations

import httpx
import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.server import make_server
from tests.conftest import PASSWORD, Running
from tests.services import serve_in_thread

SLUG = "quay"


@pytest.fixture(scope="module")
def staging(running: Running, manager: PlumRake, tmp_path_factory: pytest.TempPathFactory) -> str:
    """A staging site with the script line, swept; return its origin."""
    running.start("worker")
    folder = tmp_path_factory.mktemp("quay")
    line = f'<script src="{running.address}/marks.js?site={SLUG}" defer></script>'
    (folder / "index.html").write_text(
        f'<!doctype html><html lang="en"><head><title>Quay</title>{line}</head><body><main>'
        '<h1>Quay</h1><p>Text</p><img id="crane" src="/a.png" width="90" height="60"></main></body>'
    )
    server = make_server(folder, 0)
    origin = serve_in_thread(server)
    manager.sites.add(
        models.NewSite(
            slug=SLUG,
            name="The Quay",
            live_address="https://quay.example/",
            staging_address=f"{origin}/",
            found_by="list",
            listed_paths=["/"],
            private_leave=True,
        )
    )
    sweep = manager.sweeps.start(SLUG, environment="staging", lens="markup")
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    return origin


def test_what_was_found_comes_from_a_window_of_the_service(
    browser: Browser, running: Running, staging: str
) -> None:
    """Whoever is signed in there gets it; the page itself holds nothing that it could ask with."""
    script = httpx.get(f"{running.address}/marks.js", params={"site": SLUG})
    assert script.headers["content-type"].startswith("text/javascript")
    assert httpx.get(f"{running.address}/marks.js?site=<b>").status_code == 422
    assert "plumrake_" not in script.text
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{staging}/")
    _ask(context, page)
    panel = page.locator("#plumrake-marks section")
    expect(panel).to_contain_text("found on this page")
    page.keyboard.press("n")
    expect(panel).to_contain_text("Place 1 of")
    expect(panel.get_by_role("link", name="Open the finding")).to_be_visible()
    context.close()


def test_no_other_origin_is_told(browser: Browser, running: Running, staging: str) -> None:
    """A page of another origin that opens the window hears nothing from it."""
    context = browser.new_context()
    page = context.new_page()
    page.goto(f"{staging.replace('127.0.0.1', 'localhost')}/")
    page.evaluate(
        "window.heard = 0; window.addEventListener('message', () => { window.heard += 1 })"
    )
    _ask(context, page)
    assert page.evaluate("window.heard") == 0
    context.close()


def _ask(context: BrowserContext, page: Page) -> None:
    """Press what asks, and sign in in the window that opens; it closes by itself."""
    with context.expect_page() as opened:
        page.get_by_role("button", name="What was found here?").click()
    window = opened.value
    window.get_by_label("E-mail").fill("philippa@harrowmere.example")
    window.get_by_label("Password").fill(PASSWORD)
    with window.expect_event("close"):
        window.get_by_role("button", name="Sign in").click()
