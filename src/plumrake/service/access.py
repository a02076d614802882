"""Who asks, and whether they may: cookie sessions for the console, bearer tokens for programs,
roles on the server."""

from __future__ import annotations

import re
from collections.abc import AsyncIterator, Callable, Coroutine
from typing import Annotated, Any

from fastapi import Depends, Request

from plumrake.actions.people import same_secret, secret_hash
from plumrake.actions.ports import Connect
from plumrake.records import gate, people
from plumrake.records.people import CallerRow
from plumrake.records.queries import Connection
from plumrake.service.problems import Refusal

COOKIE = "plumrake_session"
CSRF_HEADER = "X-CSRF-Token"
_READS = ("GET", "HEAD", "OPTIONS")
_OF_THE_GATE = re.compile(
    r"/api/v1/(?:sites/(?P<site>[^/]+)/(?:gate|published|found|items/changed)"
    r"|clearances/(?P<clearance>\d{1,18})(?:/use)?)"
)


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
    """Return who asks. Raises a problem: not signed in, token without the scope, or a write by
    cookie without its CSRF token."""
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
            raise Refusal(
                403,
                "role-missing",
                f"this needs the role {' or '.join(roles)}; you have '{who.role}'",
            )
        return who

    return check


Manager = Annotated[CallerRow, Depends(with_role("manager"))]
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
