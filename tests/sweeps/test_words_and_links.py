"""Words and links of a small site: what sweeps doubt, what people make a site's own, and what
follows from that at once, with the next sweep, and at the gate; where links lead."""

import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from pydantic import ValidationError

from plumrake import models
from plumrake.client import ConflictError, PlumRake
from plumrake.client.errors import PlumRakeError
from tests.conftest import EDITOR, Running, token_of, wait_for
from tests.small_site import small_site

SITE = "words"
PAGES = {
    "/": (
        "<h1>Canal</h1><p>Boats are moved seperately. Gongoozlers watch. Every gongoozler is "
        "welcome.</p>"
    ),
    "/fees/": (
        "<h1>Fees</h1><p>Paid for seperately, and again seperately.</p><p lang=de>Die Schleusse "
        "ist offen.</p>"
    ),
    "/links/": """<h1>Links</h1><p><a href=/fees/>Fees</a> <a href="/fees/#by-day">Fees by day</a> <a href=/gone/>Gone</a> <a href=../new/>New</a>
<a href=mailto:office>Office</a> <a href="#here" id=here>Here</a></p>""",  # noqa: E501
}


@pytest.fixture(scope="module")
def rake(
    running: Running, manager: PlumRake, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[PlumRake]:
    """The service with a worker and a small site of three pages; in staging there is one more."""
    live = small_site(tmp_path_factory.mktemp("live"), PAGES)
    staging = small_site(tmp_path_factory.mktemp("staging"), {**PAGES, "/new/": "<h1>New</h1>"})
    running.start("worker")
    addresses = {"live_address": live.address, "staging_address": staging.address}
    manager.sites.add(
        models.NewSite(
            slug=SITE,
            name="Words",
            **addresses,
            found_by="list",
            listed_paths=[*PAGES],
            private_leave=True,
        )
    )
    yield manager
    for site in (live, staging):
        site.server.shutdown()


def swept(rake: PlumRake) -> models.Sweep:
    """A finished sweep of the site from markup."""
    sweep = rake.sweeps.start(SITE, lens="markup")
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return rake.sweeps.show(sweep.id)


def doubts(rake: PlumRake, **of: object) -> dict[str, tuple[int, int]]:
    """Doubtful words with the number of their places and pages."""
    return {one.word: (one.places, one.pages) for one in rake.words.doubtful(SITE, **of)}  # type: ignore[arg-type]


def test_words_from_doubt_to_the_sites_own_and_back(rake: PlumRake, running: Running) -> None:
    """Counted per page and site; fine at once when added, without reading again; doubtful again
    when dropped, with a new reading."""
    first = swept(rake)
    assert doubts(rake) == {"seperately": (3, 2), "gongoozler": (1, 1), "Schleusse": (1, 1)}
    assert doubts(rake, path="/fees/") == {"seperately": (2, 1), "Schleusse": (1, 1)}
    [cause] = [
        one for one in rake.causes.list(SITE, check="text/spelling") if "seperately" in one.says
    ]
    assert cause.pages == 2

    before = rake.sites.show(SITE).figures[0].words
    with running.client(EDITOR) as editor:
        assert editor.words.add(SITE, ["gongoozler", "Gongoozlers", "GONGOOZLER"]) == 2
    assert [(one.word, one.added_by) for one in rake.words.list(SITE)] == [
        ("gongoozler", "Ned Osier"),
        ("Gongoozlers", "Ned Osier"),
    ]
    assert set(doubts(rake)) == {"seperately", "Schleusse"}
    answers = {
        one.facts["word"]: one.answer
        for one in rake.findings.list(SITE, sweep=first.id, check="text/spelling", path="/")
    }
    assert answers["gongoozler"] == "fine"
    assert answers["seperately"] is None
    assert rake.sites.show(SITE).figures[0].words == before - 1

    second = swept(rake)
    assert second.unchanged == len(PAGES)
    assert set(doubts(rake)) == {"seperately", "Schleusse"}

    rake.words.drop(SITE, "Gongoozler")
    assert "gongoozler" in doubts(rake)
    third = swept(rake)
    assert third.unchanged == 0
    assert "gongoozler" in doubts(rake)


def test_where_all_links_of_a_site_lead(rake: PlumRake, running: Running) -> None:
    """Each address is asked once, in live and where need be in staging; what each leads to is told
    per site and per page, and by the command."""
    swept(rake)
    assert rake.views.link_check(SITE) is None
    assert {one.state for one in rake.views.links(SITE)} == {None}
    begun = rake.views.follow_links(SITE)
    assert begun.ended_at is None
    with pytest.raises(ConflictError):
        rake.views.follow_links(SITE)
    wait_for(
        lambda: (rake.views.link_check(SITE) or begun).ended_at is not None,
        30,
        "the links to be followed",
    )
    states = {one.address: one.state for one in rake.views.links(SITE)}
    assert states == {
        "/fees/": "works",
        "/fees/#by-day": "no-part",
        "/gone/": "dead",
        "/new/": "only-in-staging",
        "mailto:office": "dead",
        "/links/#here": "works",
    }
    assert {one.address for one in rake.views.links(SITE, faulty=True)} == {
        "/fees/#by-day",
        "/gone/",
        "/new/",
        "mailto:office",
    }
    [gone] = rake.views.links(SITE, target="/gone/")
    assert (gone.status, gone.pages) == (404, 1)
    assert (gone.says or "").startswith("there is no such page (404")
    done = rake.views.link_check(SITE)
    assert done is not None
    assert (done.total, done.states) == (
        6,
        {"works": 2, "no-part": 1, "dead": 2, "only-in-staging": 1},
    )
    reading = next(one for one in rake.readings.of_page(SITE, "/links/"))
    rows = {
        one["name"]: one["leads"]["state"] for one in rake.readings.view(reading.id, "links").rows
    }
    assert rows == {
        "Fees": "works",
        "Fees by day": "no-part",
        "Gone": "dead",
        "New": "only-in-staging",
        "Office": "dead",
        "Here": "works",
    }
    token = token_of(rake, "read", "write")
    environment = {**os.environ, "PLUMRAKE_SERVER": running.address, "PLUMRAKE_TOKEN": token}
    told = subprocess.run(
        [sys.executable, "-m", "plumrake", "site", "links", SITE, "--follow", "--faulty"],
        env=environment,
        capture_output=True,
        text=True,
        check=False,
    )
    assert told.returncode == 1
    assert "4 addresses asked" in told.stdout  # what works was asked just now
    assert "2 works, 1 only in staging, 2 dead, 1 part missing" in told.stdout


def test_gate_knows_the_sites_words(rake: PlumRake) -> None:
    """A draft with a word of the site's own is not doubted for it."""
    draft = (
        "<!doctype html><html lang=en><title>Lock</title><main><h1>Lock</h1><p>A winding-hole "
        "and a navvyish lockside path.</p></main></html>"
    )
    doubted = {
        one.facts.get("word")
        for one in rake.gate.ask(SITE, "/lock/", document=draft, lens="markup").judged
    }
    assert "navvyish" in doubted
    rake.words.add(SITE, ["navvyish"])
    doubted = {
        one.facts.get("word")
        for one in rake.gate.ask(SITE, "/lock/", document=draft, lens="markup").judged
    }
    assert "navvyish" not in doubted


def test_who_may_change_words_and_what_a_word_is(rake: PlumRake, running: Running) -> None:
    """A reader may look; what is no single word is refused whole, with what to write."""
    token = PlumRake(running.address, token=token_of(rake, "read"))
    assert list(token.words.list(SITE)) == list(rake.words.list(SITE))
    with pytest.raises(PlumRakeError) as refused:
        token.words.add(SITE, ["barge"])
    assert refused.value.status == 403
    with pytest.raises(ValidationError, match="one word at a time"):
        rake.words.add(SITE, ["barge", "two words"])
    with pytest.raises(PlumRakeError, match="one word at a time") as bad:
        rake.request("POST", f"/api/v1/sites/{SITE}/words", json={"words": ["barge", "two words"]})
    assert bad.value.status == 422
    assert "barge" not in {one.word for one in rake.words.list(SITE)}
    with pytest.raises(PlumRakeError) as unknown:
        rake.words.drop(SITE, "barge")
    assert unknown.value.status == 404


def test_suggestions_on_demand(rake: PlumRake) -> None:
    """What may have been meant, by language; a language without dictionary is told."""
    assert "separately" in rake.words.suggest("seperately")
    assert "Schleuse" in rake.words.suggest("Schleusse", "de")
    with pytest.raises(PlumRakeError) as lacking:
        rake.words.suggest("nuqneH", "tlh")
    assert lacking.value.code == "no-dictionary"


def test_commands(rake: PlumRake, running: Running, tmp_path: Path) -> None:
    """Doubtful words, adding from a file, listing and dropping by the command line."""
    swept(rake)
    token = token_of(rake, "read", "write")

    def run(*arguments: str) -> str:
        environment = {**os.environ, "PLUMRAKE_SERVER": running.address, "PLUMRAKE_TOKEN": token}
        return subprocess.run(
            [sys.executable, "-m", "plumrake", "words", *arguments],
            env=environment,
            capture_output=True,
            text=True,
            check=True,
        ).stdout

    assert "seperately" in run("doubtful", SITE)
    assert "3 places on 2 pages" in run("doubtful", SITE)
    (tmp_path / "words.txt").write_text("# names of boats\nSlow-Otter\nnavvyish\n")
    rake.words.add(SITE, ["navvyish"])
    assert "1 word added to words; 1 it had already" in run(
        "add", SITE, "--from", str(tmp_path / "words.txt")
    )
    assert "Slow-Otter" in run("list", SITE)
    assert "no longer a word" in run("drop", SITE, "slow-otter")
    assert "Slow-Otter" not in run("list", SITE)
    assert "separately" in run("suggest", "seperately")
