"""Telling people and programs what happened to fixes: notices at once, letters and webhooks soon after."""

from __future__ import annotations

import asyncio
from dataclasses import dataclass
from datetime import UTC, datetime
from itertools import groupby
from typing import Any

import structlog

from plumrake.actions.letters import digest_letter, urgent_letter
from plumrake.actions.ports import Connect
from plumrake.connect.mail import Letter, MailRefused, MailServer, send_letters
from plumrake.connect.webhooks import post
from plumrake.core.gate import Decision, Tally
from plumrake.lenses.guard import origin
from plumrake.records import fixes, people, sites, telling
from plumrake.records.fixes import Fix
from plumrake.records.gate import Clearance, ReleaseRow
from plumrake.records.queries import Connection
from plumrake.records.sweeps import Sweep
from plumrake.records.telling import Due

log = structlog.get_logger()

KINDS = ("handed_out", "handed_in", "mentioned", "returned", "proven", "waiver_ended")
"""What a notice may be about; webhooks hear of ``fix.`` and one of these, and of ``sweep.done``."""
_URGENT = frozenset({"mentioned", "returned"})
_PAUSES = (5, 60, 300, 1800, 7200, 36_000)
"""Seconds until the next try of a delivery; after the last it is given up."""
_DIGEST_HOUR = 6
_MOST_IN_DIGEST = 500


@dataclass(frozen=True, slots=True)
class Told:
    """Something to tell of a fix: a kind of ``KINDS``, the event, who made it, and whom to tell if not the usual people."""

    kind: str
    event: int
    by_id: int | None
    only: tuple[int, ...] = ()


async def tell(connection: Connection, fix: Fix, what: Told) -> None:
    """Keep a notice for each person concerned, and put the event up for the site's webhooks."""
    concerned = list(what.only) or await _concerned(connection, fix, what.kind)
    if concerned:
        await telling.add_notices(connection, concerned, what.kind, fix.id, what.event, urgent=what.kind in _URGENT, by_id=what.by_id)
    await _put_up(connection, fix.site_id, f"fix.{what.kind}", _fix_data(fix))


async def tell_done(connection: Connection, sweep: Sweep) -> None:
    """Put the end of a sweep up for the site's webhooks."""
    data = {
        name: getattr(sweep, name)
        for name in ("id", "site", "edition", "scope", "section", "total", "read", "unreadable", "ready", "found")
    }
    await _put_up(connection, sweep.site_id, "sweep.done", data)


async def tell_clearance(connection: Connection, clearance: Clearance) -> None:
    """Put the answer of the gate up for the site's webhooks."""
    data = {name: getattr(clearance, name) for name in ("id", "site", "release_id", "path", "content_hash", "decision", "reason")}
    data["holding"] = sum(one["standing"] == "holds" for one in clearance.judged)
    await _put_up(connection, clearance.site_id, "clearance.answered", data)


async def tell_release(connection: Connection, release: ReleaseRow, pages: list[Clearance], tally: Tally) -> None:
    """Put the answer about a release up for the site's webhooks."""
    held = [page.path for page in pages if page.decision == Decision.HELD]
    data = {"id": release.id, "site": release.site, "name": release.name, "pages": tally.pages, "decision": tally.decision, "held": held[:100]}
    await _put_up(connection, release.site_id, "release.answered", data)


async def _put_up(connection: Connection, site_id: int, kind: str, data: dict[str, Any]) -> None:
    """Put an event up for the site's webhooks, in the shape that the Standard Webhooks specification recommends."""
    payload = {"type": kind, "timestamp": datetime.now(UTC).isoformat(timespec="seconds"), "data": data}
    await telling.add_deliveries(connection, site_id, kind, payload)


async def _concerned(connection: Connection, fix: Fix, kind: str) -> list[int]:
    """Return who is told as a rule: the owner, or the people of the group that owns it; a hand-in concerns nobody until it is proven."""
    if kind == "handed_in":
        return []
    if fix.crew_id is not None:
        return next((crew.members for crew in await people.crews(connection) if crew.id == fix.crew_id), [])
    return [fix.owner_id] if fix.owner_id is not None else []


def _fix_data(fix: Fix) -> dict[str, Any]:
    shown = ("id", "site", "edition", "check", "weight", "says", "path", "pages", "places", "state", "owner", "crew", "cause")
    return {name: getattr(fix, name) for name in shown} | {"due_on": fix.due_on.isoformat() if fix.due_on else None}


async def send_urgent(connect: Connect, server: MailServer | None, address: str) -> int:
    """Send the letters that are not to wait: one per person, of all that is new for them; return how many."""
    if server is None:
        return 0
    async with connect() as connection, connection.transaction():
        waiting = await telling.to_mail_at_once(connection)
        letters: list[Letter] = []
        for person_id, group in groupby(sorted(waiting, key=lambda one: (one.person_id, one.id)), key=lambda one: one.person_id):
            person = await people.person_by_id(connection, person_id)
            assert person is not None
            letters.append(urgent_letter(person, await telling.notices_by_ids(connection, [one.id for one in group]), address))
        await telling.note_mailed(connection, [one.id for one in waiting])
        return await _sent(server, letters)


async def send_digests(connect: Connect, server: MailServer | None, address: str, now: datetime) -> int:
    """Send the daily letters that are due: what is new for a person, and what they have in front of them; return how many."""
    if server is None or now.hour < _DIGEST_HOUR:
        return 0
    since = now.replace(hour=_DIGEST_HOUR, minute=0, second=0, microsecond=0)
    async with connect() as connection, connection.transaction():
        letters: list[Letter] = []
        for person_id in await telling.due_digests(connection, since):
            person = await people.person_by_id(connection, person_id)
            assert person is not None
            waiting = [one.id for one in await telling.unmailed(connection, person_id)]
            notices = await telling.notices_by_ids(connection, waiting)
            desk = await fixes.fixes_of_person(connection, person_id, None, _MOST_IN_DIGEST)
            if notices or any(fix.late for fix in desk):
                letters.append(digest_letter(person, notices, desk, address))
            await telling.note_mailed(connection, waiting)
            await telling.note_digested(connection, person_id)
        return await _sent(server, letters)


async def _sent(server: MailServer, letters: list[Letter]) -> int:
    """Send letters; where the server refuses, nothing is marked and all are tried again later."""
    if letters:
        try:
            await send_letters(server, letters)
        except MailRefused as error:
            log.warning("letters wait", problem=str(error))
            raise
    return len(letters)


async def deliver(connect: Connect) -> int:
    """Send what webhooks wait for; return how many messages were tried."""
    async with connect() as connection, connection.transaction():
        due = await telling.due_deliveries(connection)
        leaves = [await _leave(connection, one) for one in due]
        now = int(datetime.now(UTC).timestamp())
        posts = (post(one.address, one.secret, one.message_id, now, one.payload, leave) for one, leave in zip(due, leaves, strict=True))
        for one, posted in zip(due, await asyncio.gather(*posts), strict=True):
            given_up = posted.problem is not None and one.attempts >= len(_PAUSES)
            wait = float(_PAUSES[min(one.attempts, len(_PAUSES) - 1)])
            await telling.note_delivery(connection, one.id, status=posted.status, problem=posted.problem, wait=wait, given_up=given_up)
    return len(due)


async def _leave(connection: Connection, due: Due) -> list[str]:
    """Return the private origins that a delivery may go to: a site with leave for its own may have its webhooks beside it."""
    site = await sites.site_by_id(connection, due.site_id)
    return [origin(due.address)] if site.private_leave else []
