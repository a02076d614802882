"""Who asks, and whether they may: cookie sessions for the console, bearer tokens for programs,
roles on the server.

What is asked about belongs to a site, by its address alone: whoever is not in that site is told
that it is not there, as of what never was; whoever is, asks with the role that they have in it.
"""

from __future__ import annotations

import re
from collections.abc import AsyncIterator, Callable, Coroutine, Mapping
from contextlib import asynccontextmanager
from dataclasses import replace
from types import MappingProxyType
from typing import Annotated, Any

from fastapi import Depends, Request

from plumrake.actions.people import NO_ROLE
from plumrake.actions.ports import Connect
from plumrake.actions.secret_hashes import same_secret, secret_hash
from plumrake.actions.sign_ins import Rules
from plumrake.records import log, members, people, sign_ins
from plumrake.records.members import AtSite, Kind
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import CallerRow
from plumrake.service.areas import may_work
from plumrake.service.problems import Refusal, not_found

SESSION_COOKIE = "plumrake_session"
CSRF_HEADER = "X-CSRF-Token"
_READS = ("GET", "HEAD", "OPTIONS")
_OF_THE_GATE = re.compile(
    r"/api/v1/(?:sites/[^/]+/(?:gate|published|found|items/changed)|clearances/\d{1,18}(?:/use)?)"
)
_OWN = re.compile(r"/api/v1/(?:session|me)(?:/.*)?")
"""Where one comes in and looks after what one comes in with."""
_STREAM = re.compile(r"/api/v1/.+/(?:events|live)")
"""Open as long as the console is: no use of a session."""
_OF_A_SITE = "/api/v1/sites/"
_KINDS: Mapping[str, Kind] = MappingProxyType(
    {
        "sweep_id": "sweep",
        "reading_id": "reading",
        "finding_id": "finding",
        "fix_id": "fix",
        "correction_id": "correction",
        "clearance_id": "clearance",
        "release_id": "release",
        "text_id": "library_text",
        "content_hash": "evidence",
    }
)
"""What an address names by a parameter, which belongs to a site."""
_NUMBER, _DIGIT = re.compile(r"[0-9]{1,18}"), re.compile(r"\d")


async def connection(request: Request) -> AsyncIterator[Connection]:
    """Lend a database connection for one request; it commits when the request went well."""
    async with request.app.state.pool.connection() as borrowed:
        yield borrowed


Database = Annotated[Connection, Depends(connection, scope="function")]


def connect(request: Request) -> Connect:
    """Return what lends a connection for a moment: for routes that compute or wait in between, and
    for streams. It shows what is there for who asks, and what is changed over it is noted as done
    by them."""

    @asynccontextmanager
    async def lend() -> AsyncIterator[Connection]:
        async with request.app.state.pool.connection() as borrowed:
            await log.act_as(
                borrowed,
                getattr(request.state, "person", None),
                address_of(request),
                is_looked_at=getattr(request.state, "is_looked_at", False),
            )
            yield borrowed

    return lend


def is_signed_in(request: Request) -> bool:
    """Tell whether a request that was answered, or is being so, came from somebody known."""
    return getattr(request.state, "person", None) is not None


def address_of(request: Request) -> str:
    """Return the network address that a request comes from."""
    return request.client.host if request.client is not None else ""


Lender = Annotated[Connect, Depends(connect)]


async def caller(request: Request, database: Database) -> CallerRow:
    """Return who asks, with their role in the site that is asked about. Raises a problem: not
    signed in, token without the scope, a write by cookie without its CSRF token, or a site that is
    not there for them."""
    who = await _signed_in(request, database)
    request.state.person = who.id
    await log.act_as(database, who.id, address_of(request))
    return await _in_site(request, database, who)


async def _in_site(request: Request, database: Connection, who: CallerRow) -> CallerRow:
    asked = _asked_about(request)
    if who.lacks_second_factor and not _OWN.fullmatch(request.url.path):
        raise Refusal(
            403,
            "second-factor-missing",
            "this needs a second factor beside the password: set one up under your name, or make "
            "the token again after that",
        )
    if asked is None:
        if who.site_ids is not None and request.url.path != "/api/v1/session":
            raise _for_other_sites()
        return who
    kind, key = asked
    is_number = kind not in ("site", "evidence")
    if is_number and not _DIGIT.search(key):
        return replace(who, role=NO_ROLE)  # no number at all: the route refuses it
    is_key = not is_number or _NUMBER.fullmatch(key)
    at = await members.site_at(database, who.id, kind, key) if is_key else None
    if at is None or at.role is None:
        raise not_found(kind.replace("_", " "), key)
    if who.site_ids is not None and at.site_id not in who.site_ids:
        raise _for_other_sites()
    if at.is_confined:
        await _keep_to_areas(request, database, who, at)
    return replace(who, role=at.role)


async def _keep_to_areas(
    request: Request, database: Connection, who: CallerRow, at: AtSite
) -> None:
    """Keep somebody to their areas of a site. What a request reads the database bounds; one that
    changes something is looked at, and then works on the whole site. Raises a problem."""
    if not at.is_walled:
        raise Refusal(
            403,
            "areas-not-kept",
            "you are here for single areas of the site alone, and the database does not keep these "
            "apart: the service has to run under its own role ('plumrake check', line 'walls')",
        )
    if request.method not in _READS and await may_work(request, database, at.site_id):
        request.state.is_looked_at = True
        await log.act_as(database, who.id, address_of(request), is_looked_at=True)


def _for_other_sites() -> Refusal:
    return Refusal(403, "scope-missing", "the token is for some sites alone, and not for this")


def _asked_about(request: Request) -> tuple[Kind, str] | None:
    """Return what a request is about that belongs to a site: the first that its address names."""
    given = request.path_params
    if "slug" in given and request.url.path.startswith(_OF_A_SITE):
        return "site", given["slug"]
    return next(((kind, given[name]) for name, kind in _KINDS.items() if name in given), None)


async def _signed_in(request: Request, database: Connection) -> CallerRow:
    rules: Rules = request.app.state.settings.sign_in_rules
    scheme, _, secret = request.headers.get("authorization", "").partition(" ")
    if scheme:
        bearer = secret.strip() if scheme.lower() == "bearer" else ""
        return await _by_token(request, database, bearer, rules)
    cookie = session_cookie(request)
    found = (
        await sign_ins.caller_by_session(
            database,
            secret_hash(cookie),
            rules.idle_minutes,
            rules.second_factor_roles,
            is_use=not _STREAM.fullmatch(request.url.path),
        )
        if cookie
        else None
    )
    if found is None:
        raise Refusal(
            401, "not-signed-in", "sign in first, or send a token", {"WWW-Authenticate": "Bearer"}
        )
    if request.method not in _READS and not same_secret(
        request.headers.get(CSRF_HEADER, ""), found.csrf_token or ""
    ):
        raise Refusal(
            403,
            "csrf",
            f"a write by cookie needs the header {CSRF_HEADER} with the session's token",
        )
    return found


async def _by_token(request: Request, database: Connection, secret: str, rules: Rules) -> CallerRow:
    found = await sign_ins.caller_by_token(database, secret_hash(secret), rules.second_factor_roles)
    if found is None:
        raise Refusal(
            401,
            "bad-token",
            "the token is not valid, or over; make one with 'plumrake login'",
            {"WWW-Authenticate": "Bearer"},
        )
    if "gate" in found.scopes:
        if not _OF_THE_GATE.fullmatch(request.url.path):
            raise Refusal(403, "scope-missing", "the token is for the gate of a site alone")
    elif ("read" if request.method in _READS else "write") not in found.scopes:
        raise Refusal(
            403, "scope-missing", "the token may only read; make one with the scope 'write'"
        )
    return found


def cookie_name(request: Request, name: str = SESSION_COOKIE) -> str:
    """Return what a cookie of the service is called: over HTTPS with the prefix that binds it to
    this host (RFC 6265bis, 4.1.3)."""
    return f"__Host-{name}" if request.app.state.settings.is_https else name


def session_cookie(request: Request) -> str | None:
    """Return the secret of the session that a request brings along, or None."""
    return request.cookies.get(cookie_name(request))


SignedIn = Annotated[CallerRow, Depends(caller)]


def with_role(*roles: str) -> Callable[[CallerRow], Coroutine[Any, Any, CallerRow]]:
    """Return a dependency that lets only these roles through."""

    async def check(who: SignedIn) -> CallerRow:
        if who.role not in roles:
            has = f"you have '{who.role}'"
            if who.role == NO_ROLE:
                has = "you have none in every site"
            raise Refusal(403, "role-missing", f"this needs the role {' or '.join(roles)}; {has}")
        return who

    return check


Manager = Annotated[CallerRow, Depends(with_role("manager"))]
Operator = Annotated[CallerRow, Depends(with_role("manager"))]
"""Who runs the service: a manager of every site. For what belongs to no site."""
Worker = Annotated[CallerRow, Depends(with_role("manager", "editor", "developer"))]


async def is_operator(database: Connection, who: CallerRow) -> bool:
    """Tell whether somebody runs the service, whatever site they ask about."""
    person = await people.person_by_id(database, who.id)
    return person is not None and person.role == "manager"


async def _briefly(request: Request, lend: Lender) -> CallerRow:
    """Return who asks, without keeping a database connection: for what computes or waits long."""
    async with lend() as borrowed:
        return await caller(request, borrowed)


WaitingReader = Annotated[CallerRow, Depends(_briefly)]


async def _worker_briefly(who: WaitingReader) -> CallerRow:
    return await with_role("manager", "editor", "developer")(who)


WaitingWorker = Annotated[CallerRow, Depends(_worker_briefly)]


async def _manager_briefly(who: WaitingReader) -> CallerRow:
    return await with_role("manager")(who)


WaitingManager = Annotated[CallerRow, Depends(_manager_briefly)]
