"""The mend bench in headless Chromium: each control drafts what was chosen, the next follows,
and it is undone, redone, written, in conflict, taken back, and the same for all places."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from plumrake import models
from tests.conftest import wait_for
from tests.console.conftest import sign_in
from tests.corrections.conftest import SLUG, Yard

MANAGER = "philippa@harrowmere.example"
KINDS = "/kinds/"
BERTHS = 62


def _picture(page: Page) -> None:
    page.get_by_label("Text that says what the picture means here").fill("A barge")


def _heading(page: Page) -> None:
    page.locator("input[name=level][value='2']").check()


def _link(page: Page) -> None:
    page.get_by_label("What it is to read").fill("What the cranes lift")


def _table(page: Page) -> None:
    page.get_by_role("combobox", name="Headers").click()
    page.get_by_role("option", name="The first row names the columns").click()


def _language(page: Page) -> None:
    page.get_by_role("radio").first.check()


def _label(page: Page) -> None:
    page.get_by_role("radio").first.check()
    page.get_by_label("What is to stand there").fill("Name of the boat")


def _colours(page: Page) -> None:
    page.locator(".offer").first.click()
    expect(page.get_by_role("status", name="Ratio")).to_contain_text("4.5")


CONTROLS: dict[str, tuple[Callable[[Page], None], str]] = {
    "pictures/no-text": (_picture, 'src="/b.jpg" width="320" height="180" alt="A barge"'),
    "headings/level-jump": (_heading, "<h2>Fees</h2>"),
    "links/vague": (_link, '<a href="/cranes/">What the cranes lift</a>'),
    "tables/no-headers": (_table, '<th scope="col">Boat'),
    "page/passage-language": (_language, '<p lang="de">Guten Tag'),
    "forms/no-label": (_label, "Name of the boat</label>"),
    "contrast/text": (_colours, "color: #7"),
}


@pytest.fixture
def page(browser: Browser, yard: Yard) -> Iterator[Page]:
    """The manager's window at 1280x800; no script may fail in it."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=yard.running.address
    )
    errors: list[str] = []
    page = context.new_page()
    page.on("pageerror", lambda error: errors.append(str(error)))
    sign_in(page, MANAGER)
    yield page
    context.close()
    assert errors == []


def rendered(yard: Yard, *paths: str) -> dict[str, models.Finding]:
    """Read pages in the browser; return a finding of each check that stands in their content."""
    sweep = yard.manager.sweeps.start(SLUG, environment="staging", paths=list(paths))
    assert list(yard.manager.sweeps.follow(sweep.id))[-1].kind == "done"
    found = yard.manager.findings.list(SLUG, sweep=sweep.id, sort="page")
    own: dict[str, models.Finding] = {}
    for one in found:
        if "seal.png" not in one.excerpt:
            own.setdefault(one.check, one)
    return own


def test_each_control_drafts_and_all_is_written_and_proven(yard: Yard, page: Page) -> None:
    """Finding after finding of one page: what each control makes stands in the page; undo and redo
    go step by step; then all of it is written by one press, and proven."""
    found = rendered(yard, KINDS)
    assert set(CONTROLS) <= set(found)
    for check, (choose, _) in CONTROLS.items():
        page.goto(f"/sites/{SLUG}/findings/{found[check].id}")
        expect(page.get_by_role("heading", level=1)).to_have_text(found[check].says)
        choose(page)
        page.get_by_role("button", name="Apply").click()
        strip = page.get_by_role("region", name="Drafted")
        expect(strip).to_be_visible()
        expect(page).not_to_have_url(f"/sites/{SLUG}/findings/{found[check].id}")
        expect(strip.get_by_alt_text("The place as it will look")).to_be_visible()
    source = yard.manager.corrections.page(SLUG, KINDS, environment="staging").decode()
    for check, (_, written) in CONTROLS.items():
        assert written in source, check
    last = CONTROLS["contrast/text"][1]
    page.get_by_role("button", name="Undo").click()
    wait_for(lambda: last not in _drafted(yard), 20, "the draft to be taken back")
    page.keyboard.press("r")
    wait_for(lambda: last in _drafted(yard), 20, "it to be drafted again")
    page.get_by_role("button", name=f"Write {len(CONTROLS)} corrections").click()
    wait_for(lambda: yard.file(KINDS).read_text() == source, 40, "the page to be written")
    wait_for(
        lambda: len(list(yard.manager.corrections.list(SLUG, state=["proven"]))) == len(CONTROLS),
        60,
        "all to be proven",
    )


def _drafted(yard: Yard) -> str:
    return yard.manager.corrections.page(SLUG, KINDS, environment="staging").decode()


def test_a_conflict_is_shown_and_taken_back(yard: Yard, page: Page) -> None:
    """The source changed meanwhile: the page's list says so beside what the draft changes; a press
    takes it back."""
    number = yard.finding("pictures/no-text", "/cranes/")
    page.goto(f"/sites/{SLUG}/findings/{number}")
    _picture(page)
    page.keyboard.press("Control+Enter")
    drafts = page.get_by_role("region", name="What is changed on this page")
    expect(drafts.get_by_role("listitem")).to_contain_text("drafted")
    file = yard.file("/cranes/")
    file.write_bytes(file.read_bytes().replace(b"/a.jpg", b"/other.jpg"))
    page.get_by_role("button", name="Write 1 correction").click()
    line = drafts.get_by_role("listitem").first
    expect(line).to_contain_text("conflict", timeout=40_000)
    expect(line).to_contain_text("the source was changed since")
    line.get_by_role("button", name="Look at").click()
    expect(line.get_by_role("group", name="What it changes")).to_contain_text('alt="A barge"')
    line.get_by_role("button", name="Take back").click()
    expect(drafts).not_to_be_visible()
    assert b"other.jpg" in file.read_bytes()


def test_what_was_half_written_survives_a_reload(yard: Yard, page: Page) -> None:
    """And it is gone once it is drafted."""
    number = yard.finding("pictures/no-text", "/cranes/")
    page.goto(f"/sites/{SLUG}/findings/{number}")
    field = page.get_by_label("Text that says what the picture means here")
    field.fill("Half a th")
    page.reload()
    expect(field).to_have_value("Half a th")


def test_the_same_for_all_places_of_a_template(yard: Yard, page: Page) -> None:
    """More than sixty pages: one text, one place left out; all are written by the site's list."""
    found = yard.manager.findings.list(SLUG, environment="staging", check="pictures/no-text")
    seal = next(one for one in found if "seal.png" in one.excerpt and one.path == "/berths/0/")
    page.goto(f"/sites/{SLUG}/findings/{seal.id}")
    page.get_by_label("Text that says what the picture means here").fill("The yard's seal")
    page.get_by_label(f"The same for all {len(yard.content)} places").check()
    page.get_by_role("button", name="Leave some out").click()
    page.get_by_label("/berths/7/").uncheck()
    expect(page.get_by_text(f"{len(yard.content) - 1} corrections will be drafted")).to_be_visible()
    page.get_by_role("button", name="Apply").click()
    rake = yard.manager.corrections
    wait_for(
        lambda: len(list(rake.list(SLUG, state=["drafted"]))) == len(yard.content) - 1,
        90,
        "all to be drafted",
    )
    page.goto(f"/sites/{SLUG}/corrections")
    page.get_by_role("button", name=f"Write {len(yard.content) - 1} drafts").click()
    wait_for(
        lambda: len(list(rake.list(SLUG, state=["proven"]))) == len(yard.content) - 1,
        90,
        "all to be proven",
    )
    for path in yard.content:
        has = b'alt="The yard\'s seal"' in yard.file(path).read_bytes()
        assert has == (path != "/berths/7/"), path


def test_sources_are_checked_and_written_into_the_cms(yard: Yard, page: Page) -> None:
    """The manager sees where the sources are and that it works; a folder that may not be used is
    refused in one line; what is drafted on a live page is published by the CMS, and proven."""
    page.goto(f"/sites/{SLUG}/corrections")
    sources = page.get_by_role("region", name="Where the sources are")
    expect(sources.get_by_role("listitem")).to_have_count(2)
    sources.get_by_role("button", name="Check the connection of live").click()
    expect(sources.get_by_text("✓ the CMS answers")).to_be_visible()
    sources.get_by_text("Connect them").click()
    sources.get_by_label("Folder").fill("/etc")
    sources.get_by_role("button", name="Try and keep").click()
    expect(sources.get_by_role("alert")).to_contain_text("lies in none of the folders")
    number = yard.finding("pictures/no-text", "/cranes/", "live")
    page.goto(f"/sites/{SLUG}/findings/{number}")
    _picture(page)
    expect(page.get_by_role("group", name="The mend as markup")).to_have_text(
        '<img src="/a.jpg" width=320 height=180 alt="A barge">'
    )
    page.get_by_role("button", name="Apply").click()
    drafts = page.get_by_role("region", name="What is changed on this page")
    expect(drafts.get_by_role("listitem")).to_contain_text("drafted")
    page.get_by_role("button", name="Write 1 correction").click()
    rake = yard.manager.corrections
    wait_for(lambda: len(list(rake.list(SLUG, state=["proven"]))) == 1, 40, "it to be proven")
    assert b'alt="A barge"' in yard.file("/cranes/", "live").read_bytes()
    assert len(yard.cms.history("/cranes/")) == 1
