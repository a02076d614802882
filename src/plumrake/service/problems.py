"""Every error that the service answers, mapped to status and code in this one place (RFC 9457)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from psycopg import DataError, OperationalError
from psycopg.errors import UntranslatableCharacter
from psycopg_pool import PoolTimeout
from starlette.exceptions import HTTPException

from plumrake.actions.archives import BadArchive
from plumrake.actions.corrections import BadCorrection, NotWritable
from plumrake.actions.drawing import TooManyWait
from plumrake.actions.fixes import BadMove, ChangedMeanwhile, NoSuchFix
from plumrake.actions.gate import BadQuestion, ClearanceRefused, GateBusy
from plumrake.actions.items import NoItems
from plumrake.actions.links import NothingToFollow
from plumrake.actions.passkeys import BadPasskey, NoPasskeys
from plumrake.actions.passwords import BadReset, WeakPassword
from plumrake.actions.people import (
    BadAreas,
    BadInvitation,
    EmailTaken,
    GroupTaken,
    LastManager,
    NoSuchPerson,
)
from plumrake.actions.picture_texts import NoDescriber
from plumrake.actions.reviews import AnsweredMeanwhile, BadAnswer, NotAsked
from plumrake.actions.sealing import NotSealed
from plumrake.actions.second_factors import BadCode
from plumrake.actions.sign_ins import (
    BadCredentials,
    NotConfirmed,
    SecondFactorWanted,
    TooManyAttempts,
)
from plumrake.actions.single_sign_on import SignOnFailed
from plumrake.actions.sites import NoEnvironment
from plumrake.actions.start import BadStartKey, NotEmpty
from plumrake.actions.statements import NothingRead
from plumrake.actions.sweeps import NotUnderWay
from plumrake.actions.tries import CannotTry
from plumrake.actions.verdicts import NotYours
from plumrake.actions.words import NoDictionary
from plumrake.connectors.source_item import BadConnection
from plumrake.core.corrections import CorrectionRefused
from plumrake.core.fixes import MoveRefused
from plumrake.invalid import what, where
from plumrake.lenses.runners import AssessorLost
from plumrake.models import ProblemDetails
from plumrake.net.problems import Unreadable
from plumrake.outbound.object_store import StoreAway

log = structlog.get_logger()


class Refusal(Exception):
    """An answer that is a problem: status, code, what and what to do."""

    def __init__(
        self, status: int, code: str, detail: str, headers: dict[str, str] | None = None
    ) -> None:
        super().__init__(detail)
        self.status = status
        self.code = code
        self.detail = detail
        self.headers = headers


def not_found(what: str, name: object) -> Refusal:
    """Return the problem that something is not there."""
    return Refusal(404, f"no-such-{what}", f"there is no {what} '{name}'")


_TITLES = {
    400: "Bad request",
    401: "Not signed in",
    403: "Not allowed",
    404: "Not found",
    405: "Method not allowed",
    409: "Conflict",
    410: "Gone",
    412: "Changed meanwhile",
    413: "Too large",
    422: "Not valid",
    428: "Tag needed",
    429: "Too many requests",
    500: "Error in the service",
    503: "Not available",
}
_DOMAIN: dict[type[Exception], int] = {
    NoEnvironment: 409,
    BadArchive: 422,
    NotUnderWay: 409,
    BadCredentials: 401,
    SecondFactorWanted: 401,
    BadCode: 403,
    BadPasskey: 403,
    BadReset: 404,
    NoPasskeys: 409,
    NotConfirmed: 403,
    NotSealed: 409,
    SignOnFailed: 409,
    TooManyAttempts: 429,
    TooManyWait: 429,
    EmailTaken: 409,
    WeakPassword: 422,
    NoSuchFix: 404,
    ChangedMeanwhile: 412,
    BadMove: 422,
    BadAnswer: 422,
    NotAsked: 404,
    NothingRead: 409,
    AnsweredMeanwhile: 409,
    NotYours: 403,
    NoDictionary: 404,
    NothingToFollow: 409,
    LastManager: 409,
    BadAreas: 422,
    BadInvitation: 404,
    GroupTaken: 409,
    NoSuchPerson: 422,
    NotEmpty: 409,
    BadStartKey: 403,
    BadQuestion: 422,
    BadCorrection: 422,
    BadConnection: 422,
    NotWritable: 409,
    NoDescriber: 409,
    NoItems: 409,
    CannotTry: 422,
    Unreadable: 422,
    AssessorLost: 422,
}


def problem(
    request: Request,
    status: int,
    code: str,
    detail: str,
    headers: Mapping[str, str] | None = None,
    **extra: Any,
) -> JSONResponse:
    """Return the problem document as a response."""
    body = ProblemDetails(
        title=_TITLES.get(status, "Error"),
        status=status,
        detail=detail,
        code=code,
        instance=request.url.path,
        **extra,
    )
    answer = JSONResponse(
        body.model_dump(exclude_none=True),
        status_code=status,
        media_type="application/problem+json",
    )
    answer.headers.update(headers or {})
    return answer


def install(app: FastAPI) -> None:
    """Make every error of the app a problem document."""

    @app.exception_handler(Refusal)
    async def refused(request: Request, error: Refusal) -> JSONResponse:
        return problem(request, error.status, error.code, error.detail, headers=error.headers)

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        places = [{"where": _where(item), "what": what(item)} for item in error.errors()]
        detail = "; ".join(f"{place['where']}: {place['what']}" for place in places[:3])
        return problem(request, 422, "not-valid", detail, errors=places)

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> JSONResponse:
        code = {404: "no-such-address", 405: "method-not-allowed"}.get(error.status_code, "refused")
        return problem(request, error.status_code, code, str(error.detail), headers=error.headers)

    @app.exception_handler(DataError)
    async def not_kept(request: Request, error: DataError) -> JSONResponse:
        says = str(error).splitlines()[0]
        log.info("a value cannot be stored", problem=says)
        if type(error) in (DataError, UntranslatableCharacter):
            says = "it holds the character NUL (U+0000); leave that out"
        return problem(request, 422, "not-valid", f"a value cannot be stored: {says}")

    @app.exception_handler(Exception)
    async def unexpected(request: Request, error: Exception) -> JSONResponse:
        log.exception("unexpected", path=request.url.path)
        return problem(
            request, 500, "unexpected", "something went wrong in the service; its log says what"
        )

    _install_what_is_away(app)
    _install_answers_of_the_work(app)
    for kind, status in _DOMAIN.items():
        _install_domain(app, kind, status)


def _install_what_is_away(app: FastAPI) -> None:
    """Map the errors of what the service itself asks."""

    @app.exception_handler(OperationalError)
    @app.exception_handler(PoolTimeout)
    async def away(request: Request, error: Exception) -> JSONResponse:
        log.warning(
            "the database is away",
            problem=str(error).splitlines()[0] if str(error) else type(error).__name__,
        )
        return problem(
            request,
            503,
            "database-away",
            "the database does not answer; try again",
            headers={"Retry-After": "5"},
        )

    @app.exception_handler(StoreAway)
    async def store_away(request: Request, error: StoreAway) -> JSONResponse:
        log.warning("the evidence store is away", problem=str(error))
        return problem(
            request,
            503,
            error.code,
            "the picture is in a store that does not answer; try again",
            headers={"Retry-After": "5"},
        )


def _install_answers_of_the_work(app: FastAPI) -> None:
    """Map the errors whose status depends on what was asked."""

    @app.exception_handler(MoveRefused)
    @app.exception_handler(CorrectionRefused)
    async def not_moved(request: Request, error: MoveRefused | CorrectionRefused) -> JSONResponse:
        return problem(
            request, 403 if error.code == "move-not-allowed" else 409, error.code, str(error)
        )

    @app.exception_handler(GateBusy)
    async def busy(request: Request, error: GateBusy) -> JSONResponse:
        return problem(
            request, 503, error.code, str(error), headers={"Retry-After": str(error.seconds)}
        )

    @app.exception_handler(ClearanceRefused)
    async def not_cleared(request: Request, error: ClearanceRefused) -> JSONResponse:
        return problem(
            request,
            403 if error.code in ("bad-seal", "role-missing") else 409,
            error.code,
            str(error),
        )


def _install_domain(app: FastAPI, kind: type[Exception], status: int) -> None:
    @app.exception_handler(kind)
    async def domain(request: Request, error: Exception) -> JSONResponse:
        retry = {"Retry-After": "300"} if status == 429 else None
        return problem(
            request, status, getattr(error, "code", "refused"), str(error), headers=retry
        )


def _where(error: Any) -> str:
    """Return the way to a value of a request; one that is no JSON at all is the body's."""
    steps = [] if error["type"] == "json_invalid" else error["loc"]
    return where([step for step in steps if step != "body"]).removesuffix(": ") or "body"
