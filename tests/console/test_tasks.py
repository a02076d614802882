"""Whole tasks in the console, by keyboard alone where people do them so: the manager's morning,
sending a link, finding anything, undoing, a lost connection, words that are not lost, a policy
tried and saved by two."""

from __future__ import annotations

import re
import signal
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.seed import SITE
from tests.conftest import EDITOR, MANAGER, PASSWORD, Running, wait_for
from tests.console.conftest import sign_in
from tests.keyboard import choose, focused, press, write

TAKES_LONG = True

BEGINS_SWEPT = True


def heading(page: Page, text: str | re.Pattern[str]) -> None:
    """A view is there and its heading has the focus, so that it is announced and Tab goes on from
    it."""
    expect(page.get_by_role("heading", level=1)).to_contain_text(text)
    wait_for(
        lambda: focused(page).startswith("H1 "),
        5,
        f"focus on the heading, it is on {focused(page)}",
    )


def test_managers_morning_by_keyboard(page: Page, swept: int, manager: PlumRake) -> None:
    """What is new, hand out, waive one, sweep a part: signed in and done without a mouse, the focus
    never lost."""
    page.goto("/")
    write(page, page.get_by_label("E-mail address"), MANAGER)
    write(page, page.get_by_label("Password"), PASSWORD)
    page.keyboard.press("Enter")
    press(page, page.locator("main").get_by_role("link", name="Harrowmere Canal Trust"))
    heading(page, "Harrowmere Canal Trust")

    press(page, page.get_by_role("link", name="All causes, to hand out"))
    heading(page, "Causes")
    boxes = page.get_by_role("checkbox", name="Choose:")
    boxes.first.wait_for()
    for _ in range(2):
        page.keyboard.press("j")
        page.keyboard.press("x")
    expect(boxes.nth(1)).to_be_checked()
    assert "chosen=" in page.url
    page.keyboard.press("a")
    expect(page.get_by_role("combobox", name="What to do")).to_be_focused()
    press(page, page.get_by_role("button", name="Hand out 2 causes"))
    told = page.locator("#handed")
    expect(told).to_contain_text("2 causes handed out to")
    expect(told).to_be_focused()

    for _ in range(3):
        page.keyboard.press("j")
    third = focused(page)
    page.keyboard.press("k")
    assert focused(page) != third
    page.keyboard.press("j")
    assert focused(page) == third
    page.keyboard.press("x")
    page.keyboard.press("a")
    choose(page, page.get_by_role("combobox", name="What to do"), "Waive")
    write(page, page.get_by_role("textbox", name="Reason"), "the map is drawn anew in spring")
    press(page, page.get_by_role("button", name="Waive 1 cause"))
    expect(told).to_contain_text("1 cause waived")
    assert [one.reason for one in manager.decisions.waivers(SITE, in_force=True)] == [
        "the map is drawn anew in spring"
    ]

    page.keyboard.press("g")
    page.keyboard.press("s")
    heading(page, "Sweeps")
    write(page, page.get_by_label("Below"), "/visit/")
    press(page, page.locator("main").get_by_role("button", name="Start a sweep"))
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"Sweep \d+: live"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("done", timeout=90_000)
    assert next(manager.sweeps.list(SITE)).section == "/visit/"


def test_what_was_done_is_taken_back(page: Page, swept: int, manager: PlumRake) -> None:
    """A waiver granted by hand ends with one key, and the page says so aloud."""
    finding = next(manager.findings.list(SITE, sweep=swept, check="links/file-unsaid"))
    sign_in(page, MANAGER, f"/sites/{SITE}/findings/{finding.id}")
    page.get_by_text("Waive it", exact=True).click()
    page.get_by_label("Reason").fill("the archive writes it")
    page.get_by_role("button", name="Waive", exact=True).click()
    expect(page.get_by_text("A waiver covers this")).to_be_visible()
    page.keyboard.press("u")
    expect(page.get_by_text("Taken back: Waived until")).to_be_visible()
    expect(page.get_by_text("A waiver covers this")).to_have_count(0)
    assert not [
        one
        for one in manager.decisions.waivers(SITE, in_force=True)
        if one.check == "links/file-unsaid"
    ]


def test_anything_is_found_by_its_words(page: Page, swept: int) -> None:
    """Pages, causes, checks and people, with the arrow keys; Escape closes and leaves the focus
    where it was."""
    sign_in(page, MANAGER, f"/sites/{SITE}")
    for words, place, title in (
        ("opening times", "/page?path=", "Lock opening times"),
        ("skips", "/checks/headings/level-jump", "A heading skips a level"),
        ("osric", "/fixes?owner=p", "Fixes"),
    ):
        page.locator("main").focus()
        page.keyboard.press("/")
        page.keyboard.type("level-jump" if words == "skips" else words)
        kind = {"opening times": "Page", "skips": "Check", "osric": "Person"}[words]
        page.get_by_role("option", name=re.compile(f"^{kind}")).first.wait_for()
        expect(page.get_by_role("listbox", name="Found")).to_have_attribute("aria-busy", "false")
        options = [one.inner_text() for one in page.get_by_role("option").all()]
        for _ in range(next(at for at, one in enumerate(options) if one.startswith(kind))):
            page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text(title)
        assert place in page.url
    page.keyboard.press("Control+k")
    expect(page.get_by_role("dialog", name="Find anything")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Find anything")).to_be_hidden()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys on this page")).to_contain_text(
        "take back what was just done"
    )


def test_a_word_becomes_the_sites_own_by_keyboard(
    page: Page, swept: int, manager: PlumRake
) -> None:
    """What may be meant is asked, a word is added and taken back, several are added at once and one
    dropped; the focus is never lost."""
    sign_in(page, MANAGER, f"/sites/{SITE}/words?environment=live")
    press(page, page.get_by_role("button", name="What is meant? seperately"))
    expect(page.get_by_text("Perhaps: separately")).to_be_visible(timeout=20_000)
    doubted = page.get_by_role("button", name="Add to the site’s words: gongoozlers")
    press(page, doubted)
    expect(doubted).to_have_count(0)
    expect(page.get_by_role("heading", name="In no dictionary")).to_be_focused()
    assert [one.word for one in manager.words.list(SITE)] == ["gongoozlers"]
    page.keyboard.press("u")
    expect(doubted).to_be_visible()
    assert list(manager.words.list(SITE)) == []
    write(page, page.get_by_label("Words to add"), "Slow-Otter gongoozlers")
    page.keyboard.press("Enter")
    press(page, page.get_by_role("button", name="Drop Slow-Otter"))
    expect(page.get_by_role("heading", name="The site’s own words")).to_be_focused()
    assert [one.word for one in manager.words.list(SITE)] == ["gongoozlers"]


def test_all_links_are_followed_and_the_dead_ones_listed(page: Page, swept: int) -> None:
    """A check of all links is begun with a button and told when it is done; what it found is a
    filter of the list."""
    sign_in(page, MANAGER, f"/sites/{SITE}/links")
    expect(page.get_by_text("No link was followed yet.")).to_be_visible()
    press(page, page.get_by_role("button", name="Follow all links"))
    expect(page.get_by_text("Followed ")).to_be_visible(timeout=90_000)
    press(page, page.get_by_role("button", name=re.compile(r"\d+ dead")))
    expect(page.locator(".link", has_text="/share/?page=").first).to_contain_text(
        "there is no such page (404"
    )
    assert "state=dead" in page.url


def test_letters_may_be_kept_from_acting(page: Page, swept: int) -> None:
    """Who turns single letters off types them anywhere without being taken elsewhere (WCAG
    2.1.4)."""
    sign_in(page, MANAGER, "/me")
    page.get_by_role("checkbox", name="Single letters act").uncheck()
    page.locator("main").focus()
    page.keyboard.press("g")
    page.keyboard.press("d")
    page.keyboard.press("/")
    expect(page.get_by_role("heading", level=1)).to_have_text("Philippa Wren")
    expect(page.get_by_role("dialog", name="Find anything")).to_be_hidden()


def test_a_link_shows_a_colleague_the_same(window: Callable[[], Page], swept: int) -> None:
    """Filters, what is chosen, the page view and the finding of a page live in the address; back
    goes back."""
    mine, theirs = window(), window()
    sign_in(mine, MANAGER, f"/sites/{SITE}/page?path=/visit/gallery/&environment=live")
    mine.get_by_role("button", name=re.compile("^2: ")).click()
    mine.get_by_role("link", name="Outline").click()
    expect(mine.get_by_role("region", name="Outline")).to_contain_text("Gallery")
    sign_in(theirs, EDITOR, mine.url.replace(mine.url.split("/sites")[0], ""))
    expect(theirs.get_by_role("region", name="Outline")).to_contain_text("Gallery")
    expect(theirs.get_by_role("button", name=re.compile("^2: "))).to_have_attribute(
        "aria-pressed", "true"
    )
    mine.goto(f"/sites/{SITE}/causes?weight=barrier&zone=content")
    rows = mine.get_by_role(
        "list", name="Causes, the heaviest first, of these the widest"
    ).get_by_role("link")
    rows.first.wait_for()
    theirs.goto(mine.url)
    theirs.get_by_role("list", name="Causes, the heaviest first, of these the widest").wait_for()
    shown = theirs.get_by_role(
        "list", name="Causes, the heaviest first, of these the widest"
    ).get_by_role("link")
    assert [one.inner_text() for one in shown.all()][:5] == [
        one.inner_text() for one in rows.all()
    ][:5]
    theirs.go_back()
    expect(theirs.get_by_role("region", name="Outline")).to_be_visible()


def test_filters_are_saved_under_a_name(page: Page, swept: int) -> None:
    """A filter saved is there after a reload, sets the address again, and can be forgotten and
    brought back."""
    sign_in(page, MANAGER, f"/sites/{SITE}/findings?weight=friction&check=links")
    page.get_by_label("Name for this filter").fill("small things of links")
    page.get_by_role("button", name="Save the filter").click()
    expect(page.get_by_text("is saved.")).to_be_visible()
    page.goto(f"/sites/{SITE}/findings")
    page.get_by_role("button", name="small things of links", exact=True).click()
    expect(page).to_have_url(re.compile("weight=friction"))
    page.get_by_role("button", name="Forget the filter small things of links").click()
    expect(page.get_by_role("button", name="small things of links", exact=True)).to_have_count(0)
    page.keyboard.press("u")
    expect(page.get_by_role("button", name="small things of links", exact=True)).to_be_visible()


def test_a_lost_connection_is_told_and_healed(
    page: Page, running: Running, swept: int, manager: PlumRake
) -> None:
    """While the service cannot be reached it is said; after that the page shows what happened
    meanwhile, without a reload."""
    cause = next(
        one for one in manager.causes.list(SITE, sweep=swept, outcome="failed") if not one.fix_id
    )
    nobody = models.OwnerChoice()
    (fix,) = manager.fixes.hand_out(SITE, sweep=swept, causes=[cause.key], owner=nobody)
    sign_in(page, MANAGER, f"/sites/{SITE}/fixes/{fix.id}")
    page.get_by_role("button", name="Take it").wait_for()
    service = next(child for child in running.children if "serve" in child.args)  # type: ignore[operator]
    service.send_signal(signal.SIGTERM)
    service.wait(20)
    expect(page.get_by_role("alert")).to_contain_text(
        "The connection to the service was lost", timeout=15_000
    )
    running.start("serve")
    running.wait_until_ready()
    manager.fixes.move(fix, "note", why="written while the line was down")
    expect(page.locator(".lost")).to_have_count(0, timeout=20_000)
    expect(page.locator(".timeline")).to_contain_text("written while the line was down")


def test_news_come_by_themselves(window: Callable[[], Page], swept: int, manager: PlumRake) -> None:
    """What a colleague does shows in an open window within seconds: state, and the count of one's
    own notifications."""
    cause = next(
        one for one in manager.causes.list(SITE, sweep=swept, outcome="failed") if not one.fix_id
    )
    (fix,) = manager.fixes.hand_out(SITE, sweep=swept, causes=[cause.key])
    page = window()
    with page.expect_response(lambda answer: answer.url.endswith("/live")):
        sign_in(page, EDITOR, f"/sites/{SITE}/fixes/{fix.id}")
    expect(page.locator(".timeline")).to_be_visible()
    bell = page.get_by_role("link", name=re.compile("^Notifications: "))
    before = bell.get_attribute("aria-label")
    manager.fixes.move(manager.fixes.show(fix.id), "note", why="please look, @ned")
    expect(page.locator(".timeline")).to_contain_text("please look, @ned", timeout=8_000)
    wait_for(lambda: bell.get_attribute("aria-label") != before, 8, "the count of notifications")


def test_what_is_typed_outlives_reload_and_sign_out(
    page: Page, swept: int, manager: PlumRake
) -> None:
    """A note, a mend and a policy that were begun are there again, for the same person alone."""
    finding = next(manager.findings.list(SITE, sweep=swept, check="links/vague"))
    sign_in(page, MANAGER, f"/sites/{SITE}/findings/{finding.id}")
    page.get_by_label("What it is to read").fill("Fees of the moorings")
    page.reload()
    expect(page.get_by_label("What it is to read")).to_have_value("Fees of the moorings")
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_label("E-mail address").wait_for()
    sign_in(page, EDITOR, f"/sites/{SITE}/findings/{finding.id}")
    expect(page.get_by_label("What it is to read")).to_have_value("")
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_label("E-mail address").wait_for()
    sign_in(page, MANAGER, f"/sites/{SITE}/findings/{finding.id}")
    expect(page.get_by_label("What it is to read")).to_have_value("Fees of the moorings")
    expect(page.get_by_text("This was begun before and not saved")).to_be_visible()
    expect(page.get_by_label("The mend as markup")).to_contain_text("Fees of the moorings")


def test_policy_is_tried_then_saved_and_two_savers_meet(
    window: Callable[[], Page], swept: int, manager: PlumRake
) -> None:
    """What a policy would do is said before it is saved; who saves after somebody else sees both
    versions."""
    mine, theirs = window(), window()
    for page in (mine, theirs):
        sign_in(page, MANAGER, f"/sites/{SITE}/policy")
        page.get_by_role("combobox", name="What holds a page").wait_for()
    before = manager.sites.show(SITE).figures[0]
    mine.get_by_role("combobox", name="What holds a page").click()
    mine.get_by_role("option", name="none").click()
    mine.get_by_role("button", name="Try it on the last sweep").click()
    trial = mine.get_by_role("region", name="What it would do")
    expect(trial).to_contain_text("more ready: ")
    expect(trial).to_contain_text(f"of {before.pages} instead of {before.ready}")
    mine.get_by_role("button", name="Save the policy").click()
    expect(mine.get_by_text("The policy is saved.")).to_be_visible()
    assert manager.sites.show(SITE).policy["hold"] == "none"
    theirs.get_by_label("Palette").fill("#1b5e72\n#ffffff")
    theirs.get_by_label("Palette").blur()
    theirs.get_by_role("button", name="Save the policy").click()
    conflict = theirs.get_by_role("alert")
    expect(conflict).to_contain_text("Somebody saved the policy meanwhile")
    expect(conflict.get_by_role("row", name=re.compile("hold"))).to_contain_text("none")
    conflict.get_by_role("button", name="Take theirs").click()
    expect(theirs.get_by_role("combobox", name="What holds a page")).to_have_text("none")
    mine.keyboard.press("u")
    expect(mine.get_by_text("Taken back: The policy is saved.")).to_be_visible()
    assert "hold" not in manager.sites.show(SITE).policy


def test_colours_are_tried_all_over_the_site(page: Page, swept: int, manager: PlumRake) -> None:
    """Another colour in place of one shows which pairs would pass; ratios are those of the
    service."""
    pairs = list(manager.views.colours(SITE, sweep=swept))
    worst = next(pair for pair in pairs if not pair.passes)
    sign_in(
        page, MANAGER, f"/sites/{SITE}/colours?from={worst.text.replace('#', '%23')}&to=%23222222"
    )
    touched = [pair for pair in pairs if worst.text in (pair.text, pair.background)]
    expect(page.get_by_role("status").first).to_contain_text(f"{len(touched)} pair")
    advice = manager.request(
        "GET", "/api/v1/colours", params={"text": "#222222", "background": worst.background}
    ).json()
    expect(page.locator(".pair.touched").first).to_contain_text(f"{advice['ratio']:.2f}:1, passes")


def test_one_text_is_offered_to_every_place_of_a_picture(
    page: Page, swept: int, manager: PlumRake
) -> None:
    """Written once, the text is the proposal of every fix of the picture's faults."""
    sign_in(page, MANAGER, f"/sites/{SITE}/pictures?show=without")
    row = page.get_by_role("listitem").filter(has_text="portrait-6.jpg").first
    row.get_by_role("button", name=re.compile("Its places, and one text for all")).click()
    row.get_by_role("textbox", name="One text for all its places").fill("Corwin Sedge, trustee")
    row.get_by_role("button", name="Offer it").click()
    expect(page.get_by_text("Offered to 1 fix;")).to_be_visible()
    (fix,) = [
        one
        for one in manager.fixes.list(SITE, check="pictures/no-text")
        if "portrait-6" in one.says
    ]
    assert fix.proposal == {
        "kind": "set-attribute",
        "attribute": "alt",
        "value": "Corwin Sedge, trustee",
    }


def test_the_page_is_read_again_from_its_view(page: Page, swept: int, manager: PlumRake) -> None:
    """ "Read again now" brings a new reading with its picture, and the one before stays among the
    readings over time."""
    sign_in(page, MANAGER, f"/sites/{SITE}/page?path=/boating/fees/")
    page.get_by_role("button", name="Read again now").click()
    expect(page.get_by_text("/boating/fees/ was read again")).to_be_visible(timeout=60_000)
    expect(page.get_by_role("img", name="The page /boating/fees/ as it was read")).to_be_visible()
    page.get_by_role("link", name="Over time").click()
    table = page.get_by_role("table", name="Readings of this page, the newest first")
    wait_for(lambda: table.get_by_role("row").count() >= 3, 60, "two readings")
    expect(page.get_by_text("Nothing changed.")).to_be_visible()


@pytest.mark.parametrize("width", [390, 320])
def test_narrow_screens_need_no_sideways_scrolling(
    page: Page, swept: int, manager: PlumRake, width: int
) -> None:
    """At 390 px, and at 320 px (1280 px at 400 %), every view fits its width."""
    later = manager.sweeps.start(SITE, section="/about/", lens="markup").id
    assert list(manager.sweeps.follow(later))[-1].kind == "done"
    sign_in(page, MANAGER)
    page.set_viewport_size({"width": width, "height": 844})
    for place in (
        "",
        "/causes",
        "/pages",
        "/findings",
        "/fixes",
        "/board",
        "/pictures",
        "/colours",
        "/links",
        "/sweeps",
        f"/sweeps/{later}",
        f"/sweeps/compare?sweep={later}&against={swept}&kind=still",
        "/calendar",
        "/decisions",
        "/gate",
        "/history",
        "/people",
        "/policy",
        "/words",
        "/page?path=/visit/gallery/",
    ):
        page.goto(f"/sites/{SITE}{place}")
        page.locator("main h1").wait_for()
        page.wait_for_load_state("load")
        wait_for(
            lambda: page.evaluate("document.documentElement.scrollWidth") <= width,
            3,
            f"{place} to fit",
        )
    page.goto(f"/sites/{SITE}")
    page.get_by_role("button", name="Menu of the site").click()
    page.get_by_role("link", name="Board").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Board")


def test_finding_that_vanished_meanwhile_is_said(
    page: Page, running: Running, swept: int, manager: PlumRake
) -> None:
    """A listing of a site that is gone tells so in its place, with a way to try again."""
    manager.sites.add(
        models.NewSite(
            slug="brief", name="Brief", live_address="http://127.0.0.1:9/", private_leave=True
        )
    )
    sign_in(page, MANAGER, "/sites/brief")
    expect(page.get_by_role("heading", name="What now")).to_be_visible()
    manager.sites.drop("brief")
    page.goto("/sites/brief/causes")
    expect(page.get_by_role("alert")).to_contain_text("there is no site 'brief'")
    expect(page.get_by_role("button", name="Try again")).to_be_visible()
