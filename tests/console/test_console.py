"""The console in headless Chromium, as people use it: sign in, sweep, filter, look at a finding,
send it to a colleague."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from plumrake import models
from plumrake.client import PlumRake
from plumrake.core.journeys import states_of
from plumrake.demo.seed import SITE
from plumrake.demo.site import build_environment, journeys
from tests.conftest import EDITOR, MANAGER, PASSWORD, wait_for
from tests.console.conftest import sign_in

BEGINS_SWEPT = True
PAGES = len(build_environment("live")) + len(states_of(journeys()))


def test_wrong_password_is_said(page: Page) -> None:
    """The problem is announced and the person stays."""
    page.goto("/")
    page.get_by_label("E-mail address").fill(MANAGER)
    page.get_by_label("Password").fill("not this one")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("e-mail address or password is wrong")


def test_sweep_is_stopped_goes_on_and_tells_what_changed(
    page: Page, swept: int, manager: PlumRake
) -> None:
    """Stop and Go on work from the sweep's page; the list of sites says how far it is; at its end
    it says what became of the findings since the sweep before."""
    archive = sum(one.address.startswith("/archive/") for one in build_environment("live"))
    sweep = manager.sweeps.start(SITE, section="/archive/", fresh=True)
    sign_in(page, MANAGER, f"/sites/{SITE}/sweeps/{sweep.id}")
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("stopped")
    page.get_by_role("button", name="Go on").click()
    expect(page.get_by_role("heading", level=1)).not_to_contain_text("stopped")
    page.goto("/")
    expect(page.get_by_text("A sweep of live is under way:")).to_be_visible()
    page.get_by_role("link", name=f"of {archive} pages read").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("done", timeout=400_000)
    expect(page.get_by_role("status")).to_contain_text(f"{archive} of {archive} pages read")
    expect(page.get_by_role("table", name="Findings by what became of them")).to_contain_text(
        "Still there"
    )
    assert [
        (one.path, one.check, one.says, one.facts)
        for one in manager.sweeps.changed_findings(sweep.id, "new")
    ] == []
    row = page.get_by_role("row", name=re.compile("^New"))
    expect(row).to_have_text(re.compile(r"New\s*0\s*0\s*0\s*0"))


@pytest.fixture
def fewer_pages(manager: PlumRake) -> Iterator[int]:
    """Let the site have ten pages (and its journeys' states) for a while; give their number."""
    paths = [one.address for one in build_environment("staging")][:10]
    manager.sites.change(
        SITE, models.SiteChange(found_by="list", listed_paths=paths), manager.sites.show(SITE).tag
    )
    yield len(paths) + len(states_of(journeys()))
    manager.sites.change(
        SITE, models.SiteChange(found_by="sitemap", listed_paths=[]), manager.sites.show(SITE).tag
    )


def test_manager_starts_a_sweep_and_watches_it(page: Page, swept: int, fewer_pages: int) -> None:
    """From the list of sites to the overview, a sweep begun there and followed to its end without a
    reload."""
    sign_in(page, MANAGER)
    page.get_by_role("link", name="Harrowmere Canal Trust").click()
    ready = sum(not one.answers for one in build_environment("live"))
    expect(page.locator("main")).to_contain_text(f"{ready} of {PAGES} pages ready to publish")
    page.get_by_role("combobox", name="Environment").click()
    page.get_by_role("option", name="staging").click()
    page.get_by_role("button", name="Start a sweep").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"Sweep \d+: staging"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("done", timeout=400_000)
    expect(page.get_by_role("status")).to_contain_text(f"{fewer_pages} of {fewer_pages} pages read")
    page.get_by_role("link", name="What was found").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Findings")


def test_figures_lead_to_the_findings_behind_them(
    page: Page, swept: int, manager: PlumRake
) -> None:
    """A figure is a link; the list behind it has as many rows as the figure says; filters live in
    the address."""
    sign_in(page, MANAGER, f"/sites/{SITE}")
    live = page.get_by_role("region", name="Live")
    barriers = sum(
        1
        for _ in manager.findings.list(SITE, environment="live", weight="barrier", outcome="failed")
    )
    live.get_by_role("link", name=f"{barriers} Barriers").click()
    expect(page.get_by_role("status").first).to_contain_text(f"{barriers} findings")
    assert "weight=barrier" in page.url
    page.get_by_role("combobox", name="Check").click()
    page.get_by_role("option", name="A heading is empty").click()
    expect(page.get_by_role("status").first).to_contain_text("3 findings")
    assert "check=headings" in page.url
    page.reload()
    expect(page.get_by_role("status").first).to_contain_text("3 findings")
    page.go_back()
    expect(page.get_by_role("heading", level=1)).to_have_text("Harrowmere Canal Trust")


def test_every_finding_of_the_key_is_listed(page: Page, swept: int, manager: PlumRake) -> None:
    """The console shows all that the API lists but for words in no dictionary, in its order, though
    only what is on the screen is in the page."""
    sign_in(page, MANAGER, f"/sites/{SITE}/findings?sweep={swept}")
    expected = [finding.says for finding in manager.findings.list(SITE, sweep=swept)]
    rows = page.get_by_role("list", name="Findings").locator("> li")
    rows.first.wait_for()
    seen: dict[int, str] = {}
    turns_at_end = 0  # the next part of the list may be on its way
    while len(seen) < len(expected):
        assert rows.count() < 60
        before = len(seen)
        shown = rows.evaluate_all(
            "rows => rows.map((row) => [Number(row.dataset.index), "
            "row.querySelector('a').innerText])"
        )
        seen |= {int(at): says for at, says in shown}
        page.mouse.wheel(0, 500)
        page.wait_for_timeout(60)
        at_end = len(seen) == before and page.evaluate(
            "scrollY + innerHeight >= document.documentElement.scrollHeight - 1"
        )
        turns_at_end = turns_at_end + 1 if at_end else 0
        assert turns_at_end < 100, "the end came too soon"
    assert [seen[at] for at in range(len(expected))] == expected


def test_finding_shows_picture_place_and_proposals(
    page: Page, swept: int, manager: PlumRake
) -> None:
    """The page's picture with the place marked, the facts, who is hindered, what to do."""
    finding = next(
        one
        for one in manager.findings.list(SITE, sweep=swept, check="contrast/text")
        if one.path == "/search/"
    )
    sign_in(page, MANAGER, f"/sites/{SITE}/findings/{finding.id}")
    picture = page.get_by_role("img", name=re.compile("with the place marked"))
    expect(picture).to_be_visible()
    assert picture.evaluate("image => image.complete && image.naturalWidth") == 1280
    mark = page.locator(".mark:not(.obstacle)")
    box, frame = mark.bounding_box(), page.locator(".frame").last.bounding_box()
    assert box is not None
    assert frame is not None
    assert frame["y"] <= box["y"] < frame["y"] + frame["height"]
    main = page.locator("main")
    page.get_by_role("button", name="Copy the link").click()
    expect(page.get_by_role("status").first).to_contain_text(re.compile("is copied|address bar"))
    for text in (
        "2.99:1",
        "#8b979c",
        "Set the text colour to",
        "Who is hindered",
        "What an editor does",
        finding.selector,
        "line ",
    ):
        expect(main).to_contain_text(text)


def test_a_link_opens_exactly_here_for_a_colleague(
    page: Page, swept: int, manager: PlumRake
) -> None:
    """Somebody who has to sign in first lands on the finding that was sent."""
    finding = next(manager.findings.list(SITE, sweep=swept, check="links/vague"))
    sign_in(page, EDITOR, f"/sites/{SITE}/findings/{finding.id}")
    expect(page.get_by_role("heading", level=1)).to_have_text(finding.says)
    assert page.url.endswith(f"/sites/{SITE}/findings/{finding.id}")


def test_editor_is_not_offered_what_the_role_forbids(page: Page, swept: int) -> None:
    """No sweep button for an editor."""
    sign_in(page, EDITOR, f"/sites/{SITE}")
    expect(page.get_by_role("heading", level=1)).to_have_text("Harrowmere Canal Trust")
    expect(page.get_by_role("button", name="Start a sweep")).to_have_count(0)


def test_what_strangers_wrote_is_only_text(
    page: Page, swept: int, manager: PlumRake, tmp_path: Path
) -> None:
    """Markup of a hostile site is shown, never run: not in the list, not in the finding."""
    from plumrake import models
    from plumrake.demo.server import make_server
    from tests.services import serve_in_thread

    name = '<script>window.caught = 1</script><img src=x onerror="window.caught = 1">'
    (tmp_path / "index.html").write_text(
        "<!doctype html><html "
        f"lang=en><title>{name}</title><h1>x</h1><h4>{name.replace('<', '&lt;')}</h4>"
    )
    server = make_server(tmp_path, 0)
    origin = serve_in_thread(server)
    manager.sites.add(
        models.NewSite(
            slug="sly",
            name=name,
            live_address=f"{origin}/",
            found_by="list",
            listed_paths=["/"],
            private_leave=True,
        )
    )
    sweep = manager.sweeps.start("sly")
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    finding = next(manager.findings.list("sly", check="headings/level-jump"))
    sign_in(page, MANAGER, f"/sites/sly/findings?sweep={sweep.id}")
    expect(page.get_by_role("list", name="Findings")).to_contain_text("onerror")
    page.goto(f"/sites/sly/findings/{finding.id}")
    expect(page.locator("main")).to_contain_text("onerror")
    assert page.title() == "Finding – Plum Rake"
    assert page.evaluate("window.caught") is None
    server.shutdown()


def test_nothing_there(page: Page, swept: int) -> None:
    """A finding that is not there and an address that leads nowhere say so."""
    sign_in(page, MANAGER, f"/sites/{SITE}/findings/999999")
    expect(page.get_by_role("alert")).to_contain_text("there is no finding '999999'")
    page.goto("/no/such/place")
    expect(page.get_by_role("heading", level=1)).to_have_text("There is nothing at this address")


def test_keyboard_alone(page: Page, swept: int) -> None:
    """Signing in and opening a finding by keys; focus goes to the new view's heading."""
    page.goto("/")
    page.get_by_label("E-mail address").focus()
    page.keyboard.type(MANAGER)
    page.keyboard.press("Tab")
    page.keyboard.type(PASSWORD)
    page.keyboard.press("Enter")
    link = page.get_by_role("link", name="Harrowmere Canal Trust")
    link.wait_for()
    link.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Harrowmere Canal Trust")
    wait_for(
        lambda: page.evaluate("document.activeElement.tagName") in ("H1", "MAIN", "BODY"),
        5,
        "focus",
    )


@pytest.mark.parametrize("place", ["/", f"/sites/{SITE}", f"/sites/{SITE}/findings"])
def test_console_passes_its_own_checks(page: Page, swept: int, place: str) -> None:
    """The console's own views, read by Plum Rake's rendered lens, have no finding."""
    from plumrake.core.assess import assess
    from plumrake.core.page import Page as Model
    from plumrake.lenses.rendered.decode import decode_document
    from plumrake.lenses.rendered.scripts import collecting

    sign_in(page, MANAGER, place)
    page.get_by_role("heading", level=1).wait_for()
    page.wait_for_load_state("networkidle")
    page.evaluate("() => { window[Symbol.for('plumrake.listeners')] = new WeakMap() }")
    answer = page.evaluate(*collecting(100_000))
    document = decode_document(answer, place, "", most_elements=100_000)
    # Menu and filters of narrow screens are hidden on wide ones: that question of a hidden content
    # has its answer.
    found = [one for one in assess(Model(document)).findings if one.check != "page/hidden-content"]
    assert [(one.check, one.says, one.selector) for one in found] == []
