"""Fixes, their places and events."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Literal, LiteralString

from psycopg.types.json import Jsonb

from plumrake.core.fixes import FixState
from plumrake.records.placed import PlacedInItem
from plumrake.records.queries import (
    Connection,
    condition,
    load,
    number,
    number_or_none,
    numbers,
    row_or_none,
    rows,
    run,
    with_fragment,
)
from plumrake.records.sweeps import SweepRow

_QUERIES = with_fragment(load("fixes"), "matching", condition)
MOST_COUNTED = 10_000
Sort = Literal["reach", "due", "change"]
_BY: dict[Sort, LiteralString] = {
    "reach": _QUERIES["by_reach"],
    "due": _QUERIES["by_due"],
    "change": _QUERIES["by_change"],
}


@dataclass(frozen=True, slots=True)
class FixRow(PlacedInItem):
    """A fix as listed; without ``place_key`` it is of a cause, on whatever pages it shows."""

    id: int
    site: str
    environment: str
    cause: str
    page_id: int | None
    place_key: str | None
    check: str
    weight: str
    rank: int
    says: str
    zone: str
    by_template: bool
    path: str
    places: int
    pages: int
    state: str
    reopened_after: str | None
    owner_id: int | None
    owner: str | None
    group_id: int | None
    group_name: str | None
    due_on: date | None
    proposal: dict[str, Any] | None
    links: list[str]
    finding_id: int | None
    proof_sweep: int | None
    times_reopened: int
    made_by: str | None
    made_at: datetime
    closed_at: datetime | None
    version: int
    changed_at: datetime
    site_id: int
    late: bool
    edit: str | None
    block: str

    def keys(self, sort: Sort) -> tuple[object, ...]:
        """Return what the next piece of a listing in this order comes after."""
        if sort == "reach":
            return self.rank, -self.pages, self.id
        if sort == "due":
            return self.due_on, self.id
        return self.changed_at, self.id


@dataclass(frozen=True, slots=True)
class FixFilters:
    """Which fixes of a site are wanted; None lets everything through. ``check`` may be an area,
    ``path`` is how a path begins."""

    states: list[str] | None = None
    environment: str | None = None
    owner_id: int | None = None
    group_id: int | None = None
    unowned: bool | None = None
    check: str | None = None
    weight: str | None = None
    cause: str | None = None
    path: str | None = None
    late: bool | None = None
    due_from: date | None = None
    due_until: date | None = None

    def as_values(self) -> dict[str, Any]:
        """Return the query's values."""
        return {name: getattr(self, name) for name in FixFilters.__slots__}


@dataclass(frozen=True, slots=True)
class FixEventRow:
    """A move with who made it (a person, ``reading`` or ``clock``) and why."""

    id: int
    fix_id: int
    move: str
    before: str
    after: str
    by_id: int | None
    by: str | None
    actor: str
    why: str
    data: dict[str, Any]
    at: datetime


@dataclass(frozen=True, slots=True)
class SiteEventRow(FixEventRow):
    """A move with the fix that it belongs to."""

    says: str
    path: str


@dataclass(frozen=True, slots=True)
class FixPlaceRow:
    """A place of a fix, whether it was still faulty when last read, and its newest finding."""

    page_id: int
    path: str
    place_key: str
    there: bool
    finding_id: int | None
    selector: str | None
    says: str | None


@dataclass(frozen=True, slots=True)
class ProofCountRow:
    """What a sweep saw of a fix: places still faulty with the first of them, pages read, gone, and
    not read; how its proof stands, and through which lens it was found.

    A page that was read without the evidence that the fix's check needs is not read in this sense.
    """

    fix_id: int
    check: str
    state: str
    proof_sweep: int | None
    proof_sample: int | None
    proof_rest: bool
    there: int
    finding_id: int | None
    read: int
    gone: int
    unread: int
    lens: str | None


@dataclass(frozen=True, slots=True)
class CausePagesRow:
    """A cause of a sweep with the pages that it shows on."""

    key: str
    by_template: bool
    weight: str
    paths: list[str]


@dataclass(frozen=True, slots=True)
class NewAtPlaceRow:
    """A finding at the place of another that is gone."""

    id: int
    says: str


@dataclass(frozen=True, slots=True)
class OwnerLoadRow:
    """What one owner (a person, a group, or nobody) has, and how long a fix took from making to
    proof."""

    owner_id: int | None
    group_id: int | None
    owner: str
    open: int
    in_hand: int
    handed_in: int
    reopened: int
    proven: int
    waived: int
    late: int
    median_days: float | None


@dataclass(frozen=True, slots=True)
class StateCountRow:
    """How many fixes are in a state."""

    state: str
    count: int


@dataclass(frozen=True, slots=True)
class Owner:
    """Who answers: a person, a group, or nobody."""

    person_id: int | None = None
    group_id: int | None = None


@dataclass(frozen=True, slots=True)
class _Key:
    key: str


@dataclass(frozen=True, slots=True)
class _Path:
    path: str


async def add_of_cause(
    connection: Connection,
    sweep_id: int,
    cause: str,
    owner: Owner,
    due_on: date | None,
    made_by: int | None,
) -> int | None:
    """Make a fix of a cause of a sweep; None where there is one in the environment, or no such
    cause."""
    values = {
        "owner_id": owner.person_id,
        "group_id": owner.group_id,
        "due_on": due_on,
        "made_by": made_by,
    }
    return await _added(
        connection, _QUERIES["add_of_cause"], sweep_id, sweep_id=sweep_id, cause=cause, **values
    )


async def add_of_finding(
    connection: Connection,
    sweep_id: int,
    finding_id: int,
    owner: Owner,
    due_on: date | None,
    made_by: int | None,
) -> int | None:
    """Make a fix of one place; None where it has one."""
    values = {
        "owner_id": owner.person_id,
        "group_id": owner.group_id,
        "due_on": due_on,
        "made_by": made_by,
    }
    return await _added(
        connection, _QUERIES["add_of_finding"], sweep_id, finding_id=finding_id, **values
    )


async def _added(
    connection: Connection, query: LiteralString, of_sweep: int, **values: Any
) -> int | None:
    added = await number_or_none(connection, query, **values)
    if added is None:
        return None
    await run(connection, _QUERIES["add_places"], sweep_id=of_sweep, ids=[added])
    return added


async def known_of_causes(
    connection: Connection, site_id: int, environment: str, causes: Sequence[str]
) -> dict[str, FixRow]:
    """Return the fixes that causes of an environment have, by cause."""
    found = await rows(
        connection,
        _QUERIES["known_of_causes"],
        FixRow,
        site_id=site_id,
        environment=environment,
        causes=list(causes),
    )
    return {one_fix.cause: one_fix for one_fix in found}


async def fix_of_finding(connection: Connection, finding_id: int) -> FixRow | None:
    """Return the fix of a finding's place, else that of its cause, or None."""
    return await row_or_none(
        connection, _QUERIES["known_of_finding"], FixRow, finding_id=finding_id
    )


async def cause_pages(
    connection: Connection, sweep_id: int, causes: Sequence[str]
) -> list[CausePagesRow]:
    """Return causes of a sweep with the pages that they show on."""
    return await rows(
        connection, _QUERIES["cause_pages"], CausePagesRow, sweep_id=sweep_id, causes=list(causes)
    )


async def new_at_place(connection: Connection, fix_id: int, sweep_id: int) -> NewAtPlaceRow | None:
    """Return what a sweep found at the places of a fix and was not there when it was made, or
    None."""
    return await row_or_none(
        connection, _QUERIES["new_at_place"], NewAtPlaceRow, fix=fix_id, sweep=sweep_id
    )


async def new_causes(connection: Connection, sweep_id: int, weights: Sequence[str]) -> list[str]:
    """Return the keys of a sweep's causes of these weights that have no fix yet."""
    return [
        found.key
        for found in await rows(
            connection, _QUERIES["new_causes"], _Key, sweep_id=sweep_id, weights=list(weights)
        )
    ]


async def fix_by_id(connection: Connection, fix_id: int) -> FixRow | None:
    """Return a fix, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], FixRow, id=fix_id)


async def fixes_by_ids(connection: Connection, ids: Sequence[int]) -> list[FixRow]:
    """Return those of the fixes that are there."""
    return await rows(connection, _QUERIES["by_ids"], FixRow, ids=list(ids))


async def lock_fix(connection: Connection, fix_id: int) -> FixRow | None:
    """Return a fix and hold it against other transactions until this one ends."""
    held = await number_or_none(connection, _QUERIES["lock"], id=fix_id)
    return await fix_by_id(connection, fix_id) if held is not None else None


async def change_fix(
    connection: Connection,
    fix: FixRow,
    *,
    state: str,
    owner: Owner,
    due_on: date | None,
    proposal: Mapping[str, Any] | None,
    links: Sequence[str],
) -> None:
    """Keep what a move makes of a fix that the caller holds."""
    values = {
        "state": state,
        "owner_id": owner.person_id,
        "group_id": owner.group_id,
        "due_on": due_on,
        "links": list(links),
        "reopened": FixState.REOPENED.value,
    }
    await run(
        connection,
        _QUERIES["change"],
        id=fix.id,
        proposal=Jsonb(proposal) if proposal is not None else None,
        **values,
    )


async def set_proof(
    connection: Connection, fix_id: int, sweep_id: int, *, sample: int | None, rest: bool
) -> None:
    """Keep which sweep is to prove a fix, which one read a ``sample`` before it, and whether a
    ``rest`` is to be read after it."""
    await run(
        connection, _QUERIES["set_proof"], id=fix_id, sweep_id=sweep_id, sample=sample, rest=rest
    )


async def add_event(
    connection: Connection,
    fix_id: int,
    move: str,
    before: str,
    after: str,
    *,
    by_id: int | None,
    actor: str,
    why: str,
    data: Mapping[str, Any],
) -> int:
    """Keep a move; return its number."""
    values = {
        "fix_id": fix_id,
        "move": move,
        "before": before,
        "after": after,
        "by_id": by_id,
        "actor": actor,
        "why": why,
    }
    return await number(connection, _QUERIES["add_event"], data=Jsonb(dict(data)), **values)


async def events_of(connection: Connection, fix_id: int) -> list[FixEventRow]:
    """Return what happened to a fix, the oldest first."""
    return await rows(connection, _QUERIES["events"], FixEventRow, fix_id=fix_id)


async def site_events(
    connection: Connection,
    site_id: int,
    *,
    cause: str | None,
    path: str | None,
    by_id: int | None,
    before: int | None,
    limit: int,
) -> list[SiteEventRow]:
    """Return what happened to a site's fixes, the newest first: all, or those of a cause, a page, a
    person."""
    values = {"cause": cause, "path": path, "by_id": by_id, "before": before, "limit": limit}
    return await rows(connection, _QUERIES["site_events"], SiteEventRow, site_id=site_id, **values)


async def places_of(
    connection: Connection, fix_id: int, *, after: tuple[str, str], limit: int
) -> list[FixPlaceRow]:
    """Return a fix's places by path, those after one."""
    return await rows(
        connection,
        _QUERIES["places"],
        FixPlaceRow,
        fix_id=fix_id,
        after_path=after[0],
        after_key=after[1],
        limit=limit,
    )


async def pages_of(connection: Connection, fix_id: int, done: int | None = None) -> list[str]:
    """Return the paths that a fix has places on, less those that the sweep ``done`` has read."""
    return [
        found.path
        for found in await rows(connection, _QUERIES["pages_of"], _Path, fix_id=fix_id, done=done)
    ]


async def sights(
    connection: Connection,
    sweep: SweepRow,
    *,
    fix_id: int | None = None,
    earlier: int | None = None,
    gone_statuses: Iterable[int],
) -> list[ProofCountRow]:
    """Return what a sweep (with an ``earlier`` one that read a sample) saw of the environment's
    fixes that have a page in it; ``gone_statuses`` are the HTTP statuses of pages that are no
    more."""
    values = {
        "sweep_id": sweep.id,
        "site_id": sweep.site_id,
        "environment": sweep.environment,
        "fix_id": fix_id,
        "earlier": earlier,
        "gone_statuses": list(gone_statuses),
    }
    return await rows(connection, _QUERIES["seen"], ProofCountRow, **values)


async def mark_places(connection: Connection, sweep: SweepRow, tested: Sequence[str]) -> None:
    """Keep which places of the environment's fixes a sweep still shows, of those whose check it
    ``tested``."""
    await run(
        connection,
        _QUERIES["mark_places"],
        sweep_id=sweep.id,
        site_id=sweep.site_id,
        environment=sweep.environment,
        tested=list(tested),
    )


async def refresh(connection: Connection, sweep: SweepRow) -> None:
    """Bring reach and words of the environment's fixes up to date with a sweep of all pages."""
    await run(
        connection,
        _QUERIES["refresh"],
        sweep_id=sweep.id,
        site_id=sweep.site_id,
        environment=sweep.environment,
    )


async def list_fixes(
    connection: Connection,
    site_id: int,
    filters: FixFilters,
    *,
    sort: Sort,
    after: Sequence[object] | None,
    limit: int,
) -> list[FixRow]:
    """Return a site's fixes that the filters let through, in an order, those after ``keys``."""
    values = {
        "site_id": site_id,
        "after": [_written(key) for key in after] if after is not None else None,
        "limit": limit,
        **filters.as_values(),
    }
    return await rows(connection, _BY[sort], FixRow, **values)


def _written(key: object) -> str:
    """Return a key as PostgreSQL reads it; fixes without a day come after all others."""
    return "infinity" if key is None else str(key)


async def count_fixes(connection: Connection, site_id: int, filters: FixFilters) -> int:
    """Return how many fixes the filters let through, at most ``MOST_COUNTED``."""
    return await number(
        connection, _QUERIES["count"], site_id=site_id, most=MOST_COUNTED, **filters.as_values()
    )


async def fixes_of_person(
    connection: Connection, person_id: int, site_id: int | None, limit: int
) -> list[FixRow]:
    """Return the live fixes that somebody has in front of them, own and of their groups."""
    return await rows(
        connection, _QUERIES["of_person"], FixRow, person_id=person_id, site_id=site_id, limit=limit
    )


async def groups_of(connection: Connection, person_id: int) -> frozenset[int]:
    """Return the numbers of the groups that somebody is in."""
    return frozenset(await numbers(connection, _QUERIES["groups_of"], person_id=person_id))


async def load_of(connection: Connection, site_id: int) -> list[OwnerLoadRow]:
    """Return what each owner of a site's fixes has."""
    return await rows(connection, _QUERIES["load"], OwnerLoadRow, site_id=site_id)


async def sums(connection: Connection, site_id: int) -> dict[str, int]:
    """Return how many fixes of a site are in each state."""
    return {
        found.state: found.count
        for found in await rows(connection, _QUERIES["sums"], StateCountRow, site_id=site_id)
    }
