"""Pages that are made of what was tried on others are not tried again: with other layouts and by
Tab; what is new, was faulty, or was asked for by name is."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from plumrake import models
from plumrake.client import PlumRake
from tests.conftest import Running
from tests.small_site import SmallSite, small_site

SITE = "patterns"
STYLE = (
    "<style>.tile { height: 20px; width: 200px; overflow: hidden } "
    ".bare:focus { outline: 0 }</style>"
)
TILE = "<p class=tile>Boats wait here.</p>"
PAGES = {
    f"/{number}/": f"{STYLE}<h1>Locks</h1><p>Boats wait at lock {number}.</p>"
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


def swept(rake: PlumRake, paths: list[str] | None = None) -> dict[str, models.Reading]:
    """Sweep the site anew; return its readings by path."""
    sweep = rake.sweeps.start(SITE, fresh=True, paths=paths or ())
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return {one.path: one for one in rake.sweeps.readings(sweep.id)}


def stood_for(reading: models.Reading, rake: PlumRake) -> dict[str, str]:
    """Return the checks that another page stood for, each with that page."""
    shown = rake.readings.show(reading.id)
    return {one["check"]: one["tried_at"] for one in shown.untested if "tried_at" in one}


def clipped(rake: PlumRake) -> set[str]:
    return {one.path for one in rake.findings.list(SITE, check="zoom/clipped")}


@pytest.fixture(autouse=True)
def _as_it_was(site: SmallSite) -> Iterator[None]:
    yield
    site.put_back()


def test_pages_alike_are_tried_once(site: SmallSite, manager: PlumRake) -> None:
    readings = swept(manager)
    stood = {path: stood_for(one, manager) for path, one in readings.items()}
    assert sum(bool(one) for one in stood.values()) >= len(PAGES) - 1
    checks, pages = next((set(one), set(one.values())) for one in stood.values() if one)
    assert {"zoom/reflow", "zoom/clipped", "contrast/focus-mark", "keyboard/trap"} <= checks
    assert pages < set(PAGES)


def test_what_is_new_is_tried_and_what_was_faulty_again(site: SmallSite, manager: PlumRake) -> None:
    site.write("/3/", PAGES["/3/"] + TILE)
    assert not stood_for(swept(manager)["/3/"], manager)
    assert clipped(manager) == {"/3/"}
    site.write("/5/", PAGES["/5/"] + TILE)
    readings = swept(manager)
    assert clipped(manager) == {"/3/", "/5/"}
    # By the tile's text alone: Tab found nothing at it, so other pages stand for that on /5/.
    assert "zoom/clipped" not in stood_for(readings["/5/"], manager)
    assert "contrast/focus-mark" in stood_for(readings["/5/"], manager)


def test_a_page_asked_for_by_name_is_tried(site: SmallSite, manager: PlumRake) -> None:
    assert not stood_for(swept(manager, ["/2/"])["/2/"], manager)


def test_policy_may_have_every_page_tried(site: SmallSite, manager: PlumRake) -> None:
    tag = manager.sites.show(SITE).tag
    manager.sites.change(SITE, models.SiteChange(policy={"tried-anyway": 1}), tag)
    try:
        readings = swept(manager)
        assert not any(stood_for(one, manager) for one in readings.values())
    finally:
        tag = manager.sites.show(SITE).tag
        manager.sites.change(SITE, models.SiteChange(policy=RARELY), tag)
