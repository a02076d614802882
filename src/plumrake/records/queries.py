"""Named queries from ``.sql`` files: ``-- name: what_it_is`` and a comment open each, a semicolon
ends it. Each is a whole statement, so that the files are read by any program for SQL."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from importlib.resources import files
from types import MappingProxyType
from typing import Any, LiteralString, TypeVar, cast

from psycopg import AsyncConnection
from psycopg.rows import class_row, scalar_row

Connection = AsyncConnection[Any]
Row = TypeVar("Row")

_NAME = re.compile(r"^-- name: (\w+)\n(?:-- .+\n)+", re.MULTILINE)


def load(name: str) -> Mapping[str, LiteralString]:
    """Return the queries of ``name``.sql by name. The text comes from the package, never from
    input."""
    text = files(__package__).joinpath(f"{name}.sql").read_text(encoding="utf-8")
    _, *parts = _NAME.split(text)
    return MappingProxyType(
        {
            query: cast(LiteralString, body.strip().removesuffix(";"))
            for query, body in zip(parts[::2], parts[1::2], strict=True)
        }
    )


def condition(query: LiteralString) -> LiteralString:
    """Return what stands after the first WHERE of a statement, to be set into another one about the
    same table under the same name."""
    return query.partition("WHERE")[2].strip()


def with_fragment(
    queries: Mapping[str, LiteralString],
    name: str,
    part: Callable[[LiteralString], LiteralString] = lambda query: query,
) -> Mapping[str, LiteralString]:
    """Return queries in which ``{name}`` stands for the query of that name, or for a part of it,
    that several share."""
    fragment = part(queries[name])
    return MappingProxyType(
        {
            key: query.replace(f"{{{name}}}", fragment)
            for key, query in queries.items()
            if key != name
        }
    )


async def rows(
    connection: Connection, query: LiteralString, row: type[Row], **values: Any
) -> list[Row]:
    """Return every row of a query as ``row``."""
    async with connection.cursor(row_factory=class_row(row)) as cursor:
        await cursor.execute(query, values)
        return await cursor.fetchall()


async def row_or_none(
    connection: Connection, query: LiteralString, row: type[Row], **values: Any
) -> Row | None:
    """Return the first row of a query as ``row``, or None."""
    async with connection.cursor(row_factory=class_row(row)) as cursor:
        await cursor.execute(query, values)
        return await cursor.fetchone()


async def one(connection: Connection, query: LiteralString, row: type[Row], **values: Any) -> Row:
    """Return the one row that the query must give."""
    found = await row_or_none(connection, query, row, **values)
    assert found is not None, "the query gives a row by its construction"
    return found


async def numbers(connection: Connection, query: LiteralString, **values: Any) -> list[int]:
    """Return the first column of a query's rows, which is a number: a row's own, or how many there
    are."""
    async with connection.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(query, values)
        return await cursor.fetchall()


async def texts(connection: Connection, query: LiteralString, **values: Any) -> list[str]:
    """Return the first column of a query's rows, which is a text."""
    async with connection.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(query, values)
        return await cursor.fetchall()


async def number_or_none(connection: Connection, query: LiteralString, **values: Any) -> int | None:
    """Return the first number that a query gives, or None."""
    return next(iter(await numbers(connection, query, **values)), None)


async def number(connection: Connection, query: LiteralString, **values: Any) -> int:
    """Return the one number that the query must give."""
    found = await number_or_none(connection, query, **values)
    assert found is not None, "the query gives a row by its construction"
    return found


async def run(connection: Connection, query: LiteralString, **values: Any) -> int:
    """Run a statement; return how many rows it touched."""
    cursor = await connection.execute(query, values)
    return cursor.rowcount
