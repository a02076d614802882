"""Rows to ask the queries about: people, sites, readings and fixes, put in as they are."""

from __future__ import annotations

from collections.abc import AsyncIterator
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import psycopg
import pytest
from psycopg.types.json import Jsonb

from plumrake.records import people
from plumrake.records.queries import Connection


@dataclass
class Rows:
    """A connection where each statement counts at once, and short ways to put rows in."""

    connection: Connection

    async def add(self, table: str, **values: Any) -> int:
        """Put a row in; return its id, where its table numbers its rows."""
        names, marks = ", ".join(values), ", ".join(f"%({name})s" for name in values)
        got = await self.connection.execute(
            f"INSERT INTO {table} ({names}) VALUES ({marks}) RETURNING *",  # type: ignore[arg-type]
            {
                name: Jsonb(value) if isinstance(value, dict) else value
                for name, value in values.items()
            },
        )
        row = await got.fetchone()
        assert row is not None
        return int(row[0]) if isinstance(row[0], int) else 0

    async def run(self, statement: str, *values: Any) -> list[tuple[Any, ...]]:
        """Run a statement; return its rows, if it has any."""
        got = await self.connection.execute(statement, values)  # type: ignore[arg-type]
        return await got.fetchall() if got.description else []

    async def person(self, name: str, role: str = "editor") -> int:
        """Put a person in, with an address of the name."""
        row = await people.add_person(
            self.connection, f"{name.lower()}@harrowmere.example", name, role, "no hash"
        )
        assert row is not None
        return row.id

    async def site(self, slug: str) -> int:
        """Put a site in."""
        address = f"https://{slug}.example/"
        return await self.add(
            "site", slug=slug, name=slug.title(), live_address=address, found_by="both"
        )

    async def sweep(self, site: int, environment: str = "live", **values: Any) -> int:
        """Put a finished sweep in."""
        return await self.add(
            "sweep",
            site_id=site,
            environment=environment,
            lens="markup",
            policy={},
            **{"state": "done", **values},
        )

    async def reading(self, sweep: int, path: str, **values: Any) -> int:
        """Put a page and a reading of it in: read, ready, with nothing found."""
        found = await self.run(
            "INSERT INTO page (site_id, path) SELECT site_id, %s FROM sweep WHERE id = %s"
            " ON CONFLICT (site_id, path) DO UPDATE SET path = excluded.path RETURNING id",
            path,
            sweep,
        )
        usual = {
            "sweep_id": sweep,
            "page_id": found[0][0],
            "address": f"https://x.example{path}",
            "lens": "markup",
            "status": "read",
            "title": f"Page {path}",
            "language": "en",
            "elements": 9,
            "untested": Jsonb([]),
            "ready": True,
            "seconds": 0.1,
        }
        return await self.add("reading", **{**usual, **values})

    async def finding(self, reading: int, check: str, ordinal: int, **values: Any) -> int:
        """Put a finding in: an obstacle, sure, that counts."""
        [(sweep, page)] = await self.run(
            "SELECT sweep_id, page_id FROM reading WHERE id = %s", reading
        )
        usual = {
            "reading_id": reading,
            "sweep_id": sweep,
            "page_id": page,
            "ordinal": ordinal,
            "check_id": check,
            "outcome": "failed",
            "weight": "obstacle",
            "criteria": [],
            "says": f"{check} is wrong",
            "selector": f"#e{ordinal}",
            "visible": True,
            "excerpt": "<p>",
            "facts": {},
            "mends": Jsonb([]),
            "place_key": f"{check} {ordinal}",
            "cause_key": check,
            "cause": check,
            "standing": "counts",
        }
        return await self.add("finding", **{**usual, **values})

    async def planned(self, reading: int, position: int = 1, **values: Any) -> None:
        """Let the page of a reading be one of its sweep's planned pages."""
        [(sweep, page)] = await self.run(
            "SELECT sweep_id, page_id FROM reading WHERE id = %s", reading
        )
        values = {"sweep_id": sweep, "page_id": page, "batch": 0, "position": position} | values
        await self.add("sweep_page", **values)

    async def cause(self, finding: int, position: int, **values: Any) -> None:
        """Put the cause of a finding in, which shows it best: in the content of one page."""
        [(sweep, key, check, outcome, weight)] = await self.run(
            "SELECT sweep_id, cause, check_id, outcome, weight FROM finding WHERE id = %s", finding
        )
        usual = {
            "sweep_id": sweep,
            "key": key,
            "position": position,
            "check_id": check,
            "outcome": outcome,
            "weight": weight,
            "zone": "content",
            "by_template": False,
            "places": 1,
            "pages": 1,
            "best": finding,
            "first_sweep": sweep,
            "first_seen_at": datetime.now(UTC),
        }
        await self.add("cause", **{**usual, **values})

    async def evidence(self, *hashes: str) -> None:
        """Put pieces of evidence in."""
        for one in hashes:
            await self.add("evidence", hash=one, media_type="image/jpeg", content=one.encode())

    async def inventory(self, known_by: str, **values: Any) -> None:
        """Put an inventory in: of nothing, but for what is given."""
        lists = {name: Jsonb(values.get(name, [])) for name in ("pictures", "links", "colours")}
        await self.add("inventory", hash=known_by, census=values.get("census", {}), **lists)

    async def place(self, fix: int, finding: int, **values: Any) -> None:
        """Let a fix have the place of a finding."""
        [(page, key)] = await self.run(
            "SELECT page_id, place_key FROM finding WHERE id = %s", finding
        )
        await self.add("fix_place", **{"fix_id": fix, "page_id": page, "place_key": key} | values)

    async def fix(self, site: int, cause: str, **values: Any) -> int:
        """Put a fix in: an obstacle on one page, to mend."""
        return await self.add(
            "fix",
            **{
                "site_id": site,
                "environment": "live",
                "cause": cause,
                "check_id": "links/vague",
                "weight": "obstacle",
                "rank": 4,
                "says": f"Of {cause}",
                "zone": "content",
                "by_template": False,
                "path": "/",
                "places": 1,
                "pages": 1,
                **values,
            },
        )

    async def event(self, fix: int, move: str = "take", **values: Any) -> int:
        """Put a move of a fix in."""
        return await self.add(
            "fix_event",
            **{
                "fix_id": fix,
                "move": move,
                "before": "open",
                "after": "in_hand",
                "actor": "manager",
            }
            | values,
        )


@pytest.fixture
async def rows(database: str) -> AsyncIterator[Rows]:
    """An empty database to put rows into."""
    async with await psycopg.AsyncConnection.connect(database, autocommit=True) as connection:
        yield Rows(connection)
