"""Pictures of a reading's page that are drawn when somebody wants to see them."""

from __future__ import annotations

import io
from collections.abc import Iterator

import pytest
from PIL import Image

from plumrake import models
from plumrake.client import NotFound, PlumRake
from tests.conftest import Running, wait_for
from tests.small_site import SmallSite, small_site

SITE = "drawn"
PAGES = {
    "/": "<h1>Canal</h1><p><a href=/fees/>Fees of the canal</a></p>",
    "/fees/": "<h1>Fees</h1>",
}


@pytest.fixture(scope="module")
def site(
    running: Running, manager: PlumRake, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[SmallSite]:
    """A swept site of two pages, with a worker."""
    site = small_site(tmp_path_factory.mktemp("live"), PAGES)
    running.start("worker")
    manager.sites.add(site.registration(SITE))
    sweep = manager.sweeps.start(SITE, lens="rendered")
    wait_for(lambda: manager.sweeps.show(sweep.id).state == "done", 120, "the sweep")
    yield site
    site.server.shutdown()


def reading(rake: PlumRake, path: str) -> models.ReadingInFull:
    return next(iter(rake.readings.of_page(SITE, path)))


def test_a_picture_is_drawn_once(site: SmallSite, manager: PlumRake) -> None:
    of = reading(manager, "/").id
    first = manager.readings.picture(of, "narrow")
    assert (first.state, first.problem, first.has_changed) == ("ready", "", False)
    assert first.picture is not None
    content = manager.request("GET", f"/api/v1/evidence/{first.picture}").content
    assert Image.open(io.BytesIO(content)).width == 320
    again = manager.readings.picture(of, "narrow", wait=0)
    assert again == first
    assert manager.readings.picture(of, "focus").picture not in (None, first.picture)


def test_who_cannot_wait_is_told_that_it_is_being_drawn(site: SmallSite, manager: PlumRake) -> None:
    of = reading(manager, "/").id
    assert manager.readings.picture(of, "spaced", wait=0).state == "waiting"
    wait_for(
        lambda: manager.readings.picture(of, "spaced", wait=5).state == "ready", 60, "the picture"
    )


def test_a_page_that_changed_or_is_gone_says_so(site: SmallSite, manager: PlumRake) -> None:
    of = reading(manager, "/fees/").id
    site.write("/fees/", "<h1>Other fees</h1>")
    assert manager.readings.picture(of, "whole").has_changed
    site.drop("/fees/")
    gone = manager.readings.picture(of, "enlarged")
    assert gone.picture is None
    assert "404" in gone.problem


def test_no_reading_no_picture(manager: PlumRake) -> None:
    with pytest.raises(NotFound):
        manager.readings.picture(999_999, "whole")
