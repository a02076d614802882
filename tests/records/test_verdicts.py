"""Waivers and judgements in the database: which findings, fixes and pages each changes, among those
of other places."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from plumrake.path_patterns import as_like
from plumrake.records import verdicts
from plumrake.records.sweeps import SweepRow, sweep_by_id
from plumrake.records.verdicts import NewWaiver
from tests.records.conftest import Rows


async def site_swept(rows: Rows) -> tuple[SweepRow, dict[str, int]]:
    """A site with a sweep of two pages: on each the cause "footer" and a doubt, on one a cause of
    its own."""
    site = await rows.site("trust")
    sweep = await rows.sweep(site)
    made = {}
    for at, path in enumerate(("/a/", "/b/")):
        reading = await rows.reading(sweep, path, ready=False)
        made[f"footer {path}"] = await rows.finding(
            reading, "links/vague", 10 * at + 1, cause="footer"
        )
        made[f"doubt {path}"] = await rows.finding(
            reading, "links/alike", 10 * at + 2, outcome="cantTell", standing="doubtful"
        )
    made["own"] = await rows.finding(reading, "links/vague", 13, cause="own")
    found = await sweep_by_id(rows.connection, sweep)
    assert found is not None
    return found, made


async def page_of(rows: Rows, finding: int) -> tuple[int, str]:
    [(page, key)] = await rows.run("SELECT page_id, place_key FROM finding WHERE id = %s", finding)
    return page, key


async def waived(rows: Rows, sweep: SweepRow, scope: str, **values: object) -> int:
    """Grant a waiver of vague links."""
    new = NewWaiver(
        site_id=sweep.site_id,
        scope=scope,
        check="links/vague",
        says="says",
        reason="until spring",
        ends_on=date(2027, 3, 1),
        granted_by=await rows.person(f"Grantor {scope} {len(values)} {values.get('cause')}"),
    )
    return await verdicts.add_waiver(rows.connection, replace(new, **values))  # type: ignore[arg-type]


async def settled(rows: Rows, sweep: SweepRow, **how: list[str]) -> dict[int, str]:
    """Bring a sweep in line with what people decided; return how each finding stands."""
    usual: dict[str, list[str]] = {
        "off": [],
        "left_out_pages": [],
        "left_out_kinds": [],
        "holding": ["obstacle"],
    }
    await verdicts.apply_all(rows.connection, sweep, **{**usual, **how})
    return dict(
        await rows.run("SELECT id, standing FROM finding WHERE sweep_id = %s", sweep.id)  # type: ignore[arg-type]
    )


@pytest.mark.parametrize(
    ("scope", "covered"),
    [
        ("place", {"footer /a/"}),
        ("page", {"footer /b/", "own"}),
        ("cause", {"footer /a/", "footer /b/"}),
        ("check", {"footer /b/", "own"}),
    ],
)
async def test_a_waiver_covers_its_scope(rows: Rows, scope: str, covered: set[str]) -> None:
    """Ended, what it covered counts again."""
    sweep, made = await site_swept(rows)
    first, first_key = await page_of(rows, made["footer /a/"])
    second, _ = await page_of(rows, made["own"])
    of_scope: dict[str, dict[str, object]] = {
        "place": {"page_id": first, "place_key": first_key},
        "page": {"page_id": second},
        "cause": {"cause": "footer"},
        "check": {"pattern": "/b/*", "path_like": as_like("/b/*")},
    }
    waiver = await waived(rows, sweep, scope, **of_scope[scope])
    standing = await settled(rows, sweep)
    assert {name for name, number in made.items() if standing[number] == "waived"} == covered
    kept = await verdicts.waiver_by_id(rows.connection, sweep.site_id, waiver)
    assert kept is not None
    assert (kept.covers, kept.reason, kept.ended_at) == (len(covered), "until spring", None)
    assert await verdicts.end_waiver(rows.connection, waiver, None)
    assert not await verdicts.end_waiver(rows.connection, waiver, None)
    assert "waived" not in (await settled(rows, sweep)).values()


async def test_of_several_waivers_the_narrowest_covers(rows: Rows) -> None:
    """And the others are listed as in force all the same, the newest first."""
    sweep, made = await site_swept(rows)
    page, key = await page_of(rows, made["footer /a/"])
    wide = await waived(rows, sweep, "check", pattern="*", path_like="%")
    cause = await waived(rows, sweep, "cause", cause="footer")
    place = await waived(rows, sweep, "place", page_id=page, place_key=key)
    await settled(rows, sweep)
    by = dict(await rows.run("SELECT id, waiver_id FROM finding WHERE waiver_id IS NOT NULL"))
    assert [by[made[name]] for name in ("footer /a/", "footer /b/", "own")] == [place, cause, wide]  # type: ignore[index]
    await verdicts.end_waiver(rows.connection, cause, None)
    listed = await verdicts.waivers(rows.connection, sweep.site_id)
    assert [(one.id, one.ended_at is None) for one in listed] == [
        (place, True),
        (cause, False),
        (wide, True),
    ]
    in_force = await verdicts.waivers(rows.connection, sweep.site_id, in_force=True, limit=1)
    assert [one.id for one in in_force] == [place]
    over = await verdicts.waivers(rows.connection, sweep.site_id, in_force=False)
    assert [one.id for one in over] == [cause]


async def test_waivers_are_due_the_day_after_their_last(rows: Rows) -> None:
    """Those that ended already are not."""
    sweep, _ = await site_swept(rows)
    last = await waived(rows, sweep, "cause", cause="footer")
    gone = await waived(rows, sweep, "cause", cause="own")
    await waived(rows, sweep, "check", pattern="*", path_like="%", ends_on=date(2027, 4, 1))
    await verdicts.end_waiver(rows.connection, gone, None)
    assert await verdicts.due_waivers(rows.connection, date(2027, 3, 1)) == []
    due = await verdicts.due_waivers(rows.connection, date(2027, 3, 2))
    assert [(one.id, one.site_id) for one in due] == [(last, sweep.site_id)]


async def test_the_fixes_of_a_waiver_are_of_its_cause_or_place(rows: Rows) -> None:
    """One that another waiver in force is about too stays waived."""
    sweep, made = await site_swept(rows)
    page, key = await page_of(rows, made["footer /a/"])
    of_cause = await rows.fix(sweep.site_id, "footer", places=2)
    of_place = await rows.fix(sweep.site_id, "footer", page_id=page, place_key=key)
    own = await rows.fix(sweep.site_id, "own")
    await rows.place(own, made["own"])
    await rows.fix(sweep.site_id, "footer", environment="staging", check_id="links/alike")
    cause = await waived(rows, sweep, "cause", cause="footer")
    place = await waived(rows, sweep, "place", page_id=page, place_key=key)

    async def about(waiver: int, *states: str) -> list[int]:
        return await verdicts.fixes_of_waiver(rows.connection, waiver, states)

    assert await about(cause, "open") == [of_cause]
    assert await about(place, "open") == [of_place]
    single = await waived(
        rows, sweep, "place", page_id=(await page_of(rows, made["own"]))[0],
        place_key=(await page_of(rows, made["own"]))[1], cause="single",
    )  # fmt: skip
    assert await about(single, "open") == [own]
    await rows.run("UPDATE fix SET state = 'waived'")
    assert await about(cause, "open") == []
    assert await about(cause, "waived") == [of_cause]
    second = await waived(rows, sweep, "cause", cause="footer", pattern="again")
    assert await about(cause, "waived") == []
    await verdicts.end_waiver(rows.connection, second, None)
    assert await about(cause, "waived") == [of_cause]


async def test_a_judgement_answers_its_place_until_that_changes(rows: Rows) -> None:
    """A later one takes its place; taken back, nothing is answered. Other pages keep their
    doubts."""
    sweep, made = await site_swept(rows)
    ned = await rows.person("Ned")
    doubt, other = made["doubt /a/"], made["doubt /b/"]
    first = await verdicts.judge(rows.connection, doubt, "fault", "really", ned)
    standing = await settled(rows, sweep)
    assert (standing[doubt], standing[other]) == ("counts", "doubtful")
    second = await verdicts.judge(rows.connection, doubt, "fine", "after all", ned)
    standing = await settled(rows, sweep)
    assert (standing[doubt], standing[other]) == ("judged fine", "doubtful")
    assert [one.id for one in await verdicts.judgements(rows.connection, sweep.site_id)] == [second]
    assert await verdicts.judgement_by_id(rows.connection, sweep.site_id, first) is None
    await rows.run("UPDATE finding SET excerpt = '<a>new', judgement_id = NULL, answer = NULL")
    standing = await settled(rows, sweep)
    assert standing[doubt] == "doubtful"
    [lapsed] = await verdicts.judgements(rows.connection, sweep.site_id, lapsed=True)
    assert (lapsed.id, lapsed.path, lapsed.judged_by) == (second, "/a/", "Ned")
    await rows.run("UPDATE finding SET excerpt = '<p>'")
    assert (await settled(rows, sweep))[doubt] == "judged fine"
    assert await verdicts.judgements(rows.connection, sweep.site_id, lapsed=True) == []
    assert await verdicts.end_judgement(rows.connection, second)
    assert not await verdicts.end_judgement(rows.connection, second)
    assert (await settled(rows, sweep))[doubt] == "doubtful"


async def test_pages_are_ready_where_nothing_that_holds_counts(rows: Rows) -> None:
    """Checks that are off and pages that are left out leave their findings out."""
    sweep, made = await site_swept(rows)

    async def ready() -> list[tuple[str, bool, bool]]:
        return await rows.run(
            "SELECT p.path, r.ready, r.left_out_page FROM reading r JOIN page p ON p.id = r.page_id"
            " WHERE r.sweep_id = %s ORDER BY p.path",
            sweep.id,
        )

    await settled(rows, sweep)
    assert await ready() == [("/a/", False, False), ("/b/", False, False)]
    await settled(rows, sweep, holding=["barrier"])
    assert await ready() == [("/a/", True, False), ("/b/", True, False)]
    standing = await settled(rows, sweep, left_out_pages=[as_like("/b/*")])
    assert {standing[made[name]] for name in ("footer /b/", "own")} == {"left out"}
    assert await ready() == [("/a/", False, False), ("/b/", True, True)]
    await rows.run(
        "UPDATE reading r SET kind = 'date-archive' FROM page p WHERE p.id = r.page_id"
        " AND p.path = '/b/' AND r.sweep_id = %s RETURNING r.id",
        sweep.id,
    )
    standing = await settled(rows, sweep, left_out_kinds=["author-archive"])
    assert standing[made["own"]] == "counts"
    standing = await settled(rows, sweep, left_out_kinds=["author-archive", "date-archive"])
    assert {standing[made[name]] for name in ("footer /b/", "own")} == {"left out"}
    assert await ready() == [("/a/", False, False), ("/b/", True, True)]
    standing = await settled(rows, sweep, off=["links/vague"])
    assert standing[made["footer /a/"]] == "left out"
    assert await ready() == [("/a/", True, False), ("/b/", True, False)]


async def test_what_a_later_reading_no_longer_shows_is_mended(rows: Rows) -> None:
    """Where it made the check at all; other pages' findings stay, and it may come back."""
    sweep, made = await site_swept(rows)
    later = await rows.sweep(sweep.site_id, scope="given")
    reading = await rows.reading(later, "/b/")
    await rows.finding(reading, "links/vague", 13, cause="own")

    async def mended() -> set[str]:
        got = {number for (number,) in await rows.run("SELECT id FROM finding WHERE mended")}
        return {name for name, number in made.items() if number in got}

    marked = verdicts.mark_mended
    assert await marked(rows.connection, sweep.id, later, ["links/vague"]) == 1
    assert await mended() == {"footer /b/"}
    assert await marked(rows.connection, sweep.id, later, ["links/vague"]) == 0
    await rows.finding(reading, "links/vague", 11, cause="footer")
    assert await marked(rows.connection, sweep.id, later, ["links/vague"]) == 1
    assert await mended() == set()


async def test_the_newest_whole_sweep_of_each_environment(rows: Rows) -> None:
    """Neither one of a section, nor of given pages, nor one under way, nor another site's."""
    site, other = await rows.site("trust"), await rows.site("mill")
    wanted = []
    for environment in ("live", "staging"):
        await rows.sweep(site, environment=environment)
        wanted.append(await rows.sweep(site, environment=environment))
        await rows.sweep(site, environment=environment, section="/news/")
        await rows.sweep(site, environment=environment, scope="given")
        await rows.sweep(site, environment=environment, state="running")
    await rows.sweep(other)
    assert await verdicts.newest_sweeps(rows.connection, site) == wanted
