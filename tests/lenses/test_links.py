"""What links lead to, against a made server with every behaviour: redirects, HEAD refused, slow,
soft 404, sign-in walls, limits, broken TLS …"""

from __future__ import annotations

import asyncio
import contextlib
import threading
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import pytest

from plumrake.core.evidence import LinkState
from plumrake.core.page import Page
from plumrake.core.probes import links_of
from plumrake.lenses.markup import parse_document
from plumrake.lenses.reader import PageReader
from plumrake.net import links
from plumrake.net.links import Environments, LinkProber
from tests.services import nobodys_certificate, serve_in_thread

PLAIN = "<!doctype html><title>Fees</title><h1 id=by-day>By day</h1><a name=old>Old</a>"
BY_SCRIPT = "<!doctype html><title>Made</title><div id=app></div><script>app.id = 'made'</script>"
SIGN_IN = (
    "<!doctype html><title>Sign in</title><form><input name=user><input type=PASSWORD "
    "name=word></form>"
)


@dataclass
class Asked:
    """What a server was asked: method and path, in order."""

    lines: list[tuple[str, str]] = field(default_factory=list)
    is_awake: threading.Event = field(default_factory=threading.Event)
    """Set when something was asked that is answered from then on."""
    is_over: threading.Event = field(default_factory=threading.Event)
    """Set when the tests end: not before that is the slow page answered."""


def _server(asked: Asked, *, soft: bool = False, staging: bool = False) -> ThreadingHTTPServer:
    class Handler(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"

        def answer(self, status: int, body: str = "", **headers: str) -> None:
            content = b"" if self.command == "HEAD" else body.encode()
            self.send_response(status)
            for name, value in {"Content-Type": "text/html", **headers}.items():
                self.send_header(name.replace("_", "-"), value)
            self.send_header("Content-Length", str(len(body.encode())))
            self.end_headers()
            self.wfile.write(content)

        def do_GET(self) -> None:
            asked.lines.append((self.command, self.path))
            path = self.path.partition("?")[0]
            steps = {
                "/chain/": "/chain/two/",
                "/chain/two/": "/fees/",
                "/round/": "/round/two/",
                "/round/two/": "/round/",
                "/members/": "/sign-in/",
            }
            if soft and path != "/":
                self.answer(200, "<!doctype html><title>Sorry</title><p>We looked everywhere.</p>")
            elif path in steps:
                self.answer(302, Location=steps[path])
            elif path.startswith("/endless/"):
                self.answer(302, Location=f"/endless/{len(path)}{path[9:]}/")
            elif path == "/no-head/" and self.command == "HEAD":
                self.answer(405)
            elif path == "/wrong-head/" and self.command == "HEAD":
                self.answer(404)
            elif path == "/late-once/" and not asked.is_awake.is_set():
                asked.is_awake.set()
                asked.is_over.wait(300)
            elif path == "/slow/":
                asked.is_over.wait(300)
                with contextlib.suppress(OSError):  # nobody waits any more
                    self.answer(200)
            elif path == "/packed/":
                packed = {"Content_Encoding": "gzip, gzip"} if self.command == "GET" else {}
                self.answer(200 if packed else 405, PLAIN, **packed)
            elif path == "/busy/":
                self.answer(429, Retry_After="3600")
            elif path == "/busy-once/" and asked.lines.count((self.command, path)) == 1:
                self.answer(503, Retry_After="1")
            elif path in ("/closed/", "/forbidden/", "/broken/", "/away/"):
                self.answer(
                    {"/closed/": 401, "/forbidden/": 403, "/broken/": 500, "/away/": 410}[path]
                )
            elif path == "/sign-in/":
                self.answer(200, SIGN_IN)
            elif path == "/made/":
                self.answer(200, BY_SCRIPT)
            elif path in (
                "/",
                "/fees/",
                "/no-head/",
                "/wrong-head/",
                "/busy-once/",
                "/late-once/",
            ) or (staging and path == "/new/"):
                self.answer(200, PLAIN)
            else:
                self.answer(404, "<title>Not here</title>")

        do_HEAD = do_GET  # noqa: N815

        def log_message(self, *args: Any) -> None:
            pass

    return ThreadingHTTPServer(("127.0.0.1", 0), Handler)


@dataclass
class World:
    """Origins of the made servers, and what the live one was asked."""

    live: str
    staging: str
    soft: str
    broken_tls: str
    asked: Asked


@pytest.fixture(scope="module")
def world(tmp_path_factory: pytest.TempPathFactory) -> Iterator[World]:
    asked = Asked()
    servers = [
        _server(asked),
        _server(Asked(), staging=True),
        _server(Asked(), soft=True),
        _server(Asked()),
    ]
    context = nobodys_certificate(tmp_path_factory.mktemp("tls"))
    servers[3].socket = context.wrap_socket(servers[3].socket, server_side=True)
    live, staging, soft, broken = map(serve_in_thread, servers)
    yield World(live, staging, soft, broken.replace("http:", "https:"), asked)
    asked.is_over.set()
    for server in servers:
        server.shutdown()


def look(
    world: World, *targets: str, seconds: float = 20.0, page: str = "/", html: str = ""
) -> list[LinkState | None]:
    """Return what links to the targets lead to, from a page of the live site."""
    links = "".join(
        f'<a href="{target}">Link {number}</a>' for number, target in enumerate(targets)
    )
    document = parse_document(
        f"<!doctype html><html lang=en><body>{html}{links}", f"{world.live}{page}"
    )
    shown = Page(document)

    async def run() -> list[LinkState | None]:
        leave = [world.live, world.staging, world.soft, world.broken_tls]
        async with PageReader("markup", private_origins=leave) as reader:
            network = await reader.links.look(
                links_of(shown), Environments(world.live, world.staging), seconds
            )
            return [network.links.get(link.index) for link in shown.exposed(role="link")]

    return asyncio.run(run())


@pytest.mark.parametrize(
    ("target", "state", "says"),
    [
        ("/fees/", "works", ""),
        ("/nowhere/", "dead", "no such page (404"),
        ("/away/", "dead", "no such page (410"),
        ("/new/", "only-in-staging", "no such page (404"),
        ("/chain/", "works", ""),
        ("/round/", "dead", "round in a circle"),
        ("/endless/", "dead", "more than 10 times"),
        ("/no-head/", "works", ""),
        ("/wrong-head/", "works", ""),
        ("/slow/", "unknown", "no answer came within"),
        ("/packed/", "unknown", "coded as 'gzip, gzip'"),
        ("/busy/", "unknown", "429"),
        ("/busy-once/", "works", ""),
        ("/closed/", "unknown", "closed to strangers (401"),
        ("/forbidden/", "unknown", "closed to strangers (403"),
        ("/broken/", "unknown", "500"),
        ("/members/", "unknown", "it leads to a sign-in"),
        ("http://no-such-host.invalid/", "dead", "no host is called"),
        ("http://10.0.0.1/", "unknown", "private address"),
        ("http://127.0.0.1:9/", "unknown", "private address"),
        ("mailto:boats@harrowmere.example", "works", ""),
        ("mailto:boats@harrowmere.example?subject=A%20boat", "works", ""),
        ("mailto:boats at harrowmere", "dead", "no e-mail address"),
        ("mailto:?subject=Look%20at%20this", "works", ""),
        ("mailto:", "dead", "no e-mail address"),
        ("tel:+44 (0)1632 960 001", "works", ""),
        ("tel:ring us", "dead", "no phone number"),
        ("http://[broken/", "dead", "no address"),
    ],
)
def test_state_of_a_link(world: World, target: str, state: str, says: str) -> None:
    """Each behaviour has its state and says why; what may be the other side's mood is never called
    dead."""
    (found,) = look(world, target)
    assert found is not None
    assert (found.state, says in found.says) == (state, True), found


def test_sign_in_wall_is_told_with_the_way_to_it(world: World) -> None:
    """A page that leads strangers to a form with a password cannot be told."""
    (found,) = look(world, "/members/#list")
    assert found is not None
    assert (found.state, found.says, found.chain) == (
        "unknown",
        "it leads to a sign-in",
        (f"{world.live}/sign-in/",),
    )


def test_server_that_answers_everything(world: World) -> None:
    """A page that looks like the excuse for one that is not there is no proof of anything; the same
    server's home is."""
    excuse, home = look(world, f"{world.soft}/members/", f"{world.soft}/")
    assert excuse is not None
    assert home is not None
    assert (excuse.state, "looks like its excuse" in excuse.says, home.state) == (
        "unknown",
        True,
        "works",
    )


def test_broken_encryption_cannot_be_told(world: World) -> None:
    """A certificate that nobody signed says nothing about the page."""
    (found,) = look(world, f"{world.broken_tls}/fees/")
    assert found is not None
    assert (found.state, "cannot be trusted" in found.says) == ("unknown", True)


@pytest.mark.parametrize(
    ("target", "there"),
    [
        ("/fees/#by-day", True),
        ("/fees/#old", True),
        ("/fees/#by-week", False),
        ("/made/#made", None),
        ("/fees/#top", None),
        ("/fees/", None),
        ("#here", True),
        ("#nowhere", False),
        ("#top", True),
        ("/chain/#by-day", True),
    ],
)
def test_fragments(world: World, target: str, there: bool | None) -> None:
    """Present, absent, or perhaps made by a script; names of old anchors count, and so does the end
    of a redirect."""
    (found, *_) = look(world, target, html='<p id="here">Here</p>')
    assert found is not None
    assert (found.state, found.fragment) == ("works", there)


def test_a_host_without_a_slash_is_asked_like_its_home(world: World) -> None:
    """An address that ends with the host does not wait for what is asked about the host itself."""
    bare, home, loud = look(world, world.live, f"{world.live}/", world.live.upper())
    assert [one and one.state for one in (bare, home, loud)] == ["works"] * 3
    assert world.asked.lines.count(("HEAD", "/")) <= 2


def test_what_is_no_address_is_not_asked(world: World) -> None:
    """Scripts, data and empty links have no state."""
    assert look(world, "javascript:void(0)", "data:text/plain,x", "", "#") == [None] * 4


def test_each_address_is_asked_once_and_by_head(world: World) -> None:
    """Many links to one page are one question, asked without fetching the page."""
    world.asked.lines.clear()
    look(world, *["/fees/"] * 30)
    assert Counter(world.asked.lines)["HEAD", "/fees/"] == 1
    assert ("GET", "/fees/") not in world.asked.lines


def test_answers_are_remembered_for_a_while(world: World) -> None:
    """A second page that asks soon is answered from memory; when the answer is old it is asked
    again."""

    async def run(age: float) -> int:
        world.asked.lines.clear()
        page = Page(parse_document('<a href="/fees/">Fees</a>', f"{world.live}/"))
        async with PageReader("markup", private_origins=[world.live]) as reader:
            prober = LinkProber(reader.client, reader.rate_limits, age)
            for _ in range(2):
                await prober.look(links_of(page), Environments(world.live), 10)
        return world.asked.lines.count(("HEAD", "/fees/"))

    assert asyncio.run(run(600)) == 1
    assert asyncio.run(run(0)) == 2


def test_what_takes_too_long_does_not_keep_the_page(world: World) -> None:
    """The look ends in time; what was not answered cannot be told, the rest is."""
    slow, fast = look(world, "/slow/", "/fees/", seconds=5)
    assert slow is not None
    assert fast is not None
    assert (slow.state, fast.state) == ("unknown", "works")


def test_what_was_not_answered_is_asked_again(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A host that did not answer in time is not remembered for it, and neither is the excuse that
    it makes for addresses that cannot exist."""
    monkeypatch.setattr(links, "_SECONDS_EACH", 1.0)

    async def run() -> list[str | None]:
        async with PageReader("markup", private_origins=[world.live]) as reader:
            prober = LinkProber(reader.client, reader.rate_limits, 600)
            address, home = f"{world.live}/late-once/", Environments(world.live)
            found = [await prober.state_of(address, home) for _ in range(2)]
        return [one.state if one is not None else None for one in found]

    assert asyncio.run(run()) == ["unknown", "works"]


def test_case_of_paths(world: World, tmp_path: Path) -> None:
    """A link without a slash, one with a query and one with a base lead where the browser would
    go."""
    states = look(world, "fees/", "?page=2", page="/", html='<base href="/">')
    assert [state.state if state else None for state in states] == ["works", "works"]
