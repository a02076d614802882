"""The language server, asked by a client of the protocol over standard input and output."""

from __future__ import annotations

import asyncio
import sys
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any, Union

import psutil
import pytest
from cattrs import Converter
from lsprotocol import types as lsp
from pygls.lsp.client import LanguageClient
from pygls.protocol import default_converter

from plumrake.lsp.places import Places

PAGE = """<!doctype html>
<html lang="en"><head><title>Locks</title></head>
<body><main><h1>Locks</h1>
<p>Read about it <a href="/fees">here</a>. Ünder 🦦 it, <a href="/x">click here</a>.</p>
<h4>Hours</h4><p></p>
<img src="/lock.jpg" width="300" height="200">
</main></body></html>
"""
PART = '<p>Read <a href="/fees">here</a>.</p>\n'
MARKDOWN = "# Locks\n\nRead about it [here](/fees).\n\n![](lock.jpg)\n\n#### Hours\n\nFrom nine.\n"


class Editor:
    """A client of the server with what it was told."""

    def __init__(self, client: LanguageClient) -> None:
        self.client = client
        self.told: asyncio.Queue[lsp.PublishDiagnosticsParams] = asyncio.Queue()
        self.shown: list[lsp.ShowDocumentParams] = []
        self.messages: list[str] = []

    async def open(self, uri: str, text: str, language: str = "html") -> list[lsp.Diagnostic]:
        """Open a document; return what is told of it."""
        item = lsp.TextDocumentItem(uri, language, 1, text)
        self.client.text_document_did_open(lsp.DidOpenTextDocumentParams(item))
        return await self.diagnostics(uri, 1)

    async def type(self, uri: str, version: int, text: str) -> None:
        """Change all of a document."""
        whole = lsp.TextDocumentContentChangeWholeDocument(text)
        self.client.text_document_did_change(
            lsp.DidChangeTextDocumentParams(
                lsp.VersionedTextDocumentIdentifier(version, uri), [whole]
            )
        )

    async def diagnostics(self, uri: str, version: int) -> list[lsp.Diagnostic]:
        """Return what is told of a version of a document."""
        async with asyncio.timeout(20):
            while True:
                told = await self.told.get()
                if told.uri == uri and told.version == version:
                    return list(told.diagnostics)

    async def actions(self, uri: str, span: lsp.Range, *only: str) -> list[lsp.CodeAction]:
        """Return the actions that are offered for a span."""
        found = await self.client.text_document_code_action_async(
            lsp.CodeActionParams(
                lsp.TextDocumentIdentifier(uri),
                span,
                lsp.CodeActionContext([], only=list(only) or None),
            )
        )
        return [one for one in found or [] if isinstance(one, lsp.CodeAction)]


def _converter() -> Converter:
    """The library's converter takes an action with a command for a command; ours looks."""
    converter = default_converter()

    def action(given: dict[str, Any], _: object) -> lsp.Command | lsp.CodeAction:
        kind = lsp.Command if isinstance(given.get("command"), str) else lsp.CodeAction
        return converter.structure(given, kind)

    converter.register_structure_hook(lsp.Command | lsp.CodeAction, action)
    converter.register_structure_hook(Union[lsp.Command, lsp.CodeAction], action)  # noqa: UP007
    return converter


@pytest.fixture
async def editor(tmp_path: Path) -> AsyncIterator[Editor]:
    """An editor with the server started."""
    client = LanguageClient("an-editor", "1", converter_factory=_converter)
    editor = Editor(client)

    @client.feature(lsp.TEXT_DOCUMENT_PUBLISH_DIAGNOSTICS)
    def told(params: lsp.PublishDiagnosticsParams) -> None:
        editor.told.put_nowait(params)

    @client.feature(lsp.WINDOW_SHOW_DOCUMENT)
    def shown(params: lsp.ShowDocumentParams) -> lsp.ShowDocumentResult:
        editor.shown.append(params)
        return lsp.ShowDocumentResult(True)

    @client.feature(lsp.WINDOW_SHOW_MESSAGE)
    def message(params: lsp.ShowMessageParams) -> None:
        editor.messages.append(params.message)

    await client.start_io(sys.executable, "-m", "plumrake", "lsp")
    await client.initialize_async(
        lsp.InitializeParams(capabilities=lsp.ClientCapabilities(), root_uri=tmp_path.as_uri())
    )
    client.initialized(lsp.InitializedParams())
    yield editor
    await client.shutdown_async(None)
    client.exit(None)
    await client.stop()


def made(text: str, action: lsp.CodeAction) -> str:
    """Return a text after an action."""
    assert action.edit is not None
    assert action.edit.changes is not None
    places = Places(text)
    [edits] = action.edit.changes.values()
    for one in sorted(edits, key=lambda edit: -places.offset(edit.range.start)):
        start, end = places.offset(one.range.start), places.offset(one.range.end)
        text = text[:start] + str(one.new_text) + text[end:]
    return text


def at(text: str, words: str) -> lsp.Range:
    """Return the range of some words of a text."""
    start = text.index(words)
    return Places(text).range(start, start + len(words))


async def test_what_is_found_is_told_while_somebody_types(editor: Editor) -> None:
    """By weight, at the start tag, with the check's help as a file; the latest text alone."""
    uri = "file:///site/locks.html"
    told = {str(one.code): one for one in await editor.open(uri, PAGE)}
    assert {
        "links/vague",
        "headings/level-jump",
        "pictures/no-text",
        "text/empty-paragraph",
    } <= set(told)
    picture = told["pictures/no-text"]
    assert picture.severity == lsp.DiagnosticSeverity.Error
    assert picture.range == at(PAGE, '<img src="/lock.jpg" width="300" height="200">')
    assert picture.code_description is not None
    help_page = Path(picture.code_description.href.removeprefix("file://"))
    assert help_page.read_text(encoding="utf-8").startswith("# ")
    assert told["links/vague"].severity == lsp.DiagnosticSeverity.Warning
    assert told["text/empty-paragraph"].severity == lsp.DiagnosticSeverity.Information
    for version in range(2, 12):
        await editor.type(uri, version, PAGE.replace("here", "h" * version))
    after = await editor.diagnostics(uri, 11)
    assert editor.told.empty(), "what was overtaken is not told"
    assert "links/vague" not in {one.code for one in after}


async def test_memory_stays_flat_while_somebody_types(editor: Editor) -> None:
    """What a reading of the whole leaves behind is collected, between keystrokes."""
    uri, line = "file:///site/locks.html", '<p>Read <a href="/fees">here</a> of <b>it</b>.</p>\n'
    [server] = [one for one in psutil.Process().children() if "lsp" in one.cmdline()]

    async def typed(versions: range) -> int:
        for version in versions:
            await editor.type(uri, version, f"<main>{'x' * version}{line * 400}</main>")
            await editor.client.text_document_document_symbol_async(
                lsp.DocumentSymbolParams(lsp.TextDocumentIdentifier(uri))
            )
        return server.memory_info().rss // 2**20

    await editor.open(uri, line)
    before = await typed(range(2, 10))
    assert await typed(range(10, 40)) - before < 40


async def test_places_are_counted_as_the_protocol_does(editor: Editor) -> None:
    """What stands behind a character of two UTF-16 units is where the editor has it."""
    told = await editor.open("file:///site/otters.html", PAGE)
    spans = [one.range for one in told if one.code == "links/vague"]
    assert spans == [at(PAGE, '<a href="/fees">'), at(PAGE, '<a href="/x">')]
    line = PAGE.splitlines()[3]
    before = line[: line.index('<a href="/x">')]
    assert spans[1].start.character == len(before.encode("utf-16-le")) // 2


async def test_a_part_of_a_page_is_not_told_what_only_pages_have(editor: Editor) -> None:
    """Neither title, nor main, nor a heading of level 1 is missing in a part."""
    told = await editor.open("file:///site/part.html", PART)
    assert [one.code for one in told] == ["links/vague"]


async def test_mends_are_actions(editor: Editor) -> None:
    """Each carries out its mend; where words are wanted their place is selected, and until they are
    written the finding stays."""
    uri = "file:///site/locks.html"
    await editor.open(uri, PAGE)
    actions = await editor.actions(uri, at(PAGE, "<h4>"), "quickfix")
    [level] = [one for one in actions if "level" in one.title]
    assert "<h2>Hours</h2>" in made(PAGE, level)
    actions = await editor.actions(uri, at(PAGE, '<img src="/lock.jpg"'), "quickfix")
    write, decorative = actions[0], next(one for one in actions if "decorative" in one.title)
    text = made(PAGE, write)
    assert 'alt="…"' in text
    assert 'alt=""' in made(PAGE, decorative)
    await editor.type(uri, 2, text)
    assert any(str(one.code).startswith("pictures/") for one in await editor.diagnostics(uri, 2)), (
        "nobody has written yet what it shows"
    )
    command = write.command
    assert command is not None
    await editor.client.workspace_execute_command_async(
        lsp.ExecuteCommandParams(command.command, command.arguments)
    )
    [shown] = editor.shown
    assert shown.selection == at(text, "…")


async def test_all_that_needs_no_judgement_is_one_action(editor: Editor) -> None:
    uri = "file:///site/locks.html"
    await editor.open(uri, PAGE)
    [everything] = await editor.actions(uri, at(PAGE, "<h1>"), "source.fixAll")
    text = made(PAGE, everything)
    assert "<h2>Hours</h2>" in text
    assert '<a href="/fees">here</a>' in text, "what needs words stays"


async def test_the_same_at_all_places_of_a_kind(editor: Editor) -> None:
    """Where a mend needs no judgement and there are several, one action makes them all."""
    uri = "file:///site/locks.html"
    text = PAGE.replace("<h4>Hours</h4>", "<h4>Hours</h4><p>Nine.</p><h2>Fees</h2><h5>Boats</h5>")
    await editor.open(uri, text)
    actions = await editor.actions(uri, at(text, "<h4>"), "quickfix")
    [everywhere] = [one for one in actions if "all 2 places (headings/level-jump)" in one.title]
    after = made(text, everywhere)
    assert "<h2>Hours</h2>" in after
    assert "<h3>Boats</h3>" in after
    actions = await editor.actions(uri, at(text, '<a href="/fees">'), "quickfix")
    assert not [one for one in actions if "all 2 places" in one.title], "words are judgement"


async def test_hovering_tells_name_and_help(editor: Editor) -> None:
    """What was found, whom it hinders, how to mend it; of any element its name and why."""
    uri = "file:///site/locks.html"
    await editor.open(uri, PAGE)

    async def hover(words: str) -> str:
        found = await editor.client.text_document_hover_async(
            lsp.HoverParams(lsp.TextDocumentIdentifier(uri), at(PAGE, words).start)
        )
        assert found is not None
        assert isinstance(found.contents, lsp.MarkupContent)
        return found.contents.value

    told = await hover('<a href="/fees">')
    assert "does not say that it leads to /fees" in told
    assert "*Who is hindered.* " in told
    assert "role link, “here”" in told
    heading = await hover("<h1>")
    assert "role heading, “Locks”" in heading
    assert "Who is hindered" not in heading


async def test_symbols_are_the_outline(editor: Editor) -> None:
    """Headings below one another, each with its level and its faults."""
    uri = "file:///site/locks.html"
    await editor.open(uri, PAGE)
    found = await editor.client.text_document_document_symbol_async(
        lsp.DocumentSymbolParams(lsp.TextDocumentIdentifier(uri))
    )
    [top] = found or []
    assert isinstance(top, lsp.DocumentSymbol)
    [below] = top.children or []
    assert (top.name, top.detail) == ("Locks", "level 1")
    assert (below.name, below.detail) == ("Hours", "level 4: headings/level-jump")
    assert below.range.end.line <= top.range.end.line


async def test_markdown(editor: Editor) -> None:
    """Places and mends are those of the Markdown."""
    uri = "file:///site/locks.md"
    told = {str(one.code): one for one in await editor.open(uri, MARKDOWN, "markdown")}
    assert told["links/vague"].range == at(MARKDOWN, "[here](/fees)")
    assert told["headings/level-jump"].range == at(MARKDOWN, "#### Hours")
    actions = await editor.actions(uri, at(MARKDOWN, "#### Hours"), "quickfix")
    assert "\n## Hours\n" in made(MARKDOWN, actions[0])


async def test_the_nearest_policy_holds(editor: Editor, tmp_path: Path) -> None:
    """It is read again when it changes; one that is none is told, and the default holds."""
    policy = tmp_path / "plumrake.toml"
    policy.write_text('without = ["links/vague"]\n')
    uri = (tmp_path / "pages" / "part.html").as_uri()
    assert await editor.open(uri, PART) == []
    policy.write_text("without = []\nhold = 'none'\n")
    editor.client.workspace_did_change_watched_files(
        lsp.DidChangeWatchedFilesParams(
            [lsp.FileEvent(policy.as_uri(), lsp.FileChangeType.Changed)]
        )
    )
    assert [one.code for one in await editor.diagnostics(uri, 1)] == ["links/vague"]
    policy.write_text("nonsense = [\n")
    editor.client.workspace_did_change_watched_files(
        lsp.DidChangeWatchedFilesParams(
            [lsp.FileEvent(policy.as_uri(), lsp.FileChangeType.Changed)]
        )
    )
    async with asyncio.timeout(20):
        while not editor.messages:
            await asyncio.sleep(0.05)
    [message] = editor.messages
    assert "the policy '" in message


async def test_a_closed_document_is_forgotten(editor: Editor) -> None:
    uri = "file:///site/part.html"
    await editor.open(uri, PART)
    editor.client.text_document_did_close(
        lsp.DidCloseTextDocumentParams(lsp.TextDocumentIdentifier(uri))
    )
    async with asyncio.timeout(10):
        told: Any = await editor.told.get()
    assert (told.uri, list(told.diagnostics)) == (uri, [])
