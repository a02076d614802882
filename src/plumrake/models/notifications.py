"""Notifications, webhooks, e-mails."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import Field, StringConstraints

from plumrake.models.base import Address, Answer, FixState, Model


class Notification(Answer):
    """Something that one is told about a fix."""

    id: int
    kind: str
    fix_id: int
    at: datetime
    read_at: datetime | None
    says: str
    path: str
    pages: int
    state: FixState
    reopened_after: FixState | None = None
    due_on: date | None
    site: str
    by: str | None
    why: str | None


class SeenUpTo(Model):
    """The newest notification that was seen."""

    id: int


class NewWebhook(Model):
    """An address that wants to hear of a site's events; without ``kinds``, of all of them."""

    address: Address
    kinds: list[Annotated[str, StringConstraints(max_length=40)]] = Field(default=[], max_length=20)


class Webhook(Answer):
    """A webhook; ``secret`` (for checking signatures by the Standard Webhooks specification) is
    there once, when it is made."""

    id: int
    address: str
    kinds: list[str]
    made_at: datetime
    secret: str | None = None


class Delivery(Answer):
    """An event for a webhook: how often it was tried, the last answer, when it is tried next."""

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


class CaughtEmail(Answer):
    """A e-mail that was caught and not sent on."""

    key: str
    to: str
    subject: str
    at: datetime
    text: str
