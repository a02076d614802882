"""What tests hand over is read by the service as a state of the site."""

from __future__ import annotations

import json

import pytest
from playwright.sync_api import Browser

from plumrake import models
from plumrake.client import NotAllowed, PlumRake
from plumrake.demo.seed import SITE
from plumrake.testing.collecting import Collected
from plumrake.testing.reading import Reader
from tests.conftest import Running

PATH = "/hire/#~hire-a-day-boat/choosing"
SOURCE = (
    '<!doctype html><html lang="en"><head><title>Hire</title></head>'
    '<body><p><a href="/a">here</a></p></body></html>'
)


@pytest.fixture(scope="module", autouse=True)
def worker(running: Running) -> None:
    """A worker reads what is handed over."""
    running.start("worker")


def test_the_service_reads_what_is_handed_over(
    browser: Browser, running: Running, manager: PlumRake
) -> None:
    """Nothing is fetched; the findings have the keys that the test told of."""
    page = browser.new_page()
    page.route("**/*", lambda route: route.fulfill(body=SOURCE, content_type="text/html"))
    page.goto("http://localhost:8000/hire/")
    reading = Reader(keeps=True).read(page, name="Hire a day boat/Choosing")
    page.close()
    assert reading.page.address.endswith(PATH)
    collected = Collected()
    collected.add(reading)
    again = Collected()
    again.add_rows(json.loads(json.dumps(collected.rows())))
    assert again.readings == collected.readings
    states = [
        models.HandedOver(path=PATH, source=one.source, answer=one.answer)
        for one in (again.readings[0].handed_over,)
        if one is not None
    ]
    sweep = manager.sweeps.hand_over(SITE, models.NewReadings(states=states))
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    found = [*manager.findings.list(SITE, sweep=sweep.id, words="with")]
    assert {one.path for one in found} == {PATH}
    assert ("links/vague", True) in [
        (one.check, one.place_key in {mine.place_key for mine in reading.findings}) for one in found
    ]


@pytest.mark.parametrize("answer", ["", "{}", "[]", '{"nodes": [1]}', '{"strings": 1, "nodes": 2}'])
def test_what_is_no_answer_of_ours_is_a_problem_of_the_page(
    running: Running, manager: PlumRake, answer: str
) -> None:
    states = [models.HandedOver(path=PATH, source=SOURCE, answer=answer)]
    sweep = manager.sweeps.hand_over(SITE, models.NewReadings(states=states))
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    [page] = [*manager.sweeps.readings(sweep.id)]
    assert page.problem_code == "bad-hand-over"


def test_only_managers_hand_over_and_paths_are_looked_at(
    running: Running, manager: PlumRake
) -> None:
    state = models.HandedOver(path=PATH, source=SOURCE, answer="{}")
    with running.client("imke@harrowmere.example") as editor, pytest.raises(NotAllowed):
        editor.sweeps.hand_over(SITE, models.NewReadings(states=[state]))
    with pytest.raises(ValueError, match="is no path"):
        models.HandedOver(path="/hire/#other", source=SOURCE, answer="{}")
