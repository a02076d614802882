"""Telling people and programs what happened to fixes: notifications at once, e-mails and webhooks
soon after."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from itertools import groupby
from typing import Any

import structlog

from plumrake.actions.emails import digest_email, urgent_email
from plumrake.actions.ports import Connect
from plumrake.actions.sites import policy_of_site
from plumrake.core.addresses import origin
from plumrake.core.gate import Decision, Tally
from plumrake.core.policy import Policy
from plumrake.outbound.mail import (
    Email,
    EmailRefused,
    MailServer,
    MailServerAway,
    MailSession,
    mail_session,
)
from plumrake.outbound.webhooks import post
from plumrake.records import fixes, notifications, people, sites
from plumrake.records.fixes import FixRow
from plumrake.records.gate import ClearanceRow, ReleaseRow
from plumrake.records.notifications import DueDeliveryRow, DueEmailRow, NotificationRow
from plumrake.records.queries import Connection
from plumrake.records.sweeps import SweepRow

log = structlog.get_logger()

KINDS = ("handed_out", "handed_in", "mentioned", "reopened", "proven", "waiver_ended")
"""What a notification may be about; webhooks hear of ``fix.`` and one of these, and of
``sweep.done``."""
_URGENT = frozenset({"mentioned", "reopened"})
_PAUSES = (5, 60, 300, 1800, 7200, 36_000)
"""Seconds until the next try of a delivery or an e-mail; after the last it is given up."""
_LEASE = 120.0
"""So many seconds what was taken is left to whoever took it; longer than any try lasts."""
_DIGEST_HOUR = 6
_MOST_IN_DIGEST = 500


@dataclass(frozen=True, slots=True)
class FixNotification:
    """Something to tell of a fix: a kind of ``KINDS``, the event, who made it, and whom to tell if
    not the usual people."""

    kind: str
    event: int
    by_id: int | None
    only: tuple[int, ...] = ()


async def tell(connection: Connection, fix: FixRow, what: FixNotification) -> None:
    """Keep a notification for each person concerned, and put the event up for the site's
    webhooks."""
    concerned = list(what.only) or await _concerned(connection, fix, what.kind)
    if concerned:
        await notifications.add_notifications(
            connection,
            concerned,
            what.kind,
            fix.id,
            what.event,
            urgent=what.kind in _URGENT,
            by_id=what.by_id,
        )
    await _put_up(connection, fix.site_id, f"fix.{what.kind}", _fix_data(fix))


async def tell_done(connection: Connection, sweep: SweepRow) -> None:
    """Put the end of a sweep up for the site's webhooks."""
    data = {
        name: getattr(sweep, name)
        for name in (
            "id",
            "site",
            "environment",
            "scope",
            "section",
            "total",
            "read",
            "unreadable",
            "ready",
            "found",
        )
    }
    await _put_up(connection, sweep.site_id, "sweep.done", data)


async def tell_clearance(connection: Connection, clearance: ClearanceRow) -> None:
    """Put the answer of the gate up for the site's webhooks."""
    data = {
        name: getattr(clearance, name)
        for name in ("id", "site", "release_id", "path", "content_hash", "decision", "reason")
    }
    data["holding"] = sum(one["standing"] == "holds" for one in clearance.judged)
    await _put_up(connection, clearance.site_id, "clearance.answered", data)


async def tell_release(
    connection: Connection, release: ReleaseRow, pages: list[ClearanceRow], tally: Tally
) -> None:
    """Put the answer about a release up for the site's webhooks."""
    held = [page.path for page in pages if page.decision == Decision.HELD]
    data = {
        "id": release.id,
        "site": release.site,
        "name": release.name,
        "pages": tally.pages,
        "decision": tally.decision,
        "held": held[:100],
    }
    await _put_up(connection, release.site_id, "release.answered", data)


async def _put_up(connection: Connection, site_id: int, kind: str, data: dict[str, Any]) -> None:
    """Put an event up for the site's webhooks, in the shape that the Standard Webhooks
    specification recommends."""
    payload = {
        "type": kind,
        "timestamp": datetime.now(UTC).isoformat(timespec="seconds"),
        "data": data,
    }
    await notifications.add_deliveries(connection, site_id, kind, payload)


async def _concerned(connection: Connection, fix: FixRow, kind: str) -> list[int]:
    """Return who is told as a rule: the owner, or the people of the group that owns it; a hand-in
    concerns nobody until it is proven."""
    if kind == "handed_in":
        return []
    if fix.group_id is not None:
        return next(
            (
                group.members
                for group in await people.groups(connection)
                if group.id == fix.group_id
            ),
            [],
        )
    return [fix.owner_id] if fix.owner_id is not None else []


def _fix_data(fix: FixRow) -> dict[str, Any]:
    shown = (
        "id",
        "site",
        "environment",
        "check",
        "weight",
        "says",
        "path",
        "pages",
        "places",
        "state",
        "owner",
        "cause",
    )
    return {name: getattr(fix, name) for name in shown} | {
        "group": fix.group_name,
        "due_on": fix.due_on.isoformat() if fix.due_on else None,
    }


async def write_urgent(connect: Connect, address: str) -> int:
    """Write the e-mails that are not to wait: one per person, of all that is new for them; return
    how many."""
    async with connect() as connection, connection.transaction():
        waiting = await notifications.to_mail_immediately(connection)
        by_person = groupby(
            sorted(waiting, key=lambda one: (one.person_id, one.id)), key=lambda one: one.person_id
        )
        written = 0
        for person_id, group in by_person:
            found = await notifications.notifications_by_ids(connection, [one.id for one in group])
            person = await _person(connection, person_id)
            policies = await _policies(connection, found)
            await _put_out(connection, person_id, urgent_email(person, found, address, policies))
            written += 1
        await notifications.note_mailed(connection, [one.id for one in waiting])
        return written


async def write_digests(connect: Connect, address: str, now: datetime) -> int:
    """Write the daily e-mails that are due: what is new for a person, and what they have in front
    of them; return how many."""
    if now.hour < _DIGEST_HOUR:
        return 0
    since = now.replace(hour=_DIGEST_HOUR, minute=0, second=0, microsecond=0)
    written = 0
    async with connect() as connection, connection.transaction():
        for person_id in await notifications.due_digests(connection, since):
            waiting = [one.id for one in await notifications.unmailed(connection, person_id)]
            found = await notifications.notifications_by_ids(connection, waiting)
            desk = await fixes.fixes_of_person(connection, person_id, None, _MOST_IN_DIGEST)
            if found or any(fix.late for fix in desk):
                person = await _person(connection, person_id)
                policies = await _policies(connection, found)
                digest = digest_email(person, found, desk, address, policies)
                await _put_out(connection, person_id, digest)
                written += 1
            await notifications.note_mailed(connection, waiting)
            await notifications.note_digested(connection, person_id)
    return written


async def _policies(connection: Connection, found: Sequence[NotificationRow]) -> dict[str, Policy]:
    """Return the policies of the sites that notifications are of."""
    known: dict[str, Policy] = {}
    for slug in {one.site for one in found}:
        site = await sites.site_by_slug(connection, slug)
        if site is not None:
            known[slug] = policy_of_site(site)
    return known


async def _person(connection: Connection, person_id: int) -> people.PersonRow:
    person = await people.person_by_id(connection, person_id)
    assert person is not None
    return person


async def _put_out(connection: Connection, person_id: int, email: Email) -> None:
    await notifications.add_email(connection, person_id, email.subject, email.text)


async def send_waiting(connect: Connect, server: MailServer) -> int:
    """Send the e-mails whose time has come, each on its own; return how many went out.

    One that is refused waits, or is given up where it never will be taken; the others go out all
    the same. While the server is away nothing is tried beyond the first.
    """
    sent = 0
    async with contextlib.AsyncExitStack() as stack:
        session: MailSession | None = None
        while (due := await _claimed(connect)) is not None:
            try:
                if session is None:
                    session = await stack.enter_async_context(mail_session(server))
                await session.send(Email(due.name, due.address, due.subject, due.text))
            except EmailRefused as error:
                log.warning("an e-mail was refused", email=due.id, problem=str(error))
                await _note_email(connect, due, str(error), for_good=error.for_good)
                continue
            except MailServerAway as error:
                log.warning("e-mails wait", problem=str(error))
                await _note_email(connect, due, str(error), for_good=False)
                break
            await _note_email(connect, due, None, for_good=False)
            sent += 1
    return sent


async def _claimed(connect: Connect) -> DueEmailRow | None:
    async with connect() as connection, connection.transaction():
        return await notifications.claim_email(connection, _LEASE)


async def _note_email(
    connect: Connect, due: DueEmailRow, problem: str | None, *, for_good: bool
) -> None:
    given_up = problem is not None and (for_good or due.attempts >= len(_PAUSES))
    async with connect() as connection, connection.transaction():
        await notifications.note_email(
            connection, due.id, problem=problem, wait=_pause(due.attempts), given_up=given_up
        )


def _pause(attempts: int) -> float:
    return float(_PAUSES[min(attempts, len(_PAUSES) - 1)])


async def deliver(connect: Connect) -> int:
    """Send what webhooks wait for, outside of any transaction; return how many were tried."""
    async with connect() as connection, connection.transaction():
        due = await notifications.claim_deliveries(connection, _LEASE)
        leaves = [await _leave(connection, one) for one in due]
    await asyncio.gather(
        *(_deliver_one(connect, one, leave) for one, leave in zip(due, leaves, strict=True))
    )
    return len(due)


async def _deliver_one(connect: Connect, due: DueDeliveryRow, leave: list[str]) -> None:
    now = int(datetime.now(UTC).timestamp())
    posted = await post(due.address, due.secret, due.message_id, now, due.payload, leave)
    async with connect() as connection, connection.transaction():
        await notifications.note_delivery(
            connection,
            due.id,
            status=posted.status,
            problem=posted.problem,
            wait=_pause(due.attempts),
            given_up=posted.problem is not None and due.attempts >= len(_PAUSES),
        )


async def _leave(connection: Connection, due: DueDeliveryRow) -> list[str]:
    """Return the private origins that a delivery may go to: a site with leave for its own may have
    its webhooks beside it."""
    site = await sites.site_by_id(connection, due.site_id)
    return [origin(due.address)] if site.private_leave else []
