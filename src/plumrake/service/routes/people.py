"""Signing in and out, who one is, and tokens for programs."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response

from plumrake import models
from plumrake.actions import people as actions
from plumrake.records import people
from plumrake.service.access import COOKIE, Database, SignedIn
from plumrake.service.problems import not_found

router = APIRouter(tags=["people"])


@router.post("/session", operation_id="signIn", status_code=201)
async def sign_in(request: Request, response: Response, body: models.SignIn, database: Database) -> models.Me:
    """Sign in with e-mail address and password; the answer sets the session's cookie."""
    settings = request.app.state.settings
    try:
        who, secret = await actions.sign_in(database, body.email, body.password, settings.session_hours)
    except actions.BadCredentials:
        await database.commit()
        raise
    response.set_cookie(
        COOKIE, secret, max_age=settings.session_hours * 3600, httponly=True, samesite="lax", secure=settings.secure_cookies, path="/"
    )
    return models.Me.model_validate(who)


@router.get("/session", operation_id="whoAmI")
async def who_am_i(who: SignedIn) -> models.Me:
    """Say who is signed in."""
    return models.Me.model_validate(who)


@router.delete("/session", operation_id="signOut", status_code=204)
async def sign_out(request: Request, response: Response, who: SignedIn, database: Database) -> None:
    """Sign out: the session ends and its cookie goes."""
    if cookie := request.cookies.get(COOKIE):
        await people.end_session(database, actions.secret_hash(cookie))
    response.delete_cookie(COOKIE, path="/")


@router.get("/tokens", operation_id="listTokens")
async def list_tokens(who: SignedIn, database: Database) -> models.Listing[models.Token]:
    """List one's own tokens, without their secrets."""
    return models.Listing(items=[models.Token.model_validate(token) for token in await people.tokens_of(database, who.id)])


@router.post("/tokens", operation_id="makeToken", status_code=201)
async def make_token(body: models.NewToken, who: SignedIn, database: Database) -> models.Token:
    """Make a token for a program; its secret is in this answer and never again."""
    token, secret = await actions.make_token(database, who.id, body.name, list(dict.fromkeys(body.scopes)))
    return models.Token.model_validate(token).model_copy(update={"secret": secret})


@router.delete("/tokens/{token_id}", operation_id="revokeToken", status_code=204)
async def revoke_token(token_id: int, who: SignedIn, database: Database) -> None:
    """Make one of one's own tokens void."""
    if not await people.revoke_token(database, token_id, who.id):
        raise not_found("token", token_id)
