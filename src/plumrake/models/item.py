"""An item of a content system: what a page is made of."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from plumrake.models.base import Answer, Environment

ItemStatus = Literal["draft", "pending", "future", "publish"]


class Item(Answer):
    """What a content system makes a page of: who wrote it, when it was changed last, where it is
    opened for editing. ``person`` is who its author is here."""

    number: str
    environment: Environment
    kind: str
    status: ItemStatus
    path: str
    title: str
    author: str
    edit: str
    changed_at: datetime
    due_at: datetime | None
    person_id: int | None
    person: str | None
