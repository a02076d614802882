"""Reading one page through either lens: an address, a local file, or HTML in hand. A problem is part of the answer."""

from __future__ import annotations

import asyncio
import contextlib
import hashlib
import mimetypes
import time
from collections import Counter
from collections.abc import Awaitable, Iterable, Mapping
from dataclasses import dataclass, field
from email.utils import parsedate_to_datetime
from pathlib import Path
from types import TracebackType
from urllib.parse import quote, unquote, urlsplit

from plumrake.core.dom import Document
from plumrake.core.page import Page
from plumrake.lenses.archives import Archive
from plumrake.lenses.fetch import Busy, Fetched, Known, Limits, fetch_page, guarded_client
from plumrake.lenses.fingerprints import Fingerprints
from plumrake.lenses.guard import Guard
from plumrake.lenses.links import LinkProber
from plumrake.lenses.manners import Manners
from plumrake.lenses.markup import TooManyElements, decode, parse_document
from plumrake.lenses.problems import Problem, Unreadable
from plumrake.lenses.rendered.browser import BrowserPool
from plumrake.lenses.rendered.files import forget_files
from plumrake.lenses.rendered.lens import render
from plumrake.lenses.rendered.proxy import GuardProxy, LocalAnswer
from plumrake.lenses.wish import Wish

_PLAIN = Wish()
_VISITS = 3
_STRONG_SECONDS = 2
_OCCASIONS = 4
_HTML_ENDINGS = frozenset({".html", ".htm", ".xhtml"})


@dataclass(frozen=True, slots=True)
class Obtained:
    """What came of one attempt to read a page: a page or a problem, never both."""

    address: str
    lens: str
    page: Page | None = None
    problem: Problem | None = None
    content_hash: str | None = None
    final_address: str | None = None
    picture: bytes | None = None
    seconds: float = 0.0
    etag: str | None = None
    last_modified: str | None = None

    @property
    def document(self) -> Document | None:
        """The page's document."""
        return self.page.document if self.page is not None else None


@dataclass(frozen=True, slots=True)
class Occasion:
    """What one sweep remembers in this process: fingerprints of files, each asked for once, and how often things were pictured."""

    fingerprints: Fingerprints
    pictured: Counter[str] = field(default_factory=Counter)


class PageReader:
    """Reads pages one by one or several at once; use as an async context manager.

    ``lens`` is ``rendered`` or ``markup``; ``private_origins`` are origins with leave to be private;
    ``tabs`` is how many pages the browser may hold at once.
    """

    def __init__(self, lens: str, limits: Limits | None = None, private_origins: Iterable[str] = (), tabs: int = 2) -> None:
        self.lens = lens
        self.limits = limits or Limits()
        self.notice = ""
        self._tabs = tabs
        self._guard = Guard(private_origins)
        self._client = guarded_client(self._guard, self.limits.seconds)
        self._proxy = GuardProxy(self._guard, self.limits.bytes)
        self._pool: BrowserPool | None = None
        self._folders: dict[Path, str] = {}
        self._exits = contextlib.AsyncExitStack()
        self.manners = Manners()
        self.links = LinkProber(self._client, self.manners)
        self._occasions: dict[str, Occasion] = {}

    async def __aenter__(self) -> PageReader:
        await self._exits.enter_async_context(self._client)
        if self.lens == "rendered":
            await self._exits.enter_async_context(self._proxy)
            self._pool = await self._exits.enter_async_context(BrowserPool(self._proxy, self._tabs))
            self.notice = self._pool.notice
        return self

    async def __aexit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        await self._exits.aclose()

    async def read_address(self, address: str, wish: Wish = _PLAIN) -> Obtained:
        """Read the page at an http or https address."""
        return await self._attempt(address, self.fetch(address), wish)

    async def fetch(self, address: str, known: Known | None = None) -> Fetched:
        """Return a page's HTML, or that it is unmodified, with manners towards its host. Raises ``Unreadable``."""
        host = self.manners.of(urlsplit(address).netloc.lower())
        for attempt in range(_VISITS):
            async with host.turn():
                try:
                    return await fetch_page(self._client, address, self.limits, known)
                except Busy as busy:
                    if attempt == _VISITS - 1:
                        raise
                    host.wait(busy.seconds)
        raise AssertionError("the last visit returns or raises")

    async def read_fetched(self, fetched: Fetched, address: str, wish: Wish = _PLAIN) -> Obtained:
        """Read a page that was fetched already."""

        async def in_hand() -> Fetched:
            return fetched

        return await self._attempt(address, in_hand(), wish)

    def occasion(self, name: str) -> Occasion:
        """Return what is remembered for one occasion (a sweep) as long as it is among the last few; a new one caches nothing."""
        if name not in self._occasions:
            self._occasions[name] = Occasion(Fingerprints(self._client))
            forget_files()
            if self._pool is not None:
                self._pool.begin_occasion()
            while len(self._occasions) > _OCCASIONS:
                self._occasions.pop(next(iter(self._occasions)))
        return self._occasions[name]

    async def read_file(self, file: Path, root: Path, shown_as: str, wish: Wish = _PLAIN) -> Obtained:
        """Read an HTML file; what it refers to is served from ``root`` and from nowhere else on the disk."""
        return await self._attempt(shown_as, self._fetch_file(file, root), wish)

    async def read_archived(self, archive: Archive, address: str, shown_as: str, wish: Wish = _PLAIN) -> Obtained:
        """Read a page of an archive; what it draws in comes from the archive alone."""
        return await self._attempt(shown_as, asyncio.to_thread(_from_archive, archive, address, self.limits.bytes), wish)

    async def read_html(self, html: bytes, address: str, wish: Wish = _PLAIN) -> Obtained:
        """Read HTML in hand as if it stood at ``address``."""

        return await self.read_fetched(Fetched(address, 200, {"content-type": "text/html; charset=utf-8"}, html), address, wish)

    async def _attempt(self, address: str, fetching: Awaitable[Fetched], wish: Wish) -> Obtained:
        start = time.monotonic()
        content_hash = final = None
        try:
            fetched = await fetching
            content_hash, final = f"sha256:{hashlib.sha256(fetched.body).hexdigest()}", fetched.address
            if self._pool is None:
                page, shot = Page(await asyncio.to_thread(self._parse, fetched, address)), None
            else:
                rendered = await render(self._pool, fetched, address, self.limits, wish)
                page, shot = rendered.page, rendered.picture
            if _is_sign_in(page, address, fetched.address):
                raise Unreadable("sign-in-wanted", f"the page leads to a sign-in at {fetched.address}")
        except Unreadable as problem:
            spent = time.monotonic() - start
            return Obtained(address, self.lens, problem=problem.problem, content_hash=content_hash, final_address=final, seconds=spent)
        spent, headers = time.monotonic() - start, fetched.headers
        return Obtained(address, self.lens, page, None, content_hash, final, shot, spent, headers.get("etag"), strong_date(headers))

    def _parse(self, fetched: Fetched, address: str) -> Document:
        try:
            return parse_document(decode(fetched.body, fetched.charset), address, most_elements=self.limits.elements)
        except TooManyElements as error:
            raise Unreadable(error.code, str(error)) from None

    async def _fetch_file(self, file: Path, root: Path) -> Fetched:
        body = await asyncio.to_thread(_read_file, file, self.limits.bytes)
        root = root.resolve()
        host = self._folders.get(root)
        if host is None:
            host = self._folders[root] = f"folder-{len(self._folders) + 1}.invalid"
            self._proxy.serve_locally(host, lambda path: _from_folder(root, path))
        place = quote(file.resolve().relative_to(root).as_posix())
        return Fetched(f"http://{host}/{place}", 200, {"content-type": "text/html"}, body)


def strong_date(headers: Mapping[str, str]) -> str | None:
    """Return ``Last-Modified`` where it can tell a changed page: well before the answer's ``Date`` (RFC 9110, 8.8.2.2), else None.

    A page that changes twice within a second has the same date both times.
    """
    modified = headers.get("last-modified")
    try:
        changed, sent = parsedate_to_datetime(modified or ""), parsedate_to_datetime(headers.get("date", ""))
    except ValueError:
        return None
    return modified if (sent - changed).total_seconds() >= _STRONG_SECONDS else None


def _read_file(file: Path, most_bytes: int) -> bytes:
    try:
        size = file.stat().st_size
        if size > most_bytes:
            raise Unreadable("too-large", f"the file has {size:,} bytes, more than the {most_bytes:,} that may be read")
        body = file.read_bytes()
    except FileNotFoundError:
        raise Unreadable("file-missing", f"there is no file '{file}'") from None
    except OSError as error:
        raise Unreadable("file-unreadable", f"'{file}' cannot be opened: {error.strerror}") from None
    if b"\0" in body[:1024] and not body.startswith((b"\xfe\xff", b"\xff\xfe")):
        raise Unreadable("not-html", f"'{file}' is no HTML page but a file of another kind")
    return body


def _from_folder(root: Path, path: str) -> LocalAnswer:
    """Answer a request from a folder; links that lead out of it are not followed."""
    wanted = (root / unquote(urlsplit(path).path).lstrip("/")).resolve()
    if not wanted.is_relative_to(root) or not wanted.is_file():
        return 404, "text/plain", b"not found"
    kind = mimetypes.guess_type(wanted.name)[0] or "application/octet-stream"
    return 200, kind, wanted.read_bytes()


def _is_sign_in(page: Page, asked: str, came_from: str) -> bool:
    """Tell whether another page than the one asked for came, and it asks for a password."""
    if not asked.startswith("http") or urlsplit(asked).path == urlsplit(came_from).path:
        return False
    return any(one.tag == "input" and one.get("type").strip().lower() == "password" for one in page.elements)


def _from_archive(archive: Archive, address: str, most_bytes: int) -> Fetched:
    stored = archive.get(address)
    if stored is None:
        raise Unreadable("file-missing", f"the archive holds no page {address}")
    if stored.file.stat().st_size > most_bytes:
        raise Unreadable("too-large", f"the page has more than the {most_bytes:,} bytes that may be read")

    def answer(wanted: str) -> LocalAnswer | None:
        found = archive.get(wanted)
        return (found.status, found.content_type, found.file.read_bytes()) if found is not None else None

    return Fetched(address, 200, {"content-type": stored.content_type}, stored.file.read_bytes(), answer)


def html_files(folder: Path) -> list[Path]:
    """Return the HTML files below a folder, sorted by path; hidden folders are passed over."""
    return sorted(
        file
        for file in folder.rglob("*")
        if file.suffix.lower() in _HTML_ENDINGS
        and file.is_file()
        and not any(part.startswith(".") for part in file.relative_to(folder).parts)
    )
