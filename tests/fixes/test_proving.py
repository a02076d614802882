"""What proves a fix: a reading that tested what the fix is about, and nothing else. On a site of
three pages that the test changes."""

from __future__ import annotations

from collections.abc import Iterator

import psycopg
import pytest
from playwright.sync_api import Browser, expect

from plumrake import models
from plumrake.client import PlumRake
from tests.conftest import MANAGER, Running, wait_for
from tests.console.conftest import sign_in
from tests.small_site import SmallSite, small_site

SITE = "small"
PALE = "<h1>Fees</h1><p style='color:#999'>Paid by the day, at the lock.</p>"
PALE_SOMEWHERE = PALE.replace("color:#999", "position:absolute;top:9em;color:#999")
"""What it lies on, only a layout tells."""
PAGES = {
    "/": "<h1>Canal</h1><p><a href=/fees/>What it costs</a> and <a href=/locks/>the locks</a></p>",
    "/fees/": PALE,
    "/locks/": (
        "<h1>Locks</h1><p>There are nine, and <a href=/gone/>a tenth that was filled in</a>. <a "
        "href=/coming/>The eleventh</a>.</p>"
    ),
}


@pytest.fixture(scope="module")
def pages(tmp_path_factory: pytest.TempPathFactory) -> Iterator[dict[str, SmallSite]]:
    """The site's two environments."""
    environments = {"live": PAGES, "staging": {**PAGES, "/coming/": "<h1>Coming</h1>"}}
    made = {
        environment: small_site(tmp_path_factory.mktemp(environment), bodies)
        for environment, bodies in environments.items()
    }
    yield made
    for site in made.values():
        site.server.shutdown()


@pytest.fixture(scope="module")
def rake(running: Running, manager: PlumRake, pages: dict[str, SmallSite]) -> PlumRake:
    """The service with a worker and the small site."""
    running.start("worker")
    addresses = {"live_address": pages["live"].address, "staging_address": pages["staging"].address}
    manager.sites.add(
        models.NewSite(
            slug=SITE,
            name="Small",
            **addresses,
            found_by="list",
            listed_paths=[*PAGES],
            private_leave=True,
        )
    )
    return manager


@pytest.fixture(autouse=True)
def as_written(pages: dict[str, SmallSite]) -> Iterator[None]:
    """Each test finds the pages as they were."""
    yield
    for site in pages.values():
        site.put_back()


def set_policy(rake: PlumRake, **policy: object) -> None:
    """Give the site another policy."""
    rake.sites.change(
        SITE,
        models.SiteChange(policy={name.replace("_", "-"): value for name, value in policy.items()}),
        rake.sites.show(SITE).tag,
    )


def swept(rake: PlumRake, **how: object) -> models.Sweep:
    """A finished sweep of the site, from markup where nothing else is said."""
    sweep = rake.sweeps.start(SITE, **{"lens": "markup", **how})  # type: ignore[arg-type]
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return rake.sweeps.show(sweep.id)


def found(rake: PlumRake, sweep: models.Sweep, area: str) -> set[tuple[str, str]]:
    """Pairs of check and path of an area's sure findings."""
    return {
        (one.check, one.path)
        for one in rake.findings.list(SITE, sweep=sweep.id, check=area, outcome="failed")
    }


def test_what_was_not_tested_is_neither_proven_nor_gone(
    rake: PlumRake, pages: dict[str, SmallSite]
) -> None:
    """A sweep without a browser, and one whose policy leaves the check out, say nothing about a
    contrast fix that hangs on a layout; handing in reads in the browser."""
    pages["live"].write("/fees/", PALE_SOMEWHERE)
    first = swept(rake, lens="rendered")
    assert ("contrast/text", "/fees/") in found(rake, first, "contrast")
    [cause] = [one.key for one in rake.causes.list(SITE, sweep=first.id, check="contrast/text")]
    [fix] = rake.fixes.hand_out(SITE, sweep=first.id, causes=[cause])

    from_markup = swept(rake)
    assert found(rake, from_markup, "contrast") == set()
    assert rake.fixes.show(fix.id).state == "open"
    assert list(rake.sweeps.changed_findings(from_markup.id, "gone", against=first.id)) == []
    assert [
        one
        for one in rake.sweeps.changes(from_markup.id, against=first.id).figures
        if one.kind == "gone"
    ] == []

    set_policy(rake, without=["contrast/text"])
    swept(rake, lens="rendered")
    assert rake.fixes.show(fix.id).state == "open"
    set_policy(rake)

    rake.fixes.move(rake.fixes.show(fix.id), "take")
    rake.fixes.move(rake.fixes.show(fix.id), "hand_in")
    wait_for(
        lambda: rake.fixes.show(fix.id).state == "reopened",
        60,
        "the fix to come back: nothing was mended",
    )
    pages["live"].write("/fees/", PALE_SOMEWHERE.replace("#999", "#333"))
    rake.fixes.move(rake.fixes.show(fix.id), "take")
    rake.fixes.move(rake.fixes.show(fix.id), "hand_in")
    wait_for(
        lambda: rake.fixes.show(fix.id).state == "proven", 60, "the fix to be proven in the browser"
    )


def test_a_proof_changes_figures_and_lists_at_once(
    rake: PlumRake, pages: dict[str, SmallSite]
) -> None:
    """What a later reading of a page no longer shows counts no more in the sweep before it, and
    counts again when it is back; proofs are no sweeps of the site's list."""

    def figures() -> models.Figures:
        return next(one for one in rake.sites.show(SITE).figures if one.environment == "live")

    whole = swept(rake, lens="rendered")
    before = figures()
    [finding] = rake.findings.list(SITE, sweep=whole.id, check="contrast/text")
    [fix] = rake.fixes.hand_out(SITE, sweep=whole.id, causes=[finding.cause])
    pages["live"].write("/fees/", PALE.replace("#999", "#333"))
    rake.fixes.move(fix, "hand_in")
    wait_for(lambda: rake.fixes.show(fix.id).state == "proven", 60, "the proof")
    wait_for(lambda: figures().obstacles < before.obstacles, 90, "the figures")
    after = figures()
    assert (after.sweep_id, after.obstacles) == (whole.id, before.obstacles - 1)
    assert (after.ready, after.pages) == (before.ready + 1, before.pages)
    assert rake.findings.show(finding.id).standing == "mended"
    assert [one.id for one in rake.findings.list(SITE, sweep=whole.id, standing="mended")] == [
        finding.id
    ]
    assert rake.sites.try_policy(SITE, {}).ready_before == after.ready

    pages["live"].write("/fees/", PALE)
    again = rake.sweeps.start(SITE, paths=["/fees/"], fresh=True)
    assert list(rake.sweeps.follow(again.id))[-1].kind == "done"
    assert figures() == before
    came_back = rake.fixes.show(fix.id)
    assert (came_back.state, came_back.reopened_after) == ("reopened", "proven")
    assert again.id not in {one.id for one in rake.sweeps.list(SITE)}
    assert next(rake.sweeps.list(SITE, given=True)).id == again.id


def test_dead_links_are_found_by_sweeps_that_follow_links(
    rake: PlumRake, running: Running, pages: dict[str, SmallSite]
) -> None:
    """They have causes and fixes like all else; a page whose text is as before is read anew only
    when a link leads elsewhere than before."""
    live = pages["live"]
    without = swept(rake)
    assert found(rake, without, "links") == set()
    reading = next(one for one in rake.readings.of_page(SITE, "/locks/"))
    assert "links/dead" in {one["check"] for one in rake.readings.show(reading.id).untested}

    set_policy(rake, follow_links="in-sweeps")
    first = swept(rake)
    assert found(rake, first, "links") == {("links/dead", "/locks/")}
    assert sorted(
        one.facts["target"] for one in rake.findings.list(SITE, sweep=first.id, check="links/dead")
    ) == ["/coming/", "/gone/"]
    followed = rake.views.link_check(SITE)
    assert followed is not None
    assert (followed.sweep_id, followed.states) == (
        first.id,
        {"works": 2, "dead": 1, "only-in-staging": 1},
    )
    assert swept(rake).unchanged == len(PAGES)

    gone = next(
        one
        for one in rake.causes.list(SITE, sweep=first.id, check="links/dead")
        if "/gone/" in one.says
    )
    [fix] = rake.fixes.hand_out(SITE, sweep=first.id, causes=[gone.key])
    set_policy(rake)
    swept(rake)
    assert rake.fixes.show(fix.id).state == "open"
    set_policy(rake, follow_links="in-sweeps")
    live.write("/gone/", "<h1>Not gone after all</h1>")
    second = swept(rake)
    assert second.unchanged == len(PAGES) - 1
    assert rake.fixes.show(fix.id).state == "proven"

    live.drop("/gone/")
    with psycopg.connect(running.database, autocommit=True) as connection:
        connection.execute("UPDATE link_state SET asked_at = asked_at - interval '1 hour'")
    swept(rake)
    assert rake.fixes.show(fix.id).state == "reopened"


def test_links_of_staging_may_lead_to_what_comes_with_it(rake: PlumRake) -> None:
    """In a sweep of staging a link to a page that is new there is no fault; one to a page that is
    nowhere is."""
    set_policy(rake, follow_links="in-sweeps")
    sweep = swept(rake, environment="staging")
    assert [
        one.facts["target"] for one in rake.findings.list(SITE, sweep=sweep.id, check="links/dead")
    ] == ["/gone/"]


def test_gate_does_not_tell_a_dead_link_twice(rake: PlumRake) -> None:
    """What a sweep knew of the live page's links and what is asked now are not both counted."""
    set_policy(rake, follow_links="in-sweeps")
    swept(rake)
    clearance = rake.gate.ask(
        SITE,
        "/locks/",
        lens="markup",
        document=(
            "<!doctype html><html lang=en><title>Locks of the "
            f"canal</title><main>{PAGES['/locks/']}</main></html>"
        ),
    )
    dead = [one for one in clearance.judged if one.check == "links/dead"]
    assert sorted((one.facts["target"], one.origin) for one in dead) == [
        ("/coming/", "before"),
        ("/gone/", "before"),
    ]


def test_a_dead_link_is_handed_out_with_its_new_address(
    rake: PlumRake, running: Running, pages: dict[str, SmallSite], browser: Browser
) -> None:
    """The console offers where the same words lead elsewhere; what is chosen is seen as markup and
    kept with the fix."""
    set_policy(rake, follow_links="in-sweeps")
    pages["live"].write("/", PAGES["/"] + "<p><a href=/fees/>The eleventh</a></p>")
    sweep = swept(rake)
    finding = next(
        one
        for one in rake.findings.list(SITE, sweep=sweep.id, check="links/dead")
        if one.facts["target"] == "/coming/"
    )
    page = browser.new_page(base_url=running.address)
    sign_in(page, MANAGER, f"/sites/{SITE}/findings/{finding.id}")
    page.get_by_role("button", name="/fees/: propose this address").click()
    expect(page.get_by_role("group", name="The mend as markup")).to_have_text(
        '<a href="/fees/">The eleventh</a>'
    )
    page.get_by_role("button", name="Hand out with this proposal").click()
    expect(page.get_by_text("Kept as the proposal of fix")).to_be_visible()
    [fix] = [one for one in rake.fixes.list(SITE, check="links/dead") if one.cause == finding.cause]
    assert fix.proposal is not None
    assert (fix.proposal["attribute"], fix.proposal["value"]) == ("href", "/fees/")
    page.close()
