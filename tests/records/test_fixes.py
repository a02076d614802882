"""Fixes in the database: made of causes and places, listed, locked, proven; each query among fixes
of other sites, environments and people."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest

from plumrake.core.fixes import FixState
from plumrake.records import fixes
from plumrake.records.fixes import FixFilters, Owner
from plumrake.records.sweeps import SweepRow, sweep_by_id
from tests.records.conftest import Rows

NOBODY = Owner()
ALL = FixFilters()


async def swept_twice(rows: Rows, site: int) -> list[int]:
    """Two pages with the same fault of a template, one of them with another one too; return the
    finding of each."""
    sweep = await rows.sweep(site)
    first, second = [await rows.reading(sweep, path) for path in ("/a/", "/b/")]
    made = [
        await rows.finding(first, "links/vague", 1, cause="footer", zone="footer"),
        await rows.finding(second, "links/vague", 2, cause="footer", zone="footer"),
        await rows.finding(second, "pictures/no-text", 3, cause="boat", weight="barrier"),
    ]
    await rows.cause(made[0], 1, pages=2, places=2, by_template=True, zone="footer")
    await rows.cause(made[2], 2)
    return made


async def sweep_of(rows: Rows, finding: int) -> SweepRow:
    [(number,)] = await rows.run("SELECT sweep_id FROM finding WHERE id = %s", finding)
    found = await sweep_by_id(rows.connection, number)
    assert found is not None
    return found


async def listed(
    rows: Rows, site: int, filters: FixFilters = ALL, sort: fixes.Sort = "reach"
) -> list[int]:
    """Return the numbers of the fixes that the filters let through, asked for one at a time."""
    numbers: list[int] = []
    after: tuple[object, ...] | None = None
    while True:
        got = await fixes.list_fixes(
            rows.connection, site, filters, sort=sort, after=after, limit=1
        )
        if not got:
            break
        numbers += [one.id for one in got]
        after = got[-1].keys(sort)
    assert await fixes.count_fixes(rows.connection, site, filters) == len(numbers)
    return numbers


async def test_a_cause_has_one_fix_with_all_its_places(rows: Rows) -> None:
    """Handed out again it makes none; another cause of the sweep stays without."""
    site, ned = await rows.site("trust"), await rows.person("Ned")
    made = await swept_twice(rows, site)
    sweep = (await sweep_of(rows, made[0])).id
    due = date(2027, 1, 8)
    fix = await fixes.add_of_cause(rows.connection, sweep, "footer", Owner(ned), due, ned)
    assert fix is not None
    again = await fixes.add_of_cause(rows.connection, sweep, "footer", NOBODY, None, None)
    assert again is None
    assert await fixes.add_of_cause(rows.connection, sweep, "none", NOBODY, None, None) is None
    one = await fixes.fix_by_id(rows.connection, fix)
    assert one is not None
    assert (one.cause, one.by_template, one.pages, one.zone, one.owner, one.due_on) == (
        "footer",
        True,
        2,
        "footer",
        "Ned",
        due,
    )
    assert await fixes.pages_of(rows.connection, fix) == ["/a/", "/b/"]
    known = await fixes.known_of_causes(rows.connection, site, "live", ["footer", "boat"])
    assert {cause: found.id for cause, found in known.items()} == {"footer": fix}
    assert not await fixes.known_of_causes(rows.connection, site, "staging", ["footer"])


async def test_a_place_of_its_own_goes_before_its_cause(rows: Rows) -> None:
    """The fix of one place is told for that place alone; the others have their cause's."""
    site = await rows.site("trust")
    made = await swept_twice(rows, site)
    sweep = (await sweep_of(rows, made[0])).id
    assert await fixes.fix_of_finding(rows.connection, made[0]) is None
    cause = await fixes.add_of_cause(rows.connection, sweep, "footer", NOBODY, None, None)
    place = await fixes.add_of_finding(rows.connection, sweep, made[0], NOBODY, None, None)
    assert await fixes.add_of_finding(rows.connection, sweep, made[0], NOBODY, None, None) is None
    owned = [await fixes.fix_of_finding(rows.connection, one) for one in made]
    assert [one and one.id for one in owned] == [place, cause, None]
    assert owned[0] is not None
    assert (owned[0].pages, owned[0].path, owned[0].place_key) == (1, "/a/", "links/vague 1")


async def test_the_pages_of_causes_come_with_the_best_place_first(rows: Rows) -> None:
    """In the order of the causes, not in that asked for."""
    site = await rows.site("trust")
    made = await swept_twice(rows, site)
    sweep = (await sweep_of(rows, made[0])).id
    await rows.run("UPDATE cause SET best = %s WHERE key = 'footer'", made[1])
    got = await fixes.cause_pages(rows.connection, sweep, ["boat", "footer", "none"])
    assert [(one.key, one.by_template, one.paths) for one in got] == [
        ("footer", True, ["/b/", "/a/"]),
        ("boat", False, ["/b/"]),
    ]


async def test_policy_finds_causes_without_a_fix_that_count(rows: Rows) -> None:
    """Not those of other weights, nor those of which every place is waived."""
    site = await rows.site("trust")
    made = await swept_twice(rows, site)
    sweep = (await sweep_of(rows, made[0])).id
    both = ["barrier", "obstacle"]
    assert await fixes.new_causes(rows.connection, sweep, both) == ["footer", "boat"]
    assert await fixes.new_causes(rows.connection, sweep, ["barrier"]) == ["boat"]
    await rows.run("UPDATE finding SET standing = 'waived' WHERE id = %s", made[2])
    assert await fixes.new_causes(rows.connection, sweep, both) == ["footer"]
    await rows.run("UPDATE finding SET standing = 'waived' WHERE id = %s", made[0])
    assert await fixes.new_causes(rows.connection, sweep, both) == ["footer"]
    await fixes.add_of_finding(rows.connection, sweep, made[1], NOBODY, None, None)
    assert await fixes.new_causes(rows.connection, sweep, both) == ["footer"]
    await fixes.add_of_cause(rows.connection, sweep, "footer", NOBODY, None, None)
    assert await fixes.new_causes(rows.connection, sweep, both) == []


async def moved(rows: Rows, fix: int, state: FixState) -> fixes.FixRow:
    """Move a fix to a state, with nothing else changed."""
    one = await fixes.lock_fix(rows.connection, fix)
    assert one is not None
    await fixes.change_fix(
        rows.connection,
        one,
        state=state,
        owner=Owner(one.owner_id, one.group_id),
        due_on=one.due_on,
        proposal=one.proposal,
        links=one.links,
    )
    after = await fixes.fix_by_id(rows.connection, fix)
    assert after is not None
    return after


async def test_a_change_counts_how_often_a_fix_was_reopened(rows: Rows) -> None:
    """Also after what, and when it was closed; a change within the state counts nothing but the
    version."""
    site = await rows.site("trust")
    fix, other = await rows.fix(site, "a"), await rows.fix(site, "b")
    proven = await moved(rows, fix, FixState.PROVEN)
    assert (proven.version, proven.closed_at is not None) == (2, True)
    back = await moved(rows, fix, FixState.REOPENED)
    assert (back.times_reopened, back.reopened_after, back.closed_at) == (1, "proven", None)
    same = await moved(rows, fix, FixState.REOPENED)
    assert (same.times_reopened, same.reopened_after, same.version) == (1, "proven", 4)
    handed_in = await moved(rows, fix, FixState.HANDED_IN)
    assert handed_in.reopened_after is None
    again = await moved(rows, fix, FixState.REOPENED)
    assert (again.times_reopened, again.reopened_after) == (2, "handed_in")
    untouched = await fixes.fix_by_id(rows.connection, other)
    assert untouched is not None
    assert (untouched.version, untouched.state) == (1, "open")
    assert await fixes.lock_fix(rows.connection, fix + 99) is None
    found = await fixes.fixes_by_ids(rows.connection, [other, fix, fix + 99])
    assert [one.id for one in found] == [fix, other]


async def test_moves_are_told_by_fix_site_page_cause_and_person(rows: Rows) -> None:
    """The newest first for a site, the oldest first for a fix; those of other sites never."""
    site, other = await rows.site("trust"), await rows.site("mill")
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    made = await swept_twice(rows, site)
    footer, boat = await rows.fix(site, "footer"), await rows.fix(site, "boat", path="/b/")
    far = await rows.fix(other, "footer")
    await rows.place(footer, made[0])
    await rows.place(boat, made[2])
    written = [
        await fixes.add_event(
            rows.connection,
            fix,
            "take",
            "open",
            "in_hand",
            by_id=by,
            actor="editor",
            why=f"why {fix}",
            data={"n": at},
        )
        for at, (fix, by) in enumerate([(footer, ned), (boat, ruth), (footer, ruth), (far, ned)])
    ]
    told = await fixes.events_of(rows.connection, footer)
    assert [(one.id, one.by, one.data) for one in told] == [
        (written[0], "Ned", {"n": 0}),
        (written[2], "Ruth", {"n": 2}),
    ]

    async def of_site(**wanted: object) -> list[int]:
        nothing = {"cause": None, "path": None, "by_id": None, "before": None, "limit": 9}
        got = await fixes.site_events(rows.connection, site, **{**nothing, **wanted})  # type: ignore[arg-type]
        return [one.id for one in got]

    assert await of_site() == [written[2], written[1], written[0]]
    assert await of_site(limit=1, before=written[2]) == [written[1]]
    assert await of_site(cause="footer") == [written[2], written[0]]
    assert await of_site(path="/b/") == [written[1]]
    assert await of_site(by_id=ruth) == [written[2], written[1]]
    assert await of_site(by_id=ned, path="/b/") == []


async def test_places_show_the_newest_finding_of_the_environment(rows: Rows) -> None:
    """A later sweep of another environment does not stand in for it; pages come in their order, a
    piece at a time."""
    site = await rows.site("trust")
    old = await swept_twice(rows, site)
    new = await swept_twice(rows, site)
    staging = await rows.sweep(site, environment="staging")
    await rows.finding(await rows.reading(staging, "/a/"), "links/vague", 1, cause="footer")
    fix = await rows.fix(site, "footer")
    for finding in old[:2]:
        await rows.place(fix, finding)
    first = await fixes.places_of(rows.connection, fix, after=("", ""), limit=1)
    rest = await fixes.places_of(
        rows.connection, fix, after=(first[0].path, first[0].place_key), limit=9
    )
    assert [(one.path, one.finding_id) for one in first + rest] == [
        ("/a/", new[0]),
        ("/b/", new[1]),
    ]
    done = (await sweep_of(rows, new[0])).id
    assert await fixes.pages_of(rows.connection, fix, done) == []
    third = await rows.sweep(site)
    await rows.reading(third, "/a/")
    assert await fixes.pages_of(rows.connection, fix, third) == ["/b/"]


async def proof(rows: Rows, site: int, **reading: object) -> fixes.ProofCountRow:
    """Read /a/ again, in a way, and return what that sweep sees of the footer's fix."""
    made = await swept_twice(rows, site)
    fix = await rows.fix(site, "footer")
    for finding in made[:2]:
        await rows.place(fix, finding)
    sweep = await rows.sweep(site, scope="given")
    await rows.planned(await rows.reading(sweep, "/a/", **reading))
    later = await sweep_by_id(rows.connection, sweep)
    assert later is not None
    [seen] = await fixes.sights(rows.connection, later, gone_statuses=(404, 410))
    assert seen.fix_id == fix
    return seen


@pytest.mark.parametrize(
    ("reading", "counts"),
    [
        ({}, (1, 0, 1)),
        ({"status": "unreadable", "problem_code": "http-status", "http_status": 404}, (0, 1, 1)),
        ({"status": "unreadable", "problem_code": "file-missing"}, (0, 1, 1)),
        ({"status": "unreadable", "problem_code": "http-status", "http_status": 500}, (0, 0, 2)),
        ({"status": "unreadable", "problem_says": "Room 404 is missing"}, (0, 0, 2)),
    ],
)
async def test_a_proof_counts_pages_read_gone_and_unread(
    rows: Rows, reading: dict[str, object], counts: tuple[int, int, int]
) -> None:
    """What is gone is told by status and code, never by the words of a problem."""
    seen = await proof(rows, await rows.site("trust"), **reading)
    assert (seen.read, seen.gone, seen.unread, seen.there) == (*counts, 0)


async def test_what_is_still_there_is_counted_with_its_first_place(rows: Rows) -> None:
    """Findings that were waived or judged fine are not still there; another cause's are not."""
    site = await rows.site("trust")
    made = await swept_twice(rows, site)
    fix, other = await rows.fix(site, "footer"), await rows.fix(site, "boat", check_id="none")
    for finding in made[:2]:
        await rows.place(fix, finding)
    await rows.place(other, made[2])
    sweep = await rows.sweep(site)
    readings = [await rows.reading(sweep, path) for path in ("/a/", "/b/")]
    for position, reading in enumerate(readings, 1):
        await rows.planned(reading, position)
    await rows.finding(readings[0], "links/vague", 1, cause="footer", standing="waived")
    still = await rows.finding(readings[1], "links/vague", 2, cause="footer")
    await rows.finding(readings[1], "links/vague", 3, cause="another")
    row = await sweep_by_id(rows.connection, sweep)
    assert row is not None
    seen = await fixes.sights(rows.connection, row, gone_statuses=())
    assert [(one.fix_id, one.there, one.finding_id, one.read) for one in seen] == [
        (fix, 1, still, 2),
        (other, 0, None, 1),
    ]
    [only] = await fixes.sights(rows.connection, row, fix_id=other, gone_statuses=())
    assert only.fix_id == other
    elsewhere = replace(row, environment="staging")
    assert await fixes.sights(rows.connection, elsewhere, gone_statuses=()) == []
    await fixes.set_proof(rows.connection, fix, sweep, sample=sweep, rest=True)
    [proving] = await fixes.sights(rows.connection, row, fix_id=fix, gone_statuses=())
    assert (proving.proof_sweep, proving.proof_sample, proving.proof_rest) == (sweep, sweep, True)


async def test_places_are_marked_as_a_sweep_shows_them(rows: Rows) -> None:
    """A new place of the cause joins; what a reading could not test, and pages that were not read,
    stay as they were."""
    site = await rows.site("trust")
    made = await swept_twice(rows, site)
    fix = await rows.fix(site, "footer")
    for finding in made[:2]:
        await rows.place(fix, finding)
    sweep = await rows.sweep(site)
    await rows.reading(sweep, "/a/")
    new = await rows.reading(sweep, "/new/")
    await rows.finding(new, "links/vague", 5, cause="footer")
    row = await sweep_by_id(rows.connection, sweep)
    assert row is not None

    async def there() -> dict[str, bool]:
        got = await fixes.places_of(rows.connection, fix, after=("", ""), limit=9)
        return {one.path: one.there for one in got}

    await fixes.mark_places(rows.connection, row, ["pictures/no-text"])
    assert await there() == {"/a/": True, "/b/": True, "/new/": True}
    await fixes.mark_places(rows.connection, row, ["links/vague"])
    assert await there() == {"/a/": False, "/b/": True, "/new/": True}
    await rows.finding(
        (await rows.run("SELECT id FROM reading WHERE sweep_id = %s", sweep))[0][0],
        "links/vague",
        1,
        cause="footer",
    )
    await fixes.mark_places(rows.connection, row, ["links/vague"])
    assert (await there())["/a/"] is True


async def test_a_whole_sweep_brings_reach_and_words_up_to_date(rows: Rows) -> None:
    """Of its environment's fixes of causes alone."""
    site = await rows.site("trust")
    made = await swept_twice(rows, site)
    fix = await rows.fix(site, "footer", path="/old/")
    staging = await rows.fix(site, "footer", environment="staging", path="/old/")
    [(page,)] = await rows.run("SELECT page_id FROM finding WHERE id = %s", made[1])
    place = await rows.fix(site, "footer", page_id=page, place_key="links/vague 2", path="/old/")
    await fixes.refresh(rows.connection, await sweep_of(rows, made[0]))
    got = await fixes.fixes_by_ids(rows.connection, [fix, staging, place])
    assert [(one.path, one.pages, one.finding_id) for one in got] == [
        ("/a/", 2, made[0]),
        ("/old/", 1, None),
        ("/old/", 1, None),
    ]


async def test_fixes_are_filtered_and_sorted_piece_by_piece(rows: Rows) -> None:
    """By each filter alone; whatever the order, each comes once, and the count agrees."""
    site, other = await rows.site("trust"), await rows.site("mill")
    ned = await rows.person("Ned")
    [(group,)] = await rows.run(
        "INSERT INTO people_group (name) VALUES ('Lock keepers') RETURNING id"
    )
    today = datetime.now(UTC).date()
    late = await rows.fix(site, "a", due_on=today - timedelta(days=2), owner_id=ned, path="/a/b/")
    done = await rows.fix(site, "b", due_on=today - timedelta(days=2), state="proven")
    wide = await rows.fix(site, "c", pages=7, group_id=group, check_id="pictures/no-text")
    heavy = await rows.fix(
        site, "d", weight="barrier", rank=2, environment="staging", due_on=today, path="/a/c/"
    )
    await rows.fix(other, "a", owner_id=ned)
    assert await listed(rows, site) == [heavy, wide, late, done]
    assert await listed(rows, site, sort="due") == [late, done, heavy, wide]
    for at, fix in enumerate([done, heavy, late, wide]):
        await rows.run(
            "UPDATE fix SET changed_at = now() - make_interval(hours => %s) WHERE id = %s", at, fix
        )
    assert await listed(rows, site, sort="change") == [done, heavy, late, wide]
    wanted = {
        "late": (FixFilters(late=True), [late]),
        "states": (FixFilters(states=["proven", "waived"]), [done]),
        "environment": (FixFilters(environment="staging"), [heavy]),
        "owner": (FixFilters(owner_id=ned), [late]),
        "group": (FixFilters(group_id=group), [wide]),
        "unowned": (FixFilters(unowned=True), [heavy, done]),
        "check": (FixFilters(check="pictures/no-text"), [wide]),
        "area": (FixFilters(check="links"), [heavy, late, done]),
        "part of an area's name": (FixFilters(check="link"), []),
        "weight": (FixFilters(weight="barrier"), [heavy]),
        "cause": (FixFilters(cause="c"), [wide]),
        "path": (FixFilters(path="/a/"), [heavy, late]),
        "from": (FixFilters(due_from=today), [heavy]),
        "until": (FixFilters(due_until=today - timedelta(days=1)), [late, done]),
    }
    for name, (filters, expected) in wanted.items():
        assert await listed(rows, site, filters) == expected, name


async def test_a_desk_holds_own_and_group_fixes_that_live(rows: Rows) -> None:
    """What is due first stands first; closed ones, other people's and, where asked for, those of
    other sites are not there."""
    site, other = await rows.site("trust"), await rows.site("mill")
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    [(group,)] = await rows.run(
        "INSERT INTO people_group (name) VALUES ('Lock keepers') RETURNING id"
    )
    await rows.run(
        "INSERT INTO people_group_member (group_id, person_id) VALUES (%s, %s)", group, ned
    )
    own = await rows.fix(site, "a", owner_id=ned)
    grouped = await rows.fix(site, "b", group_id=group, due_on=date(2027, 1, 8))
    far = await rows.fix(other, "c", owner_id=ned, weight="barrier", rank=2)
    await rows.fix(site, "d", owner_id=ned, state="proven")
    await rows.fix(site, "e", owner_id=ruth)

    async def desk(person: int, of: int | None = None) -> list[int]:
        got = await fixes.fixes_of_person(rows.connection, person, of, 9)
        return [one.id for one in got]

    assert await desk(ned) == [grouped, far, own]
    assert await desk(ned, site) == [grouped, own]
    assert await fixes.groups_of(rows.connection, ned) == {group}
    assert await fixes.groups_of(rows.connection, ruth) == frozenset()


async def test_the_load_of_owners_adds_up(rows: Rows) -> None:
    """By state, late ones, and the median of the days to the proof; nobody's are a row too."""
    site, other = await rows.site("trust"), await rows.site("mill")
    ned = await rows.person("Ned")
    yesterday = datetime.now(UTC).date() - timedelta(days=1)
    now = datetime.now(UTC)
    await rows.fix(site, "a", owner_id=ned, due_on=yesterday)
    await rows.fix(site, "b", owner_id=ned, due_on=yesterday, state="handed_in")
    for at, days in enumerate((1, 2, 9)):
        await rows.fix(
            site,
            f"proven {at}",
            owner_id=ned,
            state="proven",
            made_at=now - timedelta(days=days),
            closed_at=now,
        )
    await rows.fix(site, "c", state="waived")
    await rows.fix(other, "a", owner_id=ned)
    nobody, neds = await fixes.load_of(rows.connection, site)
    assert (neds.owner, neds.open, neds.handed_in, neds.proven, neds.late) == ("Ned", 1, 1, 3, 1)
    assert neds.median_days == pytest.approx(2)
    assert (nobody.owner, nobody.waived, nobody.late, nobody.median_days) == ("", 1, 0, None)
    assert await fixes.sums(rows.connection, site) == {
        "open": 1,
        "handed_in": 1,
        "proven": 3,
        "waived": 1,
    }
