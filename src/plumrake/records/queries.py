"""Named queries from ``.sql`` files: ``-- name: what_it_is`` and one comment line open each."""

from __future__ import annotations

import re
from collections.abc import Mapping
from importlib.resources import files
from types import MappingProxyType
from typing import Any, LiteralString, TypeVar, cast

from psycopg import AsyncConnection
from psycopg.rows import class_row

Connection = AsyncConnection[Any]
Row = TypeVar("Row")

_NAME = re.compile(r"^-- name: (\w+)\n-- .+\n", re.MULTILINE)


def load(name: str) -> Mapping[str, LiteralString]:
    """Return the queries of ``name``.sql by name. The text comes from the package, never from input."""
    text = files(__package__).joinpath(f"{name}.sql").read_text(encoding="utf-8")
    _, *parts = _NAME.split(text)
    return MappingProxyType({query: cast(LiteralString, body.strip()) for query, body in zip(parts[::2], parts[1::2], strict=True)})


def with_fragment(queries: Mapping[str, LiteralString], name: str) -> Mapping[str, LiteralString]:
    """Return queries in which ``{name}`` stands for the query of that name, a part that several share."""
    fragment = queries[name]
    return MappingProxyType({key: query.replace(f"{{{name}}}", fragment) for key, query in queries.items() if key != name})


async def rows(connection: Connection, query: LiteralString, row: type[Row], **values: Any) -> list[Row]:
    """Return every row of a query as ``row``."""
    async with connection.cursor(row_factory=class_row(row)) as cursor:
        await cursor.execute(query, values)
        return await cursor.fetchall()


async def row_or_none(connection: Connection, query: LiteralString, row: type[Row], **values: Any) -> Row | None:
    """Return the first row of a query as ``row``, or None."""
    async with connection.cursor(row_factory=class_row(row)) as cursor:
        await cursor.execute(query, values)
        return await cursor.fetchone()


async def one(connection: Connection, query: LiteralString, row: type[Row], **values: Any) -> Row:
    """Return the one row that the query must give."""
    found = await row_or_none(connection, query, row, **values)
    assert found is not None, "the query gives a row by its construction"
    return found


async def run(connection: Connection, query: LiteralString, **values: Any) -> int:
    """Run a statement; return how many rows it touched."""
    cursor = await connection.execute(query, values)
    return cursor.rowcount
