"""The address guard and the browser's proxy: nothing private is reached, by whatever way a page
tries."""

from __future__ import annotations

import asyncio
import contextlib
import ipaddress
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plumrake.lenses.reader import PageReader
from plumrake.net.guard import Guard, is_public, origin_of
from plumrake.net.problems import Unreadable
from plumrake.net.proxy import GuardProxy
from tests.services import serve_in_thread

PRIVATE = [
    "127.0.0.1",
    "127.255.0.9",
    "10.0.0.1",
    "172.16.0.1",
    "172.31.255.255",
    "192.168.1.1",
    "169.254.169.254",
    "0.0.0.0",
    "100.64.0.1",
    "224.0.0.1",
    "255.255.255.255",
    "240.0.0.1",
    "::1",
    "::",
    "fe80::1",
    "fe80::1%eth0",
    "fc00::1",
    "fec0::1",
    "ff02::1",
    "::ffff:10.0.0.1",
    "64:ff9b::7f00:1",
    "2002:7f00:1::",
    "192.0.2.1",
    "198.18.0.1",
]
PUBLIC = ["1.1.1.1", "93.184.216.34", "2606:4700::1111", "::ffff:1.1.1.1", "64:ff9b::101:101"]


@pytest.mark.parametrize(
    ("address", "public"), [*((one, False) for one in PRIVATE), *((one, True) for one in PUBLIC)]
)
def test_public_or_not(address: str, public: bool) -> None:
    """Every kind of address that is not of the public internet, also when it hides in another
    notation."""
    assert is_public(address) is public


@given(st.integers(0, 2**32 - 1))
def test_hidden_in_ipv6_changes_nothing(value: int) -> None:
    """An IPv4 address is as public as its mapped and translated forms."""
    plain = ipaddress.IPv4Address(value)
    assert is_public(str(plain)) == is_public(f"::ffff:{plain}")
    assert is_public(str(plain)) == is_public(str(ipaddress.IPv6Address((0x64FF9B << 96) | value)))


@pytest.mark.parametrize(
    ("address", "origin"),
    [
        ("http://Canal.example/x", ("canal.example", 80)),
        ("https://canal.example", ("canal.example", 443)),
        ("http://canal.example:8080/", ("canal.example", 8080)),
    ],
)
def test_origin(address: str, origin: tuple[str, int]) -> None:
    """Host in small letters, port by scheme."""
    assert origin_of(address) == origin


async def test_names_that_turn_private_are_refused() -> None:
    """A name is judged by what it resolves to; leave is for host and port together."""
    with pytest.raises(Unreadable, match="private address"):
        await Guard().resolve("localhost", 80)
    with pytest.raises(Unreadable):
        await Guard(["http://localhost:81/"]).resolve("localhost", 80)
    assert await Guard(["http://localhost:80/"]).resolve("localhost", 80) in ("127.0.0.1", "::1")


@pytest.mark.parametrize(
    "address",
    ["169.254.169.254", "169.254.1.1", "fe80::1", "::ffff:169.254.169.254", "fd00:ec2::254"],
)
async def test_nobody_gets_leave_for_link_local_addresses(address: str) -> None:
    """Clouds tell a machine its secrets there."""
    host = f"[{address}]" if ":" in address else address
    with pytest.raises(Unreadable, match="link-local"):
        await Guard([f"http://{host}/"]).resolve(host, 80)


@pytest.mark.parametrize(
    ("networks", "address", "is_reached"),
    [
        ("", "10.1.2.3", True),
        ("10.1.0.0/16", "10.1.2.3", True),
        ("10.2.0.0/16, 10.1.2.0/24", "10.1.2.3", True),
        ("10.1.0.0/16", "10.2.0.1", False),
        ("10.1.0.0/16", "127.0.0.1", False),
        ("10.1.0.0/16", "::ffff:10.1.2.3", True),
        ("10.1.0.0/16", "::ffff:10.2.0.1", False),
        ("fd12:3456::/32", "fd12:3456::1", True),
        ("fd12:3456::/32", "fd13::1", False),
        ("169.254.0.0/16", "169.254.169.254", False),
        ("10.1.0.0/16", "93.184.216.34", True),
        ("10.1.2.3/16", "10.1.2.3", False),
    ],
)
async def test_the_operators_networks_bound_every_leave(
    monkeypatch: pytest.MonkeyPatch, networks: str, address: str, is_reached: bool
) -> None:
    """A site with leave reaches private addresses in these networks alone; public ones are not
    their matter, link-local ones are not theirs to give, and a list that cannot be read gives
    none."""
    monkeypatch.setenv("PLUMRAKE_PRIVATE_NETWORKS", networks)
    host = f"[{address}]" if ":" in address else address
    guard = Guard([f"http://{host}/"])
    if is_reached:
        assert await guard.resolve(host, 80) == address
    else:
        with pytest.raises(Unreadable) as refused:
            await guard.resolve(host, 80)
        assert refused.value.code == "address-refused"


class Listener:
    """A private server that notes who came by."""

    def __init__(self) -> None:
        self.paths: list[str] = []
        seen = self.paths

        class Handler(BaseHTTPRequestHandler):
            def log_message(self, format: str, *args: Any) -> None:
                pass

            def do_GET(self) -> None:
                seen.append(self.path)
                self.send_response(200)
                self.send_header("Access-Control-Allow-Origin", "*")
                self.end_headers()
                self.wfile.write(b"inside")

            do_POST = do_GET  # noqa: N815

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.origin = serve_in_thread(self.server)


TRIES = """<!doctype html><html lang=en><title>Sly</title><h1>Sly</h1>
<img src="{0}/img"><iframe src="{0}/frame"></iframe><link rel=stylesheet href="{0}/sheet"><script src="{0}/script"></script>
<link rel=preload as=fetch href="{0}/preload"><video src="{0}/video" autoplay muted></video><object data="{0}/object"></object>
<style>body {{ background: url({0}/background) }} @font-face {{ font-family: x; src: url({0}/font) }} h1 {{ font-family: x }}</style>
<iframe src="file:///etc/passwd"></iframe>
<script>
fetch("{0}/fetch", {{mode: "no-cors"}}).catch(() => 0);
navigator.sendBeacon("{0}/beacon", "x");
new WebSocket("{0}/socket".replace("http", "ws"));
new EventSource("{0}/events");
new Image().src = "{0}/late";
open("{0}/window");
</script>"""  # noqa: E501


async def test_no_way_from_a_page_into_the_private_network() -> None:
    """Pictures, frames, styles, fonts, scripts, beacons, sockets, windows: none arrives at a server
    without leave."""
    listener = Listener()
    async with PageReader("rendered") as reader:
        obtained = await reader.read_html(
            TRIES.format(listener.origin).encode(), "http://public.invalid/"
        )
        assert obtained.problem is None
        again = await reader.read_html(
            b"<!doctype html><title>x</title><h1>x</h1>", "http://public.invalid/"
        )
        assert again.problem is None
    listener.server.shutdown()
    assert listener.paths == []


async def test_with_leave_the_same_page_gets_through() -> None:
    """The test above tests something: with leave for that origin its requests arrive."""
    listener = Listener()
    async with PageReader("rendered", private_origins=[listener.origin]) as reader:
        assert (
            await reader.read_html(TRIES.format(listener.origin).encode(), "http://public.invalid/")
        ).problem is None
    listener.server.shutdown()
    assert {"/img", "/frame", "/sheet", "/script", "/background"} <= set(listener.paths)


async def test_pages_leave_nothing_for_the_next() -> None:
    """Cookies and storage of one reading are gone in the next."""
    write = (
        b"<!doctype html><title>x</title><h1>x</h1><script>localStorage.a = 1; document.cookie = "
        b"'a=1'</script>"
    )
    read = (
        b"<!doctype html><title>x</title><script>document.write('<h1>' + (localStorage.a || "
        b"document.cookie || 'clean') + '</h1>')</script>"
    )
    async with PageReader("rendered", tabs=1) as reader:
        await reader.read_html(write, "http://same.invalid/")
        obtained = await reader.read_html(read, "http://same.invalid/")
    assert obtained.document is not None
    assert [element.text() for element in obtained.document.elements if element.tag == "h1"] == [
        "clean"
    ]


async def test_a_connection_of_the_proxy_ends_with_its_answer() -> None:
    """The browser is told so, whatever the host says; and if it sends another request all the same,
    the connection still ends."""
    body = b"x" * 30_000

    async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        await reader.readuntil(b"\r\n\r\n")
        writer.write(
            (
                b"HTTP/1.1 103 Early Hints\r\nLink: </a>\r\n\r\nHTTP/1.1 200 OK\r\nConnection: "
                b"keep-alive\r\nContent-Length: 30000\r\n\r\n"
            )
            + body
        )
        await writer.drain()
        writer.close()

    host = await asyncio.start_server(answer, "127.0.0.1", 0)
    origin = f"http://127.0.0.1:{host.sockets[0].getsockname()[1]}"
    asking = f"GET {origin}/ HTTP/1.1\r\nHost: canal\r\n\r\n".encode()

    async def ask(port: int) -> bytes:
        reader, writer = await asyncio.open_connection("127.0.0.1", port)
        writer.write(asking)
        first = await reader.readuntil(b"\r\n\r\n") + await reader.readuntil(b"\r\n\r\n")
        await reader.readexactly(len(body))
        writer.write(asking)
        with contextlib.suppress(ConnectionError):
            await reader.read()
        writer.close()
        return first

    async with GuardProxy(Guard([origin]), most_bytes=10**6) as proxy, asyncio.timeout(20):
        port = await proxy.listen()
        heads = await asyncio.gather(*(ask(port) for _ in range(100)))
    host.close()
    assert set(heads) == {
        (
            b"HTTP/1.1 103 Early Hints\r\nLink: </a>\r\n\r\nHTTP/1.1 200 OK\r\nContent-Length: "
            b"30000\r\nConnection: close\r\n\r\n"
        )
    }
