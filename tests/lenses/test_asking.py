"""How pages are asked for: conditional requests, waiting where a host asks for it, pauses,
fingerprints of files."""

import asyncio
from collections import Counter
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from email.utils import format_datetime
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import pytest

from plumrake.lenses.reader import PageReader, strong_date
from plumrake.net.fetch import KnownCopy
from plumrake.net.rate_limit import Host, seconds_asked
from tests.services import serve_in_thread
from tests.timeless import run_timeless

ASKED: Counter[str] = Counter()


class Handler(BaseHTTPRequestHandler):
    """A page with an ETag, a busy page that answers the second time, files with and without
    marks."""

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def answer(self, status: int, body: bytes = b"", **headers: str) -> None:
        self.send_response(status)
        for name, value in {
            "Content-Type": "text/html",
            "Content-Length": str(len(body)),
            **headers,
        }.items():
            self.send_header(name.replace("_", "-"), value)
        self.end_headers()
        if self.command == "GET":
            self.wfile.write(body)

    def do_HEAD(self) -> None:
        self.do_GET()

    def do_GET(self) -> None:
        ASKED[f"{self.command} {self.path}"] += 1
        if self.path == "/page":
            if self.headers.get("If-None-Match") == '"one"':
                self.answer(304, ETag='"one"')
            else:
                self.answer(200, b"<!doctype html><title>Page</title>", ETag='"one"')
        elif self.path == "/busy":
            self.answer(
                *((503, b"") if ASKED["GET /busy"] == 1 else (200, b"<!doctype html>")),
                Retry_After="1",
            )
        elif self.path == "/always-busy":
            self.answer(429, Retry_After="0")
        elif self.path == "/busy-for-days":
            self.answer(503, Retry_After="900000")
        elif self.path == "/marked.css":
            self.answer(200, b"a", ETag='"a"')
        elif self.path == "/plain.css":
            self.answer(200, f"{ASKED['GET /plain.css']}".encode())
        else:
            self.answer(404)


@pytest.fixture(scope="module")
def origin() -> Iterator[str]:
    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    yield serve_in_thread(server)
    server.shutdown()


@pytest.fixture(autouse=True)
def forget() -> None:
    ASKED.clear()


def test_unmodified_page_is_told(origin: str) -> None:
    """With the ETag of before there is no body; without it the page comes, with its ETag."""

    async def ask() -> None:
        async with PageReader("markup", private_origins=[origin]) as reader:
            known = await reader.fetch(f"{origin}/page", KnownCopy('"one"', None))
            assert (known.is_unmodified, known.body) == (True, b"")
            obtained = await reader.read_address(f"{origin}/page")
            assert (obtained.etag, obtained.problem) == ('"one"', None)

    asyncio.run(ask())


def test_busy_host_is_waited_for(origin: str) -> None:
    """503 with Retry-After is asked again after that time, three times in all; who asks for days
    gets none."""

    async def ask() -> dict[str, Any]:
        async with PageReader("markup", private_origins=[origin]) as reader:
            clock = asyncio.get_running_loop().time
            begin = clock()
            answers: dict[str, Any] = {
                "busy": (await reader.read_address(f"{origin}/busy")).problem
            }
            answers["waited"] = clock() - begin
            for name in ("always-busy", "busy-for-days"):
                answers[name] = (await reader.read_address(f"{origin}/{name}")).problem
            return answers

    answers = asyncio.run(ask())
    assert answers["busy"] is None
    assert answers["waited"] >= 1
    assert ASKED["GET /always-busy"] == 3
    assert ASKED["GET /busy-for-days"] == 1
    assert {answers[name].code for name in ("always-busy", "busy-for-days")} == {"http-status"}


def test_files_are_known_by_marks_or_content(origin: str) -> None:
    """An ETag saves the content; without marks the content counts; each file is asked for once per
    sweep."""

    async def ask() -> tuple[dict[str, str], dict[str, str]]:
        async with PageReader("markup", private_origins=[origin]) as reader:
            files = tuple(f"{origin}/{name}" for name in ("marked.css", "plain.css", "missing.css"))
            one = await reader.sweep_cache("first").fingerprints.of_all(files)
            assert await reader.sweep_cache("first").fingerprints.of_all(files) == one
            return one, await reader.sweep_cache("second").fingerprints.of_all(files)

    one, other = asyncio.run(ask())
    same = {address.rpartition("/")[2]: one[address] == other[address] for address in one}
    assert same == {"marked.css": True, "plain.css": False, "missing.css": True}
    assert ASKED["HEAD /marked.css"] == 2
    assert "GET /marked.css" not in ASKED


def test_turns_at_a_host() -> None:
    """Not more at once than set, and the pause lies between two beginnings."""

    async def crowd() -> tuple[int, list[float]]:
        host, under_way, most, begins = Host(2, 0.05), 0, 0, []

        async def one() -> None:
            nonlocal under_way, most
            async with host.turn():
                begins.append(asyncio.get_running_loop().time())
                under_way += 1
                most = max(most, under_way)
                await asyncio.sleep(0.08)
                under_way -= 1

        await asyncio.gather(*(one() for _ in range(6)))
        return most, begins

    most, begins = run_timeless(crowd())
    assert most == 2
    assert begins == pytest.approx([0.0, 0.05, 0.1, 0.15, 0.2, 0.25])


def test_what_retry_after_may_say() -> None:
    """Seconds or a date; nonsense and more than two minutes are no request to wait for."""
    soon = format_datetime(datetime.now(UTC) + timedelta(seconds=30), usegmt=True)
    assert seconds_asked("7") == 7
    assert 25 <= (seconds_asked(soon) or 0) <= 31
    assert seconds_asked("Wed, 21 Oct 2015 07:28:00 GMT") == 0
    assert [seconds_asked(value) for value in ("", "soon", "100000")] == [None, None, None]


@pytest.mark.parametrize(
    ("headers", "kept"),
    [
        (
            {
                "last-modified": "Thu, 26 Nov 2026 10:00:00 GMT",
                "date": "Thu, 26 Nov 2026 10:00:05 GMT",
            },
            True,
        ),
        (
            {
                "last-modified": "Thu, 26 Nov 2026 10:00:00 GMT",
                "date": "Thu, 26 Nov 2026 10:00:00 GMT",
            },
            False,
        ),
        ({"last-modified": "Thu, 26 Nov 2026 10:00:00 GMT"}, False),
        ({"last-modified": "yesterday", "date": "Thu, 26 Nov 2026 10:00:05 GMT"}, False),
        ({}, False),
    ],
)
def test_date_that_could_miss_a_change_is_no_validator(headers: dict[str, str], kept: bool) -> None:
    """A page that was changed in the second in which it was sent may change again under the same
    date (RFC 9110, 8.8.2.2)."""
    assert strong_date(headers) == (headers["last-modified"] if kept else None)
