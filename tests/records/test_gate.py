"""Clearances and releases in the database: asked, answered, used and overruled once each; and what
the gate is told of the live page."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from plumrake.records import gate
from plumrake.records.gate import NewAnswer, NewClearance
from tests.records.conftest import Rows

CLEAR = NewAnswer(
    decision="clear",
    reason="nothing holds",
    title="A canal",
    problem_code=None,
    judged=[{"check": "links/vague", "origin": "new"}],
    live_count=2,
    untested=[],
    picture=None,
    seconds=0.5,
    content_hash=None,
    minutes=60,
    policy_version="p1",
    core_version="c1",
)
HELD = replace(CLEAR, decision="held", reason="1 barrier")


async def asked(rows: Rows, site: int, by: int, path: str, **values: object) -> int:
    """Ask the gate about a page whose content is given."""
    new = NewClearance(
        site_id=site,
        path=path,
        given_as="document",
        address=f"https://trust.example{path}",
        lens="markup",
        asked_by=by,
        content=b"<p>New",
        content_hash="given",
    )
    return await gate.add_clearance(rows.connection, replace(new, **values))  # type: ignore[arg-type]


async def test_an_answer_is_kept_once_and_the_content_forgotten(rows: Rows) -> None:
    """Another content goes on waiting; a second answer changes nothing."""
    site, ned = await rows.site("trust"), await rows.person("Ned")
    first, second = await asked(rows, site, ned, "/a/"), await asked(rows, site, ned, "/b/")
    assert await gate.count_waiting(rows.connection, ned, None, is_ahead=False) == (2, 2)
    assert await gate.content_of(rows.connection, first) == b"<p>New"
    assert await gate.keep_answer(rows.connection, first, CLEAR)
    assert not await gate.keep_answer(rows.connection, first, HELD)
    assert await gate.content_of(rows.connection, first) is None
    assert await gate.content_of(rows.connection, second) == b"<p>New"
    assert await gate.count_waiting(rows.connection, ned, None, is_ahead=False) == (1, 1)
    kept = await gate.clearance_by_id(rows.connection, first)
    assert kept is not None
    assert (kept.decision, kept.content_hash, kept.judged[0]["origin"], kept.asked_by) == (
        "clear",
        "given",
        "new",
        "Ned",
    )
    read = replace(HELD, content_hash="as read")
    assert await gate.keep_answer(rows.connection, second, read)
    held = await gate.clearance_by_id(rows.connection, second)
    assert held is not None
    assert (held.decision, held.content_hash) == ("held", "as read")
    assert await gate.clearance_by_id(rows.connection, second + 99) is None


async def test_what_waits_for_hours_is_not_counted_as_waiting(rows: Rows) -> None:
    """It was lost, and blocks nobody."""
    site, ned = await rows.site("trust"), await rows.person("Ned")
    lost = await asked(rows, site, ned, "/a/")
    await asked(rows, site, ned, "/b/")
    await rows.run("UPDATE clearance SET asked_at = now() - interval '2 hours' WHERE id = %s", lost)
    assert await gate.count_waiting(rows.connection, ned, None, is_ahead=False) == (1, 1)


async def test_a_clearance_is_used_once_while_it_is_good(rows: Rows) -> None:
    """Neither one that waits, nor one that is over, nor one that holds, unless overruled, which
    goes once and only for what holds."""
    site, ned = await rows.site("trust"), await rows.person("Ned")
    waiting, clear, old, held = [await asked(rows, site, ned, f"/{n}/") for n in range(4)]
    for clearance, answer in ((clear, CLEAR), (old, CLEAR), (held, HELD)):
        await gate.keep_answer(rows.connection, clearance, answer)
    await rows.run("UPDATE clearance SET valid_until = now() WHERE id = %s", old)
    assert [await gate.use(rows.connection, one) for one in (waiting, clear, clear, old, held)] == [
        False,
        True,
        False,
        False,
        False,
    ]
    assert not await gate.overrule(rows.connection, clear, ned, "it is urgent")
    assert await gate.overrule(rows.connection, held, ned, "it is urgent")
    assert not await gate.overrule(rows.connection, held, ned, "again")
    assert await gate.use(rows.connection, held)
    kept = await gate.clearance_by_id(rows.connection, held)
    assert kept is not None
    assert (kept.overruled_by, kept.overruled_why) == ("Ned", "it is urgent")


async def test_clearances_are_listed_the_newest_first_by_each_filter(rows: Rows) -> None:
    """Of one site; those for trying other rules are the answered of the last days."""
    site, other = await rows.site("trust"), await rows.site("mill")
    ned = await rows.person("Ned")
    release = await gate.add_release(rows.connection, site, "Spring", ned)
    first = await asked(rows, site, ned, "/a/", release_id=release)
    second, waiting = await asked(rows, site, ned, "/b/"), await asked(rows, site, ned, "/a/")
    far = await asked(rows, other, ned, "/a/")
    for clearance, answer in ((first, HELD), (second, CLEAR), (far, HELD)):
        await gate.keep_answer(rows.connection, clearance, answer)
    await gate.overrule(rows.connection, first, ned, "it is urgent")

    async def listed(**wanted: object) -> list[int]:
        usual = {"before": None, "limit": 9}
        got = await gate.clearances(rows.connection, site, **{**usual, **wanted})  # type: ignore[arg-type]
        return [one.id for one in got]

    assert await listed() == [waiting, second, first]
    assert await listed(limit=1, before=waiting) == [second]
    assert await listed(decision="held") == [first]
    assert await listed(path="/a/") == [waiting, first]
    assert await listed(release_id=release) == [first]
    assert await listed(overruled=False) == [waiting, second]
    since = [one.id for one in await gate.clearances_since(rows.connection, site, 7)]
    assert since == [first, second]
    await rows.run(
        "UPDATE clearance SET answered_at = now() - interval '8 days' WHERE id = %s", first
    )
    assert [one.id for one in await gate.clearances_since(rows.connection, site, 7)] == [second]


async def test_a_release_is_answered_with_its_last_page(rows: Rows) -> None:
    """Told once; pages of another release do not keep it."""
    site, ned = await rows.site("trust"), await rows.person("Ned")
    spring = await gate.add_release(rows.connection, site, "Spring", ned)
    autumn = await gate.add_release(rows.connection, site, "Autumn", ned)
    pages = [await asked(rows, site, ned, path, release_id=spring) for path in ("/b/", "/a/")]
    await asked(rows, site, ned, "/a/", release_id=autumn)
    for page in pages:
        assert not await gate.end_release(rows.connection, spring)
        await gate.keep_answer(rows.connection, page, CLEAR)
    assert await gate.end_release(rows.connection, spring)
    assert not await gate.end_release(rows.connection, spring)
    ended, open_ = [await gate.release_by_id(rows.connection, one) for one in (spring, autumn)]
    assert ended is not None
    assert open_ is not None
    assert (ended.name, ended.answered_at is not None) == ("Spring", True)
    assert (open_.asked_by, open_.answered_at) == ("Ned", None)
    of_spring = await gate.of_release(rows.connection, spring)
    assert [one.id for one in of_spring] == [pages[1], pages[0]]
    assert await gate.release_by_id(rows.connection, autumn + 99) is None


async def test_the_newest_reading_on_the_same_ground_stands_for_the_live_page(rows: Rows) -> None:
    """Not one of staging, nor one that failed, nor one on another ground, nor another page's."""
    site = await rows.site("trust")
    wanted = await rows.sweep(site, ground="g")
    good = await rows.reading(wanted, "/a/", content_hash="x")
    for number, path, status in (
        (await rows.sweep(site, ground="g", environment="staging"), "/a/", "read"),
        (await rows.sweep(site, ground="other"), "/a/", "read"),
        (await rows.sweep(site, ground="g"), "/a/", "unreadable"),
        (await rows.sweep(site, ground="g", state="failed"), "/a/", "read"),
        (await rows.sweep(site, ground="g"), "/b/", "read"),
    ):
        await rows.reading(number, path, status=status)
    found = await gate.live_reading(rows.connection, site, "/a/", "g")
    assert found is not None
    assert (found.id, found.content_hash) == (good, "x")
    assert await gate.live_reading(rows.connection, site, "/c/", "g") is None
    for ordinal in (2, 1):
        await rows.finding(good, "links/vague", ordinal)
    got = await gate.live_findings(rows.connection, good)
    assert [one.place_key for one in got] == ["links/vague 1", "links/vague 2"]


async def test_answers_and_waivers_in_force_go_with_a_page(rows: Rows) -> None:
    """Answers hold wherever they were given; those that ended, and other pages', are left out."""
    site, ned = await rows.site("trust"), await rows.person("Ned")
    for environment, path, ended in (
        ("live", "/a/", None),
        ("staging", "/a/", None),
        ("live", "/a/", date(2027, 1, 1)),
        ("live", "/b/", None),
    ):
        reading = await rows.reading(await rows.sweep(site, environment=environment), path)
        [(page,)] = await rows.run("SELECT page_id FROM reading WHERE id = %s", reading)
        judgement = await rows.add(
            "judgement",
            site_id=site,
            environment=environment,
            page_id=page,
            check_id="links/vague",
            place_key=f"{environment} {ended}",
            context="c",
            says="says",
            answer="fine",
            note="",
            judged_by=ned,
            ended_at=ended,
        )
        await rows.finding(reading, "links/vague", 1, judgement_id=judgement, excerpt="<a>")
    got = await gate.answers_at(rows.connection, site, "/a/")
    assert sorted((one.place_key, one.answer, one.excerpt) for one in got) == [
        ("live None", "fine", "<a>"),
        ("staging None", "fine", "<a>"),
    ]
    for reason, ended in (("now", None), ("over", date(2027, 1, 1))):
        await rows.add(
            "waiver",
            site_id=site,
            scope="check",
            check_id="links/vague",
            pattern="/a/*",
            path_like="/a/%",
            says="says",
            reason=reason,
            ends_on=date(2027, 3, 1),
            granted_by=ned,
            ended_at=ended,
        )
    [waiver] = await gate.waivers_in_force(rows.connection, site)
    assert (waiver.scope, waiver.pattern, waiver.path) == ("check", "/a/*", None)


@pytest.mark.parametrize("fresh", [b"second", b"third"])
async def test_a_secret_stays_what_it_was_first(rows: Rows, fresh: bytes) -> None:
    """Whoever asks later gets the first one; each name has its own."""
    name = f"seal of {fresh!r}"
    assert await gate.secret(rows.connection, name, b"first") == b"first"
    assert await gate.secret(rows.connection, name, fresh) == b"first"
    assert await gate.secret(rows.connection, f"another {name}", fresh) == fresh
