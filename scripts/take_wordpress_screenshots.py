"""Takes the pictures of docs/wordpress.md anew, from a running ``plumrake demo wordpress``:
``take_wordpress_screenshots.py [FOLDER]``."""

from __future__ import annotations

import sys
import time
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from plumrake.client import PlumRake
from plumrake.demo.wordpress.run import MANAGER, PASSWORD, SITE
from plumrake.lenses.rendered.jail import find_browser

CONSOLE, WORDPRESS = "http://127.0.0.1:8620", "http://127.0.0.1:8621"
EMAIL = f"{MANAGER}@tarnvale.example"


def main(folder: Path) -> None:
    """Take what is going out, and an item that is held in the block editor."""
    with PlumRake(CONSOLE) as rake:
        rake.people.sign_in(EMAIL, PASSWORD)
        while any(one.clearance_state != "answered" for one in rake.items.going_out(SITE)):
            time.sleep(1)
        [held] = [one for one in rake.items.going_out(SITE) if one.title == "Winter opening"]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=find_browser())
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        _take_going_out(page, folder)
        _take_held(page, held.edit, folder)
        browser.close()


def _take_going_out(page: Page, folder: Path) -> None:
    page.goto(f"{CONSOLE}/sign-in")
    page.get_by_label("E-mail address").fill(EMAIL)
    page.get_by_label("Password").fill(PASSWORD)
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Sites").wait_for()
    page.goto(f"{CONSOLE}/sites/{SITE}/going-out")
    page.get_by_text("not public yet,").wait_for()
    page.screenshot(path=folder / "going-out.png")


def _take_held(page: Page, address: str, folder: Path) -> None:
    page.goto(f"{WORDPRESS}/wp-login.php")
    page.fill("#user_login", MANAGER)
    page.fill("#user_pass", PASSWORD)
    page.click("#wp-submit")
    page.wait_for_url("**/wp-admin/**")
    page.goto(address)
    page.wait_for_function(
        "window.wp && wp.data && wp.data.select('core/editor').getCurrentPost().id"
    )
    page.evaluate(
        "wp.data.dispatch('core/preferences').set('core/edit-post', 'welcomeGuide', false)"
    )
    page.get_by_role("button", name="Publish", exact=True).first.click()
    page.get_by_text("Held:").wait_for()
    page.get_by_role("button", name="Go to the block").last.click()
    page.wait_for_timeout(800)
    page.screenshot(path=folder / "wordpress-held.png")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else Path("docs/screenshots"))
