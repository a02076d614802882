"""The start of an empty service: its first person, made with the key that the service printed when
it started."""

from __future__ import annotations

from fastapi import APIRouter, Request

from plumrake import models
from plumrake.actions import start as actions
from plumrake.service.access import Database, Lender

router = APIRouter(tags=["start"])


@router.get("/start", operation_id="showStart")
async def show_start(request: Request, database: Database) -> models.Start:
    """Say whether nobody can sign in yet, and by what else than a password one does."""
    provider = request.app.state.settings.single_sign_on
    return models.Start(
        empty=await actions.is_empty(database),
        single_sign_on=provider.name if provider is not None else None,
    )


@router.post("/start", operation_id="makeFirstPerson", status_code=201)
async def make_first_person(body: models.FirstPerson, lend: Lender) -> models.Person:
    """Make the first person of an empty service, a manager; they sign in then as everybody does."""
    return models.Person.model_validate(
        await actions.make_first_person(lend, body.key, body.email, body.name, body.password)
    )
