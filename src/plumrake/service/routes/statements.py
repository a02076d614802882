"""Accessibility statements: proposed from the facts, edited, published; versions are kept."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Query, Response

from plumrake import models
from plumrake.actions.statements import facts_of
from plumrake.records import statements
from plumrake.records.sites import SiteRow
from plumrake.records.statements import StatementRow
from plumrake.reports.statement import proposed_statement, statement_page
from plumrake.service.access import Database, Manager, SignedIn
from plumrake.service.idempotency import repeatable
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.exports import DOCUMENT_HEADERS
from plumrake.service.routes.sites import site_or_404

router = APIRouter(tags=["statements"])


@router.get("/sites/{slug}/statement/proposal", operation_id="proposeStatement")
async def propose_statement(
    slug: str, who: SignedIn, database: Database, language: models.StatementLanguage = "en"
) -> models.ProposedStatement:
    """Propose an accessibility statement from what is known of the site's live pages."""
    site = await site_or_404(database, slug)
    facts = await facts_of(database, site, datetime.now(UTC).date())
    return models.ProposedStatement(
        language=language,
        conformance=facts.conformance,
        gaps=len(facts.gaps),
        body=proposed_statement(facts, language),
    )


@router.get("/sites/{slug}/statements", operation_id="listStatements")
async def list_statements(
    slug: str, who: SignedIn, database: Database
) -> models.Listing[models.Statement]:
    """List the versions of a site's statement, the newest first."""
    site = await site_or_404(database, slug)
    found = await statements.statements_of(database, site.id)
    return models.Listing(items=[models.Statement.model_validate(one) for one in found])


@router.post("/sites/{slug}/statements", operation_id="writeStatement", status_code=201)
@repeatable
async def write_statement(
    slug: str, body: models.NewStatement, who: Manager, database: Database
) -> models.Statement:
    """Keep a version of the statement; it is not public yet."""
    site = await site_or_404(database, slug)
    made = await statements.add_statement(database, site.id, body.language, body.body, who.id)
    return models.Statement.model_validate(await _statement_or_404(database, site, made))


async def _statement_or_404(database: Database, site: SiteRow, statement_id: int) -> StatementRow:
    found = await statements.statement_by_id(database, site.id, statement_id)
    if found is None:
        raise not_found("statement", statement_id)
    return found


@router.post("/sites/{slug}/statements/{statement_id}/publish", operation_id="publishStatement")
async def publish_statement(
    slug: str, statement_id: int, who: Manager, database: Database
) -> models.Statement:
    """Let a version be the public one. Nothing may be left in square brackets."""
    site = await site_or_404(database, slug)
    known = await _statement_or_404(database, site, statement_id)
    left = next((line for line in known.body.splitlines() if _is_left_open(line)), None)
    if left is not None:
        raise Refusal(
            422, "not-filled-in", f"something is left to be filled in: {left.strip()[:200]}"
        )
    if not await statements.publish(database, site.id, statement_id, who.id):
        raise Refusal(409, "is-public", f"version {statement_id} was published before")
    return models.Statement.model_validate(await _statement_or_404(database, site, statement_id))


def _is_left_open(line: str) -> bool:
    start = line.find("[")
    end = line.find("]", start)
    return start >= 0 and end >= 0 and not line[end + 1 :].startswith("(")


@router.get(
    "/sites/{slug}/statements/{statement_id}",
    operation_id="showStatement",
    response_class=Response,
)
async def show_statement(
    slug: str,
    statement_id: int,
    who: SignedIn,
    database: Database,
    form: Annotated[models.StatementForm, Query(alias="as")] = "html",
) -> Response:
    """Give a version as HTML (a page that needs no network) or as Markdown."""
    site = await site_or_404(database, slug)
    found = await _statement_or_404(database, site, statement_id)
    if form == "md":
        return Response(
            found.body, media_type="text/markdown; charset=utf-8", headers=DOCUMENT_HEADERS
        )
    language: models.StatementLanguage = "de" if found.language == "de" else "en"
    page = statement_page(site.name, found.body, language)
    return Response(page, media_type="text/html; charset=utf-8", headers=DOCUMENT_HEADERS)
