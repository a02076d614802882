"""Idempotency-Key on writes: the same request asked again gets the first one's answer, another one
under the same key is refused."""

from __future__ import annotations

import hashlib
import inspect
from collections.abc import Awaitable, Callable
from functools import wraps
from typing import Annotated, Any, TypeVar, get_type_hints

from fastapi import Header, Request
from pydantic import BaseModel

from plumrake.records import people
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import CallerRow
from plumrake.service.problems import Refusal

Key = Annotated[str | None, Header(alias="Idempotency-Key", max_length=200)]
Given = TypeVar("Given", bound=BaseModel)


async def once(
    request: Request,
    database: Connection,
    who: CallerRow,
    key: str | None,
    model: type[Given],
    act: Callable[[], Awaitable[Given]],
) -> Given:
    """Return what ``act`` gives, or what it gave when the same person sent the same request under
    the same key."""
    if key is None:
        return await act()
    mark = hashlib.sha256(
        f"{request.method} {request.url.path}\n".encode() + await request.body()
    ).hexdigest()
    kept = await people.kept_answer(database, who.id, key)
    if kept is not None:
        if kept.request_hash != mark:
            raise Refusal(
                409, "key-used", "this Idempotency-Key was used for another request; take a new one"
            )
        return model.model_validate(kept.answer)
    answer = await act()
    await people.keep_answer(database, who.id, key, mark, answer.model_dump(mode="json"))
    return answer


def repeatable(
    route: Callable[..., Awaitable[Given]],
) -> Callable[..., Awaitable[Given]]:
    """Make a route that adds something take an ``Idempotency-Key``: whoever got no answer asks
    again, and nothing is there twice. What it did and its answer are kept together. The route has
    to know ``who`` asks and the ``database``; one whose answer has a secret is not repeatable, as
    that would be kept."""
    hints = get_type_hints(route, include_extras=True)
    given = inspect.signature(route)
    has_request = "request" in given.parameters

    @wraps(route)
    async def asked(idempotency_key: str | None, request: Request, **values: Any) -> Given:
        if has_request:
            values["request"] = request

        async def act() -> Given:
            return await route(**values)

        who, database = values["who"], values["database"]
        return await once(request, database, who, idempotency_key, hints["return"], act)

    parts = {name: hints[name] for name in given.parameters} | {"request": Request}
    keyword = inspect.Parameter.KEYWORD_ONLY
    asked.__signature__ = given.replace(  # type: ignore[attr-defined]
        parameters=[
            *(
                inspect.Parameter(
                    name,
                    keyword,
                    annotation=kind,
                    default=given.parameters[name].default
                    if name in given.parameters
                    else inspect.Parameter.empty,
                )
                for name, kind in parts.items()
            ),
            inspect.Parameter("idempotency_key", keyword, annotation=Key, default=None),
        ],
        return_annotation=hints["return"],
    )
    return asked
