"""Idempotency-Key on writes: the same request asked again gets the first one's answer, another one
under the same key is refused."""

from __future__ import annotations

import hashlib
from collections.abc import Awaitable, Callable
from typing import Annotated, TypeVar

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
