"""Coming in and going: sessions, second factors, passkeys, single sign-on, passwords, tokens."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import RedirectResponse
from starlette.datastructures import QueryParams

from plumrake import models
from plumrake.actions import passkeys, passwords, second_factors, single_sign_on
from plumrake.actions import sign_ins as actions
from plumrake.actions.emails import changed_email
from plumrake.actions.people import NO_ROLE
from plumrake.actions.secret_hashes import secret_hash
from plumrake.actions.sign_ins import Opened, check_confirmed
from plumrake.actions.single_sign_on import Provider
from plumrake.records import log, members, notifications, people, sign_ins
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import CallerRow, ComesFrom
from plumrake.service.access import (
    SESSION_COOKIE,
    Database,
    Lender,
    SignedIn,
    WaitingReader,
    address_of,
    cookie_name,
    session_cookie,
)
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import site_for
from plumrake.settings import Settings

router = APIRouter(tags=["signing in"])

_BROWSER_COOKIE, _SIGN_ON_COOKIE = "plumrake_browser", "plumrake_sign_on"
_YEAR = 365 * 86_400
_SIGN_ON_SECONDS = 600
_REFUSED = (actions.BadCredentials, actions.TooManyAttempts, second_factors.BadCode)
_BROWSER_LETTERS = 200


@router.post("/session", operation_id="signIn", status_code=201)
async def sign_in(
    request: Request, response: Response, body: models.SignIn, lend: Lender
) -> models.Me:
    """Sign in with e-mail address and password, and a code where one has a second factor; the
    answer sets the session's cookie."""
    rules = _settings(request).sign_in_rules
    came = _came(request)
    try:
        opened = await actions.sign_in(lend, body.email, body.password, body.code, came, rules)
    except _REFUSED as error:
        await _note_refused(lend, body.email, error.code, came)
        raise
    return await _entered(request, response, lend, opened, "password")


@router.post("/session/passkey/begin", operation_id="askForPasskey", status_code=201)
async def ask_for_passkey(request: Request, database: Database) -> models.PasskeyAsked:
    """Say what a browser is to be asked, to sign in with a passkey."""
    asked = await passkeys.ask(database, _settings(request).console_address)
    return models.PasskeyAsked(options=asked.options, secret=asked.secret)


@router.post("/session/passkey", operation_id="signInByPasskey", status_code=201)
async def sign_in_by_passkey(
    request: Request, response: Response, body: models.PasskeyAnswer, lend: Lender
) -> models.Me:
    """Sign in with a passkey; the answer sets the session's cookie."""
    settings = _settings(request)
    opened = await passkeys.sign_in(
        lend,
        settings.console_address,
        body.secret,
        body.answer,
        _came(request),
        settings.sign_in_rules,
    )
    return await _entered(request, response, lend, opened, "passkey")


@router.get(
    "/session/single-sign-on",
    operation_id="beginSingleSignOn",
    status_code=303,
    response_class=RedirectResponse,
)
async def begin_single_sign_on(
    request: Request, database: Database, to: Annotated[str, Query(max_length=2000)] = "/"
) -> RedirectResponse:
    """Go to the organisation's own sign-in; it sends the browser back, and on to a place in the
    console."""
    begun = await single_sign_on.begin(
        database, _provider(request), _back(request), single_sign_on.place_in_console(to)
    )
    answer = RedirectResponse(begun.address, status_code=303)
    _set_cookie(request, answer, _SIGN_ON_COOKIE, begun.secret, _SIGN_ON_SECONDS)
    return answer


@router.get(
    "/session/single-sign-on/back",
    operation_id="endSingleSignOn",
    status_code=303,
    response_class=RedirectResponse,
)
async def end_single_sign_on(
    request: Request,
    lend: Lender,
    state: Annotated[str, Query(max_length=500)] = "",
    code: Annotated[str, Query(max_length=4000)] = "",
    error: Annotated[str, Query(max_length=200)] = "",
) -> RedirectResponse:
    """Come back from the organisation's own sign-in; the answer sets the session's cookie."""
    if error:
        return _failed(f"the sign-in was not granted: {error}")
    try:
        opened, to = await single_sign_on.finish(
            lend,
            _provider(request),
            _back(request),
            secret=request.cookies.get(cookie_name(request, _SIGN_ON_COOKIE), ""),
            state=state,
            code=code,
            came=_came(request),
            rules=_settings(request).sign_in_rules,
        )
    except single_sign_on.SignOnFailed as failed:
        return _failed(str(failed))
    answer = RedirectResponse(to, status_code=303)
    await _keep(request, answer, lend, opened, "single sign-on")
    answer.delete_cookie(cookie_name(request, _SIGN_ON_COOKIE), path="/")
    return answer


def _failed(says: str) -> RedirectResponse:
    """Send a browser back to the place where one signs in, which says what went wrong."""
    query = str(QueryParams({"problem": says}))
    return RedirectResponse(f"/sign-in?{query}", status_code=303)


@router.post("/session/confirm", operation_id="confirm", status_code=204)
async def confirm(
    request: Request, body: models.Confirmation, who: WaitingReader, lend: Lender
) -> None:
    """Give one's password again; for ten minutes one may then make tokens and change second
    factors."""
    if who.session_id is None:
        check_confirmed(who)
    key = _settings(request).secrets_key
    try:
        await actions.confirm(lend, who, body.password, body.code, _came(request), key)
    except actions.BadCredentials as error:
        raise Refusal(403, error.code, str(error)) from None


@router.get("/session", operation_id="whoAmI")
async def who_am_i(who: SignedIn, database: Database) -> models.Me:
    """Say who is signed in, and which sites are there for them."""
    return await _me(database, who)


@router.delete("/session", operation_id="signOut", status_code=204)
async def sign_out(request: Request, response: Response, who: SignedIn, database: Database) -> None:
    """Sign out: the session ends and its cookie goes."""
    if cookie := session_cookie(request):
        await sign_ins.end_session(database, secret_hash(cookie))
    response.delete_cookie(cookie_name(request), path="/")


@router.get("/me/sessions", operation_id="listSessions")
async def list_sessions(
    request: Request, who: SignedIn, database: Database
) -> models.Listing[models.Session]:
    """List where one is signed in, the session used last first."""
    found = await sign_ins.sessions_of(database, who.id, _settings(request).idle_minutes)
    return models.Listing(
        items=[
            models.Session.model_validate(
                {name: getattr(one, name) for name in one.__slots__}
                | {"is_this": one.id == who.session_id}
            )
            for one in found
        ]
    )


@router.delete("/me/sessions/{session_id}", operation_id="endSession", status_code=204)
async def end_session(session_id: int, who: SignedIn, database: Database) -> None:
    """Sign out where one is signed in elsewhere."""
    if not await sign_ins.end_session_of(database, session_id, who.id):
        raise not_found("session", session_id)


@router.delete("/me/sessions", operation_id="signOutEverywhere", status_code=204)
async def sign_out_everywhere(
    request: Request, response: Response, who: SignedIn, database: Database
) -> None:
    """Sign out everywhere, here too; tokens stay."""
    await sign_ins.end_sessions(database, who.id)
    response.delete_cookie(cookie_name(request), path="/")


@router.put("/me/password", operation_id="changePassword", status_code=204)
async def change_password(
    request: Request, body: models.NewPassword, who: WaitingReader, lend: Lender
) -> None:
    """Change one's password; all other sessions end, and the tokens that end with it."""
    cookie = session_cookie(request)
    keep = secret_hash(cookie) if cookie else None
    try:
        await actions.change_password(lend, who, body.current, body.new, _came(request), keep)
    except actions.BadCredentials as error:
        raise Refusal(403, error.code, str(error)) from None
    await _tell(request, lend, who.id, "Your password was changed")


@router.post("/password/forgotten", operation_id="forgetPassword", status_code=202)
async def forget_password(
    request: Request, response: Response, body: models.Forgotten, lend: Lender
) -> None:
    """Have an e-mail sent with the address at which a new password is chosen; whether anybody signs
    in with that e-mail address is not said."""
    await actions.forget_password(lend, body.email, _came(request))


@router.post("/password/new", operation_id="choosePassword", status_code=204)
async def choose_password(request: Request, body: models.PasswordAnew, lend: Lender) -> None:
    """Choose a new password with the secret of the e-mail; one is signed out everywhere. Then sign
    in."""
    person = await passwords.choose_anew(lend, body.secret, body.password)
    await _tell(request, lend, person.id, "Your password was changed")


@router.post("/password/strength", operation_id="judgePassword")
async def judge_password(body: models.TriedPassword) -> models.PasswordStrength:
    """Say how hard a password is to guess while it is being chosen; nothing is kept of it."""
    return models.PasswordStrength.model_validate(
        await passwords.strength_of(body.password, body.about)
    )


@router.get("/me/second-factor", operation_id="showSecondFactors")
async def show_second_factors(
    request: Request, who: SignedIn, database: Database
) -> models.SecondFactors:
    """Say what one has beside the password."""
    factors = await second_factors.factors_of(database, who.id)
    roles = _settings(request).sign_in_rules.second_factor_roles
    return models.SecondFactors(
        app=factors.app,
        passkeys=[
            models.Passkey.model_validate(one)
            for one in await sign_ins.passkeys_of(database, who.id)
        ],
        recovery_codes=factors.recovery_codes,
        wanted=await sign_ins.wants_second_factor(database, who.id, roles),
    )


@router.post("/me/second-factor/app", operation_id="beginApp", status_code=201)
async def begin_app(request: Request, who: SignedIn, database: Database) -> models.NewApp:
    """Make the secret of an app for codes; it counts once a code of it was given."""
    check_confirmed(who)
    key = _settings(request).secrets_key
    made = await second_factors.begin_app(database, key, who.id, who.email)
    return models.NewApp(secret=made.secret, address=made.address, picture=made.picture)


@router.put("/me/second-factor/app", operation_id="finishApp")
async def finish_app(
    request: Request, body: models.AppCode, who: SignedIn, database: Database, lend: Lender
) -> models.RecoveryCodes:
    """Give the first code of an app: from now on signing in asks for one. The answer has recovery
    codes where there were none."""
    check_confirmed(who)
    key = _settings(request).secrets_key
    codes = await second_factors.finish_app(database, key, who.id, body.code)
    if who.session_id is not None:
        await sign_ins.confirm_session(database, who.session_id, second_factor=True)
    await _tell(request, lend, who.id, "An app for codes was set up for you")
    return models.RecoveryCodes(codes=codes)


@router.delete("/me/second-factor/app", operation_id="dropApp", status_code=204)
async def drop_app(request: Request, who: SignedIn, database: Database, lend: Lender) -> None:
    """Take one's app for codes away."""
    check_confirmed(who)
    await second_factors.drop_app(database, who.id)
    await _tell(request, lend, who.id, "Your app for codes was taken away")


@router.post("/me/second-factor/recovery-codes", operation_id="makeRecoveryCodes", status_code=201)
async def make_recovery_codes(
    request: Request, who: SignedIn, database: Database
) -> models.RecoveryCodes:
    """Make recovery codes in place of those before."""
    check_confirmed(who)
    if not (await second_factors.factors_of(database, who.id)).is_any:
        raise Refusal(409, "no-second-factor", "set a second factor up first")
    key = _settings(request).secrets_key
    return models.RecoveryCodes(
        codes=await second_factors.new_recovery_codes(database, key, who.id)
    )


@router.post("/me/passkeys/begin", operation_id="beginPasskey", status_code=201)
async def begin_passkey(request: Request, who: SignedIn, database: Database) -> models.PasskeyAsked:
    """Say what a browser is to be asked, to make a passkey."""
    check_confirmed(who)
    asked = await passkeys.begin(database, _settings(request).console_address, who)
    return models.PasskeyAsked(options=asked.options, secret=asked.secret)


@router.post("/me/passkeys", operation_id="addPasskey", status_code=201)
async def add_passkey(
    request: Request, body: models.NewPasskey, who: WaitingReader, lend: Lender
) -> models.PasskeyMade:
    """Keep a passkey that a browser made."""
    check_confirmed(who)
    settings = _settings(request)
    kept, codes = await passkeys.finish(
        lend,
        settings.console_address,
        settings.secrets_key,
        who,
        body.secret,
        body.answer,
        body.name,
    )
    await _tell(request, lend, who.id, f"The passkey '{body.name}' was made for you")
    return models.PasskeyMade(passkey=models.Passkey.model_validate(kept), codes=codes)


@router.delete("/me/passkeys/{passkey_id}", operation_id="dropPasskey", status_code=204)
async def drop_passkey(
    request: Request, passkey_id: int, who: SignedIn, database: Database, lend: Lender
) -> None:
    """Take a passkey of one's own away."""
    check_confirmed(who)
    if not await passkeys.drop(database, who.id, passkey_id):
        raise not_found("passkey", passkey_id)
    await _tell(request, lend, who.id, "A passkey of yours was taken away")


@router.get("/tokens", operation_id="listTokens")
async def list_tokens(who: SignedIn, database: Database) -> models.Listing[models.Token]:
    """List one's own tokens, without their secrets."""
    return models.Listing(
        items=[
            models.Token.model_validate(token)
            for token in await sign_ins.tokens_of(database, who.id)
        ]
    )


@router.post("/tokens", operation_id="makeToken", status_code=201)
async def make_token(body: models.NewToken, who: SignedIn, database: Database) -> models.Token:
    """Make a token for a program; its secret is in this answer and never again."""
    check_confirmed(who)
    sites = [await site_for(database, who, slug) for slug in dict.fromkeys(body.sites or [])]
    if "gate" in body.scopes and await members.role_in(database, who.id, sites[0].id) == "reader":
        raise Refusal(403, "role-missing", "who may only read cannot ask the gate")
    token, secret = await actions.make_token(
        database,
        who.id,
        body.name,
        list(dict.fromkeys(body.scopes)),
        days=body.days,
        site_ids=[site.id for site in sites] or None,
        ends_with_password=body.ends_with_password,
        second_factor=who.second_factor,
    )
    return models.Token.model_validate(token).model_copy(update={"secret": secret})


@router.delete("/tokens/{token_id}", operation_id="revokeToken", status_code=204)
async def revoke_token(token_id: int, who: SignedIn, database: Database) -> None:
    """Make one of one's own tokens invalid."""
    if not await sign_ins.revoke_token(database, token_id, who.id):
        raise not_found("token", token_id)


def _settings(request: Request) -> Settings:
    settings: Settings = request.app.state.settings
    return settings


def _provider(request: Request) -> Provider:
    provider = _settings(request).single_sign_on
    if provider is None:
        raise not_found("single-sign-on", "of an organisation")
    return provider


def _back(request: Request) -> str:
    return f"{_settings(request).console_address}/api/v1/session/single-sign-on/back"


def _came(request: Request) -> ComesFrom:
    browser = request.cookies.get(cookie_name(request, _BROWSER_COOKIE))
    return ComesFrom(
        address_of(request),
        request.headers.get("user-agent", "")[:_BROWSER_LETTERS],
        secret_hash(browser) if browser else None,
    )


async def _tell(request: Request, lend: Lender, person_id: int, what: str) -> None:
    """Tell somebody by e-mail of a change of what lets them in, where e-mails go out."""
    settings = _settings(request)
    if settings.mail_server is None:
        return
    async with lend() as database:
        person = await people.person_by_id(database, person_id)
        if person is not None:
            email = changed_email(person, what, address_of(request), settings.console_address)
            await notifications.add_email(database, person_id, email.subject, email.text)


async def _note_refused(lend: Lender, email: str, why: str, came: ComesFrom) -> None:
    """Note a sign-in that was refused. What was typed is not: it might be a password."""
    async with lend() as database:
        person = await people.person_by_email(database, email)
        await log.note(
            database,
            "sign-in.refused",
            by_id=None,
            about_id=person.id if person is not None else None,
            about="" if person is not None else "nobody who is known",
            from_address=came.address,
            after={"why": why},
        )


async def _entered(
    request: Request, response: Response, lend: Lender, opened: Opened, way: str
) -> models.Me:
    who = await _keep(request, response, lend, opened, way)
    async with lend() as database:
        return await _me(database, who)


async def _keep(
    request: Request, response: Response, lend: Lender, opened: Opened, way: str
) -> CallerRow:
    """Set the cookies of a session that has begun; the one before it ends."""
    rules = _settings(request).sign_in_rules
    async with lend() as database:
        if before := session_cookie(request):
            await sign_ins.end_session(database, secret_hash(before))
        who = await sign_ins.caller_by_session(
            database, secret_hash(opened.secret), rules.idle_minutes, rules.second_factor_roles
        )
        assert who is not None, "the session has just begun"
        request.state.person = who.id
        await log.note(
            database,
            "sign-in.done",
            by_id=who.id,
            about_id=who.id,
            from_address=address_of(request),
            after={"by": way, "second_factor": who.second_factor},
        )
    _set_cookie(request, response, SESSION_COOKIE, opened.secret, rules.hours * 3600)
    _set_cookie(request, response, _BROWSER_COOKIE, opened.browser, _YEAR)
    return who


def _set_cookie(request: Request, response: Response, name: str, secret: str, seconds: int) -> None:
    response.set_cookie(
        cookie_name(request, name),
        secret,
        max_age=seconds,
        httponly=True,
        samesite="lax",
        secure=_settings(request).is_https,
        path="/",
    )


async def _me(database: Connection, who: CallerRow) -> models.Me:
    sites = await members.roles_of(database, who.id)
    return models.Me(
        id=who.id,
        email=who.email,
        name=who.name,
        role=None if who.role == NO_ROLE else who.role,
        csrf_token=who.csrf_token,
        sites={one.slug: one.role for one in sites},
        areas={one.slug: one.areas for one in sites if one.areas is not None},
        lacks_second_factor=who.lacks_second_factor,
    )
