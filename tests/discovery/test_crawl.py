"""Crawling: every linked page once, canonical and doubled addresses folded, traps bounded,
robots.txt obeyed, dead pages told."""

import asyncio

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plumrake.discovery.addresses import Traps, page_path
from plumrake.discovery.crawl import Bounds, crawl
from plumrake.discovery.found import Found, NoPages
from plumrake.discovery.robots import Robots
from plumrake.net.fetch import Fetched
from plumrake.net.problems import Unreadable

ORIGIN = "https://harrowmere.example"


def crawled(
    pages: dict[str, str],
    bounds: Bounds | None = None,
    starts: list[Found] | None = None,
    robots: str = "",
) -> list[Found]:
    """Crawl a site in hand: path to HTML; ``-> /x`` redirects, ``!code`` cannot be read."""
    asked: list[str] = []

    async def fetch(address: str) -> Fetched:
        path = address.removeprefix(ORIGIN)
        asked.append(path)
        html = pages.get(path, "!http-status")
        if html.startswith("!"):
            raise Unreadable(html[1:])
        if html.startswith("-> "):
            address, html = ORIGIN + html[3:], pages[html[3:]]
        return Fetched(
            address,
            200,
            {"content-type": "text/html"},
            f"<!doctype html><title>{path}</title>{html}".encode(),
        )

    found = asyncio.run(crawl(ORIGIN, fetch, bounds or Bounds(), starts or (), Robots(robots)))
    assert len(asked) == len(set(asked)), "no address is asked twice"
    return found


def test_pages_are_found_level_by_level() -> None:
    """Each page once, in the order met, with the page that links to it; other hosts, files and
    fragments are no pages of the site."""
    pages = {
        "/": (
            '<a href="/a/">a</a> <a href="b/#x">b</a> <a href="//elsewhere.example/">e</a> <a '
            'href="/plan.pdf">p</a> <a href="mailto:x@y">m</a>'
        ),
        "/a/": (
            '<a href="../b/">b</a> <a href="/c/?utm_source=mail&page=2">c</a> <map><area '
            'href="/d/"></map>'
        ),
        "/b/": '<base href="/deep/"><a href="e/">e</a>',
        "/c/?page=2": "",
        "/d/": "",
        "/deep/e/": "",
    }
    found = crawled(pages)
    assert [one.path for one in found] == ["/", "/a/", "/b/", "/c/?page=2", "/d/", "/deep/e/"]
    assert [one.linked_from for one in found] == [None, "/", "/", "/a/", "/a/", "/b/"]


def test_doubled_addresses_are_one_page() -> None:
    """A canonical address, a redirect and the same content under another address do not make
    further pages."""
    canonical = '<link rel="canonical" href="/a/">same'
    pages = {
        "/": (
            '<a href="/a/?print=1">1</a><a href="/a/">2</a><a href="/old/">3</a><a '
            'href="/moved-out/">4</a>'
        ),
        "/a/?print=1": canonical,
        "/a/": canonical,
        "/old/": "-> /new/",
        "/new/": "new",
        "/moved-out/": "!leads-elsewhere",
    }
    assert [one.path for one in crawled(pages)] == ["/", "/a/", "/new/", "/moved-out/"]


def test_dead_and_odd_pages() -> None:
    """A page that cannot be read is told; what turns out to be no HTML is no page."""
    pages = {
        "/": '<a href="/dead/">d</a><a href="/report">r</a>',
        "/dead/": "!http-status",
        "/report": "!not-html",
    }
    assert {one.path for one in crawled(pages)} >= {"/", "/dead/"}


def test_bounds_and_robots() -> None:
    """Depth and number are bounds; robots.txt is obeyed; a site that forbids all is a clear
    problem."""
    pages = {f"/{n}/": f'<a href="/{n + 1}/">next</a>' for n in range(50)} | {
        "/": '<a href="/0/">0</a><a href="/private/x/">p</a>'
    }
    assert len(crawled(pages, Bounds(depth=5))) == 7
    assert len(crawled(pages, Bounds(pages=3))) == 3
    assert "/private/x/" not in {
        one.path
        for one in crawled(pages, Bounds(depth=2), robots="User-agent: *\nDisallow: /private/\n")
    }
    with pytest.raises(NoPages) as raised:
        crawled(pages, robots="User-agent: *\nDisallow: /\n")
    assert "robots.txt" in str(raised.value)


def test_pages_of_the_sitemap_keep_how_they_were_found() -> None:
    """A crawl from the sitemap's pages on adds what they link to."""
    pages = {"/a/": '<a href="/b/">b</a>', "/b/": ""}
    found = crawled(pages, starts=[Found("/a/", "sitemap")])
    assert [(one.path, one.found_by) for one in found] == [("/a/", "sitemap"), ("/b/", "crawl")]


def test_endless_calendar_is_bounded() -> None:
    """A page that links to itself with ever new queries, and one whose steps repeat, end the crawl
    by themselves."""

    class Endless(dict[str, str]):
        def get(self, path: str, default: str | None = None) -> str:  # type: ignore[override]
            number = int(path.rpartition("=")[2] or 0) if "=" in path else 0
            return (
                f'<a href="/calendar?month={number + 1}">next</a><a '
                f'href="{path.partition("?")[0].rstrip("/")}/again/">again</a>{path}'
            )

    found = crawled(Endless(), Bounds(depth=100))
    assert len(found) < 400


def test_a_hundred_thousand_links_on_one_page() -> None:
    """Of one page's links the first five thousand are followed."""
    links = "".join(f'<a href="/{number}/">x</a>' for number in range(100_000))
    assert len(crawled({"/": links}, Bounds(depth=1))) == 5_001


@pytest.mark.parametrize(
    ("href", "path"),
    [
        ("/a b/ü", "/a%20b/%C3%BC"),
        ("?page=2", "/here/?page=2"),
        ("", "/here/"),
        ("x.html#part", "/here/x.html"),
        ("HTTPS://HARROWMERE.EXAMPLE:443/x", "/x"),
        ("/x;jsessionid=12AB?sid=3&a=1", "/x?a=1"),
        ("http://harrowmere.example/x", None),
        ("/photo.jpg", None),
        ("/site.tar.gz", None),
        ("https://[broken/", None),
        ("javascript:void(0)", None),
        ("/" + "x" * 3000, None),
    ],
)
def test_addresses(href: str, path: str | None) -> None:
    """Addresses are brought into one form; what is no page of the site is none."""
    assert page_path(f"{ORIGIN}/here/", href, ORIGIN) == path


@given(st.text(max_size=60))
def test_one_form_is_stable(href: str) -> None:
    """Bringing a path into its form again changes nothing, whatever was written."""
    path = page_path(f"{ORIGIN}/here/", href, ORIGIN)
    if path is not None:
        assert page_path(f"{ORIGIN}/", path, ORIGIN) == path


def test_traps() -> None:
    """Repeated steps and the fifty-first variant of a query are traps; ordinary addresses are
    none."""
    traps = Traps()
    assert traps.is_one("/a/b/a/b/a/b/a/b/")
    assert not traps.is_one("/news/2026/11/23/")
    assert [traps.is_one(f"/list?page={number}") for number in range(60)].count(True) == 10


def test_a_site_that_falls_silent_is_not_followed_for_ever() -> None:
    """After two dozen pages in a row without an answer the rest is not asked; what was found by
    then is kept."""
    pages = {"/": "".join(f'<a href="/{n}/">{n}</a>' for n in range(400))}
    asked: list[str] = []

    async def fetch(address: str) -> Fetched:
        path = address.removeprefix(ORIGIN)
        asked.append(path)
        if path not in pages:
            raise Unreadable("timed-out", "no whole answer within 30 s")
        return Fetched(address, 200, {}, pages[path].encode())

    found = asyncio.run(crawl(ORIGIN, fetch, Bounds()))
    assert len(found) == 401
    assert len(asked) < 40


def test_a_crawl_ends_with_its_time() -> None:
    """What was not visited by then is given as it was found."""
    pages = {"/": '<a href="/a/">a</a>', "/a/": '<a href="/b/">b</a>'}
    assert [one.path for one in crawled(pages, Bounds(seconds=0))] == ["/"]
