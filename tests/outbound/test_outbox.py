"""E-mails and webhooks that wait to go out: each on its own, none lost, none sent twice."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable, Coroutine, Iterator
from contextlib import asynccontextmanager
from datetime import UTC, datetime
from typing import Any

import psycopg
import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session
from psycopg.rows import dict_row
from psycopg_pool import AsyncConnectionPool

from plumrake.actions.notifying import deliver, send_waiting, write_urgent
from plumrake.actions.ports import Connect
from plumrake.demo.ports import free_port
from plumrake.outbound.mail import MailServer
from plumrake.records import notifications

ADDRESS = "https://rake.harrowmere.example"


class Postbox:
    """An SMTP server that takes e-mails, but for those to ``refused``; what it took is by
    address."""

    def __init__(self) -> None:
        self.taken: list[str] = []
        self.refused: dict[str, str] = {}

    async def handle_RCPT(  # noqa: N802 - aiosmtpd calls it so
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        if address in self.refused:
            return self.refused[address]
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        self.taken += envelope.rcpt_tos
        return "250 OK"


@pytest.fixture
def postbox() -> Iterator[tuple[Postbox, MailServer]]:
    """A mail server on loopback, and how to reach it."""
    box, port = Postbox(), free_port()
    controller = Controller(box, hostname="127.0.0.1", port=port)
    controller.start()
    yield box, MailServer("127.0.0.1", port, "Plum Rake <rake@harrowmere.example>")
    controller.stop()


@pytest.fixture
def told(database: str) -> Iterator[psycopg.Connection[dict[str, Any]]]:
    """Three people with a fix each, pressing news of it, and no e-mail yet."""
    with psycopg.connect(database, autocommit=True, row_factory=dict_row) as connection:
        connection.execute("TRUNCATE person, site, email RESTART IDENTITY CASCADE")
        connection.execute(_PEOPLE)
        yield connection


_PEOPLE = """
WITH people AS (
    INSERT INTO person (email, name, role, password_hash)
    SELECT n || '@harrowmere.example', initcap(n), 'editor', 'none'
    FROM unnest(ARRAY['ned', 'imke', 'ruth']) n RETURNING id, name),
of_site AS (
    INSERT INTO site (slug, name, live_address, found_by)
    VALUES ('mill', 'Mill', 'http://127.0.0.1:9/', 'list') RETURNING id),
fixes AS (
    INSERT INTO fix (site_id, environment, cause, check_id, weight, rank, says, zone, by_template,
        path, places, pages, owner_id)
    SELECT s.id, 'live', 'c-' || p.id, 'links/vague', 'obstacle', 2, 'Says nothing.', 'content',
        false, '/', 1, 1, p.id FROM people p, of_site s RETURNING id, owner_id)
INSERT INTO notification (person_id, kind, fix_id, urgent)
SELECT owner_id, 'reopened', id, true FROM fixes
"""


def acting(database: str, act: Callable[[Connect], Coroutine[Any, Any, Any]]) -> Any:
    """Run an action with connections of its own; return what it returns."""

    async def run() -> Any:
        async with AsyncConnectionPool(database, min_size=1, max_size=4, open=False) as pool:
            return await act(pool.connection)

    return asyncio.run(run())


def test_a_refused_recipient_keeps_nobody_else_waiting(
    told: psycopg.Connection[dict[str, Any]], database: str, postbox: tuple[Postbox, MailServer]
) -> None:
    """Others get theirs, once; whose address does not exist is given up with the server's words."""
    box, server = postbox
    box.refused["imke@harrowmere.example"] = "550 no such mailbox"
    assert acting(database, lambda connect: write_urgent(connect, ADDRESS)) == 3
    assert acting(database, lambda connect: send_waiting(connect, server)) == 2
    assert acting(database, lambda connect: write_urgent(connect, ADDRESS)) == 0
    assert acting(database, lambda connect: send_waiting(connect, server)) == 0
    assert sorted(box.taken) == ["ned@harrowmere.example", "ruth@harrowmere.example"]
    (given_up,) = told.execute("SELECT * FROM email WHERE given_up_at IS NOT NULL").fetchall()
    assert given_up["problem"] == "the mail server answered 550 no such mailbox"


def test_what_is_refused_for_now_is_tried_again_later(
    told: psycopg.Connection[dict[str, Any]], database: str, postbox: tuple[Postbox, MailServer]
) -> None:
    """A full mailbox: the e-mail waits with its problem, and goes out when its time has come."""
    box, server = postbox
    box.refused["ruth@harrowmere.example"] = "452 mailbox full"
    acting(database, lambda connect: write_urgent(connect, ADDRESS))
    assert acting(database, lambda connect: send_waiting(connect, server)) == 2
    (waits,) = told.execute("SELECT * FROM email WHERE sent_at IS NULL").fetchall()
    assert (waits["attempts"], waits["given_up_at"]) == (1, None)
    assert waits["next_at"] > datetime.now(UTC)
    box.refused.clear()
    told.execute("UPDATE email SET next_at = now() WHERE sent_at IS NULL")
    assert acting(database, lambda connect: send_waiting(connect, server)) == 1
    assert len(box.taken) == 3


def test_nothing_is_lost_while_the_server_is_away(
    told: psycopg.Connection[dict[str, Any]], database: str
) -> None:
    """The first is tried and waits, the others are left as they are; all are still there."""
    away = MailServer("127.0.0.1", free_port(), "rake@harrowmere.example")
    acting(database, lambda connect: write_urgent(connect, ADDRESS))
    assert acting(database, lambda connect: send_waiting(connect, away)) == 0
    rows = told.execute("SELECT attempts, sent_at, given_up_at FROM email ORDER BY id").fetchall()
    assert [row["attempts"] for row in rows] == [1, 0, 0]
    assert all(row["sent_at"] is None and row["given_up_at"] is None for row in rows)


def test_one_that_is_being_sent_is_not_sent_by_another(
    told: psycopg.Connection[dict[str, Any]], database: str
) -> None:
    """Who takes an e-mail has it alone for a while; after a kill it is free again by itself."""

    async def twice(connect: Connect) -> list[Any]:
        found = []
        for lease in (60.0, 60.0, 60.0, 60.0):
            async with connect() as connection, connection.transaction():
                found.append(await notifications.claim_email(connection, lease))
        return found

    acting(database, lambda connect: write_urgent(connect, ADDRESS))
    *taken, nothing = acting(database, twice)
    assert len({one.id for one in taken}) == 3
    assert nothing is None


@pytest.mark.parametrize("way_out", ["email", "webhook"])
def test_the_network_is_asked_outside_of_transactions(
    told: psycopg.Connection[dict[str, Any]], database: str, way_out: str
) -> None:
    """While somebody is spoken to, no connection to the database is held."""
    held: list[int] = []
    now = 0

    async def look(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        held.append(now)
        writer.close()

    async def act(connect: Connect) -> None:
        @asynccontextmanager
        async def counted() -> AsyncIterator[Any]:
            nonlocal now
            async with connect() as connection:
                now += 1
                yield connection
                now -= 1

        listener = await asyncio.start_server(look, "127.0.0.1", 0)
        port = listener.sockets[0].getsockname()[1]
        async with listener:
            if way_out == "email":
                server = MailServer("127.0.0.1", port, "rake@harrowmere.example")
                await send_waiting(counted, server)
            else:
                told.execute("UPDATE site SET private_leave = true")
                told.execute(
                    "WITH w AS (INSERT INTO webhook (site_id, address, secret, kinds, made_by)"
                    " SELECT s.id, %s, 'whsec_AAAA', '{}', p.id FROM site s, person p LIMIT 1"
                    " RETURNING id) INSERT INTO delivery (webhook_id, message_id, kind, payload)"
                    " SELECT id, 'msg_1', 'sweep.done', '{}' FROM w",
                    (f"http://127.0.0.1:{port}/",),
                )
                assert await deliver(counted) == 1

    acting(database, lambda connect: write_urgent(connect, ADDRESS))
    acting(database, act)
    assert held == [0]
