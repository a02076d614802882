"""Pages from sitemaps: robots.txt, index files, gzip, other hosts, and everything that can be wrong
with them."""

from __future__ import annotations

import gzip
from collections.abc import Callable, Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import pytest

from plumrake.discovery.found import NoPages
from plumrake.discovery.sitemap import pages_of_sitemap
from plumrake.net.guard import Guard
from tests.services import serve_in_thread

Files = dict[str, bytes]
HEAD = '<?xml version="1.0"?><{0} xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">{1}</{0}>'


def urls(*places: str) -> bytes:
    return HEAD.format(
        "urlset",
        "".join(
            f"<url><loc> {place} </loc><lastmod>2026-11-01</lastmod></url>" for place in places
        ),
    ).encode()


def index(*places: str) -> bytes:
    return HEAD.format(
        "sitemapindex", "".join(f"<sitemap><loc>{place}</loc></sitemap>" for place in places)
    ).encode()


@pytest.fixture
def site() -> Iterator[Callable[[Callable[[str], Files]], str]]:
    """Serve files that may name their own origin; give the origin."""
    servers: list[ThreadingHTTPServer] = []

    def serve(make: Callable[[str], Files]) -> str:
        class Handler(BaseHTTPRequestHandler):
            def log_message(self, format: str, *args: Any) -> None:
                pass

            def do_GET(self) -> None:
                body = make(f"http://127.0.0.1:{self.server.server_address[1]}").get(self.path)  # type: ignore[index]
                self.send_response(404 if body is None else 200)
                self.end_headers()
                self.wfile.write(body or b"")

        server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        servers.append(server)
        return serve_in_thread(server)

    yield serve
    for server in servers:
        server.shutdown()


async def found(origin: str) -> list[str]:
    return [page.path for page in await pages_of_sitemap(origin, Guard([origin]))]


Serve = Callable[[Callable[[str], Files]], str]


async def test_plain_sitemap(site: Serve) -> None:
    """Paths with their queries in the order of the file, each once."""
    origin = site(
        lambda me: {"/sitemap.xml": urls(f"{me}/b", f"{me}/a?x=1&amp;y=2", f"{me}/b", me)}
    )
    assert await found(origin) == ["/b", "/a?x=1&y=2", "/"]


async def test_robots_names_the_sitemap(site: Serve) -> None:
    """Where robots.txt names sitemaps, those are read and not the usual place."""
    origin = site(
        lambda me: {
            "/robots.txt": f"User-agent: *\nSitemap: {me}/pages.xml\n".encode(),
            "/pages.xml": urls(f"{me}/a"),
            "/sitemap.xml": urls(f"{me}/old"),
        }
    )
    assert await found(origin) == ["/a"]


async def test_index_and_gzip(site: Serve) -> None:
    """An index leads to further files, packed or not; one that names itself is no endless loop."""
    origin = site(
        lambda me: {
            "/sitemap.xml": index(f"{me}/one.xml", f"{me}/two.xml.gz", f"{me}/sitemap.xml"),
            "/one.xml": urls(f"{me}/a"),
            "/two.xml.gz": gzip.compress(urls(f"{me}/b")),
        }
    )
    assert await found(origin) == ["/a", "/b"]


async def test_other_hosts_are_left_out(site: Serve) -> None:
    """Only pages of this host are this site's."""
    origin = site(lambda me: {"/sitemap.xml": urls("http://elsewhere.example/x", f"{me}/a")})
    assert await found(origin) == ["/a"]


BOMB = (
    b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b '
    b'"&a;&a;&a;&a;&a;&a;&a;&a;">]><urlset><url><loc>&b;</loc></url></urlset>'
)
WRONG = [
    ({}, "answered 404"),
    ({"/sitemap.xml": b"<urlset"}, "not well-formed"),
    ({"/sitemap.xml": b"<html><body>Hello</body></html>"}, "lists no page"),
    ({"/sitemap.xml": urls("http://elsewhere.example/x")}, "lists no page"),
    ({"/sitemap.xml": BOMB}, "no sitemap"),
    ({"/sitemap.xml": b"\x1f\x8b broken"}, "no whole gzip file"),
    ({"/sitemap.xml": gzip.compress(b" " * 60_000_000)}, "unpacks to more than"),
]


@pytest.mark.parametrize(("files", "says"), WRONG)
async def test_what_is_wrong_is_said(site: Serve, files: Files, says: str) -> None:
    """One sentence: what was looked for, where, and what to do."""
    origin = site(lambda _: files)
    with pytest.raises(NoPages, match=says):
        await found(origin)


async def test_sitemap_cannot_lead_into_a_private_network(site: Serve) -> None:
    """An index that names an address inside is refused like any other."""
    inner = site(lambda me: {"/secret.xml": urls(f"{me}/secret")})
    origin = site(lambda _: {"/sitemap.xml": index(f"{inner}/secret.xml")})
    with pytest.raises(NoPages, match="private address"):
        await found(origin)
