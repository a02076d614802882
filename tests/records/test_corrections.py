"""Queries about corrections: what is alike, what came back, which readings may prove, how a page
was written; and that what is still shown is not forgotten."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from plumrake.records import corrections, evidence, picture_texts
from plumrake.records.corrections import CorrectionFilters, NewCorrection, NewWriting, SourceTextRow
from tests.records.conftest import Rows

CHECK = "pictures/no-text"


def picture(selector: str, file: str, name: str = "") -> dict[str, Any]:
    return {"selector": selector, "hash": file, "source": f"/{file}", "name": name}


async def source(rows: Rows, name: str) -> str:
    """Keep a source of that name."""
    await corrections.keep_source(
        rows.connection, SourceTextRow(name, f"<p>{name}".encode(), "utf-8", 0, 9)
    )
    return name


async def made(rows: Rows, finding: int, by: int, state: str = "drafted", **values: Any) -> int:
    """Make a correction of a finding that is in a state."""
    mend = {"kind": "set-attribute", "attribute": "alt", "value": "A boat"}
    number = await corrections.add_correction(
        rows.connection, NewCorrection(finding, mend, "A text.", "why", by)
    )
    assert number is not None
    await corrections.set_state(rows.connection, number, state)
    for name, value in values.items():
        await rows.run(f"UPDATE correction SET {name} = %s WHERE id = %s", value, number)
    return number


async def test_places_are_alike_by_cause_and_by_picture(rows: Rows) -> None:
    """The same cause on any page, and the same fault wherever the same file is shown; what is
    mended, of another check, or of another file is not."""
    sweep = await rows.sweep(await rows.site("alike"))
    one, two = await rows.reading(sweep, "/"), await rows.reading(sweep, "/a/")
    for reading, pictures in (
        (one, [picture("#e1", "boat"), picture("#e2", "boat"), picture("#e3", "lock")]),
        (two, [picture("#e4", "boat"), picture("#e5", "lock")]),
    ):
        await rows.inventory(f"of {reading}", pictures=pictures)
        await rows.run("UPDATE reading SET inventory = %s WHERE id = %s", f"of {reading}", reading)
    first = await rows.finding(one, CHECK, 1, cause="c1")
    same_picture = await rows.finding(one, CHECK, 2, cause="c2")
    await rows.finding(one, CHECK, 3, cause="c3")
    elsewhere = await rows.finding(two, CHECK, 4, cause="c4")
    same_cause = await rows.finding(two, CHECK, 5, cause="c1")
    await rows.finding(two, "links/vague", 6, cause="c1")
    found = await corrections.places_alike(rows.connection, first, 10)
    assert [row.id for row in found] == [first, same_picture, elsewhere, same_cause]
    await rows.run("UPDATE finding SET standing = 'mended' WHERE id = %s", same_cause)
    found = await corrections.places_alike(rows.connection, first, 10)
    assert [row.id for row in found] == [first, same_picture, elsewhere]
    assert len(await corrections.places_alike(rows.connection, first, 2)) == 2


async def test_what_a_picture_is_called_elsewhere(rows: Rows) -> None:
    """By the number of pages; its own place and unnamed ones are left out."""
    sweep = await rows.sweep(await rows.site("called"))
    finding = 0
    for path, pictures in (
        ("/", [picture("#e1", "boat", "own words"), picture("#e2", "boat", "A boat")]),
        ("/a/", [picture("#e1", "boat", "A boat"), picture("#e2", "lock", "A lock")]),
        ("/b/", [picture("#e1", "boat", "The Heron"), picture("#e2", "boat")]),
    ):
        reading = await rows.reading(sweep, path)
        await rows.inventory(f"called {path}", pictures=pictures)
        await rows.run("UPDATE reading SET inventory = %s WHERE id = %s", f"called {path}", reading)
        finding = finding or await rows.finding(reading, CHECK, 1)
    found = await picture_texts.texts_elsewhere(rows.connection, finding)
    assert [(row.text, row.pages) for row in found] == [("A boat", 2), ("The Heron", 1)]
    assert await picture_texts.title_of(rows.connection, sweep, "/a/") == "Page /a/"
    assert await picture_texts.title_of(rows.connection, sweep, "/c/") == ""


async def test_texts_are_looked_for_once_in_a_while(rows: Rows) -> None:
    """Who asks a moment later waits for the same; later they are looked for anew."""
    reading = await rows.reading(await rows.sweep(await rows.site("texts")), "/")
    finding = await rows.finding(reading, CHECK, 1)
    assert await picture_texts.ask_texts(rows.connection, finding)
    assert not await picture_texts.ask_texts(rows.connection, finding)
    await picture_texts.keep_texts(
        rows.connection, finding, [{"text": "A boat", "comes_from": "its caption"}], ""
    )
    kept = await picture_texts.texts_of(rows.connection, finding)
    assert kept is not None
    assert (kept.state, kept.items[0]["text"]) == ("ready", "A boat")
    await rows.run("UPDATE picture_text SET asked_at = now() - interval '1 hour'")
    assert await picture_texts.ask_texts(rows.connection, finding)


async def test_what_came_back_is_counted_for_its_author(rows: Rows) -> None:
    """By site; drafts and what others made are not."""
    ned, imke = await rows.person("Nedback"), await rows.person("Imkeback")
    for slug, states in (("backa", ["conflict", "conflict", "drafted"]), ("backb", ["conflict"])):
        reading = await rows.reading(await rows.sweep(await rows.site(slug)), "/")
        for ordinal, state in enumerate(states):
            await made(rows, await rows.finding(reading, CHECK, ordinal), ned, state)
        await made(rows, await rows.finding(reading, CHECK, 9), imke, "conflict")
    found = await corrections.came_back(rows.connection, ned)
    assert [(row.site, row.corrections) for row in found] == [("backa", 2), ("backb", 1)]


async def test_only_readings_after_the_writing_may_prove(rows: Rows) -> None:
    """Of the checks that the sweep made, of pages that it read; with all that it found there of the
    check."""
    site, ned = await rows.site("prove"), await rows.person("Nedprove")
    before = await rows.sweep(site)
    reading = await rows.reading(before, "/")
    finding = await rows.finding(reading, CHECK, 1)
    number = await made(rows, finding, ned)
    page = (await rows.run("SELECT page_id FROM finding WHERE id = %s", finding))[0][0]
    writing = await corrections.add_writing(
        rows.connection,
        NewWriting(site, "live", page, await source(rows, "b4"), await source(rows, "af"), [], ned),
    )
    await corrections.set_written(rows.connection, writing, [number])
    await corrections.set_state(rows.connection, number, "written")

    async def proofs(sweep: int, check: str = CHECK) -> list[int]:
        found = await corrections.to_prove(rows.connection, site, "live", sweep, [check])
        return [row.id for row in found]

    assert await proofs(before) == []
    after = await rows.sweep(site)
    again = await rows.reading(after, "/", content_hash="af")
    there = await rows.finding(again, CHECK, 1, place_key="k", line=3)
    await rows.run('UPDATE finding SET "column" = 4 WHERE id = %s', there)
    assert await proofs(after) == [number]
    assert await proofs(after, "links/vague") == []
    (row,) = await corrections.to_prove(rows.connection, site, "live", after, [CHECK])
    assert row.found == [{"line": 3, "column": 4, "place_key": "k"}]
    assert (row.content_hash, row.before_hash, row.after_hash) == ("af", "b4", "af")
    unread = await rows.sweep(site)
    await rows.reading(unread, "/", status="unreadable")
    assert await proofs(unread) == []


async def test_writings_of_a_page_are_found_from_one_on(rows: Rows) -> None:
    """Those that were given up are left out; what was begun and not ended is found by itself."""
    site, ned = await rows.site("writings"), await rows.person("Nedwrites")
    reading = await rows.reading(await rows.sweep(site), "/")
    page = (await rows.run("SELECT page_id FROM reading WHERE id = %s", reading))[0][0]
    names = [await source(rows, f"state {number}") for number in range(4)]
    numbers = [
        await corrections.add_writing(
            rows.connection, NewWriting(site, "live", page, before, after, [], ned)
        )
        for before, after in pairwise(names)
    ]
    begun = await corrections.begun_writing(rows.connection, page, "live")
    assert begun is not None
    assert begun.id == numbers[-1]
    for number, done in zip(numbers, (True, False, True), strict=True):
        await corrections.end_writing(rows.connection, number, done=done)
    assert await corrections.begun_writing(rows.connection, page, "live") is None
    since = await corrections.writings_since(rows.connection, page, "live", numbers[0])
    assert [row.id for row in since] == [numbers[0], numbers[2]]
    kept = await corrections.source_by_hash(rows.connection, "state 1")
    assert kept is not None
    assert kept.body == b"<p>state 1"


async def test_listing_by_all_that_may_be_asked(rows: Rows) -> None:
    """State, environment, author, page, cause, numbers; the newest first, from a number on."""
    site, ned, imke = (
        await rows.site("listing"),
        await rows.person("Nedlists"),
        await rows.person("Imkelists"),
    )
    live, staging = await rows.sweep(site), await rows.sweep(site, "staging")
    one = await made(rows, await rows.finding(await rows.reading(live, "/"), CHECK, 1), ned)
    two = await made(
        rows, await rows.finding(await rows.reading(live, "/a/"), CHECK, 2, cause="x"), imke
    )
    three = await made(
        rows, await rows.finding(await rows.reading(staging, "/"), CHECK, 3), ned, "proven"
    )

    async def listed(**filters: Any) -> list[int]:
        wanted = CorrectionFilters(**filters)
        found = await corrections.list_corrections(rows.connection, site, wanted)
        assert await corrections.count_corrections(rows.connection, site, wanted) == len(found)
        return [row.id for row in found]

    assert await listed() == [three, two, one]
    assert await listed(states=["drafted"]) == [two, one]
    assert await listed(environment="staging") == [three]
    assert await listed(by_id=ned) == [three, one]
    assert await listed(path="/") == [three, one]
    assert await listed(cause="x") == [two]
    assert await listed(ids=[one, two]) == [two, one]
    page = await corrections.list_corrections(
        rows.connection, site, CorrectionFilters(), before=three, limit=1
    )
    assert [row.id for row in page] == [two]


async def test_pictures_that_corrections_and_clearances_show_are_kept(rows: Rows) -> None:
    """Whatever their age; those of corrections that nobody has touched for long go with all that
    nothing shows."""
    site, ned = await rows.site("kept"), await rows.person("Nedkeeps")
    await rows.evidence("before", "after", "old", "cleared", "nothing")
    reading = await rows.reading(await rows.sweep(site), "/")
    finding = await rows.finding(reading, CHECK, 1)
    await made(rows, finding, ned, picture_before="before", picture_after="after")
    await made(rows, finding, ned, picture_before="old", changed_at="2020-01-01")
    await rows.add(
        "clearance",
        site_id=site,
        path="/",
        given_as="document",
        address="https://x.example/",
        lens="markup",
        asked_by=ned,
        picture="cleared",
        state="answered",
        decision="clear",
    )
    gone = await evidence.forget(rows.connection, older_than_days=30, kept_sweeps=1)
    left = {row[0] for row in await rows.run("SELECT hash FROM evidence")}
    assert left >= {"before", "after", "cleared"}
    assert not left & {"old", "nothing"}
    assert gone >= 2
