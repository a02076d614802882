"""One exchange with a stranger stays inside its deadline and its bytes, wherever the bomb lies."""

from __future__ import annotations

import asyncio
import contextlib
import gzip
import threading
from collections.abc import AsyncIterator, Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import httpx
import pytest

from plumrake.discovery.found import NoPages
from plumrake.discovery.sitemap import pages_of_sitemap, robots_of
from plumrake.net.client import guarded_client
from plumrake.net.exchange import Answer, ExchangeBounds, exchange
from plumrake.net.fetch import KnownCopy, Limits, fetch_page
from plumrake.net.fingerprints import Fingerprints
from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable
from tests.services import serve_in_thread

BOMB = gzip.compress(gzip.compress(bytes(3 * 10**8)))
"""Half a megabyte that becomes 300 MB in the second coding."""
SMALL = ExchangeBounds(10, 1_000_000)


class Stranger(BaseHTTPRequestHandler):
    """Bombs at ``/twice`` and ``/once``, drips at ``/drip`` until the tests are over."""

    protocol_version = "HTTP/1.1"
    is_over = threading.Event()

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def do_GET(self) -> None:
        if self.path == "/drip":
            self.send_response(200)
            self.send_header("Content-Type", "text/html")
            self.send_header("Content-Length", "100000")
            self.end_headers()
            while not self.is_over.wait(0.05):
                try:
                    self.wfile.write(b"x")
                except OSError:
                    return
            return
        coding, body = {
            "/twice": ("gzip, gzip", BOMB),
            "/once": ("gzip", gzip.compress(bytes(3 * 10**7))),
            "/robots.txt": ("gzip, gzip", BOMB),
            "/sitemap.xml": ("", BOMB),
        }.get(self.path, ("", b"<title>Fine</title>"))
        if self.path == "/moved":
            self.send_response(302)
            self.send_header("Location", "/fine")
        else:
            self.send_response(200)
        if coding:
            self.send_header("Content-Encoding", coding)
        self.send_header("Content-Type", "text/html")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        if self.command != "HEAD":
            self.wfile.write(body)

    do_HEAD = do_GET  # noqa: N815


@pytest.fixture(scope="module")
def origin() -> Iterator[str]:
    server = ThreadingHTTPServer(("127.0.0.1", 0), Stranger)
    yield serve_in_thread(server)
    Stranger.is_over.set()
    server.shutdown()


@pytest.fixture
async def client(origin: str) -> AsyncIterator[httpx.AsyncClient]:
    async with guarded_client(Guard([origin])) as client:
        yield client


async def problem_of(
    client: httpx.AsyncClient, address: str, bounds: ExchangeBounds = SMALL
) -> str:
    """Return the code of the problem that an exchange ends with."""
    with pytest.raises(Unreadable) as raised:
        await exchange(client, "GET", address, bounds)
    return raised.value.code


@pytest.mark.parametrize(
    ("method", "closes", "asked", "is_answered"),
    [
        ("GET", 1, 3, True),  # the kept connection was closed meanwhile
        ("HEAD", 1, 3, True),
        ("GET", 9, 3, False),  # whatever is asked
        ("POST", 1, 2, False),  # it might have been done
    ],
)
async def test_a_kept_connection_may_be_closed(
    method: str, closes: int, asked: int, is_answered: bool
) -> None:
    """What changes nothing is asked once more, and no more often."""
    heard = 0

    async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        nonlocal heard
        while await reader.readuntil(b"\r\n\r\n"):
            heard += 1
            if 1 < heard <= 1 + closes:
                break
            writer.write(b"HTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n")
            await writer.drain()
        writer.close()

    server = await asyncio.start_server(answer, "127.0.0.1", 0)
    address = f"http://127.0.0.1:{server.sockets[0].getsockname()[1]}"
    async with guarded_client(Guard([address])) as client:
        assert (await exchange(client, "GET", address, SMALL)).status == 200
        if is_answered:
            assert (await exchange(client, method, address, SMALL)).status == 200
        else:
            with pytest.raises(Unreadable) as refused:
                await exchange(client, method, address, SMALL)
            assert refused.value.code == "connection-failed"
    server.close()
    assert heard == asked


async def test_an_answer_without_content_keeps_its_connection() -> None:
    """An unchanged page, a webhook that was heard: the next request needs no new connection."""
    connections = 0

    async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        nonlocal connections
        connections += 1
        with contextlib.suppress(asyncio.IncompleteReadError):
            for status in ("304 Not Modified", "204 No Content"):
                await reader.readuntil(b"\r\n\r\n")
                writer.write(f"HTTP/1.1 {status}\r\n\r\n".encode())
                await writer.drain()
        writer.close()

    server = await asyncio.start_server(answer, "127.0.0.1", 0)
    address = f"http://127.0.0.1:{server.sockets[0].getsockname()[1]}"
    async with guarded_client(Guard([address])) as client:
        page = await fetch_page(client, address, Limits(), KnownCopy('"a"'))
        heard = await exchange(client, "POST", address, SMALL, wants=lambda _: False)
    server.close()
    assert (page.is_unmodified, heard.status, connections) == (True, 204, 1)


async def test_codings_in_one_another_are_not_read(client: httpx.AsyncClient, origin: str) -> None:
    """The second would be unpacked whole before anything is measured."""
    assert await problem_of(client, f"{origin}/twice") == "bad-coding"


async def test_a_body_ends_at_the_limit(client: httpx.AsyncClient, origin: str) -> None:
    """Unpacked; and it is said that it is not whole."""
    answer = await exchange(client, "GET", f"{origin}/once", SMALL)
    assert not answer.is_whole
    assert len(answer.body) <= SMALL.bytes


async def test_the_deadline_is_for_the_whole(client: httpx.AsyncClient, origin: str) -> None:
    """A byte now and then does not put it off."""
    assert await problem_of(client, f"{origin}/drip", ExchangeBounds(0.5, 10**6)) == "timed-out"


async def test_redirects(client: httpx.AsyncClient, origin: str) -> None:
    """They are followed up to so many; none at all where that is asked, and then it says where."""
    assert (await exchange(client, "GET", f"{origin}/moved", SMALL)).address == f"{origin}/fine"
    still = await exchange(client, "GET", f"{origin}/moved", ExchangeBounds(10, 10**6, redirects=0))
    assert (still.status, still.leads_to) == (302, f"{origin}/fine")


async def test_a_body_that_is_not_wanted_is_not_fetched(
    client: httpx.AsyncClient, origin: str
) -> None:
    """Whoever looks at the head first may leave it at that."""

    def never(_: Answer) -> bool:
        return False

    answer = await exchange(client, "GET", f"{origin}/twice", SMALL, wants=never)
    assert (answer.status, answer.body, answer.is_whole) == (200, b"", False)


@pytest.mark.parametrize(
    ("path", "code"), [("/twice", "bad-coding"), ("/once", "too-large"), ("/drip", "timed-out")]
)
async def test_pages(client: httpx.AsyncClient, origin: str, path: str, code: str) -> None:
    """A page that is a bomb, or never ends, is a problem of its own."""
    seconds = 2 if code == "timed-out" else 30  # a busy machine takes a while for a bomb
    limits = Limits(seconds=seconds, bytes=1_000_000)
    with pytest.raises(Unreadable) as raised:
        await fetch_page(client, origin + path, limits)
    assert raised.value.code == code


async def test_sitemaps_and_robots(origin: str) -> None:
    """A robots.txt that is a bomb forbids nothing; a sitemap that is one is no sitemap."""
    assert (await robots_of(origin, Guard([origin]))).allows("/anything")
    with pytest.raises(NoPages, match=r"unpacks to more|no sitemap"):
        await pages_of_sitemap(origin, Guard([origin]))


async def test_files_of_a_page(client: httpx.AsyncClient, origin: str) -> None:
    """A file that cannot be unpacked has a fingerprint of its own, the same each time."""
    one, other = [await Fingerprints(client).of(f"{origin}/twice") for _ in range(2)]
    assert one == other
    assert one != await Fingerprints(client).of(f"{origin}/fine")
