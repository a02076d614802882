"""Sweeps in the database: planned, taken batch by batch, counted, their readings and findings kept,
listed and forgotten; each query among other sweeps."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.core.inventory import Inventory, PageViews
from plumrake.records import evidence, readings, sweeps
from plumrake.records.sweeps import (
    DiscoveredPage,
    FindingFilters,
    NewReading,
    NewSweep,
    SweepRow,
    sweep_by_id,
)
from tests.records.conftest import Rows

ALL = FindingFilters()


async def begun(rows: Rows, site: int, *paths: str, size: int = 2, lanes: int = 1) -> SweepRow:
    """A running sweep of pages that a sitemap lists, in batches."""
    new = NewSweep(
        site_id=site,
        environment="live",
        lens="markup",
        section="/",
        policy={"level": "aa"},
        asked_by=None,
        scope="all",
        given_paths=[],
        fresh=False,
        ground="g",
    )
    number = await sweeps.add_sweep(rows.connection, new)
    pages = [DiscoveredPage(path, "sitemap") for path in paths]
    await sweeps.plan_pages(
        rows.connection, await row_of(rows, number), pages, batch_size=size, lanes=lanes
    )
    return await row_of(rows, number)


async def row_of(rows: Rows, number: int) -> SweepRow:
    found = await sweep_by_id(rows.connection, number)
    assert found is not None
    return found


async def pages_of(rows: Rows, sweep: SweepRow, batch: int) -> dict[str, sweeps.PlannedPageRow]:
    got = await sweeps.unread_of_batches(rows.connection, sweep, batch)
    return {one.path: one for one in got}


def found(check: str, key: str, **values: Any) -> dict[str, Any]:
    """A finding as a reading has it."""
    usual: dict[str, Any] = {
        "check": check,
        "outcome": "failed",
        "weight": "obstacle",
        "criteria": [],
        "says": f"{check} is wrong",
        "question": None,
        "selector": "p",
        "line": 3,
        "column": 1,
        "box": None,
        "visible": True,
        "nearest_visible": None,
        "nearest_box": None,
        "excerpt": "<p>",
        "facts": {},
        "mends": [],
        "place_key": key,
        "cause_key": check,
        "zone": "content",
        "structure": "main>p",
        "shape_key": "s",
    }
    return {**usual, **values}


def read(page: sweeps.PlannedPageRow, **values: Any) -> NewReading:
    """A reading of a planned page: one vague link, and a title that two pages share."""
    new = NewReading(
        page_id=page.id,
        position=page.position,
        address=f"https://trust.example{page.path}",
        lens="markup",
        status="read",
        problem_code=None,
        problem_says=None,
        http_status=200,
        title=f"Page {page.path}",
        language="en",
        kind="",
        content_hash=f"hash {page.path}",
        elements=9,
        untested=[],
        ready=True,
        seconds=0.1,
        findings=[found("links/vague", "v"), found("page/title-shared", "t", weight="friction")],
        picture=None,
        picture_hash=None,
        etag=f"tag {page.path}",
    )
    return replace(new, **values)


async def test_pages_are_planned_in_batches_in_the_order_given(rows: Rows) -> None:
    """The first lanes are taken; pages that links alone lead to are counted; the sweep before is
    what it is compared with."""
    site = await rows.site("trust")
    before = await rows.sweep(site)
    await rows.sweep(site, environment="staging")
    await rows.sweep(site, state="stopped")
    sweep = await begun(rows, site, "/c/", "/a/", "/b/")
    assert (sweep.state, sweep.total, sweep.batches, sweep.next_batch) == ("running", 3, 2, 1)
    assert (sweep.base_id, sweep.unlisted, sweep.policy) == (before, 0, {"level": "aa"})
    assert list(await pages_of(rows, sweep, 0)) == ["/c/", "/a/"]
    assert list(await pages_of(rows, sweep, 1)) == ["/b/"]
    new = await begun(rows, site)
    listed = [DiscoveredPage("/a/", "sitemap"), DiscoveredPage("/d/", "crawl", "/a/")]
    await sweeps.plan_pages(rows.connection, new, listed, batch_size=9, lanes=3)
    assert (await row_of(rows, new.id)).unlisted == 1
    crawled = await begun(rows, site)
    await sweeps.plan_pages(rows.connection, crawled, listed[1:], batch_size=9, lanes=3)
    assert (await row_of(rows, crawled.id)).unlisted == 0


async def test_batches_are_taken_once_those_that_are_read_passed_over(rows: Rows) -> None:
    """From the first again after a rewind; none of a sweep that was stopped, until it goes on."""
    site = await rows.site("trust")
    sweep, other = [await begun(rows, site, *"abcde", size=1, lanes=1) for _ in range(2)]
    second = (await pages_of(rows, sweep, 1))["b"]
    assert await sweeps.add_reading(rows.connection, sweep.id, read(second))
    assert [await sweeps.take_batch(rows.connection, sweep.id) for _ in range(2)] == [2, 3]
    await sweeps.rewind(rows.connection, sweep.id)
    assert await sweeps.take_batch(rows.connection, sweep.id) == 0
    assert await sweeps.stop_sweep(rows.connection, sweep.id)
    assert not await sweeps.stop_sweep(rows.connection, sweep.id)
    assert await sweeps.take_batch(rows.connection, sweep.id) is None
    assert await sweeps.take_batch(rows.connection, other.id) == 1
    assert await sweeps.resume_sweep(rows.connection, sweep.id) == "running"
    assert await sweeps.resume_sweep(rows.connection, sweep.id) is None
    taken = [await sweeps.take_batch(rows.connection, sweep.id) for _ in range(5)]
    assert taken == [0, 2, 3, 4, None]


async def test_several_batches_are_taken_together(rows: Rows) -> None:
    """Their pages come in order, without those that are read; the next lane takes what follows."""
    sweep = await begun(rows, await rows.site("trust"), *"abcdefg", size=2, lanes=1)
    read_already = (await pages_of(rows, sweep, 1))["d"]
    assert await sweeps.add_reading(rows.connection, sweep.id, read(read_already))
    assert await sweeps.take_batch(rows.connection, sweep.id, 2) == 1
    together = await sweeps.unread_of_batches(rows.connection, sweep, 1, 2)
    assert [one.path for one in together] == ["c", "e", "f"]
    assert await sweeps.take_batch(rows.connection, sweep.id, 2) == 3
    assert await sweeps.take_batch(rows.connection, sweep.id, 2) is None


async def test_a_sweep_is_locked_failed_and_finished_in_its_state_alone(rows: Rows) -> None:
    """It is done with its last page; a finished one does not fail."""
    site = await rows.site("trust")
    sweep, other = await begun(rows, site, "/a/", "/b/"), await begun(rows, site, "/a/")
    assert await sweeps.lock_sweep(rows.connection, sweep.id) == "running"
    assert await sweeps.lock_sweep(rows.connection, other.id + 99) is None
    counts = {"read": 1, "ready": 1, "unchanged": 0, "found": {"barrier": 2}}
    await sweeps.count_batch(rows.connection, sweep, unreadable=0, **counts)  # type: ignore[arg-type]
    assert not await sweeps.finish_if_complete(rows.connection, sweep.id)
    await sweeps.count_batch(rows.connection, sweep, unreadable=0, **counts)  # type: ignore[arg-type]
    assert await sweeps.finish_if_complete(rows.connection, sweep.id)
    await sweeps.fail_sweep(rows.connection, sweep.id, "too late")
    await sweeps.fail_sweep(rows.connection, other.id, "no page")
    done, failed = await row_of(rows, sweep.id), await row_of(rows, other.id)
    assert (done.state, done.read, done.problem) == ("done", 2, None)
    assert (failed.state, failed.problem, failed.read) == ("failed", "no page", 0)


async def test_sweeps_nobody_works_on_are_found(rows: Rows) -> None:
    """Not one that a job is queued for, nor one that is over."""
    site = await rows.site("trust")
    await rows.run("DELETE FROM sweep WHERE state = 'running'")
    lost, queued = await begun(rows, site, "/a/"), await begun(rows, site, "/a/")
    await begun(rows, site)
    await rows.sweep(site)
    await rows.run("UPDATE sweep SET state = 'stopped' WHERE id > %s AND total = 0", queued.id)
    for status, number in (("todo", queued.id), ("succeeded", lost.id)):
        await rows.run(
            "INSERT INTO procrastinate_jobs (task_name, queue_name, priority, args, status)"
            " VALUES ('read', 'q', 0, %s, %s)",
            Jsonb({"sweep_id": number}),
            status,
        )
    assert await sweeps.unfinished(rows.connection) == [lost.id]


async def test_a_redirect_is_no_page_but_leads_to_one(rows: Rows) -> None:
    """In a batch of its own where the sweep has not got it; else the sweep has a page less."""
    site = await rows.site("trust")
    sweep = await begun(rows, site, "/old/", "/older/", "/a/", size=9)
    pages = await pages_of(rows, sweep, 0)
    await sweeps.note_redirect(rows.connection, sweep.id, pages["/old/"].id, "/new/")
    now = await row_of(rows, sweep.id)
    assert (now.total, now.batches, now.redirects) == (3, 2, 1)
    assert list(await pages_of(rows, sweep, 1)) == ["/new/"]
    await sweeps.note_redirect(rows.connection, sweep.id, pages["/older/"].id, "/a/")
    await sweeps.note_redirect(rows.connection, sweep.id, pages["/older/"].id, "/a/")
    now = await row_of(rows, sweep.id)
    assert (now.total, now.batches, now.redirects) == (2, 2, 2)
    assert list(await pages_of(rows, sweep, 0)) == ["/a/"]
    noted = "SELECT path, redirects_to FROM page WHERE redirects_to <> '' ORDER BY path"
    assert await rows.run(noted) == [("/old/", "/new/"), ("/older/", "/a/")]


async def finished(rows: Rows, site: int, *paths: str) -> SweepRow:
    """A sweep of pages, each read, that is done."""
    sweep = await begun(rows, site, *paths, size=9)
    for page in (await pages_of(rows, sweep, 0)).values():
        assert await sweeps.add_reading(rows.connection, sweep.id, read(page))
        assert not await sweeps.add_reading(rows.connection, sweep.id, read(page))
    await rows.run("UPDATE sweep SET state = 'done' WHERE id = %s", sweep.id)
    return sweep


async def test_pages_to_read_come_with_their_newest_reading_on_the_same_ground(rows: Rows) -> None:
    """Not where everything is to be read afresh, nor on another ground or environment."""
    site = await rows.site("trust")
    first, second = await finished(rows, site, "/a/", "/b/"), await finished(rows, site, "/a/")
    sweep = await begun(rows, site, "/a/", "/b/", "/c/", size=9)
    known = {
        number: dict(
            await rows.run(
                "SELECT p.path, r.id FROM reading r JOIN page p ON p.id = r.page_id"
                " WHERE r.sweep_id = %s",
                number,
            )  # type: ignore[arg-type]
        )
        for number in (first.id, second.id)
    }
    pages = await pages_of(rows, sweep, 0)
    assert {path: page.known_id for path, page in pages.items()} == {
        "/a/": known[second.id]["/a/"],
        "/b/": known[first.id]["/b/"],
        "/c/": None,
    }
    assert (pages["/b/"].etag, pages["/b/"].content_hash) == ("tag /b/", "hash /b/")
    for other in (
        replace(sweep, fresh=True),
        replace(sweep, ground="another"),
        replace(sweep, environment="staging"),
    ):
        assert {page.known_id for page in (await pages_of(rows, other, 0)).values()} == {None}
    await sweeps.add_reading(rows.connection, sweep.id, read(pages["/a/"]))
    assert list(await pages_of(rows, sweep, 0)) == ["/b/", "/c/"]


async def test_readings_of_unchanged_pages_are_carried_over(rows: Rows) -> None:
    """With their findings in this sweep's order, less those of checks over all pages; they say
    which reading they come from."""
    site = await rows.site("trust")
    old = await finished(rows, site, "/b/", "/a/", "/c/")
    sweep = await begun(rows, site, "/a/", "/b/", size=9)
    pages = list((await pages_of(rows, sweep, 0)).values())
    carried = await sweeps.keep_readings(rows.connection, sweep.id, pages, ["page/title-shared"])
    assert (carried.unchanged, carried.ready, carried.found) == (2, 2, {"obstacle": 2})
    got = await sweeps.findings(rows.connection, sweep.id, ALL, sort="page", after=None, limit=9)
    assert [(one.path, one.check, one.standing) for one in got] == [
        ("/a/", "links/vague", "counts"),
        ("/b/", "links/vague", "counts"),
    ]
    third = await begun(rows, site, "/a/", size=9)
    await rows.run("UPDATE sweep SET state = 'done' WHERE id = %s", sweep.id)
    await sweeps.keep_readings(
        rows.connection, third.id, list((await pages_of(rows, third, 0)).values()), []
    )
    [(origin,)] = await rows.run(
        "SELECT o.sweep_id FROM reading r JOIN reading o ON o.id = r.unchanged_from"
        " WHERE r.sweep_id = %s",
        third.id,
    )
    assert origin == old.id
    again = await sweeps.keep_readings(rows.connection, sweep.id, pages, [])
    assert (again.unchanged, again.found) == (0, {})


async def test_readings_of_several_sweeps_are_carried_over_at_once(rows: Rows) -> None:
    """Of a batch whose pages were last read by different sweeps each comes from its own; what was
    never read has nothing to carry."""
    site = await rows.site("trust")
    first, second = await finished(rows, site, "/a/", "/b/"), await finished(rows, site, "/a/")
    sweep = await begun(rows, site, "/a/", "/b/", "/c/", size=9)
    pages = list((await pages_of(rows, sweep, 0)).values())
    carried = await sweeps.keep_readings(rows.connection, sweep.id, pages, ["page/title-shared"])
    assert (carried.unchanged, carried.ready, carried.found) == (2, 2, {"obstacle": 2})
    origins = await rows.run(
        "SELECT p.path, o.sweep_id FROM reading r JOIN reading o ON o.id = r.unchanged_from"
        " JOIN page p ON p.id = r.page_id WHERE r.sweep_id = %s ORDER BY 1",
        sweep.id,
    )
    assert origins == [("/a/", second.id), ("/b/", first.id)]


async def test_findings_over_all_pages_stand_after_the_page_s_own(rows: Rows) -> None:
    """Also on a page without any; where they hold, the page is not ready."""
    site = await rows.site("trust")
    sweep = await begun(rows, site, "/b/", "/a/", size=9)
    for path, page in (await pages_of(rows, sweep, 0)).items():
        own = [found("links/vague", "v")] if path == "/b/" else []
        await sweeps.add_reading(rows.connection, sweep.id, read(page, findings=own))
    titles = await sweeps.titles(rows.connection, sweep.id)
    assert [(one.path, one.title) for one in titles] == [("/b/", "Page /b/"), ("/a/", "Page /a/")]
    shared = [found("page/title-shared", "t", weight="friction")]
    for title, held in zip(titles, (True, False), strict=True):
        await sweeps.add_site_findings(
            rows.connection, sweep.id, title.reading_id, shared, held=held
        )
    got = await sweeps.findings(rows.connection, sweep.id, ALL, sort="page", after=None, limit=9)
    assert [(one.path, one.check) for one in got] == [
        ("/b/", "links/vague"),
        ("/b/", "page/title-shared"),
        ("/a/", "page/title-shared"),
    ]
    listed = await sweeps.readings(rows.connection, sweep.id, sort="path", after=None, limit=9)
    assert [(one.path, one.ready) for one in listed] == [("/a/", True), ("/b/", False)]


async def test_findings_are_filtered_and_sorted_piece_by_piece(rows: Rows) -> None:
    """By each filter alone; the count agrees; other sweeps' are never among them."""
    site = await rows.site("trust")
    sweep, other = await rows.sweep(site), await rows.sweep(site)
    first, second = await rows.reading(sweep, "/a/"), await rows.reading(sweep, "/a/b/")
    vague = await rows.finding(first, "links/vague", 1, cause="footer", zone="footer")
    barrier = await rows.finding(second, "pictures/no-text", 2, weight="barrier")
    doubt = await rows.finding(
        second, "links/alike", 3, weight="barrier", outcome="cantTell", standing="doubtful"
    )
    word = await rows.finding(
        second, "text/spelling", 4, weight="friction", outcome="cantTell", standing="doubtful"
    )
    await rows.finding(await rows.reading(other, "/a/"), "links/vague", 1, cause="footer")

    async def listed(filters: FindingFilters = ALL, sort: str = "page") -> list[int]:
        numbers: list[int] = []
        after: tuple[int, int] | None = None
        while got := await sweeps.findings(
            rows.connection, sweep, filters, sort=sort, after=after, limit=1
        ):
            numbers.append(got[0].id)
            after = (got[0].rank, got[0].ordinal)
        assert await sweeps.count_findings(rows.connection, sweep, filters) == len(numbers)
        return numbers

    assert await listed() == [vague, barrier, doubt, word]
    assert await listed(sort="weight") == [barrier, doubt, vague, word]
    wanted = {
        "check": (FindingFilters(check="links/vague"), [vague]),
        "area": (FindingFilters(check="links"), [vague, doubt]),
        "weight": (FindingFilters(weight="barrier"), [barrier, doubt]),
        "outcome": (FindingFilters(outcome="cantTell"), [doubt, word]),
        "standing": (FindingFilters(standing="counts"), [vague, barrier]),
        "below": (FindingFilters(path="/a/"), [vague, barrier, doubt, word]),
        "at": (FindingFilters(at="/a/"), [vague]),
        "cause": (FindingFilters(cause="footer"), [vague]),
        "zone": (FindingFilters(zone="footer"), [vague]),
        "words": (FindingFilters(words=True), [word]),
        "no words": (FindingFilters(words=False, weight="barrier"), [barrier, doubt]),
    }
    for name, (filters, expected) in wanted.items():
        assert await listed(filters) == expected, name
        assert sorted(await listed(filters, "weight")) == sorted(expected), name
    await rows.fix(site, "footer", owner_id=await rows.person("Ned"))
    whole = await sweeps.finding_by_id(rows.connection, vague)
    assert whole is not None
    assert (whole.site, whole.same_cause_places, whole.same_cause_pages, whole.fix_owner) == (
        "trust",
        1,
        1,
        "Ned",
    )
    alone = await sweeps.finding_by_id(rows.connection, barrier)
    assert alone is not None
    assert alone.fix_id is None


async def test_pages_are_listed_by_path_or_by_what_counts_on_them(rows: Rows) -> None:
    """Pages that could not be read first; waived findings weigh nothing."""
    sweep = await rows.sweep(await rows.site("trust"))
    made = {}
    for at, (path, values) in enumerate(
        {
            "/a/": {},
            "/b/": {"ready": False},
            "/c/": {"status": "unreadable", "ready": False},
            "/d/": {"ready": False, "left_out_page": True},
        }.items(),
        1,
    ):
        made[path] = await rows.reading(sweep, path, **values)
        await rows.planned(made[path], at, found_by="crawl", linked_from="/")
    await rows.finding(made["/a/"], "links/vague", 1, weight="barrier", standing="waived")
    await rows.finding(made["/b/"], "links/vague", 2, weight="obstacle")
    await rows.finding(made["/d/"], "links/vague", 3, weight="barrier")

    async def listed(sort: str = "path", **wanted: Any) -> list[str]:
        paths: list[str] = []
        after: tuple[list[int], str] | None = None
        while got := await sweeps.readings(
            rows.connection, sweep, sort=sort, after=after, limit=1, **wanted
        ):
            paths.append(got[0].path)
            after = (got[0].rank, got[0].path)
        return paths

    assert await listed() == ["/a/", "/b/", "/c/", "/d/"]
    assert await listed("weight") == ["/c/", "/d/", "/b/", "/a/"]
    assert await listed(status="unreadable") == ["/c/"]
    assert await listed(ready=False) == ["/b/", "/c/"]
    assert await listed(ready=True) == ["/a/"]
    assert await listed(path="/b") == ["/b/"]


async def test_what_counts_is_counted_anew_for_a_sweep(rows: Rows) -> None:
    """By weight; words apart from doubts; pages left out are not among the ready."""
    site = await rows.site("trust")
    sweep, other = await rows.sweep(site, total=9), await rows.sweep(site)
    reading = await rows.reading(sweep, "/a/")
    await rows.reading(sweep, "/b/", left_out_page=True)
    await rows.reading(sweep, "/c/", left_out_page=True, ready=False, status="unreadable")
    await rows.reading(other, "/a/")
    for at, (check, weight, standing) in enumerate(
        (
            ("links/vague", "barrier", "counts"),
            ("links/vague", "barrier", "waived"),
            ("links/alike", "obstacle", "doubtful"),
            ("text/spelling", "friction", "doubtful"),
        )
    ):
        outcome = "cantTell" if standing == "doubtful" else "failed"
        await rows.finding(reading, check, at, weight=weight, standing=standing, outcome=outcome)
    await sweeps.count_ready(rows.connection, sweep)
    [(ready, counted)] = await rows.run("SELECT ready, counted FROM sweep WHERE id = %s", sweep)
    assert (ready, counted) == (
        1,
        {
            "barriers": 1,
            "obstacles": 0,
            "frictions": 0,
            "doubtful": 1,
            "words": 1,
            "waived": 1,
            "left_out": 2,
            "unreadable_left_out": 1,
        },
    )
    assert (await row_of(rows, sweep)).left_out == 2
    assert (await row_of(rows, other)).ready == 0


async def test_sweeps_are_listed_the_newest_first(rows: Rows) -> None:
    """Readings of given pages only where they are wanted; the newest whole one is found."""
    site, other = await rows.site("trust"), await rows.site("mill")
    live, staging = await rows.sweep(site), await rows.sweep(site, environment="staging")
    given, section = await rows.sweep(site, scope="given"), await rows.sweep(site, section="/a/")
    await rows.sweep(other)

    async def listed(**wanted: Any) -> list[int]:
        usual = {"given": False, "before": None, "limit": 9}
        got = await sweeps.sweeps_of(rows.connection, site, **{**usual, **wanted})
        return [one.id for one in got]

    assert await listed() == [section, staging, live]
    assert await listed(given=True) == [section, given, staging, live]
    assert await listed(before=section, limit=1) == [staging]
    assert await sweeps.newest_done(rows.connection, site) == staging
    assert await sweeps.newest_done(rows.connection, site, "live") == live
    assert await sweeps.newest_done(rows.connection, site, before=live) is None


async def test_events_of_a_sweep_come_in_their_order(rows: Rows) -> None:
    """Those after one, and none of another sweep."""
    site = await rows.site("trust")
    sweep, other = await rows.sweep(site), await rows.sweep(site)
    for number, kind in ((sweep, "planned"), (other, "planned"), (sweep, "page"), (sweep, "done")):
        await sweeps.add_event(rows.connection, number, kind, {"of": number})
    first, *rest = await sweeps.events_after(rows.connection, sweep, 0)
    assert (first.kind, first.data) == ("planned", {"of": sweep})
    assert rest == await sweeps.events_after(rows.connection, sweep, first.id)
    assert [one.kind for one in rest] == ["page", "done"]


async def test_old_evidence_is_forgotten_once_nothing_shows_it(rows: Rows) -> None:
    """The newest sweeps of each environment keep theirs, however old; causes keep their own."""
    site = await rows.site("trust")
    age = datetime(2020, 1, 1, tzinfo=UTC)
    content = {
        "old": await rows.sweep(site, created_at=age),
        "newest": await rows.sweep(site, created_at=age),
        "staging": await rows.sweep(site, created_at=age, environment="staging"),
    }
    for name, number in content.items():
        sweep = await row_of(rows, number)
        await rows.evidence(f"{name} cause")
        page_views = PageViews(
            **{way: [{"of": name}] for way in PageViews.__slots__}  # type: ignore[arg-type]
        )
        await sweeps.plan_pages(
            rows.connection, sweep, [DiscoveredPage("/a/", "sitemap")], batch_size=1, lanes=1
        )
        [page] = (await pages_of(rows, sweep, 0)).values()
        await sweeps.add_reading(
            rows.connection,
            number,
            read(
                page,
                picture=b"x",
                picture_hash=f"{name} page",
                page_views=page_views,
                inventory=Inventory(census={name: 1}, pictures=[], links=[], colours=[]),
            ),
        )
        [(finding,)] = await rows.run("SELECT min(id) FROM finding WHERE sweep_id = %s", number)
        await rows.cause(finding, 1)
        await rows.add(
            "cause_picture",
            sweep_id=number,
            key="links/vague",
            finding_id=finding,
            picture=f"{name} cause",
        )
    await rows.evidence("nowhere")
    gone = await evidence.forget(rows.connection, older_than_days=30, kept_sweeps=1)
    there = {name for (name,) in await rows.run("SELECT hash FROM evidence")}
    assert gone == 2
    assert there == {
        "old cause",
        "newest cause",
        "newest page",
        "staging cause",
        "staging page",
    }
    [(old,)] = await rows.run("SELECT id FROM reading WHERE sweep_id = %s", content["old"])
    [(new,)] = await rows.run("SELECT id FROM reading WHERE sweep_id = %s", content["newest"])
    assert set(await readings.page_views_of(rows.connection, old)) == {
        "pictures",
        "links",
        "colours",
    }
    kept = await readings.page_views_of(rows.connection, new)
    assert set(kept) == set(readings.PAGE_VIEWS)
    assert kept[PageViews.__slots__[0]] == [{"of": "newest"}]
    piece = await evidence.by_hash(rows.connection, "newest page")
    assert piece is not None
    assert piece.content is not None
    assert (piece.media_type, bytes(piece.content)) == ("image/jpeg", b"x")
    assert await evidence.by_hash(rows.connection, "nowhere") is None


async def test_a_page_s_readings_are_told_over_time(rows: Rows) -> None:
    """Of one environment or both, with what counts and what is doubtful in each."""
    site = await rows.site("trust")
    numbers = [await rows.sweep(site, environment=name) for name in ("live", "staging", "live")]
    made = [await rows.reading(number, "/a/") for number in numbers]
    await rows.reading(numbers[0], "/b/")
    for at, standing in enumerate(("counts", "counts", "doubtful", "waived"), 1):
        await rows.finding(made[2], "links/vague", at, standing=standing)

    async def over_time(environment: str | None, before: int | None = None) -> list[int]:
        got = await readings.readings_of_page(
            rows.connection, site, "/a/", environment=environment, before=before, limit=9
        )
        return [one.id for one in got]

    assert await over_time(None) == made[::-1]
    assert await over_time("live") == [made[2], made[0]]
    assert await over_time("live", made[2]) == [made[0]]
    one = await readings.reading_by_id(rows.connection, made[2])
    assert one is not None
    assert (one.failed, one.doubtful, one.environment, one.has_views) == (2, 1, "live", False)
    assert await readings.reading_by_id(rows.connection, made[2] + 99) is None
    held = await readings.held_pages(rows.connection, numbers[2])
    assert [(page.path, len(page.findings)) for page in held] == [("/a/", 1)]


async def test_anything_is_found_by_its_words(rows: Rows) -> None:
    """What begins with them first; a percent sign and an underscore stand for themselves; a fix by
    its number before all others, live ones before closed."""
    site, other = await rows.site("trust"), await rows.site("mill")
    sweep = await rows.sweep(site)
    reading = await rows.reading(sweep, "/boats/", title="Boats for 100%")
    await rows.reading(sweep, "/hire/", title="Hire boats")
    await rows.reading(sweep, "/fees/", title="Fees_all")
    pages = readings.find_pages
    assert [one.path for one in await pages(rows.connection, sweep, "boats", 9)] == [
        "/boats/",
        "/hire/",
    ]
    assert [one.path for one in await pages(rows.connection, sweep, "0%", 9)] == ["/boats/"]
    assert [one.path for one in await pages(rows.connection, sweep, "s_a", 9)] == ["/fees/"]
    wide = await rows.finding(reading, "links/vague", 1, says="Two links say more", cause="wide")
    narrow = await rows.finding(reading, "links/alike", 2, excerpt="<a>more</a>", cause="narrow")
    await rows.cause(narrow, 2)
    await rows.cause(wide, 1)
    got = await readings.find_causes(rows.connection, sweep, "MORE", 9)
    assert [one.key for one in got] == ["wide", "narrow"]
    assert len(await readings.find_causes(rows.connection, sweep, "more", 1)) == 1
    closed = await rows.fix(site, "a", says="Boat 1", state="proven")
    live = await rows.fix(site, "b", says="Boat 2")
    page = await rows.fix(site, "c", says="Other", path="/boat/")
    await rows.fix(other, "d", says="Boat 3")
    fixes = readings.find_fixes
    assert [one.id for one in await fixes(rows.connection, site, "boat", 9)] == [
        live,
        page,
        closed,
    ]
    by_number, *_ = await fixes(rows.connection, site, f" {closed} ", 9)
    assert by_number.id == closed
