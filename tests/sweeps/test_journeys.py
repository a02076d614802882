"""Journeys in sweeps: each state a reading of its own, beside the page that it begins on."""

import pytest

from plumrake import models
from plumrake.client import NotValid, PlumRake
from plumrake.demo.seed import SITE
from tests.conftest import Running


@pytest.fixture(scope="module")
def rake(running: Running, manager: PlumRake) -> PlumRake:
    """A client, with a worker."""
    running.start("worker")
    return manager


def paths_read(rake: PlumRake, **how: object) -> dict[str, str]:
    """Sweep the demo; return the paths that were read with the way in which each was found."""
    sweep = rake.sweeps.start(SITE, **how)  # type: ignore[arg-type]
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return {one.path: one.found_by for one in rake.sweeps.readings(sweep.id)}


def test_states_are_readings_of_their_section(rake: PlumRake) -> None:
    """A sweep of the section that a journey begins in reads its states too; other sections, and the
    markup lens, do not."""
    read = paths_read(rake, section="/boating/day-boats/")
    assert read == {
        "/boating/day-boats/": "sitemap",
        "/boating/day-boats/#~hire-a-day-boat/choosing": "journey",
        "/boating/day-boats/#~hire-a-day-boat/price": "journey",
    }
    assert not [path for path in paths_read(rake, section="/locks/") if "#~" in path]
    assert set(paths_read(rake, section="/boating/day-boats/", lens="markup")) == {
        "/boating/day-boats/"
    }


def test_journeys_are_checked_when_they_are_given(rake: PlumRake) -> None:
    """What is wrong is said with its place, and nothing is changed; journeys can be taken away
    again."""
    site = rake.sites.show(SITE)
    wrong = [{"name": "Hire", "steps": [{"go": "/boating/"}, {"klick": "Next"}]}]
    with pytest.raises(NotValid, match="journeys: journey 1, step 2: 'klick' was unexpected"):
        rake.sites.change(SITE, models.SiteChange(journeys=wrong), site.tag)
    assert rake.sites.show(SITE).journeys == site.journeys
    rake.sites.change(SITE, models.SiteChange(journeys=[]), site.tag)
    assert set(paths_read(rake, section="/boating/day-boats/")) == {"/boating/day-boats/"}
