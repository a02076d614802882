"""Who asks, and whether they may: cookie sessions for the console, bearer tokens for programs,
roles on the server.

What is asked about belongs to a site, by its address alone: whoever is not in that site is told
that it is not there, as of what never was; whoever is, asks with the role that they have in it.
"""

from __future__ import annotations

import re
from collections.abc import AsyncIterator, Callable, Coroutine, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Annotated, Any

from fastapi import Depends, Request

from plumrake.actions.people import NO_ROLE, same_secret, secret_hash
from plumrake.actions.ports import Connect
from plumrake.records import gate, members, people
from plumrake.records.members import Kind
from plumrake.records.people import CallerRow
from plumrake.records.queries import Connection
from plumrake.service.problems import Refusal, not_found

COOKIE = "plumrake_session"
CSRF_HEADER = "X-CSRF-Token"
_READS = ("GET", "HEAD", "OPTIONS")
_OF_THE_GATE = re.compile(
    r"/api/v1/(?:sites/(?P<site>[^/]+)/(?:gate|published|found|items/changed)"
    r"|clearances/(?P<clearance>\d{1,18})(?:/use)?)"
)
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
    """Return what lends a connection for a moment: for routes that compute or wait in between."""
    lend: Connect = request.app.state.pool.connection
    return lend


Lender = Annotated[Connect, Depends(connect)]


async def caller(request: Request, database: Database) -> CallerRow:
    """Return who asks, with their role in the site that is asked about. Raises a problem: not
    signed in, token without the scope, a write by cookie without its CSRF token, or a site that is
    not there for them."""
    return await _in_site(request, database, await _signed_in(request, database))


async def _in_site(request: Request, database: Connection, who: CallerRow) -> CallerRow:
    asked = _asked_about(request)
    if asked is None:
        return who
    kind, key = asked
    is_number = kind not in ("site", "evidence")
    if is_number and not _DIGIT.search(key):
        return replace(who, role=NO_ROLE)  # no number at all: the route refuses it
    is_key = not is_number or _NUMBER.fullmatch(key)
    at = await members.site_at(database, who.id, kind, key) if is_key else None
    if at is None or at.role is None:
        raise not_found(kind.replace("_", " "), key)
    return replace(who, role=at.role)


def _asked_about(request: Request) -> tuple[Kind, str] | None:
    """Return what a request is about that belongs to a site: the first that its address names."""
    given = request.path_params
    if "slug" in given and request.url.path.startswith(_OF_A_SITE):
        return "site", given["slug"]
    return next(((kind, given[name]) for name, kind in _KINDS.items() if name in given), None)


async def _signed_in(request: Request, database: Connection) -> CallerRow:
    scheme, _, secret = request.headers.get("authorization", "").partition(" ")
    if scheme:
        found = (
            await people.caller_by_token(database, secret_hash(secret.strip()))
            if scheme.lower() == "bearer"
            else None
        )
        if found is None:
            raise Refusal(
                401,
                "bad-token",
                "the token is not valid; make one with 'plumrake login'",
                {"WWW-Authenticate": "Bearer"},
            )
        if "gate" in found.scopes:
            await _check_gate(request, database, found)
            return found
        if ("read" if request.method in _READS else "write") not in found.scopes:
            raise Refusal(
                403, "scope-missing", "the token may only read; make one with the scope 'write'"
            )
        return found
    cookie = request.cookies.get(COOKIE)
    found = await people.caller_by_session(database, secret_hash(cookie)) if cookie else None
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


async def _check_gate(request: Request, database: Connection, found: CallerRow) -> None:
    """Let a token for the gate of one site do what publishing takes, and nothing else. Raises a
    problem."""
    match = _OF_THE_GATE.fullmatch(request.url.path)
    if match is not None:
        site = match["site"]
        if match["clearance"] is not None:
            clearance = await gate.clearance_by_id(database, int(match["clearance"]))
            site = clearance.site if clearance is not None else None
        if site == found.site:
            return
    raise Refusal(
        403,
        "scope-missing",
        f"the token is for the gate of the site '{found.site}' alone",
    )


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
