"""Listings in pieces by keyset: what a piece comes after, and the address of the next one."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from typing import Annotated, Any, TypeVar

from fastapi import Query, Request
from pydantic import TypeAdapter, ValidationError

from plumrake.service.problems import Refusal

Row = TypeVar("Row")
Keys = TypeVar("Keys", bound=tuple[Any, ...])

Cursor = Annotated[
    str | None, Query(max_length=9000, description="Take it from 'next' of the listing.")
]
"""The keys of the last row of the piece before, where a listing is sorted by several."""


def next_page(
    request: Request,
    found: Sequence[Row],
    limit: int,
    key: Callable[[Row], object],
    **pinned: object,
) -> str | None:
    """Return the address of the piece after ``found``: the one asked for, with the last row's key.

    None where ``found`` is not full. ``pinned`` are parameters that were left open and have to
    stay what they were found to be, such as the sweep; those that are None are left out.
    """
    if len(found) < limit:
        return None
    last = key(found[-1])
    after = json.dumps(last, default=str) if isinstance(last, tuple) else last
    fixed = {name: value for name, value in pinned.items() if value is not None}
    url = request.url.include_query_params(after=after, **fixed)
    return f"{url.path}?{url.query}"


def keys_of(after: str | None, keys: type[Keys]) -> Keys | None:
    """Return the keys that a cursor holds, checked; None without a cursor. Raises ``Refusal``."""
    if after is None:
        return None
    try:
        return TypeAdapter(keys).validate_json(after)
    except ValidationError:
        raise Refusal(
            422, "not-valid", "after: take it from 'next' of the listing, in the same order"
        ) from None
