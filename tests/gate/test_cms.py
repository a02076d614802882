"""The whole story through the stand-in CMS, in headless Chromium: held with the reason and the
place, mended, clear, published, proven, overruled."""

from __future__ import annotations

import re

from playwright.sync_api import Browser, Page, expect

from plumrake.demo.seed import SITE
from tests.conftest import PASSWORD, wait_for
from tests.gate.conftest import page_of
from tests.trust import Trust

PATH = "/boating/moorings/"
PICTURE = '<p><img src="/media/ice.jpg" width="320" height="180"></p>'


def _sign_in(page: Page, address: str, email: str) -> None:
    page.goto(address)
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()


def test_held_mended_published_proven_and_overruled(
    trust: Trust, cms: str, browser: Browser
) -> None:
    """An editor's draft with a new picture without text is held with the reason and the place,
    though old faults do not hold it; mended it is clear; published, the live page changes and the
    fix is proven; a manager overrules once, with a reason."""
    rake = trust.manager
    sweep = rake.sweeps.start(SITE, environment="live", section="/boating/")
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    old = next(
        one
        for one in rake.causes.list(SITE, sweep=sweep.id, check="pictures/file-name-text")
        if one.path == PATH
    )
    (fix,) = rake.fixes.hand_out(SITE, sweep=sweep.id, causes=[old.key])
    file, before = page_of(trust, PATH)

    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    _sign_in(page, cms, "ned@harrowmere.example")
    page.get_by_role("link", name=re.compile("^Moorings")).click()
    content = page.get_by_label("Content, as HTML")
    content.fill(f"{content.input_value()}\n{PICTURE}")
    page.get_by_role("button", name="Publish").click()
    held = page.get_by_role("alert")
    expect(held).to_contain_text(
        "1 finding holds the page: 1 that the change brings.", timeout=30_000
    )
    expect(held).to_contain_text("The picture ice.jpg has no text alternative.")
    expect(held).to_contain_text('<img src="/media/ice.jpg"')
    assert file.read_text() == before
    link = held.get_by_role("link", name=re.compile("This finding at Plum Rake"))
    number = int(re.search(r"clearances/(\d+)", link.get_attribute("href") or "")[1])  # type: ignore[index]
    clearance = rake.gate.show(number)
    assert {
        (one.check, one.origin) for one in clearance.judged if one.standing == "was there before"
    } >= {("pictures/file-name-text", "before")}

    mended = (
        content.input_value()
        .replace(PICTURE, PICTURE.replace("<img", '<img alt="Ice between two boats"'))
        .replace(
            'alt="/media/plans/moorings-plan-2024_final.png"',
            'alt="Plan of the moorings at Basin House"',
        )
    )
    content.fill(mended)
    page.get_by_role("button", name="Publish").click()
    expect(page.get_by_role("status")).to_have_text("Published.", timeout=30_000)
    assert "Ice between two boats" in file.read_text()
    wait_for(lambda: rake.fixes.show(fix.id).state == "proven", 40, "the fix to be proven")

    content.fill(f'{content.input_value()}\n<p><a href="/boating/fees/">here</a></p>')
    page.get_by_role("button", name="Publish").click()
    expect(page.get_by_role("alert")).to_contain_text("1 finding holds the page", timeout=30_000)
    href = (
        page.get_by_role("link", name="All that was found, at Plum Rake").get_attribute("href")
        or ""
    )
    boss = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    _sign_in(boss, href, "philippa@harrowmere.example")
    expect(boss.get_by_role("heading", level=1)).to_contain_text(f"{PATH}: held")
    boss.get_by_label("Publish it all the same, since").fill(
        "the fees change tonight; the words come tomorrow"
    )
    boss.get_by_role("button", name="Overrule").click()
    expect(boss.locator("#overruled")).to_contain_text("Overruled by Philippa Wren")
    page.get_by_role("button", name="Publish").click()
    expect(page.get_by_role("status")).to_have_text("Published.", timeout=30_000)
    used = rake.gate.show(int(href.rpartition("/")[2]))
    assert (used.overruled_by, used.overruled_why) == (
        "Philippa Wren",
        "the fees change tonight; the words come tomorrow",
    )
    assert used.used_at is not None
    for one in (page, boss):
        one.context.close()
