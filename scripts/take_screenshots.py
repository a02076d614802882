"""Take the console's current pictures from a running demo on which the week was played:
``take_screenshots.py [ADDRESS] [FOLDER]``."""

import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from plumrake.client import PlumRake
from plumrake.demo.seed import SITE, cast
from plumrake.lenses.rendered.jail import find_browser


def main(address: str, folder: Path) -> None:
    """Sign in and take one picture per page of the console."""
    known = cast()
    with PlumRake(address) as rake:
        rake.people.sign_in(known["people"][0]["email"], known["password"])
        findings = list(rake.findings.list(SITE, environment="live"))
        reopened = next(rake.fixes.list(SITE, state=["reopened"])).id
    picture = next(
        finding
        for finding in findings
        if finding.check == "pictures/no-text" and finding.path == "/visit/gallery/"
    )
    places = {
        "overview": f"/sites/{SITE}",
        "findings": f"/sites/{SITE}/findings?environment=live",
        "finding-picture": f"/sites/{SITE}/findings/{picture.id}",
        "causes-console": f"/sites/{SITE}/causes?environment=staging",
        "fixes": f"/sites/{SITE}/fixes",
        "fix": f"/sites/{SITE}/fixes/{reopened}",
        "page": f"/sites/{SITE}/page?path=/visit/gallery/&environment=live",
        "policy": f"/sites/{SITE}/policy",
        "review": f"/sites/{SITE}/review/question?environment=live&only=picture-texts",
    }
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=find_browser())
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.on(
            "console",
            lambda message: print("console:", message.text) if message.type == "error" else None,
        )
        page.goto(f"{address}/sign-in")
        _sign_in(page, address, known["people"][0]["email"], known["password"])
        for name, place in places.items():
            page.goto(address + place)
            page.wait_for_timeout(1200)
            _take(page, folder / f"{name}.png")
        _take_bench(page, f"{address}/sites/{SITE}", picture.id, folder)
        _take_gate(browser, page, address, known["password"], folder)
        desk = browser.new_page(viewport={"width": 1280, "height": 800})
        desk.goto(f"{address}/sign-in")
        _sign_in(desk, address, "imke@harrowmere.example", known["password"])
        desk.goto(f"{address}/desk")
        desk.wait_for_timeout(1200)
        _take(desk, folder / "desk.png")
        browser.close()


def _take_bench(page: Page, site: str, finding: int, folder: Path) -> None:
    """Draft a text and other words for a link, and take the bench with the next finding, and the
    list of all corrections; then take them back."""
    page.goto(f"{site}/findings/{finding}")
    page.get_by_label("Text that says what the picture means here").fill("Ice between the boats")
    page.get_by_role("button", name="Apply").click()
    page.get_by_role("region", name="Drafted").wait_for()
    page.wait_for_timeout(1500)
    _take(page, folder / "bench.png")
    page.goto(f"{site}/corrections")
    page.get_by_role("button", name="Look at").first.click()
    page.wait_for_timeout(1200)
    _take(page, folder / "corrections.png")
    page.get_by_role("button", name="Take back").first.click()
    page.wait_for_timeout(1200)


def _take_gate(browser: Browser, page: Page, address: str, password: str, folder: Path) -> None:
    """Let an editor publish a picture without text in the stand-in CMS, and take what they and the
    manager see."""
    port = int(address.rpartition(":")[2]) + 4
    cms = browser.new_page(viewport={"width": 1280, "height": 800})
    cms.goto(f"http://127.0.0.1:{port}/")
    cms.get_by_label("E-mail address").fill("ned@harrowmere.example")
    cms.get_by_label("Password").fill(password)
    cms.get_by_role("button", name="Sign in").click()
    cms.goto(f"http://127.0.0.1:{port}/edit?path=/boating/moorings/")
    content = cms.get_by_label("Content, as HTML")
    before = content.input_value()
    content.fill(f'{before}\n<p><img src="/media/ice.jpg" width="320" height="180"></p>')
    cms.get_by_role("button", name="Publish").click()
    link = cms.get_by_role("link", name="All that was found, at Plum Rake")
    link.wait_for()
    page.goto(link.get_attribute("href") or "")
    page.wait_for_timeout(1200)
    _take(page, folder / "clearance.png")
    cms.get_by_role("button", name="Forget the draft").click()


def _sign_in(page: Page, address: str, email: str, password: str) -> None:
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url(f"{address}/")


def _take(page: Page, file: Path) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=file)


if __name__ == "__main__":
    target = Path(sys.argv[2]) if len(sys.argv) > 2 else Path("docs/screenshots")
    target.mkdir(parents=True, exist_ok=True)
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8600", target)
