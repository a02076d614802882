"""Writing corrections out: into a folder and into the CMS, proven by a reading, taken back byte for
byte, in conflict where the source changed; and nothing lost where the writer is killed."""

from __future__ import annotations

import json
import os
import random
import time

import pytest

from plumrake import models
from plumrake.client import ConflictError, NotValid
from tests.conftest import wait_for
from tests.corrections.conftest import SLUG, Yard
from tests.faults.test_kills import kill_tree

BERTHS = 62
KILLS = int(os.environ.get("PLUMRAKE_KILLS", "3"))
LINK = {"kind": "replace-text", "value": "Cranes and what they lift"}


def write(yard: Yard, *ids: int) -> None:
    """Have drafts written."""
    wanted = models.WriteCorrections(ids=list(ids))
    assert list(yard.manager.corrections.write(SLUG, wanted)) == sorted(ids)


def test_written_and_proven_and_every_other_byte_alone(yard: Yard) -> None:
    """In a folder: the file is as before but for the mends; the page is read again; its fix, which
    shows its corrections by its cause, is proven with it."""
    rake = yard.manager
    finding = rake.findings.show(yard.finding("pictures/no-text", "/"))
    (fix,) = rake.fixes.hand_out(SLUG, findings=[finding.id])
    before = yard.file("/").read_bytes()
    one = rake.corrections.draft(SLUG, finding.id, yard.text("Boats")).first
    two = rake.corrections.draft(SLUG, yard.finding("links/vague", "/"), LINK).first
    write(yard, one.id, two.id)
    for number in (one.id, two.id):
        shown = yard.settled(number, "proven", "conflict")
        assert shown.state == "proven", shown.problem
    assert [event.move for event in shown.events] == ["make", "draft", "write", "prove"]
    after = before.replace(b'height="180">', b'height="180" alt="Boats">', 1)
    after = after.replace(b">here</a> about", b">Cranes and what they lift</a> about")
    assert yard.file("/").read_bytes() == after
    wait_for(lambda: rake.fixes.show(fix.id).state == "proven", 30, "the fix to be proven")
    assert [
        found.id for found in rake.corrections.list(SLUG, cause=finding.cause, state=["proven"])
    ] == [one.id]


def test_through_the_cms(yard: Yard) -> None:
    """It is published, with the old text in the CMS's history; taken back, it is as it was. While
    somebody has a draft there nothing is written, and who looks is told so."""
    rake = yard.manager.corrections
    file = yard.file("/cranes/", "live")
    before = file.read_bytes()
    finding = yard.finding("pictures/no-text", "/cranes/", "live")
    one = rake.draft(SLUG, finding, yard.text("A crane")).first
    write(yard, one.id)
    assert yard.settled(one.id, "proven", "conflict").state == "proven"
    assert file.read_bytes() == before.replace(b"height=180>", b'height=180 alt="A crane">')
    (entry,) = yard.cms.history("/cranes/")
    assert entry["was"].strip() == yard.content["/cranes/"]
    assert "set to “A crane”" in entry["why"]
    rake.move(one.id, "take_back")
    events = yard.settled(one.id, "taken_back").events
    assert [(event.move, event.before, event.by) for event in events] == [
        ("make", "", "Philippa"),
        ("draft", "waiting", None),
        ("write", "drafted", "Philippa"),
        ("prove", "written", None),
        ("take_back", "proven", "Philippa"),
    ]
    assert file.read_bytes() == before
    yard.cms.draft("/cranes/").write_text(json.dumps({"content": "half a thought"}))
    two = rake.draft(SLUG, finding, yard.text("A crane")).first
    write(yard, two.id)
    shown = yard.settled(two.id, "conflict")
    assert shown.problem == "somebody has a draft of /cranes/; publish it or forget it"
    assert file.read_bytes() == before


def test_a_source_that_changed_elsewhere_takes_the_draft_where_its_place_is_now(
    yard: Yard,
) -> None:
    """It is placed anew by what it mends, proven again, and written."""
    finding = yard.finding("pictures/no-text", "/")
    one = yard.manager.corrections.draft(SLUG, finding, yard.text("Boats")).first
    file = yard.file("/")
    file.write_bytes(file.read_bytes().replace(b"<p>What is", b"<p>New above.</p>\n<p>What is"))
    write(yard, one.id)
    assert yard.settled(one.id, "proven", "conflict").state == "proven"
    text = file.read_text()
    assert "<p>New above.</p>" in text
    assert '<img src="/a.jpg" WIDTH=320 height="180" alt="Boats">' in text


def test_a_source_whose_place_changed_is_a_conflict(yard: Yard) -> None:
    """Nothing is guessed and nothing written; the author takes it back or drafts it again."""
    finding = yard.finding("pictures/no-text", "/")
    one = yard.manager.corrections.draft(SLUG, finding, yard.text("Boats")).first
    file = yard.file("/")
    changed = file.read_bytes().replace(b'src="/a.jpg"', b'src="/b.jpg" alt="Other boats"')
    file.write_bytes(changed)
    write(yard, one.id)
    shown = yard.settled(one.id, "conflict")
    assert "is not on the page as it was found" in shown.problem
    assert [(one.site, one.corrections) for one in yard.manager.fixes.desk().came_back] == [
        (SLUG, 1)
    ]
    assert not yard.editor.fixes.desk().came_back
    assert shown.moves == ["take_back", "draft_again"]
    assert file.read_bytes() == changed
    assert yard.manager.corrections.move(one.id, "take_back").state == "taken_back"


def test_taken_back_among_later_ones(yard: Yard) -> None:
    """What was written later stays; what somebody else changed since is left to people."""
    rake = yard.manager.corrections
    before = yard.file("/").read_bytes()
    one = rake.draft(SLUG, yard.finding("pictures/no-text", "/"), yard.text("Boats")).first
    write(yard, one.id)
    yard.settled(one.id, "proven")
    two = rake.draft(SLUG, yard.finding("links/vague", "/"), LINK).first
    write(yard, two.id)
    yard.settled(two.id, "proven")
    rake.move(one.id, "take_back")
    yard.settled(one.id, "taken_back")
    only_two = before.replace(b">here</a> about", b">Cranes and what they lift</a> about")
    assert yard.file("/").read_bytes() == only_two
    yard.file("/").write_bytes(only_two + b"<!-- by hand -->")
    rake.move(two.id, "take_back")
    shown = yard.settled(two.id, "conflict")
    assert "the source was changed since it was written" in shown.problem
    assert yard.file("/").read_bytes() == only_two + b"<!-- by hand -->"


def test_the_same_for_every_place_but_one(yard: Yard) -> None:
    """A template's fault on each page of a folder: one text for all, one page left out; all are
    written in one go, and proven."""
    rake = yard.manager
    found = rake.findings.list(SLUG, environment="staging", check="pictures/no-text")
    seals = [one for one in found if "seal.png" in one.excerpt]
    assert len(seals) == len(yard.content)
    first = next(one for one in seals if one.path == "/berths/0/")
    left_out = next(one for one in seals if one.path == "/berths/7/")
    assert len(list(rake.corrections.alike(first.id))) == len(yard.content)
    made = rake.corrections.draft(
        SLUG, first.id, yard.text("The yard's seal"), everywhere=True, but=[left_out.id]
    )
    assert len(made.ids) == len(yard.content) - 1
    wait_for(lambda: _states(yard, made.ids) == {"drafted"}, 60, "all to be drafted")
    rake.corrections.write(SLUG, models.WriteCorrections(cause=first.cause))
    wait_for(lambda: _states(yard, made.ids) == {"proven"}, 60, "all to be proven")
    for path in yard.content:
        has = b'alt="The yard\'s seal"' in yard.file(path).read_bytes()
        assert has == (path != "/berths/7/"), path


def _states(yard: Yard, ids: list[int]) -> set[str]:
    wanted = set(ids)
    return {one.state for one in yard.manager.corrections.list(SLUG) if one.id in wanted}


def test_a_killed_writer_loses_nothing_and_writes_nothing_twice(yard: Yard) -> None:
    """The worker is killed at random moments while it writes a correction on each page; another
    takes the work up, and is killed as well. In the end each file has its mend once."""
    rake = yard.manager
    chance = random.Random(20_261_129)
    worker = yard.running.children[-1]
    kills = 0
    while kills < KILLS:
        yard.sweep("staging")
        found = rake.findings.list(SLUG, environment="staging", check="pictures/no-text")
        first = next(one for one in found if "seal.png" in one.excerpt)
        made = rake.corrections.draft(SLUG, first.id, yard.text("Seal"), everywhere=True)
        assert len(made.ids) == len(yard.content)
        wait_for(lambda ids=made.ids: _states(yard, ids) == {"drafted"}, 180, "all to be drafted")
        rake.corrections.write(SLUG, models.WriteCorrections(ids=made.ids))
        seen = 0
        while kills < KILLS and (now := _written(yard)) < len(yard.content):
            if now == seen:
                time.sleep(0.05)
                continue
            time.sleep(chance.uniform(0, 0.3))
            kill_tree(worker)
            kills, seen = kills + 1, _written(yard)
            worker = yard.running.start("worker", **yard.settings)
        wait_for(lambda ids=made.ids: _states(yard, ids) == {"proven"}, 180, "all to be proven")
        for path in yard.content:
            assert yard.file(path).read_bytes().count(b'alt="Seal"') == 1, path
        yard.write_files()


def _written(yard: Yard) -> int:
    """Return how many files have their mend."""
    return sum(b'alt="Seal"' in yard.file(path).read_bytes() for path in yard.content)


def test_what_may_not_be_written_is_said_at_once(yard: Yard) -> None:
    """A policy that lets corrections be drafted only; folders that the service may not use; files
    that cannot be written."""
    rake = yard.manager
    with pytest.raises(NotValid, match="lies in none of the folders that the service may use"):
        rake.corrections.connect(
            SLUG, "staging", models.NewConnection(kind="folder", folder="/etc")
        )
    with pytest.raises(NotValid, match="the secret of corrections is not right"):
        (cms,) = [one for one in rake.corrections.connections(SLUG) if one.environment == "live"]
        wrong = models.NewConnection(
            kind="stand-in", address=cms.settings["address"], secret="guess"
        )
        rake.corrections.connect(SLUG, "live", wrong)
    assert "carry-it-over" not in cms.model_dump_json()
    finding = yard.finding("pictures/no-text", "/")
    one = rake.corrections.draft(SLUG, finding, yard.text("Boats")).first
    site = rake.sites.show(SLUG)
    policy = {**site.policy, "corrections": "drafted"}
    rake.sites.change(SLUG, models.SiteChange(policy=policy), site.tag)
    with pytest.raises(ConflictError, match="lets corrections be drafted only"):
        write(yard, one.id)
