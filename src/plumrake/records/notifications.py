"""What people and programs are told: notifications, e-mails, webhooks and their deliveries."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.placed import PlacedInItem
from plumrake.records.queries import (
    Connection,
    load,
    number,
    numbers,
    one,
    row_or_none,
    rows,
    run,
    with_fragment,
)

_QUERIES = with_fragment(load("notifications"), "notification")


@dataclass(frozen=True, slots=True)
class NotificationRow(PlacedInItem):
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
    reopened_after: str | None
    due_on: date | None
    check: str
    weight: str
    site: str
    site_name: str
    by: str | None
    why: str | None
    mend: str | None
    block: str
    edit: str | None


@dataclass(frozen=True, slots=True)
class ToMailRow:
    """A notification that waits for an e-mail."""

    id: int
    person_id: int


@dataclass(frozen=True, slots=True)
class WebhookRow:
    """An address that hears of a site's events; no ``kinds`` means all."""

    id: int
    site_id: int
    address: str
    secret: str
    kinds: list[str]
    made_at: datetime


@dataclass(frozen=True, slots=True)
class DueDeliveryRow:
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
class DueEmailRow:
    """An e-mail whose time has come, with whom it is for."""

    id: int
    attempts: int
    subject: str
    text: str
    name: str
    address: str


@dataclass(frozen=True, slots=True)
class DeliveryRow:
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


async def add_notifications(
    connection: Connection,
    people: Sequence[int],
    kind: str,
    fix_id: int,
    event_id: int,
    *,
    urgent: bool,
    by_id: int | None,
) -> None:
    """Tell some people of a move; whoever made it is not told."""
    values = {
        "people": list(people),
        "kind": kind,
        "fix_id": fix_id,
        "event_id": event_id,
        "urgent": urgent,
        "by_id": by_id,
    }
    await run(connection, _QUERIES["add_notifications"], **values)


async def notifications_of(
    connection: Connection, person_id: int, *, unread: bool | None, before: int | None, limit: int
) -> list[NotificationRow]:
    """Return what somebody was told, the newest first."""
    return await rows(
        connection,
        _QUERIES["of_person"],
        NotificationRow,
        person_id=person_id,
        unread=unread,
        before=before,
        limit=limit,
    )


async def mark_read(connection: Connection, person_id: int, up_to: int) -> None:
    """Keep that somebody has seen their notifications up to one."""
    await run(connection, _QUERIES["mark_read"], person_id=person_id, up_to=up_to)


async def count_unread(connection: Connection, person_id: int) -> int:
    """Return how many notifications somebody has not seen."""
    return await number(connection, _QUERIES["count_unread"], person_id=person_id)


async def to_mail_immediately(connection: Connection) -> list[ToMailRow]:
    """Return pressing notifications that wait for an e-mail, held until the transaction ends."""
    return await rows(connection, _QUERIES["to_mail_immediately"], ToMailRow)


async def due_digests(connection: Connection, since: datetime) -> list[int]:
    """Return the people whose last daily e-mail was before ``since``, held until the transaction
    ends."""
    return await numbers(connection, _QUERIES["due_digests"], since=since)


async def note_digested(connection: Connection, person_id: int) -> None:
    """Keep that somebody's daily e-mail was written."""
    await run(connection, _QUERIES["digested"], id=person_id)


async def unmailed(connection: Connection, person_id: int) -> list[ToMailRow]:
    """Return the notifications of somebody that no e-mail told of."""
    return await rows(connection, _QUERIES["unmailed"], ToMailRow, person_id=person_id)


async def note_mailed(connection: Connection, ids: Sequence[int]) -> None:
    """Keep that an e-mail told of these notifications."""
    await run(connection, _QUERIES["mailed"], ids=list(ids))


async def notifications_by_ids(connection: Connection, ids: Sequence[int]) -> list[NotificationRow]:
    """Return notifications with what they are about, the most pressing first."""
    return await rows(connection, _QUERIES["by_ids"], NotificationRow, ids=list(ids))


async def add_webhook(
    connection: Connection,
    site_id: int,
    address: str,
    secret: str,
    kinds: Sequence[str],
    made_by: int,
) -> WebhookRow:
    """Keep an address that wants to hear of a site's events."""
    values = {
        "site_id": site_id,
        "address": address,
        "secret": secret,
        "kinds": list(kinds),
        "made_by": made_by,
    }
    return await one(connection, _QUERIES["add_webhook"], WebhookRow, **values)


async def webhooks_of(connection: Connection, site_id: int) -> list[WebhookRow]:
    """Return the webhooks of a site."""
    return await rows(connection, _QUERIES["webhooks"], WebhookRow, site_id=site_id)


async def end_webhook(connection: Connection, site_id: int, webhook_id: int) -> bool:
    """End a webhook; False where there is none such."""
    return await run(connection, _QUERIES["end_webhook"], site_id=site_id, id=webhook_id) == 1


async def add_deliveries(
    connection: Connection, site_id: int, kind: str, payload: Mapping[str, Any]
) -> None:
    """Put an event up for delivery to every webhook that wants it."""
    await run(
        connection,
        _QUERIES["add_deliveries"],
        site_id=site_id,
        kind=kind,
        payload=Jsonb(dict(payload)),
    )


async def claim_deliveries(connection: Connection, lease: float) -> list[DueDeliveryRow]:
    """Return deliveries whose time has come; for ``lease`` seconds nobody else gets them."""
    return await rows(connection, _QUERIES["claim_deliveries"], DueDeliveryRow, lease=lease)


async def note_delivery(
    connection: Connection,
    delivery_id: int,
    *,
    status: int | None,
    problem: str | None,
    wait: float,
    given_up: bool,
) -> None:
    """Keep how a try went: without a ``problem`` it is delivered; else it is tried again after
    ``wait`` seconds or ``given_up``."""
    values = {"status": status, "problem": problem, "wait": wait, "given_up": given_up}
    await run(connection, _QUERIES["delivered"], id=delivery_id, **values)


async def deliveries_of(
    connection: Connection, site_id: int, *, before: int | None, limit: int
) -> list[DeliveryRow]:
    """Return the log of a site's deliveries, the newest first."""
    return await rows(
        connection, _QUERIES["deliveries"], DeliveryRow, site_id=site_id, before=before, limit=limit
    )


async def send_again(connection: Connection, site_id: int, delivery_id: int) -> bool:
    """Let a delivery be tried again at once; False where there is none such."""
    return await run(connection, _QUERIES["send_again"], site_id=site_id, id=delivery_id) == 1


async def add_email(connection: Connection, person_id: int, subject: str, text: str) -> None:
    """Keep an e-mail that is to go out."""
    await run(connection, _QUERIES["add_email"], person_id=person_id, subject=subject, text=text)


async def claim_email(connection: Connection, lease: float) -> DueEmailRow | None:
    """Return the e-mail whose time came first, or None; for ``lease`` seconds nobody else gets
    it."""
    return await row_or_none(connection, _QUERIES["claim_email"], DueEmailRow, lease=lease)


async def note_email(
    connection: Connection, email_id: int, *, problem: str | None, wait: float, given_up: bool
) -> None:
    """Keep how a try went: without a ``problem`` it is sent; else it is tried again after ``wait``
    seconds or ``given_up``."""
    await run(
        connection,
        _QUERIES["email_tried"],
        id=email_id,
        problem=problem,
        wait=wait,
        given_up=given_up,
    )
