"""Take the console's current pictures from a running demo: ``take_screenshots.py [ADDRESS] [FOLDER]``."""

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from plumrake.client import PlumRake
from plumrake.demo.seed import SITE, cast
from plumrake.lenses.rendered.unprivileged import find_browser


def main(address: str, folder: Path) -> None:
    """Sign in and take one picture per page of the console."""
    known = cast()
    with PlumRake(address) as rake:
        rake.people.sign_in(known["people"][0]["email"], known["password"])
        findings = list(rake.findings.list(SITE, edition="live"))
        sweep = next(iter(rake.sweeps.list(SITE))).id
    contrast = next(finding for finding in findings if finding.check == "contrast/text" and finding.path == "/search/")
    picture = next(finding for finding in findings if finding.check == "pictures/no-text" and finding.path == "/visit/gallery/")
    places = {
        "overview": f"/sites/{SITE}",
        "findings": f"/sites/{SITE}/findings?edition=live",
        "finding-contrast": f"/sites/{SITE}/findings/{contrast.id}",
        "finding-picture": f"/sites/{SITE}/findings/{picture.id}",
        "sweep": f"/sites/{SITE}/sweeps/{sweep}",
    }
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=find_browser())
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.on("console", lambda message: print("console:", message.text) if message.type == "error" else None)
        page.goto(f"{address}/sign-in")
        _take(page, folder / "sign-in.png")
        page.get_by_label("E-mail address").fill(known["people"][0]["email"])
        page.get_by_label("Password").fill(known["password"])
        page.get_by_role("button", name="Sign in").click()
        page.wait_for_url(f"{address}/")
        for name, place in places.items():
            page.goto(address + place)
            page.wait_for_load_state("networkidle")
            _take(page, folder / f"{name}.png")
        browser.close()


def _take(page: Page, file: Path) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=file)


if __name__ == "__main__":
    target = Path(sys.argv[2]) if len(sys.argv) > 2 else Path("docs/screenshots")
    target.mkdir(parents=True, exist_ok=True)
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8600", target)
