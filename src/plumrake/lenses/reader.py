"""Reading one page through either lens: an address, a local file, or HTML in hand. A problem is
part of the answer."""

from __future__ import annotations

import asyncio
import contextlib
import mimetypes
import time
from collections import Counter
from collections.abc import Awaitable, Iterable, Mapping
from dataclasses import dataclass, field, fields, replace
from email.utils import parsedate_to_datetime
from functools import cached_property
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, Any
from urllib.parse import quote, unquote, urlsplit

from plumrake.core.content_hash import hash_of
from plumrake.core.dom import Document
from plumrake.core.page import Page
from plumrake.core.patterns import TriedPatterns
from plumrake.core.written_patterns import Compared, Written
from plumrake.lenses.archives import Archive
from plumrake.lenses.assessor import Assessor, Opened, OpenedSource
from plumrake.lenses.markup import TooManyElements, decode
from plumrake.lenses.read_options import ReadOptions, Tried
from plumrake.lenses.runners import AssessorLost, Runner, Runners, ThreadRunner, ThreadRunners
from plumrake.net.fetch import Busy, Fetched, KnownCopy, Limits, LocalAnswer, fetch_page
from plumrake.net.fingerprints import Fingerprints
from plumrake.net.guard import Guard
from plumrake.net.links import LinkProber
from plumrake.net.problems import Problem, Unreadable
from plumrake.net.proxy import GuardProxy
from plumrake.net.rate_limit import RateLimits
from plumrake.net.shared_files import SharedFiles, hash_of_data
from plumrake.net.style_sheets import SheetsMissing, StyleSheets

if TYPE_CHECKING:
    import httpx

    from plumrake.lenses.rendered.lens import RenderedLens

_PLAIN = ReadOptions()
_VISITS = 3
_STRONG_SECONDS = 2
_OCCASIONS = 4
_SHEET_ROUNDS = 8
"""Style sheets import others, which import others."""
_OF_A_SWEEP_SECONDS = 900.0
"""So long the pages of a sweep take a style sheet for what it was."""
_NOT_THERE: LocalAnswer = (404, "text/plain", b"not found")
MARKDOWN_ENDINGS = (".md", ".markdown")
_HTML_ENDINGS = frozenset({".html", ".htm", ".xhtml"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Attempt:
    """How one attempt to read a page went: its problem, if it has one; what the HTML is known by
    (hash, ETag, Last-Modified), the address that it came from in the end, the picture as JPEG, and
    what was tried with it, and what it is made of, where that may stand for other pages."""

    address: str
    lens: str
    problem: Problem | None = None
    content_hash: str | None = None
    final_address: str | None = None
    picture: bytes | None = None
    seconds: float = 0.0
    etag: str | None = None
    last_modified: str | None = None
    tried: Tried | None = None
    written: Written | None = None

    @property
    def status(self) -> str:
        """``read`` or ``unreadable``."""
        return "read" if self.problem is None else "unreadable"


@dataclass(frozen=True, slots=True, kw_only=True)
class Obtained(Attempt):
    """What came of an attempt: a problem, or a page that a runner has open; the page itself where
    it is a runner of this process."""

    page: Page | None = None

    def attempt(self) -> dict[str, Any]:
        """Return the fields of the attempt alone."""
        return {field.name: getattr(self, field.name) for field in fields(Attempt)}

    @property
    def document(self) -> Document | None:
        """The page's document."""
        return self.page.document if self.page is not None else None


@dataclass(frozen=True, slots=True)
class SweepCache:
    """What one sweep remembers in this process: fingerprints of files, each asked for once, what
    its pages share, how often things were pictured or are about to be, and what was tried."""

    fingerprints: Fingerprints
    sheets: StyleSheets
    files: SharedFiles = field(default_factory=SharedFiles)
    pictured: Counter[str] = field(default_factory=Counter)
    sought: Counter[str] = field(default_factory=Counter)
    tried: TriedPatterns = field(default_factory=TriedPatterns)
    compared: Compared = field(default_factory=Compared)


class PageReader:
    """Reads pages one by one or several at once; use as an async context manager.

    ``lens`` is ``rendered`` or ``markup``; ``private_origins`` are origins with leave to be
    private; ``tabs`` is how many pages the browser may hold at once. Pages of local files reach the
    network only where ``files_have_network``; those of archives never do. ``runners`` compute for
    the pages; default: threads of this process.
    """

    def __init__(
        self,
        lens: str,
        limits: Limits | None = None,
        private_origins: Iterable[str] = (),
        tabs: int = 2,
        *,
        files_have_network: bool = False,
        runners: Runners | None = None,
    ) -> None:
        self.lens = lens
        self._files_have_network = files_have_network
        self.runners = runners or ThreadRunners()
        self.limits = limits or Limits()
        self.notice = ""
        self._tabs = tabs
        self._guard = Guard(private_origins)
        self._proxy = GuardProxy(self._guard, self.limits.bytes)
        self._rendered: RenderedLens | None = None
        self._folders: dict[Path, str] = {}
        self._exits = contextlib.AsyncExitStack()
        self.rate_limits = RateLimits()
        self.browsers_turn = asyncio.Semaphore(tabs + 1)
        """For who would rather wait for the browser than keep a runner waiting for it."""
        self._sweep_caches: dict[str, SweepCache] = {}

    async def __aenter__(self) -> PageReader:
        if self.lens == "rendered":
            await self._exits.enter_async_context(self._proxy)
            # The browser's library takes half a second to load: only for who wants it.
            from plumrake.lenses.rendered.lens import RenderedLens

            lens = RenderedLens(self._proxy, self._tabs)
            self._rendered = await self._exits.enter_async_context(lens)
            self.notice = lens.notice
        return self

    async def __aexit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        await self._exits.aclose()

    @cached_property
    def client(self) -> httpx.AsyncClient:
        """The HTTP client, which reaches only what may be reached."""
        from plumrake.net.client import guarded_client  # a local page needs no network

        client = guarded_client(self._guard, self.limits.seconds)
        self._exits.push_async_callback(client.aclose)
        return client

    @cached_property
    def _style_sheets(self) -> StyleSheets:
        return StyleSheets(lambda: self.client, self.rate_limits)

    @cached_property
    def links(self) -> LinkProber:
        """Tells what links lead to, and remembers it for all pages of the reader."""
        return LinkProber(self.client, self.rate_limits)

    async def read_address(self, address: str, options: ReadOptions = _PLAIN) -> Obtained:
        """Read the page at an http or https address."""
        return await self._attempt(address, self.fetch(address), options)

    async def fetch(
        self,
        address: str,
        known: KnownCopy | None = None,
        headers: Mapping[str, str] | None = None,
    ) -> Fetched:
        """Return a page's HTML, or that it is unmodified, with rate_limits towards its host. Raises
        ``Unreadable``."""
        host = self.rate_limits.of(urlsplit(address).netloc.lower())
        for attempt in range(_VISITS):
            async with host.turn():
                try:
                    return await fetch_page(self.client, address, self.limits, known, headers)
                except Busy as busy:
                    if attempt == _VISITS - 1:
                        raise
                    host.wait(busy.seconds)
        raise AssertionError("the last visit returns or raises")

    async def read_fetched(
        self, fetched: Fetched, address: str, options: ReadOptions = _PLAIN
    ) -> Obtained:
        """Read a page that was fetched already."""

        async def in_hand() -> Fetched:
            return fetched

        return await self._attempt(address, in_hand(), options)

    def sweep_cache(self, name: str) -> SweepCache:
        """Return what is remembered for one sweep as long as it is among the last few; a new one
        caches nothing."""
        if name not in self._sweep_caches:
            sheets = StyleSheets(lambda: self.client, self.rate_limits, _OF_A_SWEEP_SECONDS)
            self._sweep_caches[name] = SweepCache(Fingerprints(self.client), sheets)
            while len(self._sweep_caches) > _OCCASIONS:
                self._sweep_caches.pop(next(iter(self._sweep_caches)))
        return self._sweep_caches[name]

    async def read_file(
        self,
        file: Path,
        root: Path,
        shown_as: str,
        options: ReadOptions = _PLAIN,
        *,
        body: bytes | None = None,
        beside: Mapping[Path, bytes] | None = None,
    ) -> Obtained:
        """Read an HTML or Markdown file, or what is to stand in it (``body``); what it refers to is
        served from ``root`` and from nowhere else on the disk, with what is to stand in files
        ``beside`` it (resolved paths)."""
        fetching = self._fetch_file(file, root, body, beside or {})
        return await self._attempt(shown_as, fetching, options)

    async def read_archived(
        self, archive: Archive, address: str, shown_as: str, options: ReadOptions = _PLAIN
    ) -> Obtained:
        """Read a page of an archive; what it draws in comes from the archive alone."""
        return await self._attempt(
            shown_as, asyncio.to_thread(archived_page, archive, address, self.limits), options
        )

    async def read_html(self, html: bytes, address: str, options: ReadOptions = _PLAIN) -> Obtained:
        """Read HTML in hand as if it stood at ``address``."""

        return await self.read_fetched(
            Fetched(address, 200, {"content-type": "text/html; charset=utf-8"}, html),
            address,
            options,
        )

    async def read_handed_over(
        self, source: str, answer: str, address: str, options: ReadOptions = _PLAIN
    ) -> Obtained:
        """Read a page as somebody's browser showed it: its HTML, and what our collector told of it
        there. Of pixels, other layouts and keys nothing is known."""
        start = time.monotonic()
        runner = options.runner or ThreadRunner()
        problem: Problem | None = None
        try:
            await runner.do(Assessor.take_source, source.encode("utf-8", "replace"), "utf-8")
            opened = await runner.do(
                Assessor.open_handed_over, answer, address, self.limits.elements
            )
            problem = opened if isinstance(opened, Problem) else None
        except AssessorLost as lost:
            problem = lost.problem
        return Obtained(
            address=address,
            lens="rendered",
            problem=problem,
            page=_page_of(runner) if problem is None else None,
            content_hash=hash_of(source.encode("utf-8", "replace")),
            seconds=time.monotonic() - start,
        )

    async def _attempt(
        self, address: str, fetching: Awaitable[Fetched], options: ReadOptions
    ) -> Obtained:
        start = time.monotonic()
        content_hash = final = None
        runner = options.runner or ThreadRunner()
        try:
            fetched = await fetching
            content_hash, final = (
                hash_of(fetched.body),
                fetched.address,
            )
            shot = tried = written = None
            if self._rendered is None or options.by_source:
                sheets = options.sheets or self._style_sheets
                found = await self._open_source(runner, fetched, address, sheets)
                opened = found.opened
                if options.by_source:
                    written = await _written(runner, found.picture_keys, options.shared)
            else:
                rendered = await self._rendered.read(fetched, address, self.limits, options, runner)
                opened, shot, tried = rendered.opened, rendered.picture, rendered.tried
            if _is_sign_in(opened, address, fetched.address):
                raise Unreadable(
                    "sign-in-wanted", f"the page leads to a sign-in at {fetched.address}"
                )
        except (Unreadable, AssessorLost) as problem:
            spent = time.monotonic() - start
            return Obtained(
                address=address,
                lens=self.lens,
                problem=problem.problem,
                content_hash=content_hash,
                final_address=final,
                seconds=spent,
            )
        spent, headers = time.monotonic() - start, fetched.headers
        return Obtained(
            address=address,
            lens="markup" if options.by_source else self.lens,
            page=_page_of(runner),
            content_hash=content_hash,
            final_address=final,
            picture=shot,
            seconds=spent,
            etag=headers.get("etag"),
            last_modified=strong_date(headers),
            tried=tried,
            written=written,
        )

    async def _open_source(
        self, runner: Runner, fetched: Fetched, address: str, sheets: StyleSheets
    ) -> OpenedSource:
        """Open what was fetched in a runner as it is, with its style sheets as far as they may be
        had. Raises ``Unreadable``, ``AssessorLost``."""
        found = await runner.do(
            Assessor.open_source,
            fetched.body,
            fetched.charset,
            address,
            self.limits.elements,
            fetched.address,
            sheets.at_hand() if fetched.files is None and fetched.has_network else {},
            is_fragment=fetched.is_fragment,
        )
        if isinstance(found, Problem):
            raise Unreadable(found.code, found.says)
        if found.wanted:
            await self._learn_styles(runner, fetched, sheets, found.wanted)
        return found

    async def _learn_styles(
        self, runner: Runner, fetched: Fetched, sheets: StyleSheets, missing: list[str]
    ) -> None:
        """Get the page its style sheets, as far as they may be had; what takes too long leaves it
        without."""
        texts: dict[str, str | None] = {}
        with contextlib.suppress(SheetsMissing, TimeoutError):
            async with asyncio.timeout(self.limits.seconds / 2):
                for _ in range(_SHEET_ROUNDS):
                    texts |= await sheets.texts(
                        missing, fetched.files, has_network=fetched.has_network
                    )
                    missing = await runner.do(Assessor.know_sheets, texts, fetched.address)
                    if not missing:
                        return

    async def _fetch_file(
        self, file: Path, root: Path, body: bytes | None, beside: Mapping[Path, bytes]
    ) -> Fetched:
        if body is None:
            body = await asyncio.to_thread(read_body, file, self.limits.bytes)
        is_fragment = is_markdown(file)
        if is_fragment:
            body = await asyncio.to_thread(_html_of, body, self.limits.elements)
        root = root.resolve()
        if not file.resolve().is_relative_to(root):
            raise Unreadable(
                "file-unreadable",
                f"'{file}' leads out of the folder '{root}'; look at it by itself",
            )
        host = self._folders.setdefault(root, f"folder-{len(self._folders) + 1}.invalid")
        place = quote(file.resolve().relative_to(root).as_posix())

        def files(address: str) -> LocalAnswer | None:
            asked = urlsplit(address)
            return _from_folder(root, asked.path, beside) if asked.hostname == host else None

        return Fetched(
            f"http://{host}/{place}",
            200,
            {"content-type": "text/html; charset=utf-8" if is_fragment else "text/html"},
            body,
            files,
            self._files_have_network,
            is_fragment,
        )


async def _written(
    runner: Runner, keys: Mapping[int, str], shared: SharedFiles | None
) -> Written | None:
    """Return what a page is made of by its source; what its pictures (by ``keys``) are known by is
    taken from other pages that drew them in. None where its styles, or a picture, are not known."""
    hashes: Mapping[str, str] = shared.hashes if shared is not None else {}
    told = {index: hash_of_data(key) or hashes.get(key) for index, key in keys.items()}
    files = {index: content for index, content in told.items() if content is not None}
    found = await runner.do(Assessor.written, files)
    return replace(found, is_whole=len(files) == len(keys)) if found is not None else None


def _page_of(runner: Runner) -> Page | None:
    """Return the page that a runner has open, if it is in this process."""
    return runner.assessor.page if isinstance(runner, ThreadRunner) else None


def strong_date(headers: Mapping[str, str]) -> str | None:
    """Return ``Last-Modified`` where it can tell a changed page: well before the answer's ``Date``
    (RFC 9110, 8.8.2.2), else None.

    A page that changes twice within a second has the same date both times.
    """
    modified = headers.get("last-modified")
    try:
        changed, sent = (
            parsedate_to_datetime(modified or ""),
            parsedate_to_datetime(headers.get("date", "")),
        )
    except ValueError:
        return None
    return modified if (sent - changed).total_seconds() >= _STRONG_SECONDS else None


def _html_of(markdown: bytes, most_elements: int) -> bytes:
    from plumrake.lenses.markdown import parse_markdown  # only where there is Markdown

    try:
        page = parse_markdown(decode(markdown, "utf-8"), "", most_elements=most_elements)
    except TooManyElements as error:
        raise Unreadable(error.code, str(error)) from None
    return page.html.text.encode("utf-8", "replace")


def read_body(file: Path, most_bytes: int) -> bytes:
    """Return what stands in a file of text. Raises ``Unreadable``."""
    try:
        size = file.stat().st_size
        if size > most_bytes:
            raise Unreadable(
                "too-large",
                f"the file has {size:,} bytes, more than the {most_bytes:,} that may be read",
            )
        body = file.read_bytes()
    except FileNotFoundError:
        raise Unreadable("file-missing", f"there is no file '{file}'") from None
    except OSError as error:
        raise Unreadable(
            "file-unreadable", f"'{file}' cannot be opened: {error.strerror}"
        ) from None
    if b"\0" in body[:1024] and not body.startswith((b"\xfe\xff", b"\xff\xfe")):
        raise Unreadable("not-html", f"'{file}' is no HTML page but a file of another kind")
    return body


def _from_folder(root: Path, path: str, beside: Mapping[Path, bytes]) -> LocalAnswer:
    """Answer a request from a folder as a server of files would: nothing hidden, nothing outside of
    it that a link or ``..`` leads to."""
    wanted = (root / unquote(path).lstrip("/")).resolve()
    if not wanted.is_relative_to(root) or not wanted.is_file():
        return _NOT_THERE
    if any(part.startswith(".") for part in wanted.relative_to(root).parts):
        return _NOT_THERE
    kind = mimetypes.guess_type(wanted.name)[0] or "application/octet-stream"
    return 200, kind, beside[wanted] if wanted in beside else wanted.read_bytes()


async def open_markup(runner: Runner, fetched: Fetched, address: str, limits: Limits) -> Opened:
    """Open what was fetched in a runner as it is. Raises ``Unreadable``, ``AssessorLost``."""
    await runner.do(
        Assessor.take_source, fetched.body, fetched.charset, is_fragment=fetched.is_fragment
    )
    opened = await runner.do(Assessor.open_markup, address, limits.elements)
    if isinstance(opened, Problem):
        raise Unreadable(opened.code, opened.says)
    return opened


async def leads_to_sign_in(runners: Runners, fetched: Fetched, asked: str, limits: Limits) -> bool:
    """Tell whether what came for an address is another page that asks for a password; one too large
    to be looked through is not."""
    try:
        async with runners.lend() as runner:
            opened = await open_markup(runner, fetched, asked, limits)
    except (Unreadable, AssessorLost):
        return False
    return _is_sign_in(opened, asked, fetched.address)


def _is_sign_in(opened: Opened, asked: str, came_from: str) -> bool:
    """Tell whether another page than the one asked for came, and it asks for a password."""
    if not asked.startswith("http") or urlsplit(asked).path == urlsplit(came_from).path:
        return False
    return opened.asks_password


def archived_page(archive: Archive, address: str, limits: Limits) -> Fetched:
    """Return a page of an archive, which gives all that it draws in. Raises ``Unreadable``."""
    stored = archive.get(address)
    if stored is None:
        raise Unreadable("file-missing", f"the archive holds no page {address}")
    if stored.file.stat().st_size > limits.bytes:
        raise Unreadable(
            "too-large", f"the page has more than the {limits.bytes:,} bytes that may be read"
        )

    def files(wanted: str) -> LocalAnswer:
        found = archive.get(wanted)
        return (
            (found.status, found.content_type, found.file.read_bytes())
            if found is not None
            else _NOT_THERE
        )

    return Fetched(
        address,
        200,
        {"content-type": stored.content_type},
        stored.file.read_bytes(),
        files,
        has_network=False,
    )


def is_markdown(file: Path) -> bool:
    """Tell whether a file is Markdown, by its ending."""
    return file.suffix.lower() in MARKDOWN_ENDINGS


def html_files(folder: Path) -> list[Path]:
    """Return the HTML files below a folder, or the Markdown files where there is no HTML, sorted by
    path; hidden folders are passed over."""
    files = sorted(
        file
        for file in folder.rglob("*")
        if file.is_file()
        and file.suffix.lower() in (*_HTML_ENDINGS, *MARKDOWN_ENDINGS)
        and not any(part.startswith(".") for part in file.relative_to(folder).parts)
    )
    return [file for file in files if not is_markdown(file)] or files
