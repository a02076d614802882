"""``plumrake lsp``: the Language Server Protocol 3.17 for pages that are being written."""

from __future__ import annotations

import asyncio
import contextlib
import gc
import sys
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any, TypeVar

from lsprotocol import types as lsp
from pygls.exceptions import JsonRpcException
from pygls.lsp.server import LanguageServer

from plumrake import __version__
from plumrake.core.overtaking import Overtaken, may_be_overtaken
from plumrake.core.policy import Policy
from plumrake.core.templates.kinds import Writing, writing_of
from plumrake.lenses.markup import TooManyElements
from plumrake.lsp.answers import (
    FIX_ALL,
    SELECT,
    Read,
    Told,
    actions,
    colour_places,
    completion_items,
    hex_of,
    hover,
    symbols,
)
from plumrake.lsp.nearby import found_nearby
from plumrake.lsp.places import UTF_16, Places
from plumrake.lsp.policies import Policies, StyleFiles, address_of
from plumrake.lsp.written import Found, WrittenText
from plumrake.policy_files import POLICY_FILE

WAIT_SECONDS = 0.15
"""So long nothing has to be typed before the whole text is read."""
_SWITCH_SECONDS = 0.001
"""So long a reading keeps the processor when a keystroke waits for its answer."""
_MOST_CHARACTERS = 10_000_000
_SELDOM = 2**30
_UNCOLLECTED = 30
"""So many times the collector looked at what was new before it looks at everything, which takes
as long as two keystrokes' answers."""

_Given = TypeVar("_Given")
_Result = TypeVar("_Result")


class PageServer(LanguageServer):
    """Tells what is found in documents: around a change at once, as a whole a moment after it, of
    the latest text alone."""

    def __init__(self) -> None:
        super().__init__("plumrake", __version__)
        self._pool = ThreadPoolExecutor(2, "plumrake-reading")
        self._tasks: dict[str, asyncio.Task[None]] = {}
        self._reading: dict[str, threading.Event] = {}
        self._read: dict[str, Read] = {}
        self._told: dict[str, lsp.PublishDiagnosticsParams] = {}
        self._policies = Policies()
        self._style_files = StyleFiles()

    def changed(self, uri: str, *, wait: float = WAIT_SECONDS) -> None:
        """Have a document read soon; what was asked for before is given up."""
        self._give_up(uri)
        self._tasks[uri] = asyncio.get_running_loop().create_task(self._tell(uri, wait))

    def closed(self, uri: str) -> None:
        """Forget a document, and what was said of it."""
        self._give_up(uri)
        self._read.pop(uri, None)
        self._told.pop(uri, None)
        self.text_document_publish_diagnostics(lsp.PublishDiagnosticsParams(uri, []))

    def all_changed(self) -> None:
        """Have all open documents read anew."""
        for uri in self.workspace.text_documents:
            self.changed(uri)

    def _give_up(self, uri: str) -> None:
        task = self._tasks.pop(uri, None)
        if task is not None:
            task.cancel()
        reading = self._reading.pop(uri, None)
        if reading is not None:
            reading.set()

    async def _tell(self, uri: str, wait: float) -> None:
        if wait:
            self._tell_nearby(uri)
            await asyncio.sleep(wait)
        read = await self._latest(uri, tells_at_once=True)
        if read is not None:
            self._publish(uri, read.told, read.version)

    def _tell_nearby(self, uri: str) -> None:
        """Tell what is found around a change, if the document was read before it."""
        last, wanted = self._read.get(uri), self._wanted(uri)
        if last is not None and last.written.is_read_by(wanted.policy, wanted.writing):
            found = found_nearby(last.written, wanted.text)
            self._publish(uri, Told(found, self._places(wanted.text)), wanted.version)

    def _publish(self, uri: str, told: Told, version: int | None) -> None:
        """Tell what was found, unless just that was told of this version."""
        params = lsp.PublishDiagnosticsParams(uri, told.diagnostics(uri), version)
        if self._told.get(uri) != params:
            self._told[uri] = params
            self.text_document_publish_diagnostics(params)
        _collect_if_due()

    def _wanted(self, uri: str) -> _Wanted:
        document = self.workspace.get_text_document(uri)
        policy = self._policies.policy_of(uri)
        for problem in self._policies.problems:
            self.window_show_message(lsp.ShowMessageParams(lsp.MessageType.Error, problem))
        self._policies.problems.clear()
        writing = writing_of(document.language_id or "", uri)
        address = address_of(uri, self.workspace.root_path)
        sheets = self._style_files.of(uri, self.workspace.root_path)
        return _Wanted(document.version, document.source, policy, writing, address, sheets)

    def _places(self, text: str) -> Places:
        return Places(text, self.workspace.position_encoding or UTF_16)

    def text_of(self, uri: str) -> tuple[str, Places]:
        """Return a document's text as it is now, with its places."""
        text = self.workspace.get_text_document(uri).source
        return text, self._places(text)

    def policy_of(self, uri: str) -> Policy:
        """Return the policy that a document is read by."""
        return self._policies.policy_of(uri)

    async def latest(self, uri: str) -> Read | None:
        """Return a document as it is now, read; None where it cannot be, or was changed while it
        was read."""
        return await self._latest(uri, tells_at_once=False)

    async def _latest(self, uri: str, *, tells_at_once: bool) -> Read | None:
        wanted, known = self._wanted(uri), self._read.get(uri)
        if known is not None and known.written.is_of(wanted.text, wanted.policy, wanted.writing):
            known.version = wanted.version
            return known
        overtaken = threading.Event()
        if tells_at_once:
            self._reading[uri] = overtaken
        places = self._places(wanted.text)
        written = await self._work(overtaken, _opened, wanted)
        if written is not None and tells_at_once and known is None:
            found = await self._work(overtaken, _found_at_once, written)
            if found is not None:
                self._publish(uri, Told(found, places), wanted.version)
        is_read = written is not None and await self._work(overtaken, _found, written) is not None
        if not is_read or self.workspace.get_text_document(uri).version != wanted.version:
            return None
        assert written is not None
        self._read[uri] = Read(wanted.version, written, places)
        return self._read[uri]

    async def _work(
        self, overtaken: threading.Event, work: Callable[[_Given], _Result], given: _Given
    ) -> _Result | None:
        """Return what work gives that may be overtaken; None where it was."""

        def done() -> _Result | None:
            with contextlib.suppress(Overtaken), may_be_overtaken(overtaken.is_set):
                return work(given)
            return None

        return await asyncio.get_running_loop().run_in_executor(self._pool, done)


@dataclass(frozen=True, slots=True)
class _Wanted:
    """A document as it is to be read."""

    version: int | None
    text: str
    policy: Policy
    writing: Writing
    address: str
    sheets: Callable[[str], str | None]


def _collect_if_due() -> None:
    """Let the collector look at everything where it has not for long: just after something was
    told, and never while it is worked out."""
    if gc.get_count()[2] > _UNCOLLECTED:
        gc.collect()


def _opened(wanted: _Wanted) -> WrittenText | None:
    """Open a text; None where it is larger than can be read while somebody types."""
    if len(wanted.text) > _MOST_CHARACTERS:
        return None
    try:
        return WrittenText(
            wanted.text, wanted.policy, wanted.writing, wanted.address, wanted.sheets
        )
    except TooManyElements:
        return None


def _found(written: WrittenText) -> tuple[Found, ...]:
    return written.found


def _found_at_once(written: WrittenText) -> tuple[Found, ...]:
    return written.found_at_once


async def _on_opened(ls: PageServer, params: lsp.DidOpenTextDocumentParams) -> None:
    ls.changed(params.text_document.uri, wait=0)


async def _on_changed(ls: PageServer, params: lsp.DidChangeTextDocumentParams) -> None:
    ls.changed(params.text_document.uri)


async def _on_saved(ls: PageServer, params: lsp.DidSaveTextDocumentParams) -> None:
    ls.changed(params.text_document.uri, wait=0)


async def _on_closed(ls: PageServer, params: lsp.DidCloseTextDocumentParams) -> None:
    ls.closed(params.text_document.uri)


async def _on_initialized(ls: PageServer, params: lsp.InitializedParams) -> None:
    workspace = ls.client_capabilities.workspace
    watched = workspace.did_change_watched_files if workspace is not None else None
    if watched is not None and watched.dynamic_registration:
        options = lsp.DidChangeWatchedFilesRegistrationOptions(
            [lsp.FileSystemWatcher(f"**/{POLICY_FILE}")]
        )
        wanted = lsp.Registration("policy", lsp.WORKSPACE_DID_CHANGE_WATCHED_FILES, options)
        with contextlib.suppress(JsonRpcException):  # some say that they can, and cannot
            await ls.client_register_capability_async(lsp.RegistrationParams([wanted]))


async def _on_policy_changed(ls: PageServer, params: lsp.DidChangeWatchedFilesParams) -> None:
    ls.all_changed()


async def _on_hover(ls: PageServer, params: lsp.HoverParams) -> lsp.Hover | None:
    read = await ls.latest(params.text_document.uri)
    if read is None:
        return None
    offset = read.places.offset(params.position)
    text = hover(read, offset, ls.policy_of(params.text_document.uri))
    if not text:
        return None
    return lsp.Hover(lsp.MarkupContent(lsp.MarkupKind.Markdown, text))


async def _on_actions(ls: PageServer, params: lsp.CodeActionParams) -> list[lsp.CodeAction]:
    read = await ls.latest(params.text_document.uri)
    return actions(params, read) if read is not None else []


async def _on_select(ls: PageServer, uri: str, span: dict[str, Any]) -> None:
    start, end = (lsp.Position(**_member(span, name)) for name in ("start", "end"))
    await ls.window_show_document_async(
        lsp.ShowDocumentParams(uri, take_focus=True, selection=lsp.Range(start, end))
    )


async def _on_colours(
    ls: PageServer, params: lsp.DocumentColorParams
) -> list[lsp.ColorInformation]:
    return colour_places(*ls.text_of(params.text_document.uri))


async def _on_presentation(
    ls: PageServer, params: lsp.ColorPresentationParams
) -> list[lsp.ColorPresentation]:
    return [lsp.ColorPresentation(hex_of(params.color))]


async def _on_completion(ls: PageServer, params: lsp.CompletionParams) -> list[lsp.CompletionItem]:
    return completion_items(params.position, *ls.text_of(params.text_document.uri))


async def _on_symbols(ls: PageServer, params: lsp.DocumentSymbolParams) -> list[lsp.DocumentSymbol]:
    read = await ls.latest(params.text_document.uri)
    return symbols(read) if read is not None else []


def _member(span: Any, name: str) -> dict[str, int]:
    """Return a position of a command's argument, which the library gives as a mapping or as an
    object."""
    at = span[name] if isinstance(span, dict) else getattr(span, name)
    if isinstance(at, dict):
        return {"line": int(at["line"]), "character": int(at["character"])}
    return {"line": int(at.line), "character": int(at.character)}


def make_server() -> PageServer:
    """Return the server with its features."""
    sys.setswitchinterval(_SWITCH_SECONDS)
    gc.freeze()  # what was loaded stays: the collector need not look at it while somebody types
    gc.set_threshold(*gc.get_threshold()[:2], _SELDOM)
    server = PageServer()
    server.feature(lsp.TEXT_DOCUMENT_DID_OPEN)(_on_opened)
    server.feature(lsp.TEXT_DOCUMENT_DID_CHANGE)(_on_changed)
    server.feature(lsp.TEXT_DOCUMENT_DID_SAVE)(_on_saved)
    server.feature(lsp.TEXT_DOCUMENT_DID_CLOSE)(_on_closed)
    server.feature(lsp.INITIALIZED)(_on_initialized)
    server.feature(lsp.WORKSPACE_DID_CHANGE_WATCHED_FILES)(_on_policy_changed)
    server.feature(lsp.TEXT_DOCUMENT_HOVER)(_on_hover)
    server.feature(
        lsp.TEXT_DOCUMENT_CODE_ACTION,
        lsp.CodeActionOptions([lsp.CodeActionKind.QuickFix, FIX_ALL]),
    )(_on_actions)
    server.command(SELECT)(_on_select)
    server.feature(lsp.TEXT_DOCUMENT_DOCUMENT_COLOR)(_on_colours)
    server.feature(lsp.TEXT_DOCUMENT_COLOR_PRESENTATION)(_on_presentation)
    server.feature(
        lsp.TEXT_DOCUMENT_COMPLETION, lsp.CompletionOptions(trigger_characters=['"', "'", "-", " "])
    )(_on_completion)
    server.feature(lsp.TEXT_DOCUMENT_DOCUMENT_SYMBOL)(_on_symbols)
    return server
