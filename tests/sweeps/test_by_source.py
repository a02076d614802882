"""Pages that are made of what the browser has shown just as their sources say are read by their
source; what is new, in doubt, changed by scripts, or shows only in a browser is not."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from plumrake import models
from plumrake.client import PlumRake
from tests.conftest import Running
from tests.small_site import SmallSite, small_site

SITE = "sources"
STYLE = (
    "<style>.pale { color: #999 } .hero { background: linear-gradient(#fff, #ddd) } "
    ".tile { height: 20px; width: 200px; overflow: hidden }</style>"
)
PALE = "<p class=pale>Boats wait here for the lock.</p>"
PAGES = {
    f"/{number}/": f"{STYLE}<h1>{number} of the canal</h1><p>Boats wait at lock {number}.</p>"
    for number in range(8)
}
RARELY = {"tried-anyway": 1000}


@pytest.fixture(scope="module")
def site(
    running: Running, manager: PlumRake, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[SmallSite]:
    """A site of eight pages alike, swept once, with a worker."""
    site = small_site(tmp_path_factory.mktemp("live"), PAGES)
    running.start("worker")
    manager.sites.add(site.registration(SITE, policy=RARELY))
    swept(manager)
    yield site
    site.server.shutdown()


@pytest.fixture(autouse=True)
def _as_it_was(site: SmallSite) -> Iterator[None]:
    yield
    site.put_back()


def swept(rake: PlumRake, paths: list[str] | None = None) -> dict[str, models.Reading]:
    """Sweep the site anew; return its readings by path."""
    sweep = rake.sweeps.start(SITE, fresh=True, paths=paths or ())
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return {one.path: one for one in rake.sweeps.readings(sweep.id)}


def in_browser(readings: dict[str, models.Reading]) -> set[str]:
    return {path for path, one in readings.items() if one.lens == "rendered"}


def with_policy(rake: PlumRake, policy: dict[str, object]) -> None:
    rake.sites.change(SITE, models.SiteChange(policy=policy), rake.sites.show(SITE).tag)


def test_pages_alike_are_read_by_their_source(site: SmallSite, manager: PlumRake) -> None:
    readings = swept(manager)
    assert in_browser(readings) == set()
    shown = manager.readings.show(readings["/1/"].id)
    at = {one["check"]: one.get("tried_at") for one in shown.untested}
    assert at["zoom/reflow"] in PAGES
    assert at["contrast/icon"] == at["keyboard/trap"] == at["zoom/reflow"]
    assert "contrast/text" not in at


def test_what_is_new_is_read_in_the_browser_and_then_known(
    site: SmallSite, manager: PlumRake
) -> None:
    for path in ("/1/", "/2/", "/3/"):
        site.write(path, PAGES[path] + PALE)
    assert in_browser(swept(manager, None)) <= {"/1/", "/2/", "/3/"}
    readings = swept(manager)
    found = {one.path for one in manager.findings.list(SITE, check="contrast/text")}
    assert found == {"/1/", "/2/", "/3/"}
    # so that there is a picture of it, one page of a sweep is read in the browser
    assert len(in_browser(readings)) in (1, 2)
    assert in_browser(readings) < found


def test_a_finding_is_the_same_by_both_ways(site: SmallSite, manager: PlumRake) -> None:
    for path in ("/1/", "/2/", "/3/", "/4/"):
        site.write(path, PAGES[path] + PALE)
    swept(manager)
    keys = {(one.path, one.place_key) for one in manager.findings.list(SITE, check="contrast/text")}
    assert in_browser(swept(manager)) < {"/1/", "/2/", "/3/", "/4/"}
    again = list(manager.findings.list(SITE, check="contrast/text"))
    assert {(one.path, one.place_key) for one in again} == keys
    assert {one.standing for one in again} == {"counts"}


def test_what_is_in_doubt_is_read_in_the_browser(site: SmallSite, manager: PlumRake) -> None:
    for path in ("/1/", "/2/"):
        site.write(path, f"{PAGES[path]}<p class=hero>Words over a gradient.</p>")
    swept(manager)
    assert in_browser(swept(manager)) == {"/1/", "/2/"}


MAKES = "<script>const made = document.createElement('{}'); {}document.body.prepend(made)</script>"


@pytest.mark.parametrize(
    "script",
    [
        MAKES.format("p", "made.textContent = document.querySelector('h1').textContent; "),
        MAKES.format("img", "made.src = '/lock.png'; made.width = 300; made.height = 200; "),
        "<hr><script>document.querySelector('hr').remove()</script>",
    ],
    ids=["other words on each page", "a fault", "something is taken away"],
)
def test_what_scripts_change_is_read_in_the_browser(
    site: SmallSite, manager: PlumRake, script: str
) -> None:
    for path in ("/1/", "/2/", "/3/"):
        site.write(path, PAGES[path] + script)
    swept(manager)
    swept(manager)
    assert in_browser(swept(manager)) == {"/1/", "/2/", "/3/"}


def test_what_scripts_make_of_every_page_to_the_letter_is_known(
    site: SmallSite, manager: PlumRake
) -> None:
    """As where a theme's script puts a link to the content before a page and gives that an id."""
    script = MAKES.format("a", "made.href = '#content'; made.textContent = 'To the content'; ")
    script += "<script>document.querySelector('main').id = 'content'</script>"
    for path in ("/1/", "/2/", "/3/"):
        site.write(path, PAGES[path] + script)
    swept(manager)
    swept(manager)
    assert in_browser(swept(manager)) == set()
    site.write("/4/", PAGES["/4/"] + script.replace("To the content", "Past the menu"))
    assert in_browser(swept(manager)) == {"/4/"}


def test_a_difference_that_nothing_tells_of_is_remembered(
    site: SmallSite, manager: PlumRake
) -> None:
    """A script changes at the same address: the pages that are read in the browser all the same
    notice it, and from then on no page with it is left to its source."""
    script = site.folder / "more.js"
    script.write_text("")
    for path in ("/1/", "/2/"):
        site.write(path, PAGES[path] + "<script src=/more.js></script>")
    swept(manager)
    assert in_browser(swept(manager)) == set()
    script.write_text("document.querySelector('main').append(document.createElement('hr'))")
    with_policy(manager, {"tried-anyway": 1})
    try:
        swept(manager)
    finally:
        with_policy(manager, RARELY)
    assert in_browser(swept(manager)) >= {"/1/", "/2/"}


def test_what_only_a_browser_finds_is_looked_for_there(site: SmallSite, manager: PlumRake) -> None:
    site.write("/3/", f"{PAGES['/3/']}<p class=tile>Boats wait here.</p>")
    swept(manager)
    site.write("/5/", f"{PAGES['/5/']}<p class=tile>Ships wait here.</p>")
    assert {"/3/", "/5/"} == in_browser(swept(manager))
    assert {one.path for one in manager.findings.list(SITE, check="zoom/clipped")} == {
        "/3/",
        "/5/",
    }


def test_a_page_asked_for_by_name_is_read_in_the_browser(
    site: SmallSite, manager: PlumRake
) -> None:
    assert in_browser(swept(manager, ["/2/"])) == {"/2/"}


@pytest.mark.parametrize(("reading", "wanted"), [("browser", set(PAGES)), ("markup", set())])
def test_policy_chooses(site: SmallSite, manager: PlumRake, reading: str, wanted: set[str]) -> None:
    with_policy(manager, {**RARELY, "reading": reading})
    try:
        assert in_browser(swept(manager)) == wanted
    finally:
        with_policy(manager, RARELY)


def test_a_draft_of_what_is_known_is_answered_by_its_source(
    site: SmallSite, manager: PlumRake
) -> None:
    page = (site.folder / "4" / "index.html").read_text()
    cleared = manager.gate.ask(SITE, "/4/", document=page.replace("lock 4", "the fourth lock"))
    assert cleared.decision == "clear"
    assert "keyboard/trap" in {one["check"] for one in cleared.untested}
    assert "contrast/text" not in {one["check"] for one in cleared.untested}
    held = manager.gate.ask(SITE, "/4/", document=page.replace("</main>", f"{PALE}</main>"))
    assert "keyboard/trap" not in {one["check"] for one in held.untested}
    assert "contrast/text" in {one.check for one in held.judged}


def test_a_draft_with_a_fault_that_the_page_has_already_is_answered_by_its_source(
    site: SmallSite, manager: PlumRake
) -> None:
    """Only what holds it is shown in the browser's picture: an old fault does not, as policy
    counts what a change brings."""
    site.write("/4/", PAGES["/4/"] + PALE)
    swept(manager)
    page = (site.folder / "4" / "index.html").read_text()
    cleared = manager.gate.ask(SITE, "/4/", document=page.replace("lock 4", "the fourth lock"))
    assert cleared.decision == "clear"
    assert "contrast/text" in {one.check for one in cleared.judged}
    assert "keyboard/trap" in {one["check"] for one in cleared.untested}
