"""``plumrake lsp``: the Language Server Protocol 3.17 for pages that are being written."""

from __future__ import annotations

import asyncio
import contextlib
import tomllib
from collections.abc import Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Final
from urllib.parse import unquote, urlsplit

from lsprotocol import types as lsp
from pygls.lsp.server import LanguageServer

from plumrake import __version__
from plumrake.core.findings import Outcome
from plumrake.core.mending.edits import Contradiction, Edit, applied, ordered
from plumrake.core.policy import BadPolicy, Policy, policy_from
from plumrake.core.registry import catalogue
from plumrake.core.templates.kinds import Writing, writing_of
from plumrake.lenses.markup import TooManyElements
from plumrake.lsp.help_pages import help_page
from plumrake.lsp.places import UTF_16, Places
from plumrake.lsp.written import Found, Heading, Way, WrittenText
from plumrake.reports.help_text import help_sections

POLICY_FILE: Final = "plumrake.toml"
SELECT: Final = "plumrake.select"
"""The command that selects what has to be written."""
FIX_ALL: Final = "source.fixAll.plumrake"
SOURCE: Final = "Plum Rake"
WAIT_SECONDS = 0.15
"""So long nothing has to be typed before the text is read."""
_MOST_CHARACTERS = 10_000_000
_WEIGHTS = {
    "barrier": lsp.DiagnosticSeverity.Error,
    "obstacle": lsp.DiagnosticSeverity.Warning,
    "friction": lsp.DiagnosticSeverity.Information,
}
_HELP_SECTIONS = ("Who is hindered", "What an editor does", "What a template developer does")


@dataclass(slots=True)
class _Read:
    """A text as it was read last: its version, what was found, and its places."""

    version: int | None
    written: WrittenText
    places: Places


@dataclass(slots=True)
class _Policies:
    """The policies of files, by the nearest ``plumrake.toml`` above; one that cannot be read is
    told once, and the default holds."""

    known: dict[Path, tuple[float, Policy]] = field(default_factory=dict)
    problems: list[str] = field(default_factory=list)

    def policy_of(self, uri: str) -> Policy:
        """Return the policy that a document is read by."""
        parts = urlsplit(uri)
        if parts.scheme != "file":
            return Policy()
        for folder in Path(unquote(parts.path)).parents:
            file = folder / POLICY_FILE
            with contextlib.suppress(OSError):
                changed = file.stat().st_mtime
                if self.known.get(file, (None,))[0] != changed:
                    self.known[file] = changed, self._read(file)
                return self.known[file][1]
        return Policy()

    def _read(self, file: Path) -> Policy:
        try:
            return policy_from(tomllib.loads(file.read_text(encoding="utf-8")))
        except (BadPolicy, tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
            self.problems.append(f"the policy '{file}': {error}")
            return Policy()


class PageServer(LanguageServer):
    """Reads documents a moment after they were changed, the latest text alone."""

    def __init__(self) -> None:
        super().__init__("plumrake", __version__)
        self._pool = ThreadPoolExecutor(2, "plumrake-reading")
        self._tasks: dict[str, asyncio.Task[None]] = {}
        self._read: dict[str, _Read] = {}
        self._policies = _Policies()

    def changed(self, uri: str, *, wait: float = WAIT_SECONDS) -> None:
        """Have a document read soon; what was asked for before and has not begun is dropped."""
        before = self._tasks.pop(uri, None)
        if before is not None:
            before.cancel()
        self._tasks[uri] = asyncio.get_running_loop().create_task(self._publish(uri, wait))

    def closed(self, uri: str) -> None:
        """Forget a document, and what was said of it."""
        task = self._tasks.pop(uri, None)
        if task is not None:
            task.cancel()
        self._read.pop(uri, None)
        self.text_document_publish_diagnostics(lsp.PublishDiagnosticsParams(uri, []))

    def all_changed(self) -> None:
        """Have all open documents read anew."""
        for uri in self.workspace.text_documents:
            self.changed(uri)

    async def _publish(self, uri: str, wait: float) -> None:
        await asyncio.sleep(wait)
        read = await self.latest(uri)
        if read is None:
            return
        diagnostics = [_diagnostic(one, read, uri) for one in read.written.found]
        self.text_document_publish_diagnostics(
            lsp.PublishDiagnosticsParams(uri, diagnostics, read.version)
        )

    def policy_of(self, uri: str) -> Policy:
        """Return the policy that a document is read by."""
        return self._policies.policy_of(uri)

    async def latest(self, uri: str) -> _Read | None:
        """Return a document as it is now, read; None where it cannot be, or was changed while it
        was read."""
        document = self.workspace.get_text_document(uri)
        version, text = document.version, document.source
        known = self._read.get(uri)
        policy = self._policies.policy_of(uri)
        for problem in self._policies.problems:
            self.window_show_message(lsp.ShowMessageParams(lsp.MessageType.Error, problem))
        self._policies.problems.clear()
        if known is not None and known.written.is_of(text, policy):
            known.version = version
            return known
        writing = writing_of(document.language_id or "", uri)
        loop = asyncio.get_running_loop()
        written = await loop.run_in_executor(self._pool, _opened, text, policy, writing)
        if written is None or self.workspace.get_text_document(uri).version != version:
            return None
        read = _Read(version, written, Places(text, self.workspace.position_encoding or UTF_16))
        self._read[uri] = read
        return read


def _opened(text: str, policy: Policy, writing: Writing) -> WrittenText | None:
    """Read a text; None where it is larger than can be read while somebody types."""
    if len(text) > _MOST_CHARACTERS:
        return None
    try:
        written = WrittenText(text, policy, writing)
        _ = written.found
    except TooManyElements:
        return None
    return written


def _diagnostic(found: Found, read: _Read, uri: str) -> lsp.Diagnostic:
    finding = found.finding
    doubtful = finding.outcome == Outcome.CANT_TELL
    page = help_page(finding.check)
    others = set(finding.facts.get("others", ()))
    related = [
        lsp.DiagnosticRelatedInformation(
            lsp.Location(uri, read.places.range(*other.span)), other.finding.says
        )
        for other in read.written.found
        if other.finding.check == finding.check and other.finding.selector in others
    ]
    return lsp.Diagnostic(
        range=read.places.range(*found.span),
        message=f"{finding.says} {finding.question}" if finding.question else finding.says,
        severity=lsp.DiagnosticSeverity.Information if doubtful else _WEIGHTS[finding.weight],
        code=finding.check,
        code_description=lsp.CodeDescription(page) if page is not None else None,
        source=SOURCE,
        related_information=related or None,
        data={"place_key": finding.place_key},
    )


def _action(
    uri: str, read: _Read, way: Way, *, kind: str, diagnostics: list[lsp.Diagnostic] | None
) -> lsp.CodeAction:
    command = None
    if way.to_write is not None:
        after = Places(applied(read.written.text, ordered(way.edits)), read.places.encoding)
        selected = after.range(*way.to_write)
        command = lsp.Command("Write it", SELECT, arguments=[uri, _plain(selected)])
    return lsp.CodeAction(
        title=way.says,
        kind=kind,
        diagnostics=diagnostics,
        edit=lsp.WorkspaceEdit({uri: _text_edits(read, way.edits)}),
        is_preferred=way.sure or None,
        command=command,
    )


def _text_edits(read: _Read, edits: Iterable[Edit]) -> list[lsp.TextEdit]:
    return [lsp.TextEdit(read.places.range(one.start, one.end), one.text) for one in ordered(edits)]


def _plain(span: lsp.Range) -> dict[str, Any]:
    return {
        name: {"line": at.line, "character": at.character}
        for name, at in (("start", span.start), ("end", span.end))
    }


def _sure_edits(written: WrittenText, check: str = "") -> tuple[Edit, ...]:
    """Return the edits of all mends (of one check) that need no judgement and do not meet one
    another."""
    edits: list[Edit] = []
    for found in written.found:
        if check and found.finding.check != check:
            continue
        for way in written.ways(found):
            if not way.sure:
                continue
            with contextlib.suppress(Contradiction):
                edits = ordered([*edits, *way.edits])
                break
    return tuple(edits)


def _count(written: WrittenText, check: str) -> int:
    return sum(found.finding.check == check for found in written.found)


def _symbols(read: _Read) -> list[lsp.DocumentSymbol]:
    """Return the outline: each heading holds those below it, down to the next of its level."""
    rows = [row for row in read.written.outline() if row.kind == "heading"]
    ends = _ends(rows, len(read.written.text))
    top: list[lsp.DocumentSymbol] = []
    above: list[tuple[int, lsp.DocumentSymbol]] = []
    for row, end in zip(rows, ends, strict=True):
        level = row.level or 1
        symbol = lsp.DocumentSymbol(
            name=row.name or "(no text)",
            kind=lsp.SymbolKind.String,
            range=read.places.range(row.span[0], max(end, row.span[1])),
            selection_range=read.places.range(*row.span),
            detail=f"level {level}" + (f": {', '.join(row.faults)}" if row.faults else ""),
            children=[],
        )
        while above and above[-1][0] >= level:
            above.pop()
        siblings = above[-1][1].children if above else top
        assert isinstance(siblings, list)
        siblings.append(symbol)
        above.append((level, symbol))
    return top


def _ends(rows: list[Heading], length: int) -> Iterator[int]:
    for number, row in enumerate(rows):
        later = (
            other.span[0] for other in rows[number + 1 :] if (other.level or 1) <= (row.level or 1)
        )
        yield next(later, length)


def _hover(read: _Read, offset: int, policy: Policy) -> str:
    """Return what is known of a place: what was found there, whom it hinders and how it is mended,
    and what the element is to those who listen."""
    parts: list[str] = []
    for found in read.written.at((offset, offset)):
        check = catalogue()[found.finding.check]
        parts.append(f"**{found.finding.says}** ({found.finding.check}, {found.finding.weight})")
        parts += help_sections(check, _HELP_SECTIONS)
        own = policy.help_for(check.id)
        if own is not None:
            parts.append(f"{own.says} {own.link}".rstrip())
    element = read.written.element_at(offset)
    if element is not None:
        role, name, steps = read.written.name_of(element)
        shown = f"“{name}”" if name else "no name"
        hidden = "" if read.written.is_exposed(element) else ", hidden from screen readers"
        parts.append(f"`<{element.tag}>`: role {role or 'none'}, {shown}{hidden}")
        parts += [f"- {step}" for step in steps]
    return "\n\n".join(parts)


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
        await ls.client_register_capability_async(lsp.RegistrationParams([wanted]))


async def _on_policy_changed(ls: PageServer, params: lsp.DidChangeWatchedFilesParams) -> None:
    ls.all_changed()


async def _on_hover(ls: PageServer, params: lsp.HoverParams) -> lsp.Hover | None:
    read = await ls.latest(params.text_document.uri)
    if read is None:
        return None
    offset = read.places.offset(params.position)
    text = _hover(read, offset, ls.policy_of(params.text_document.uri))
    if not text:
        return None
    return lsp.Hover(lsp.MarkupContent(lsp.MarkupKind.Markdown, text))


async def _on_actions(ls: PageServer, params: lsp.CodeActionParams) -> list[lsp.CodeAction]:
    uri = params.text_document.uri
    read = await ls.latest(uri)
    if read is None:
        return []
    span = read.places.offset(params.range.start), read.places.offset(params.range.end)
    wanted = params.context.only
    offered: list[lsp.CodeAction] = []
    if wanted is None or lsp.CodeActionKind.QuickFix in wanted:
        for found in read.written.at(span):
            shown = [_diagnostic(found, read, uri)]
            ways = [*read.written.ways(found)]
            check = found.finding.check
            if any(way.sure for way in ways) and _count(read.written, check) > 1:
                says = f"The same at all {_count(read.written, check)} places ({check})"
                ways.append(Way(says, _sure_edits(read.written, check), None, sure=False))
            offered += [
                _action(uri, read, way, kind=lsp.CodeActionKind.QuickFix, diagnostics=shown)
                for way in ways
            ]
    if wanted is None or any(FIX_ALL.startswith(str(kind)) for kind in wanted):
        edits = _sure_edits(read.written)
        if edits:
            way = Way("Mend all that needs no judgement", edits, None, sure=False)
            offered.append(_action(uri, read, way, kind=FIX_ALL, diagnostics=None))
    return offered


async def _on_select(ls: PageServer, uri: str, span: dict[str, Any]) -> None:
    start, end = (lsp.Position(**_member(span, name)) for name in ("start", "end"))
    await ls.window_show_document_async(
        lsp.ShowDocumentParams(uri, take_focus=True, selection=lsp.Range(start, end))
    )


async def _on_symbols(ls: PageServer, params: lsp.DocumentSymbolParams) -> list[lsp.DocumentSymbol]:
    read = await ls.latest(params.text_document.uri)
    return _symbols(read) if read is not None else []


def _member(span: Any, name: str) -> dict[str, int]:
    """Return a position of a command's argument, which the library gives as a mapping or as an
    object."""
    at = span[name] if isinstance(span, dict) else getattr(span, name)
    if isinstance(at, dict):
        return {"line": int(at["line"]), "character": int(at["character"])}
    return {"line": int(at.line), "character": int(at.character)}


def make_server() -> PageServer:
    """Return the server with its features."""
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
    server.feature(lsp.TEXT_DOCUMENT_DOCUMENT_SYMBOL)(_on_symbols)
    return server
