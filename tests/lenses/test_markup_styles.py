"""The markup lens with the style sheets that a page draws in."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

import pytest

from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.lenses.reader import PageReader
from plumrake.net.fetch import Limits

TEXT = "<main><p>Some words of a page</p></main>"


@dataclass
class Server:
    """Files by path (kind, body), and what was asked for."""

    address: str = ""
    files: dict[str, tuple[int, str, bytes]] = field(default_factory=dict)
    asked: list[str] = field(default_factory=list)

    def put(self, path: str, text: str, kind: str = "text/css", status: int = 200) -> None:
        self.files[path] = status, kind, text.encode()


@pytest.fixture
def server() -> Iterator[Server]:
    own = Server()

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            own.asked.append(self.path)
            status, kind, body = own.files.get(self.path, (404, "text/html", b"not here"))
            self.send_response(status)
            if status == 302:
                self.send_header("Location", kind)
                kind = "text/html"
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, *_: object) -> None:
            pass

    http = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=http.serve_forever, daemon=True).start()
    own.address = f"http://127.0.0.1:{http.server_address[1]}"
    yield own
    http.shutdown()


async def read(server: Server, path: str = "/", limits: Limits | None = None) -> Page:
    async with PageReader("markup", limits, private_origins=[server.address]) as reader:
        obtained = await reader.read_address(server.address + path)
    assert obtained.page is not None, obtained.problem
    return obtained.page


def colour(page: Page) -> str:
    element = page.document.first("p")
    assert element is not None
    return element.style.color if element.style is not None else ""


def page(head: str) -> str:
    return f"<!doctype html><html lang=en><title>t</title>{head}{TEXT}"


async def test_sheets_and_what_they_import_are_fetched(server: Server) -> None:
    server.put("/", page("<link rel=stylesheet href=css/a.css>"), "text/html")
    server.put("/css/a.css", "@import 'b.css' layer(x); p { color: #010101 }")
    server.put("/css/b.css", "@import url('../c.css') screen; p { color: red !important }")
    server.put("/c.css", "p { background: #020202 }")
    found = await read(server)
    assert colour(found) == "rgb(255, 0, 0)"
    assert server.asked == ["/", "/css/a.css", "/css/b.css", "/c.css"]
    assert found.document.resources == tuple(
        f"{server.address}/{one}" for one in ("c.css", "css/a.css", "css/b.css")
    )


async def test_a_missing_sheet_and_one_of_another_kind_count_for_nothing(server: Server) -> None:
    head = "<link rel=stylesheet href=/none.css><link rel=stylesheet href=/page.css>"
    server.put("/", page(f"{head}<style>p {{ color: #010101 }}</style>"), "text/html")
    server.put("/page.css", "p { color: red !important }", "text/html")
    assert colour(await read(server)) == "rgb(1, 1, 1)"


async def test_a_sheet_that_cannot_be_had_leaves_styles_unknown(server: Server) -> None:
    away = "http://127.0.0.1:9/away.css"
    server.put("/", page(f"<link rel=stylesheet href={away}>"), "text/html")
    async with PageReader(
        "markup", private_origins=[server.address, "http://127.0.0.1:9"]
    ) as reader:
        obtained = await reader.read_address(f"{server.address}/")
    assert obtained.page is not None
    assert "style" not in obtained.page.document.gives
    assert {one.check for one in assess(obtained.page, Policy()).untested} >= {"contrast/text"}


async def test_a_private_address_is_not_asked(server: Server) -> None:
    """The browser does not get it either: the page counts as it is without."""
    server.put("/", page("<link rel=stylesheet href=http://127.0.0.1:9/x.css>"), "text/html")
    assert "style" in (await read(server)).document.gives


async def test_addresses_are_those_of_the_page_that_came(server: Server) -> None:
    server.put("/old", "", "/new/", 302)
    server.put("/new/", page("<link rel=stylesheet href=a.css>"), "text/html")
    server.put("/new/a.css", "p { color: #030303 }")
    assert colour(await read(server, "/old")) == "rgb(3, 3, 3)"


async def test_a_sheet_is_fetched_once_for_several_pages(server: Server) -> None:
    for path in ("/", "/2"):
        server.put(path, page("<link rel=stylesheet href=/a.css>"), "text/html")
    server.put("/a.css", "p { color: #040404 }")
    async with PageReader("markup", private_origins=[server.address]) as reader:
        for path in ("/", "/2"):
            await reader.read_address(server.address + path)
    assert server.asked.count("/a.css") == 1


async def test_files_beside_a_page_are_read(tmp_path: Path) -> None:
    (tmp_path / "css").mkdir()
    (tmp_path / "css" / "a.css").write_text("p { color: #999 }")
    file = tmp_path / "news" / "index.html"
    file.parent.mkdir()
    file.write_text(page("<link rel=stylesheet href=/css/a.css>"))
    async with PageReader("markup") as reader:
        obtained = await reader.read_file(file, tmp_path, str(file))
    assert obtained.page is not None
    assert colour(obtained.page) == "rgb(153, 153, 153)"
    found = assess(obtained.page, Policy()).findings
    assert [one.check for one in found if one.check.startswith("contrast/")] == ["contrast/text"]


async def test_an_encoding_is_minded(server: Server) -> None:
    server.put("/", page("<link rel=stylesheet href=/a.css>"), "text/html")
    text = "@charset \"iso-8859-1\"; p::before { content: 'é' }"
    server.files["/a.css"] = 200, "text/css", text.encode("latin-1")
    element = (await read(server)).document.first("p")
    assert element is not None
    assert element.before == "é"
