"""Whole tasks in the console: the manager hands out, the editor mends and hands in, two people meet
on one fix, decisions, people."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from plumrake import models
from plumrake.demo.seed import SITE
from tests.conftest import PASSWORD
from tests.keyboard import press, reach, write
from tests.trust import Trust

TAKES_LONG = True


@pytest.fixture(scope="module")
def swept(trust: Trust) -> models.Sweep:
    """A finished sweep of staging."""
    sweep = trust.manager.sweeps.start(SITE, environment="staging", lens="markup")
    assert list(trust.manager.sweeps.follow(sweep.id))[-1].kind == "done"
    return sweep


@pytest.fixture
def windows(browser: Browser, trust: Trust) -> Iterator[dict[str, Page]]:
    """A window each for the manager and Imke, signed in; no script may fail in them."""
    errors: list[str] = []
    pages: dict[str, Page] = {}
    for name in ("philippa", "imke"):
        page = browser.new_context(
            viewport={"width": 1280, "height": 800}, base_url=trust.running.address
        ).new_page()
        page.on("pageerror", lambda error: errors.append(str(error)))
        page.goto("/")
        page.get_by_label("E-mail address").fill(f"{name}@harrowmere.example")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("button", name="Sign out", exact=True).wait_for()
        pages[name] = page
    yield pages
    for page in pages.values():
        page.context.close()
    assert errors == []


def test_manager_hands_out_three_causes_at_once(
    windows: dict[str, Page], trust: Trust, swept: models.Sweep
) -> None:
    """From the overview: all causes, three ticks, one button; each goes to whoever answers for
    it."""
    page = windows["philippa"]
    page.goto(f"/sites/{SITE}")
    page.get_by_role("link", name="All causes, to hand out").click()
    boxes = page.get_by_role("checkbox", name="Choose:")
    boxes.first.wait_for()
    for number in range(3):
        boxes.nth(number).check()
    page.get_by_role("button", name="Hand out 3 causes").click()
    status = page.locator("#handed")
    expect(status).to_contain_text("3 causes handed out to")
    expect(status).to_be_focused()
    widest = list(trust.manager.causes.list(SITE, sweep=swept.id))[:3]
    assert all(cause.fix_id for cause in widest)
    expect(status).to_contain_text(widest[0].fix_owner or "nobody")


def test_editor_mends_and_the_reading_proves(
    windows: dict[str, Page], trust: Trust, swept: models.Sweep
) -> None:
    """The desk shows the fix at its page; handed in without a mend it comes back; mended it is
    proven."""
    cause = next(
        cause
        for cause in trust.manager.causes.list(
            SITE, sweep=swept.id, check="pictures/file-name-text"
        )
        if cause.path == "/visit/gallery/"
    )
    (fix,) = trust.manager.fixes.hand_out(SITE, sweep=swept.id, causes=[cause.key])
    page = windows["imke"]
    page.goto("/desk")
    page.get_by_role("region", name="/visit/gallery/").get_by_role(
        "button", name=f"Take: {fix.says}"
    ).click()
    expect(page.locator("#desk-said")).to_have_text("It is in hand now.")
    page.get_by_role("link", name=f"fix {fix.id}").first.click()
    page.get_by_role("button", name="Hand it in").click()
    expect(page.get_by_text("found it there")).to_be_visible(timeout=60_000)
    file = trust.staging / "visit/gallery/index.html"
    file.write_text(
        file.read_text().replace(f'alt="{_old_text(fix)}"', 'alt="Lanterns along the towpath"')
    )
    page.get_by_role("button", name="Hand it in").click()
    expect(page.locator(".state.proven")).to_be_visible(timeout=60_000)
    expect(page.get_by_text("proved it")).to_be_visible()


def _old_text(fix: models.Fix) -> str:
    return fix.says.partition("“")[2].partition("”")[0]


def test_two_people_on_one_fix(windows: dict[str, Page], trust: Trust, swept: models.Sweep) -> None:
    """Who acts on what they saw, after another changed it, is told so and sees it as it is now;
    nothing is overwritten."""
    cause = next(
        cause
        for cause in trust.manager.causes.list(SITE, sweep=swept.id, check="links/vague")
        if cause.path == "/de/"
    )
    nobody = models.OwnerChoice()
    (fix,) = trust.manager.fixes.hand_out(SITE, sweep=swept.id, causes=[cause.key], owner=nobody)
    windows["philippa"].route("**/live", lambda route: route.abort())  # she hears of it too late
    for page in windows.values():
        page.goto(f"/sites/{SITE}/fixes/{fix.id}")
        page.get_by_role("button", name="Take it").wait_for()
    windows["imke"].get_by_role("button", name="Take it").click()
    expect(windows["imke"].locator(".state.in_hand")).to_be_visible()
    windows["philippa"].get_by_role("button", name="Take it").click()
    told = windows["philippa"].get_by_role("alert", name="Somebody was first")
    expect(told).to_contain_text("somebody moved fix")
    expect(windows["philippa"].locator(".state.in_hand")).to_be_visible()
    windows["philippa"].unroute("**/live")
    assert trust.manager.fixes.show(fix.id).owner == "Imke Sander"
    windows["philippa"].get_by_label("Note").fill("Thank you, @imke")
    windows["philippa"].get_by_role("button", name="Write").click()
    expect(windows["philippa"].locator(".timeline")).to_contain_text("Thank you, @imke")
    windows["imke"].goto("/desk")
    expect(windows["imke"].locator("main")).to_contain_text("You are mentioned")


def test_finding_is_judged_and_waived(
    windows: dict[str, Page], trust: Trust, swept: models.Sweep
) -> None:
    """A doubtful finding is answered with a note, a fault waived with a reason; both stand among
    the decisions and can be ended."""
    page = windows["philippa"]
    doubtful = next(
        trust.manager.findings.list(SITE, sweep=swept.id, outcome="cantTell", path="/locks/")
    )
    page.goto(f"/sites/{SITE}/findings/{doubtful.id}")
    page.get_by_label("Why").fill("it adorns the page")
    page.get_by_role("button", name="It is fine").click()
    expect(page.get_by_text("A person judged that this is fine.")).to_be_visible()
    fault = next(
        trust.manager.findings.list(SITE, sweep=swept.id, outcome="failed", path="/visit/")
    )
    page.goto(f"/sites/{SITE}/findings/{fault.id}")
    page.get_by_text("Waive it", exact=True).click()
    page.get_by_label("Reason").fill("the calendar is replaced in spring")
    page.get_by_role("button", name="Waive", exact=True).click()
    expect(page.get_by_text("A waiver covers this")).to_be_visible()
    page.get_by_role("link", name="Decisions").click()
    expect(page.get_by_role("region", name="List of waivers")).to_contain_text(
        "the calendar is replaced in spring"
    )
    expect(page.get_by_role("region", name="List of judgements")).to_contain_text(
        "it adorns the page"
    )
    page.get_by_role("button", name="End the waiver of").click()
    expect(page.get_by_role("region", name="List of waivers")).to_contain_text("over since")
    page.get_by_role("button", name="Take back the judgement").click()
    expect(
        page.get_by_text("Findings that a person has to look at are judged on their own page.")
    ).to_be_visible()


_HOUR: list[tuple[str, str, str, str]] = [
    ("pictures/no-text", "/visit/gallery/", 'alt="   "', "A moorhen on its nest"),
    ("headings/level-jump", "/about/history/", "<h4>The camp at Brindle</h4>", "3"),
    ("links/vague", "/de/", ">Mehr</a>", "Wege zum Kanal"),
    ("contrast/text", "/visit/towpath/", '<span class="pale">', "#3a4a50"),
    ("tables/no-caption", "/archive/tolls/", "<tr><td>Lime</td>", "Tolls of 1894"),
]
"""Five fixes of five kinds: the check, the page, what its source holds, and what the editor
chooses."""


def _mended(check: str, old: str, words: str) -> str:
    return {
        "pictures/no-text": f'alt="{words}"',
        "headings/level-jump": f"<h{words}>The camp at Brindle</h{words}>",
        "links/vague": f">{words}</a>",
        "contrast/text": f'<span style="color: {words}">',
        "tables/no-caption": f"<caption>{words}</caption>{old}",
    }[check]


def _choose_mend(page: Page, check: str, words: str) -> None:
    """Use the control that is there for this kind of fault."""
    if check == "headings/level-jump":
        reach(page, page.get_by_role("radio", name="4", exact=True))
        page.keyboard.press("ArrowLeft")
        expect(page.get_by_role("radio", name=words, exact=True)).to_be_checked()
        expect(page.get_by_text("No jump in the outline")).to_be_visible()
        return
    label = {
        "pictures/no-text": "Text that says what the picture means here",
        "links/vague": "What it is to read",
        "contrast/text": "Text",
        "tables/no-caption": "Caption: what the table shows",
    }[check]
    write(page, page.get_by_role("textbox", name=label, exact=True), words)


def test_editors_hour_by_keyboard(windows: dict[str, Page], trust: Trust) -> None:
    """From the desk: five fixes of five kinds, each proposed with its own control, mended in the
    source, handed in, and proven by reading."""
    rake = trust.manager
    read = sorted({path for _, path, _, _ in _HOUR})
    sweep = rake.sweeps.start(SITE, environment="staging", fresh=True, paths=read)
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    imke = next(person.id for person in rake.people.list() if person.email.startswith("imke"))
    page, numbers = windows["imke"], []
    for check, path, old, words in _HOUR:
        finding = next(
            one
            for one in rake.findings.list(SITE, sweep=sweep.id, check=check, path=path)
            if check != "pictures/no-text" or old in one.excerpt
        )
        (fix,) = rake.fixes.hand_out(
            SITE, sweep=sweep.id, causes=[finding.cause], owner=models.OwnerChoice(person_id=imke)
        )
        numbers.append(fix.id)
        page.goto("/desk")
        press(
            page,
            page.get_by_role("button", name=f"fix {fix.id}", exact=False).and_(
                page.get_by_role("button", name="Take: ")
            ),
        )
        expect(page.locator("#desk-said")).to_be_focused()
        press(page, page.locator("main [data-row]").get_by_role("link", name=f"fix {fix.id}"))
        press(page, page.get_by_role("link", name="Mend it, with all that was measured"))
        _choose_mend(page, check, words)
        press(page, page.get_by_role("button", name="Keep as the proposal"))
        expect(page.get_by_text(f"Kept as the proposal of fix {fix.id}")).to_be_visible()
        file = trust.staging / path.strip("/") / "index.html"
        assert old in file.read_text(), (old, path)
        file.write_text(file.read_text().replace(old, _mended(check, old, words)))
        press(page, page.get_by_role("link", name=f"Fix {fix.id}", exact=True))
        expect(page.get_by_text("Proposed:")).to_be_visible()
        press(page, page.get_by_role("button", name="Hand it in"))
    for number in numbers:
        page.goto(f"/sites/{SITE}/fixes/{number}")
        expect(page.locator(".state.proven")).to_be_visible(timeout=60_000)


def invited(page: Page, name: str, email: str, areas: str = "") -> str:
    """Invite somebody to the site; return the address that is shown once."""
    page.goto(f"/sites/{SITE}/people")
    form = page.get_by_role("form", name="Invite somebody")
    form.get_by_label("Name").fill(name)
    form.get_by_label("E-mail").fill(email)
    form.get_by_label("For these pages alone").fill(areas)
    form.get_by_role("button", name="Invite").click()
    told = page.locator("#p-said")
    expect(told).to_contain_text("/invitation#")
    return (told.text_content() or "").rpartition(" ")[2]


def test_an_invitation_is_taken_back(
    windows: dict[str, Page], trust: Trust, browser: Browser
) -> None:
    """Who is invited stands in a list until they are in; one that is taken back lets nobody in."""
    page = windows["philippa"]
    address = invited(page, "Jack Daw", "jack@harrowmere.example")
    row = page.get_by_role("row", name="Jack Daw")
    expect(row).to_contain_text("jack@harrowmere.example editor this site")
    row.get_by_role("button", name="Take back the invitation to Jack Daw").click()
    expect(page.locator("#p-said")).to_have_text("Jack Daw is not invited any more.")
    expect(page.get_by_role("heading", name="Invited, and not in yet")).to_have_count(0)
    guest = browser.new_context(base_url=trust.running.address).new_page()
    guest.goto(address)
    guest.get_by_label("Password, twelve characters or more").fill("towpath-at-dusk")
    guest.get_by_role("button", name="Accept invitation").click()
    expect(guest.get_by_role("alert")).to_contain_text("not valid any more")
    guest.context.close()


def test_somebody_is_invited_and_comes_in(
    windows: dict[str, Page], trust: Trust, browser: Browser
) -> None:
    """The address that the manager is shown once lets the new person choose a password and lands
    them on their desk; the site tells them which of its pages they are there for."""
    page = windows["philippa"]
    areas = "/boating/* /stoppages/*"
    address = invited(page, "Jenny Wren", "jenny@harrowmere.example", areas)
    guest = browser.new_context(base_url=trust.running.address).new_page()
    guest.goto(address)
    guest.get_by_label("Password, twelve characters or more").fill("towpath-at-dusk")
    guest.get_by_role("button", name="Accept invitation").click()
    expect(guest.get_by_role("heading", level=1)).to_have_text("My desk")
    expect(guest.locator("header")).to_contain_text("Jenny Wren")
    guest.goto(f"/sites/{SITE}")
    expect(guest.locator("header")).to_contain_text("Jenny Wren, editor")
    expect(guest.locator("main")).to_contain_text("here for /boating/* and /stoppages/*: lists")
    guest.context.close()
