"""Items of content systems: what makes pages, who wrote it, what is going out."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import StringConstraints

from plumrake.models.base import Answer, Model, OutcomeName, WeightName
from plumrake.models.findings import OwnHelp
from plumrake.models.gate import DecisionName
from plumrake.models.item import Item


class GoingOut(Item):
    """An item that is not public yet, with the newest answer about it as it would go out;
    ``holding`` findings hold it."""

    clearance_id: int | None
    clearance_state: Literal["waiting", "answered"] | None
    decision: DecisionName | None
    reason: str | None
    problem_code: str | None
    answered_at: datetime | None
    holding: int | None


class FoundHere(Answer):
    """A finding for whoever looks at its page: where it is, what to do, its fix."""

    id: int
    check: str
    weight: WeightName
    outcome: OutcomeName
    says: str
    selector: str
    visible: bool
    nearest_visible: str | None
    where: str
    in_editor: str
    own_help: OwnHelp | None
    fix_id: int | None


class PageFound(Answer):
    """What counts or is doubtful on a page, as it was read last; ``findings`` in the order of the
    page."""

    path: str
    sweep_id: int | None
    findings: list[FoundHere]


class ItemChanged(Model):
    """An item that was changed in its content system."""

    item: Annotated[str, StringConstraints(min_length=1, max_length=200)]


class ItemAuthor(Answer):
    """An author of a site's items, how many, and who that is here: by e-mail address, or by
    hand."""

    email: str
    author: str
    items: int
    person_id: int | None
    person: str | None
    by_hand: bool


class AuthorChoice(Model):
    """Who an author is here; None: whoever has the e-mail address."""

    email: Annotated[str, StringConstraints(min_length=3, max_length=320)]
    person_id: int | None
