"""Members of single areas of a site: what they see of it, and what they may change."""

from __future__ import annotations

import asyncio
import re
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import httpx
import psycopg
import pytest

from plumrake import models
from plumrake.actions.people import add_person
from plumrake.client import NotAllowed, NotFound, NotValid, PlumRake
from plumrake.demo.ports import free_port
from plumrake.models import OwnerChoice
from tests.conftest import PASSWORD, Running, token_of
from tests.service.test_walls import (
    OPEN,
    OWN,
    STREAMS,
    Route,
    Walled,
    asked,
    is_of_a_site,
    routes,
    something_of_each,
)
from tests.small_site import small_site

__all__ = ["routes"]

SITE = "walled"
BOATER, VISITOR = "boater@areas.example", "visitor@areas.example"
AREAS = ["/boats/*"]
CREST = "<p><img src=/crest.png></p>"
PAGES = {
    "/": f"<h1>Toll house</h1>{CREST}<p><a href=/keeper/>click here</a> <img src=/toll.png></p>",
    "/keeper/": f"<h1>Toll keeper</h1>{CREST}<p><img src=/keeper.png></p>",
    "/boats/": f"<h1>Boats</h1>{CREST}<p><img src=/boat.png></p>",
    "/boats/hire/": f"<h1>Hire a boat</h1>{CREST}<p>By the day.</p>",
}
HIDDEN = re.compile(r"Toll|toll\.png|keeper\.png|\"/keeper/\"|\"path\": ?\"/\"")
"""What stands on the pages outside of the area alone."""


@dataclass
class Parted:
    """A swept site of which somebody has one area; what there is outside of it, by the names that
    paths give."""

    walled: Walled
    boater: PlumRake
    sweep: int

    def of(self, rake: PlumRake, picture: str) -> dict[str, models.Finding]:
        """Return what was found of a picture, by path."""
        found = rake.findings.list(SITE, check="pictures/no-text")
        return {one.path: one for one in found if picture in one.excerpt}


@pytest.fixture(scope="module")
def parted(
    running: Running, manager: PlumRake, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[Parted]:
    running.start("worker")
    site = small_site(tmp_path_factory.mktemp("parted"), PAGES)
    policy = {"waivers-by": ["manager", "editor"]}
    manager.sites.add(site.registration(SITE, staging_address=site.address, policy=policy))

    async def people() -> None:
        async with await psycopg.AsyncConnection.connect(running.database) as connection:
            for email in (BOATER, VISITOR):
                await add_person(connection, email, email.partition("@")[0], None, PASSWORD)

    asyncio.run(people())
    manager.people.add_member(SITE, BOATER, "editor", AREAS)
    keys = something_of_each(running, manager, site)
    with running.client(BOATER) as boater:
        yield Parted(Walled(running, manager, keys), boater, int(keys["sweep_id"]))
    site.server.shutdown()


def test_what_is_outside_is_not_there(parted: Parted, routes: list[Route]) -> None:
    """Each route by the number or hash of something there answers as of what never was."""
    walled = parted.walled
    for route in filter(is_of_a_site, routes):
        if re.search(r"\{(slug|sweep_id|release_id)\}", route.path):
            continue
        answer = asked(parted.boater, route, walled.address(route))
        assert answer.status_code == 404, (route, answer.text)


def test_nothing_of_it_is_read(parted: Parted, routes: list[Route]) -> None:
    """Lists, views, reports, what a sweep told: none has a word of a page outside."""
    walled, seen = parted.walled, 0
    for route in filter(is_of_a_site, routes):
        if route.method != "get" or route.name in STREAMS:
            continue
        for given in ({}, {"as": "csv"}, {"as": "html"}, {"words": "o"}):
            answer = walled_get(parted.boater, walled.address(route), given)
            assert answer.status_code < 500, (route, answer.text)
            assert not HIDDEN.search(answer.text), (route, given, HIDDEN.search(answer.text))
            seen += "boats" in answer.text
    assert seen > 20, "the walk reads nothing of the area either"
    told = parted.boater._http.get(f"/api/v1/sweeps/{parted.sweep}/events").text
    assert "/boats/" in told
    assert not HIDDEN.search(told)


def walled_get(rake: PlumRake, address: str, given: dict[str, str]) -> httpx.Response:
    return rake._http.get(address, params=given)


def test_the_area_is_there(parted: Parted) -> None:
    """Its pages, findings and causes, those too whose best example is elsewhere; with the reach
    that they have in the site."""
    rake = parted.boater
    assert rake.people.me().sites == {SITE: "editor"}
    assert rake.people.me().areas == {SITE: AREAS}
    assert {one.path for one in rake.sweeps.readings(parted.sweep)} == {"/boats/", "/boats/hire/"}
    crest = parted.of(rake, "crest")
    assert set(crest) == {"/boats/", "/boats/hire/"}
    wide = next(one for one in rake.causes.list(SITE) if one.key == crest["/boats/"].cause)
    assert (wide.path, wide.pages) == ("/boats/", 4)


def test_no_change_reaches_beyond_it(parted: Parted, routes: list[Route]) -> None:
    """Every route that changes something refuses what is of the whole site, whatever its body."""
    for route in filter(is_of_a_site, routes):
        if route.method == "get" or route.name in OPEN | OWN | {"nextQuestion"}:
            continue
        answer = asked(parted.boater, route, parted.walled.address(route))
        assert answer.status_code in (403, 404, 422), (route, answer.text)


def test_nor_by_what_it_names(parted: Parted) -> None:
    """A finding, fix, correction, page or cause outside, however it is written."""
    keys = {name: int(key) for name, key in parted.walled.keys.items() if key.isdigit()}
    finding, fix = keys["finding_id"], keys["fix_id"]
    own = parted.of(parted.boater, "boat.png")["/boats/"]
    wide = parted.of(parted.boater, "crest")["/boats/"].cause
    tries: list[tuple[str, dict[str, Any], int]] = [
        ("fixes/moves", {"ids": [fix], "move": "take"}, 404),
        ("fixes/moves", {"ids": [str(fix)], "move": "take"}, 404),
        ("fixes/moves", {"ids": fix, "move": "take"}, 404),
        ("decisions", {"causes": [wide], "reason": "as meant", "answer": "fine"}, 403),
        ("corrections", {"finding": finding, "mend": {"kind": "replace-text"}}, 404),
        ("corrections", {"finding": own.id, "everywhere": True, "mend": {}}, 403),
        ("corrections/writing", {"ids": [keys["correction_id"]]}, 404),
        ("corrections/writing", {"mine": True}, 403),
        ("gate", {"path": "/keeper/", "document": "<p>Hi</p>"}, 404),
        ("gate", {"path": "/boats/../keeper/", "document": "<p>Hi</p>"}, 403),
        ("gate", {"path": ["/boats/", "/keeper/"], "document": "<p>Hi</p>"}, 404),
        ("releases", {"name": "May", "paths": ["/boats/", "/keeper/"]}, 404),
        ("releases", {"name": "May", "section": "/"}, 404),
        ("releases", {"name": "May", "section": "/boats"}, 404),
        ("releases", {"name": "May", "section": "/boats/"}, 422),  # nothing was swept there
        ("published", {"path": "/"}, 404),
        ("review/answers", {"path": "/keeper/", "question": "q", "answer": "fine"}, 404),
        ("review/answers", {"question": "q", "answer": "fine"}, 403),
        ("words", {"words": ["toll"]}, 403),
    ]
    for path, body, wanted in tries:
        answer = parted.boater._http.post(f"/api/v1/sites/{SITE}/{path}", json=body)
        assert answer.status_code == wanted, (path, body, answer.text)
    waived = parted.boater._http.post(
        f"/api/v1/findings/{own.id}/waiver", json={"scope": "check", "reason": "x", "pattern": "*"}
    )
    assert waived.json()["code"] == "beyond-areas"


def test_they_work_on_what_is_theirs(parted: Parted) -> None:
    """And the counts of the whole site stay right: a change meets all of it."""
    rake, manager = parted.boater, parted.walled.manager
    crest = parted.of(rake, "crest")["/boats/"]
    [fix, *_] = manager.fixes.hand_out(SITE, sweep=parted.sweep, causes=[crest.cause])
    assert [one.id for one in rake.fixes.list(SITE)] == [fix.id]
    assert rake.fixes.move(fix, "take").owner == "boater"
    assert {one.path for one in rake.fixes.places(fix.id)} <= {"/boats/", "/boats/hire/"}
    counted = found_by_check(parted)
    own = parted.of(rake, "boat.png")["/boats/"]
    until = date.today() + timedelta(days=9)
    rake.decisions.waive(own.id, scope="place", reason="it is a drawing", ends_on=until)
    assert len(parted.of(manager, "crest")) == len(PAGES)
    assert found_by_check(parted) == counted, "what was found in the whole site is still counted"
    draft = PAGES["/boats/"]
    clearance = rake.gate.ask(SITE, "/boats/", document=draft, lens="markup")
    assert rake.gate.show(clearance.id).path == "/boats/"


def found_by_check(parted: Parted) -> object:
    with psycopg.connect(parted.walled.running.database) as connection:
        return connection.execute(
            "SELECT check_id, places, pages FROM cause WHERE sweep_id = %s ORDER BY key",
            [parted.sweep],
        ).fetchall()


def test_they_are_asked_about_what_is_theirs(parted: Parted) -> None:
    """Questions about the whole site are for who has it."""
    rake, manager = parted.boater, parted.walled.manager
    for path in ("/keeper/", "/boats/"):
        manager.reviews.choose(SITE, models.ChosenPage(path=path, chosen=True))
    whole, own = manager.reviews.show(SITE), rake.reviews.show(SITE)
    assert {one.path for one in whole.pages} >= {"/keeper/", "/boats/"}
    assert {one.path for one in own.pages} <= {"/boats/", "/boats/hire/"}
    assert any(one.about == "site" and one.asked for one in whole.questions)
    assert not any(one.about == "site" and one.asked for one in own.questions)
    found = rake.reviews.next(SITE, models.WantedQuestion(path="/boats/"))
    assert found.asked is not None
    assert found.asked.path == "/boats/"
    hidden = rake.reviews.next(SITE, models.WantedQuestion(path="/keeper/"))
    assert (hidden.asked, hidden.left) == (None, 0)


def test_what_changed_within_it_is_told(parted: Parted) -> None:
    """A cause that reaches into the area too, whichever page shows it best to others."""
    manager = parted.walled.manager
    again = manager.sweeps.start(SITE, fresh=True)
    assert list(manager.sweeps.follow(again.id))[-1].kind == "done"
    [crest] = {one.cause for one in parted.of(manager, "crest.png").values()}
    with psycopg.connect(parted.walled.running.database) as connection:
        connection.execute(
            "UPDATE cause SET places = 1 WHERE sweep_id = %s AND key = %s", [parted.sweep, crest]
        )
        best = connection.execute(
            "SELECT p.path FROM cause c JOIN finding f ON f.id = c.best JOIN page p"
            " ON p.id = f.page_id WHERE c.sweep_id = %s AND c.key = %s",
            [again.id, crest],
        ).fetchone()
    assert best == ("/",)
    for rake in (manager, parted.boater):
        told = rake.sweeps.changes(again.id, against=parted.sweep).causes
        assert [(one.kind, one.places_now) for one in told if one.key == crest] == [("wider", 4)]


def test_what_is_handed_to_them_is_there(parted: Parted) -> None:
    """A fix is theirs whatever pages it is of, with the places that are theirs."""
    manager, keys = parted.walled.manager, parted.walled.keys
    fix = manager.fixes.show(int(keys["fix_id"]))
    with pytest.raises(NotFound):
        parted.boater.fixes.show(fix.id)
    member = next(one for one in manager.people.members(SITE) if one.email == BOATER)
    assert member.areas == AREAS
    manager.fixes.move(fix, "assign", owner=OwnerChoice(person_id=member.id))
    assert parted.boater.fixes.show(fix.id).owner == "boater"


def test_a_token_is_bounded_like_its_person(parted: Parted) -> None:
    secret = token_of(parted.boater, "read", "write")
    with httpx.Client(
        base_url=parted.walled.running.address, headers={"Authorization": f"Bearer {secret}"}
    ) as program:
        hidden = program.get(f"/api/v1/findings/{parted.walled.keys['finding_id']}")
        assert hidden.status_code == 404
        assert not HIDDEN.search(program.get(f"/api/v1/sites/{SITE}/findings").text)


def test_managers_have_the_whole_site(parted: Parted) -> None:
    """A role of areas is none that changes the whole site; patterns are patterns; who manages every
    site is confined nowhere."""
    people = parted.walled.manager.people
    with pytest.raises(NotValid, match="manager is one of the whole site"):
        people.add_member(SITE, VISITOR, "manager", AREAS)
    with pytest.raises(ValueError, match="is no area of a site"):
        people.add_member(SITE, VISITOR, "reader", ["boats"])
    with pytest.raises(NotValid, match="they are of a site"):
        people.invite("new@areas.example", "New", "reader", areas=AREAS)
    me = people.me()
    people.add_member(SITE, me.email, "editor", AREAS)
    assert people.me().areas == {}
    assert len(list(parted.walled.manager.sweeps.readings(parted.sweep))) == len(PAGES)


def test_somebody_is_invited_to_an_area(parted: Parted) -> None:
    rake = parted.walled.manager
    invited = rake.people.invite(
        "steerer@areas.example", "Steerer", "reader", SITE, ["/boats/hire/*"]
    )
    assert invited.areas == ["/boats/hire/*"]
    rake.people.accept(invited.secret or "", "boats go by at dusk")
    with PlumRake(parted.walled.running.address) as steerer:
        steerer.people.sign_in("steerer@areas.example", "boats go by at dusk")
        assert {one.path for one in steerer.sweeps.readings(parted.sweep)} == {"/boats/hire/"}
    rake.people.add_member(SITE, "steerer@areas.example", "reader")
    listed = {one.email: one.areas for one in rake.people.members(SITE)}
    assert listed["steerer@areas.example"] is None


def test_by_commands(parted: Parted, tmp_path: Path) -> None:
    running = parted.walled.running
    token = token_of(parted.walled.manager, "read", "write")

    def told(*words: str) -> str:
        return subprocess.run(
            [sys.executable, "-m", "plumrake", *words],
            env={
                "PATH": "/usr/bin:/bin",
                "HOME": str(tmp_path),
                "PLUMRAKE_SERVER": running.address,
                "PLUMRAKE_TOKEN": token,
            },
            capture_output=True,
            text=True,
            check=True,
        ).stdout

    added = told("member", "add", SITE, VISITOR, "--role", "reader", "--area", "/boats/*")
    assert added == f"visitor is reader in {SITE}, for /boats/* alone\n"
    assert re.search(
        r"visitor +reader +visitor\S+ +\(for /boats/\* alone\)", told("member", "list", SITE)
    )


def test_a_service_that_owns_the_tables_lets_nobody_of_an_area_in(
    parted: Parted, tmp_path: Path
) -> None:
    """The database keeps areas apart, so without that wall nothing is shown."""
    running = parted.walled.running
    owning = Running(running.database, free_port(), tmp_path)
    owning.start("serve", database=running.database)
    try:
        owning.wait_until_ready()
        with owning.client(BOATER) as rake, pytest.raises(NotAllowed, match="own role") as refused:
            rake.sites.show(SITE)
        assert refused.value.code == "areas-not-kept"
    finally:
        owning.stop()
