"""The demo's week, and what people and programs are told in it."""

import asyncio
import base64
import hashlib
import hmac
import json
import threading
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from xml.etree import ElementTree

import httpx
import pytest
from psycopg_pool import AsyncConnectionPool

from plumrake import models
from plumrake.actions.notifying import send_waiting, write_digests
from plumrake.demo.seed import SITE
from plumrake.demo.week import Week, WeekPlayed, week_key
from plumrake.outbound.caught_emails import caught_emails
from plumrake.outbound.mail import MailServer
from tests.conftest import wait_for
from tests.trust import Trust

TAKES_LONG = True

ATOM = "{http://www.w3.org/2005/Atom}"


class Receiver(BaseHTTPRequestHandler):
    """A program that hears of events; it is away for the first one."""

    heard: list[tuple[dict[str, str], bytes]] = []  # noqa: RUF012
    away = threading.Event()

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def do_POST(self) -> None:
        body = self.rfile.read(int(self.headers["Content-Length"]))
        if not self.away.is_set():
            self.away.set()
            self.send_response(503)
        else:
            self.heard.append(({name.lower(): value for name, value in self.headers.items()}, body))
            self.send_response(204)
        self.send_header("Content-Length", "0")
        self.end_headers()


@pytest.fixture(scope="module")
def webhook(trust: Trust) -> Iterator[models.Webhook]:
    """A webhook of the Trust's site that wants what comes back, and the ends of sweeps."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), Receiver)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield trust.manager.notifications.add_webhook(
        SITE, f"http://127.0.0.1:{server.server_address[1]}/hear", ["fix.reopened", "sweep.done"]
    )
    server.shutdown()


@pytest.fixture(scope="module")
def week(trust: Trust, webhook: models.Webhook) -> dict[str, Any]:
    """What stands at the end of the week."""
    said: list[str] = []
    played = Week(trust.running.address, trust.staging, said.append)
    figures = played.play()
    with pytest.raises(WeekPlayed):
        played.play()
    played.close()
    wait_for(lambda: len(caught_emails(str(trust.mailbox))) >= 3, 90, "the e-mails")
    wait_for(
        lambda: all(one.delivered_at for one in trust.manager.notifications.deliveries(SITE)),
        60,
        "the deliveries",
    )
    assert [line for line in said if not line.startswith(" ")] == [
        "Monday",
        "Tuesday",
        "Wednesday",
        "Thursday",
        "Friday",
    ]
    return figures


def test_week_ends_as_its_key_says(week: dict[str, Any]) -> None:
    """Fixes by state and owner, moves, waivers and judgements are those that were worked out by
    hand."""
    assert week == week_key()


def test_events_add_up_to_states(trust: Trust, week: dict[str, Any]) -> None:
    """Each fix's events form a chain, from its making to the state that it is in."""
    for fix in trust.manager.fixes.list(SITE):
        events = trust.manager.fixes.show(fix.id).events
        assert events[0].move == "make"
        assert [event.before for event in events[1:]] == [event.after for event in events[:-1]]
        assert events[-1].after == fix.state


def test_wide_fix_is_proven_by_a_sample_and_then_all(trust: Trust, week: dict[str, Any]) -> None:
    """The footer on 66 pages was read in eight places first and in the other 58 after them."""
    fix = next(fix for fix in trust.manager.fixes.list(SITE, state=["proven"]) if fix.by_template)
    assert fix.pages == 66
    totals = [
        sweep.total
        for sweep in trust.manager.sweeps.list(SITE, given=True)
        if sweep.scope == "given" and sweep.id <= (fix.proof_sweep or 0)
    ]
    assert totals[:2] == [58, 8]
    assert not any(place.there for place in trust.manager.fixes.places(fix.id))


def test_emails_say_what_where_and_by_when(trust: Trust, week: dict[str, Any]) -> None:
    """At once: one e-mail for what came back, one for a mention; the daily one is not sent between.
    Nobody gets a storm."""
    emails = {email.to.partition(" ")[0]: email for email in caught_emails(str(trust.mailbox))}
    assert set(emails) <= {"Imke", "Osric", "Tamsin"} | {"Ned", "Ruth", "Philippa"}
    osric = next(
        email for email in caught_emails(str(trust.mailbox)) if "portrait-6" in email.subject
    )
    assert osric.subject == "Came back: The picture portrait-6.jpg has no text alternative."
    for words in (
        "What to do: Write what the picture tells the reader here.",
        "Where: /about/trustees/, by ",
        f"{trust.running.address}/fixes/",
        "The reading: there again in 1 place",
        "Good day, Osric Pike,",
    ):
        assert words in osric.text
    tamsin = next(
        email
        for email in caught_emails(str(trust.mailbox))
        if email.subject.startswith("You are mentioned")
    )
    assert "Imke Sander: @tamsin is this one of the template?" in tamsin.text


def test_daily_email_has_a_line_for_each_fix(trust: Trust, week: dict[str, Any]) -> None:
    """After six every person with something new gets one e-mail: what to do, where, by when, one
    line for a template's fault; then none for a day."""
    before = len(caught_emails(str(trust.mailbox)))
    server = MailServer("127.0.0.1", trust.mail_port, "Plum Rake <plumrake@harrowmere.example>")
    morning = (datetime.now(UTC) + timedelta(days=1)).replace(hour=7)

    async def send(now: datetime) -> int:
        async with AsyncConnectionPool(
            trust.running.database, min_size=1, max_size=2, open=False
        ) as pool:
            written = await write_digests(pool.connection, "https://rake.harrowmere.example", now)
            assert await send_waiting(pool.connection, server) == written
            return written

    assert asyncio.run(send(morning.replace(hour=5))) == 0
    sent = asyncio.run(send(morning))
    emails = caught_emails(str(trust.mailbox))[: len(caught_emails(str(trust.mailbox))) - before]
    assert sent == len(emails) == 5
    tamsin = next(email for email in emails if email.to.startswith("Tamsin"))
    assert tamsin.subject == "Your fixes: 2 new, 0 late, 1 in all"
    footer = [line for line in tamsin.text.splitlines() if "#b4b4b4 on #f6f1e6" in line]
    assert len(footer) == 2  # handed out, and proven: one line each for 66 pages
    assert "and 65 other pages, by " in tamsin.text
    assert "Proven mended" in tamsin.text
    assert (
        "In front of you: 1 fix, 0 late. All of it: https://rake.harrowmere.example/desk"
        in tamsin.text
    )


def test_feed_holds_the_desk(trust: Trust, week: dict[str, Any]) -> None:
    """The feed has an entry per fix on the desk, opens with its address alone, and an older address
    works no more."""
    imke = trust.people["imke"]
    old, address = imke.people.make_feed(), imke.people.make_feed()
    inside = address.replace(address.partition("/api")[0], trust.running.address)
    feed = ElementTree.fromstring(httpx.get(inside).raise_for_status().content)
    titles = [entry.findtext(f"{ATOM}title") or "" for entry in feed.iter(f"{ATOM}entry")]
    desk = imke.fixes.desk()
    assert len(titles) == sum(len(page.fixes) for page in desk.pages) == 5
    assert any(title.startswith("Still there: The text #a9b4b8 on #ffffff") for title in titles)
    assert feed.findtext(f"{ATOM}title") == "Fixes of Imke Sander"
    assert "Due on" in (next(feed.iter(f"{ATOM}entry")).findtext(f"{ATOM}summary") or "")
    assert (
        httpx.get(old.replace(old.partition("/api")[0], trust.running.address)).status_code == 404
    )


def test_webhooks_are_signed_and_tried_again(
    trust: Trust, webhook: models.Webhook, week: dict[str, Any]
) -> None:
    """The program that was away hears the event later; each message carries its id, its time, and a
    signature that fits its bytes."""
    log = list(trust.manager.notifications.deliveries(SITE))
    assert {one.kind for one in log} == {"fix.reopened", "sweep.done"}
    assert max(one.attempts for one in log) == 2
    assert len(Receiver.heard) == len(log)
    key = base64.b64decode((webhook.secret or "").removeprefix("whsec_"))
    for headers, body in Receiver.heard:
        signed = f"{headers['webhook-id']}.{headers['webhook-timestamp']}.".encode() + body
        expected = "v1," + base64.b64encode(hmac.new(key, signed, hashlib.sha256).digest()).decode()
        assert headers["webhook-signature"] == expected
    returned = [
        json.loads(body) for _, body in Receiver.heard if json.loads(body)["type"] == "fix.reopened"
    ]
    assert {one["data"]["owner"] for one in returned} == {"Imke Sander", "Osric Pike"}
    assert all(
        secret is None
        for secret in (one.secret for one in trust.manager.notifications.webhooks(SITE))
    )
