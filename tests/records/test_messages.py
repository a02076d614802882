"""Notifications, e-mails and webhooks: who is told of what, in which order, and what is tried
again."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from plumrake.records import notifications as told
from tests.records.conftest import Rows


async def tell(rows: Rows, people: list[int], fix: int, kind: str, **values: object) -> None:
    """Tell people of a move of a fix."""
    event = await rows.event(fix)
    given = {"urgent": False, "by_id": None, **values}
    await told.add_notifications(rows.connection, people, kind, fix, event, **given)  # type: ignore[arg-type]


async def test_whoever_made_the_move_is_not_told(rows: Rows) -> None:
    """Of several people each is told once, the one who did it never."""
    ned, ruth, imke = [await rows.person(name) for name in ("Ned", "Ruth", "Imke")]
    fix = await rows.fix(await rows.site("trust"), "a")
    await tell(rows, [ned, ruth, imke], fix, "handed_out", by_id=ruth)
    counts = [await told.count_unread(rows.connection, one) for one in (ned, ruth, imke)]
    assert counts == [1, 0, 1]


async def test_notifications_come_newest_first_in_parts(rows: Rows) -> None:
    """With what they are about; those that were seen can be left out."""
    ned = await rows.person("Ned")
    site = await rows.site("trust")
    fixes = [await rows.fix(site, cause, pages=at) for at, cause in enumerate("abc", start=1)]
    for fix in fixes:
        await tell(rows, [ned], fix, "handed_out")
    first = await told.notifications_of(rows.connection, ned, unread=None, before=None, limit=2)
    assert [(one.fix_id, one.says, one.site, one.pages) for one in first] == [
        (fixes[2], "Of c", "trust", 3),
        (fixes[1], "Of b", "trust", 2),
    ]
    rest = await told.notifications_of(
        rows.connection, ned, unread=None, before=first[-1].id, limit=2
    )
    assert [one.fix_id for one in rest] == [fixes[0]]
    await told.mark_read(rows.connection, ned, first[-1].id)
    unread = await told.notifications_of(rows.connection, ned, unread=True, before=None, limit=9)
    assert [one.fix_id for one in unread] == [fixes[2]]
    assert await told.count_unread(rows.connection, ned) == 1


async def test_pressing_ones_are_mailed_at_once_to_who_wants_that(rows: Rows) -> None:
    """Neither those that can wait nor those of people who want no e-mail at once, or cannot sign
    in; what was mailed is not mailed again."""
    ned, calm, gone = [await rows.person(name) for name in ("Ned", "Calm", "Gone")]
    await rows.run("UPDATE person SET immediately = false WHERE id = %s", calm)
    await rows.run("UPDATE person SET active = false WHERE id = %s", gone)
    fix = await rows.fix(await rows.site("trust"), "a")
    await tell(rows, [ned, calm, gone], fix, "mentioned", urgent=True)
    await tell(rows, [ned], fix, "handed_out")
    pressing = await told.to_mail_immediately(rows.connection)
    assert [one.person_id for one in pressing] == [ned]
    await told.note_mailed(rows.connection, [one.id for one in pressing])
    assert await told.to_mail_immediately(rows.connection) == []
    assert len(await told.unmailed(rows.connection, ned)) == 1
    assert len(await told.unmailed(rows.connection, calm)) == 1


async def test_the_worst_and_widest_stand_first_in_an_email(rows: Rows) -> None:
    """By weight, then by pages, then in the order of telling."""
    ned = await rows.person("Ned")
    site = await rows.site("trust")
    narrow = await rows.fix(site, "a", pages=2)
    wide = await rows.fix(site, "b", pages=60)
    worst = await rows.fix(site, "c", weight="barrier", rank=2)
    for fix in (narrow, wide, worst):
        await tell(rows, [ned], fix, "handed_out")
    waiting = await told.unmailed(rows.connection, ned)
    listed = await told.notifications_by_ids(rows.connection, [one.id for one in waiting])
    assert [one.fix_id for one in listed] == [worst, wide, narrow]


async def test_daily_emails_are_due_once_a_day(rows: Rows) -> None:
    """Of those who want them and can sign in."""
    ned, never, gone = [await rows.person(name) for name in ("Ned", "Never", "Gone")]
    await rows.run(
        "UPDATE person SET digested_at = now() - interval '2 days', digest = id <> %s", never
    )
    await rows.run("UPDATE person SET active = false WHERE id = %s", gone)
    since = datetime.now(UTC) - timedelta(hours=20)
    assert await told.due_digests(rows.connection, since) == [ned]
    await told.note_digested(rows.connection, ned)
    assert await told.due_digests(rows.connection, since) == []


async def test_emails_go_out_in_order_each_by_one(rows: Rows) -> None:
    """One that is being tried is nobody else's; one that failed waits; one that was given up or
    sent is done with."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    for person, subject in ((ned, "one"), (ruth, "two"), (ned, "three")):
        await told.add_email(rows.connection, person, subject, "text")
    first, second, third = [await told.claim_email(rows.connection, 60) for _ in range(3)]
    assert first is not None
    assert second is not None
    assert third is not None
    assert [one.subject for one in (first, second, third)] == ["one", "two", "three"]
    assert (second.name, second.address) == ("Ruth", "ruth@harrowmere.example")
    assert await told.claim_email(rows.connection, 60) is None
    await told.note_email(rows.connection, first.id, problem=None, wait=0, given_up=False)
    await told.note_email(rows.connection, second.id, problem="busy", wait=0, given_up=False)
    await told.note_email(rows.connection, third.id, problem="no such box", wait=0, given_up=True)
    again = await told.claim_email(rows.connection, 60)
    assert again is not None
    assert (again.subject, again.attempts) == ("two", 1)
    assert await told.claim_email(rows.connection, 60) is None


async def test_events_go_to_the_webhooks_that_want_them(rows: Rows) -> None:
    """Of the site, of the kind, not ended; one that wants no kinds in particular gets all."""
    by = await rows.person("Ruth", "manager")
    site, other = await rows.site("trust"), await rows.site("museum")

    async def hook(at: int, address: str, *kinds: str) -> int:
        return (await told.add_webhook(rows.connection, at, address, "secret", kinds, by)).id

    every = await hook(site, "https://a.example/")
    sweeps = await hook(site, "https://b.example/", "sweep.done")
    ended = await hook(site, "https://c.example/")
    await hook(other, "https://d.example/")
    assert not await told.end_webhook(rows.connection, other, ended)
    assert await told.end_webhook(rows.connection, site, ended)
    assert not await told.end_webhook(rows.connection, site, ended)
    assert [one.id for one in await told.webhooks_of(rows.connection, site)] == [every, sweeps]
    await told.add_deliveries(rows.connection, site, "sweep.done", {"sweep": 5})
    await told.add_deliveries(rows.connection, site, "clearance.answered", {"id": 9})
    log = await told.deliveries_of(rows.connection, site, before=None, limit=9)
    assert [(one.webhook_id, one.kind) for one in log] == [
        (every, "clearance.answered"),
        (sweeps, "sweep.done"),
        (every, "sweep.done"),
    ]
    assert len({one.message_id for one in log}) == 3
    older = await told.deliveries_of(rows.connection, site, before=log[1].id, limit=1)
    assert [one.id for one in older] == [log[2].id]
    assert await told.deliveries_of(rows.connection, other, before=None, limit=9) == []


async def test_deliveries_are_claimed_tried_again_and_given_up(rows: Rows) -> None:
    """A claimed one is nobody else's until its lease is over; a given-up one comes back by hand; an
    ended webhook hears nothing more."""
    by = await rows.person("Ruth", "manager")
    site = await rows.site("trust")
    hook = await told.add_webhook(rows.connection, site, "https://a.example/", "s3", [], by)
    for number in range(3):
        await told.add_deliveries(rows.connection, site, "sweep.done", {"sweep": number})
    due = await told.claim_deliveries(rows.connection, 60)
    assert sorted(one.payload["sweep"] for one in due) == [0, 1, 2]
    assert {(one.address, one.secret, one.site_id) for one in due} == {
        ("https://a.example/", "s3", site)
    }
    assert await told.claim_deliveries(rows.connection, 60) == []

    async def note(at: int, problem: str | None, *, given_up: bool = False) -> None:
        await told.note_delivery(
            rows.connection, due[at].id, status=500, problem=problem, wait=0, given_up=given_up
        )

    await note(0, None)
    await note(1, "500")
    await note(2, "500", given_up=True)
    assert [one.id for one in await told.claim_deliveries(rows.connection, 60)] == [due[1].id]
    log = await told.deliveries_of(rows.connection, site, before=None, limit=9)
    told_of = {
        one.id: (one.attempts, one.delivered_at is None, one.given_up_at is None) for one in log
    }
    assert [told_of[one.id] for one in due] == [
        (1, False, True),
        (1, True, True),
        (1, True, False),
    ]
    assert await told.send_again(rows.connection, site, due[2].id)
    assert not await told.send_again(rows.connection, site + 1, due[2].id)
    assert [one.id for one in await told.claim_deliveries(rows.connection, 60)] == [due[2].id]
    await told.send_again(rows.connection, site, due[2].id)
    await told.end_webhook(rows.connection, site, hook.id)
    assert await told.claim_deliveries(rows.connection, 60) == []
