"""What a site's addresses are: pages, addresses that lead to pages, pages that no sitemap lists."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest

from plumrake import models
from plumrake.client import PlumRake
from tests.conftest import Running
from tests.services import serve_in_thread

SITE = "moved"
LISTED = ("/", "/fees/", "/old-fees/", "/bridge", "/lost/")
MOVED = {"/old-fees/": "/fees/", "/bridge": "/bridge/"}


class Moved(BaseHTTPRequestHandler):
    """A site two of whose listed addresses lead elsewhere; one page is linked and not listed."""

    def log_message(self, *_: object) -> None:
        """Say nothing."""

    def do_GET(self) -> None:
        """Answer a sitemap, a redirect, or a page of its own."""
        home = f"http://{self.headers['Host']}"
        if self.path == "/sitemap.xml":
            listed = "".join(f"<url><loc>{home}{path}</loc></url>" for path in LISTED)
            self.answer(200, f"<urlset>{listed}</urlset>", "application/xml")
        elif self.path in MOVED:
            self.answer(301, "", Location=home + MOVED[self.path])
        elif self.path in ("/", "/fees/", "/bridge/", "/unlisted/"):
            self.answer(
                200,
                f"<!doctype html><html lang=en><title>Page {self.path}</title><main>"
                f"<h1>Page {self.path}</h1><a href=/unlisted/>One that no sitemap lists</a></main>",
            )
        else:
            self.answer(404, "There is no Room 404 here.")

    def answer(self, status: int, text: str, kind: str = "text/html", **headers: str) -> None:
        """Send a whole answer."""
        self.send_response(status)
        for name, value in {"Content-Type": kind, **headers}.items():
            self.send_header(name, value)
        self.send_header("Content-Length", str(len(text.encode())))
        self.end_headers()
        self.wfile.write(text.encode())


@pytest.fixture(scope="module")
def rake(running: Running, manager: PlumRake) -> Iterator[PlumRake]:
    """The service with a worker and the site, found as new sites are."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), Moved)
    running.start("worker")
    manager.sites.add(
        models.NewSite(
            slug=SITE,
            name="Moved",
            live_address=f"{serve_in_thread(server)}/",
            private_leave=True,
        )
    )
    yield manager
    threading.Thread(target=server.shutdown).start()


def swept(rake: PlumRake) -> models.Sweep:
    """A finished sweep of the site from markup."""
    sweep = rake.sweeps.start(SITE, lens="markup")
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return rake.sweeps.show(sweep.id)


def test_new_sites_are_found_by_sitemap_and_links(rake: PlumRake) -> None:
    """Nobody has to know that the sitemap lacks pages."""
    assert rake.sites.show(SITE).found_by == "both"


@pytest.mark.parametrize("found_by", ["both", "sitemap"])
def test_a_redirect_is_no_page(rake: PlumRake, found_by: models.FoundBy) -> None:
    """What an address leads to is read, once; nothing shares a title with itself. What is not
    there is a result."""
    site = rake.sites.show(SITE)
    rake.sites.change(SITE, models.SiteChange(found_by=found_by), site.tag)
    sweep = swept(rake)
    read = {one.path: one.status for one in rake.sweeps.readings(sweep.id)}
    pages = {"/": "read", "/fees/": "read", "/bridge/": "read", "/lost/": "unreadable"}
    assert read == (pages | {"/unlisted/": "read"} if found_by == "both" else pages)
    assert not list(rake.findings.list(SITE, sweep=sweep.id, check="page/title-shared"))
    assert (sweep.total, sweep.read + sweep.unreadable) == (len(read), len(read))
    assert sweep.unlisted == (1 if found_by == "both" else 0)
    assert sweep.redirects == (0 if found_by == "both" else 2)
