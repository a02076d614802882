"""What the links of a site lead to, and the checks in which they are followed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from plumrake.core.evidence import LinkState
from plumrake.records.queries import Connection, load, number_or_none, row_or_none, rows, run, texts

_QUERIES = load("links")
_NO_PART = "the page has no such part"


@dataclass(frozen=True, slots=True)
class LinkCheckRow:
    """The last time that all links of a site were followed; ``states`` counts the addresses by what
    they lead to."""

    sweep_id: int
    total: int
    asked: int
    begun_at: datetime
    ended_at: datetime | None
    asked_by: str | None
    states: dict[str, int] | None


@dataclass(frozen=True, slots=True)
class KnownLinkRow:
    """What an address was found to lead to."""

    address: str
    state: str
    says: str
    status: int | None
    chain: list[str]
    asked_at: datetime

    @property
    def as_state(self) -> LinkState:
        """As evidence of a page that has the link."""
        if self.state == "no-part":
            return LinkState("works", "", self.status, tuple(self.chain), fragment=False)
        return LinkState(self.state, self.says, self.status, tuple(self.chain))


def kind_of(state: LinkState) -> str:
    """Return what a link leads to in one word: that of the state, or ``no-part``."""
    return "no-part" if state.state == "works" and state.fragment is False else state.state


async def addresses(
    connection: Connection, site_id: int, sweep_id: int, since: datetime, limit: int
) -> list[str]:
    """Return the addresses that a sweep's pages lead to, less those that were asked since a time
    and work."""
    return await texts(
        connection,
        _QUERIES["addresses"],
        site_id=site_id,
        sweep_id=sweep_id,
        since=since,
        limit=limit,
    )


async def known(
    connection: Connection,
    site_id: int,
    addresses: Sequence[str],
    *,
    works_since: datetime,
    since: datetime,
) -> list[KnownLinkRow]:
    """Return what is known of addresses: that they work since a time, all else since another."""
    values = {
        "site_id": site_id,
        "addresses": list(addresses),
        "works_since": works_since,
        "since": since,
    }
    return await rows(connection, _QUERIES["known"], KnownLinkRow, **values)


async def of_reading(connection: Connection, reading_id: int) -> list[str]:
    """Return the addresses that the page of a reading leads to, in the order of its links; ``""``
    for those that are none."""
    return await texts(connection, _QUERIES["of_reading"], reading_id=reading_id)


async def keep(connection: Connection, site_id: int, found: Mapping[str, LinkState]) -> None:
    """Keep what addresses lead to; a page that works but lacks the part that is asked for is
    ``no-part``."""
    for address, state in sorted(
        found.items()
    ):  # in one order, so that two who keep the same never wait for each other
        kind = kind_of(state)
        says = _NO_PART if kind == "no-part" else state.says
        values = {
            "address": address,
            "state": kind,
            "says": says,
            "status": state.status,
            "chain": list(state.chain),
        }
        await run(connection, _QUERIES["keep"], site_id=site_id, **values)


async def forget(connection: Connection, site_id: int, sweep_id: int, since: datetime) -> None:
    """Forget old answers of addresses that no page of a sweep leads to any more."""
    await run(connection, _QUERIES["forget"], site_id=site_id, sweep_id=sweep_id, since=since)


async def begin_link_check(
    connection: Connection, site_id: int, sweep_id: int, asked_by: int | None
) -> bool:
    """Begin a link check; False where one is under way."""
    return (
        await number_or_none(
            connection, _QUERIES["begin"], site_id=site_id, sweep_id=sweep_id, asked_by=asked_by
        )
        is not None
    )


async def count_link_check(
    connection: Connection, site_id: int, total: int, asked: int, *, ended: bool
) -> None:
    """Keep how far a link check is."""
    await run(connection, _QUERIES["count"], site_id=site_id, total=total, asked=asked, ended=ended)


async def count_sweep(connection: Connection, sweep_id: int) -> None:
    """Let a sweep that followed its pages' links count as a link check."""
    await run(connection, _QUERIES["followed"], sweep_id=sweep_id)


async def last_round(connection: Connection, site_id: int) -> LinkCheckRow | None:
    """Return the last link check of a site, or None."""
    return await row_or_none(connection, _QUERIES["link_check"], LinkCheckRow, site_id=site_id)


async def of_page(connection: Connection, reading_id: int) -> dict[str, KnownLinkRow]:
    """Return what is known of the addresses that the page of a reading leads to."""
    return {
        one.address: one
        for one in await rows(connection, _QUERIES["of_page"], KnownLinkRow, reading_id=reading_id)
    }
