"""What people and programs are told: notices, letters, webhooks and their deliveries."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import Connection, load, number, numbers, one, rows, run

_QUERIES = load("telling")


@dataclass(frozen=True, slots=True)
class Notice:
    """Something that somebody is told about a fix."""

    id: int
    person_id: int
    kind: str
    fix_id: int
    urgent: bool
    at: datetime
    mailed_at: datetime | None
    read_at: datetime | None
    says: str
    path: str
    pages: int
    state: str
    due_on: date | None
    check: str
    weight: str
    site: str
    site_name: str
    by: str | None
    why: str | None
    mend: str | None


@dataclass(frozen=True, slots=True)
class ToMail:
    """A notice that waits for a letter."""

    id: int
    person_id: int


@dataclass(frozen=True, slots=True)
class Webhook:
    """An address that hears of a site's events; no ``kinds`` means all."""

    id: int
    site_id: int
    address: str
    secret: str
    kinds: list[str]
    made_at: datetime


@dataclass(frozen=True, slots=True)
class Due:
    """A delivery whose time has come."""

    id: int
    message_id: str
    kind: str
    payload: dict[str, Any]
    attempts: int
    address: str
    secret: str
    site_id: int


@dataclass(frozen=True, slots=True)
class Delivery:
    """An event for a webhook and how far it came."""

    id: int
    webhook_id: int
    address: str
    message_id: str
    kind: str
    made_at: datetime
    attempts: int
    next_at: datetime
    delivered_at: datetime | None
    given_up_at: datetime | None
    status: int | None
    problem: str | None


async def add_notices(
    connection: Connection, people: Sequence[int], kind: str, fix_id: int, event_id: int, *, urgent: bool, by_id: int | None
) -> None:
    """Tell some people of a move; whoever made it is not told."""
    values = {"people": list(people), "kind": kind, "fix_id": fix_id, "event_id": event_id, "urgent": urgent, "by_id": by_id}
    await run(connection, _QUERIES["add_notices"], **values)


async def notices_of(connection: Connection, person_id: int, *, unread: bool | None, before: int | None, limit: int) -> list[Notice]:
    """Return what somebody was told, the newest first."""
    return await rows(connection, _QUERIES["of_person"], Notice, person_id=person_id, unread=unread, before=before, limit=limit)


async def mark_read(connection: Connection, person_id: int, up_to: int) -> None:
    """Keep that somebody has seen their notices up to one."""
    await run(connection, _QUERIES["mark_read"], person_id=person_id, up_to=up_to)


async def count_unread(connection: Connection, person_id: int) -> int:
    """Return how many notices somebody has not seen."""
    return await number(connection, _QUERIES["count_unread"], person_id=person_id)


async def to_mail_at_once(connection: Connection) -> list[ToMail]:
    """Return pressing notices that wait for a letter, held until the transaction ends."""
    return await rows(connection, _QUERIES["to_mail_at_once"], ToMail)


async def due_digests(connection: Connection, since: datetime) -> list[int]:
    """Return the people whose last daily letter was before ``since``, held until the transaction ends."""
    return await numbers(connection, _QUERIES["due_digests"], since=since)


async def note_digested(connection: Connection, person_id: int) -> None:
    """Keep that somebody's daily letter was written."""
    await run(connection, _QUERIES["digested"], id=person_id)


async def unmailed(connection: Connection, person_id: int) -> list[ToMail]:
    """Return the notices of somebody that no letter told of."""
    return await rows(connection, _QUERIES["unmailed"], ToMail, person_id=person_id)


async def note_mailed(connection: Connection, ids: Sequence[int]) -> None:
    """Keep that a letter told of these notices."""
    await run(connection, _QUERIES["mailed"], ids=list(ids))


async def notices_by_ids(connection: Connection, ids: Sequence[int]) -> list[Notice]:
    """Return notices with what they are about, the most pressing first."""
    return await rows(connection, _QUERIES["by_ids"], Notice, ids=list(ids))


async def add_webhook(connection: Connection, site_id: int, address: str, secret: str, kinds: Sequence[str], made_by: int) -> Webhook:
    """Keep an address that wants to hear of a site's events."""
    values = {"site_id": site_id, "address": address, "secret": secret, "kinds": list(kinds), "made_by": made_by}
    return await one(connection, _QUERIES["add_webhook"], Webhook, **values)


async def webhooks_of(connection: Connection, site_id: int) -> list[Webhook]:
    """Return the webhooks of a site."""
    return await rows(connection, _QUERIES["webhooks"], Webhook, site_id=site_id)


async def end_webhook(connection: Connection, site_id: int, webhook_id: int) -> bool:
    """End a webhook; False where there is none such."""
    return await run(connection, _QUERIES["end_webhook"], site_id=site_id, id=webhook_id) == 1


async def add_deliveries(connection: Connection, site_id: int, kind: str, payload: Mapping[str, Any]) -> None:
    """Put an event up for delivery to every webhook that wants it."""
    await run(connection, _QUERIES["add_deliveries"], site_id=site_id, kind=kind, payload=Jsonb(dict(payload)))


async def due_deliveries(connection: Connection) -> list[Due]:
    """Return deliveries whose time has come, held until the transaction ends."""
    return await rows(connection, _QUERIES["due_deliveries"], Due)


async def note_delivery(
    connection: Connection, delivery_id: int, *, status: int | None, problem: str | None, wait: float, given_up: bool
) -> None:
    """Keep how a try went: without a ``problem`` it is delivered; else it is tried again after ``wait`` seconds or ``given_up``."""
    values = {"status": status, "problem": problem, "wait": wait, "given_up": given_up}
    await run(connection, _QUERIES["delivered"], id=delivery_id, **values)


async def deliveries_of(connection: Connection, site_id: int, *, before: int | None, limit: int) -> list[Delivery]:
    """Return the log of a site's deliveries, the newest first."""
    return await rows(connection, _QUERIES["deliveries"], Delivery, site_id=site_id, before=before, limit=limit)


async def send_again(connection: Connection, site_id: int, delivery_id: int) -> bool:
    """Let a delivery be tried again at once; False where there is none such."""
    return await run(connection, _QUERIES["send_again"], site_id=site_id, id=delivery_id) == 1
