"""Accessibility statements: proposed, written, published."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import StringConstraints

from plumrake.models.base import Answer, Model

StatementLanguage = Literal["en", "de"]
StatementForm = Literal["html", "md"]
ConformanceName = Literal["full", "partial", "none"]


class ProposedStatement(Answer):
    """A statement as the facts give it (Markdown), to be edited: how far the site conforms, and
    against how many criteria something is known. What only the organisation knows stands in square
    brackets."""

    language: StatementLanguage
    conformance: ConformanceName
    gaps: int
    body: str


class NewStatement(Model):
    """A version of a statement (Markdown)."""

    language: StatementLanguage
    body: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200_000)]


class Statement(Answer):
    """A version of a site's statement: its text, who wrote it, and who published it, if anybody
    did."""

    id: int
    language: StatementLanguage
    body: str
    made_by: str
    made_at: datetime
    published_by: str | None
    published_at: datetime | None
