"""The log of what was done."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from plumrake.models.base import Answer


class LogEntry(Answer):
    """Something that was done: its ``kind`` (``site.changed``, ``sign-in.refused`` …), what it was
    ``about``, in which ``site``, ``by`` whom (null: by the service itself, or nobody known), from
    which network address, and the fields that changed, ``before`` and ``after``. ``place`` is where
    it is sealed in the chain, null for a few seconds."""

    id: int
    place: int | None
    at: datetime
    kind: str
    about: str
    about_id: int | None
    site: str | None
    by_id: int | None
    by: str | None
    from_address: str
    before: dict[str, Any] | None
    after: dict[str, Any] | None


class LogState(Answer):
    """Whether the log is whole: how many entries are ``sealed``, how many not yet, and the place
    from which on the chain does not hold, null where all of it does."""

    sealed: int
    unsealed: int
    broken_at: int | None
