"""The language server as the clients of several editors meet it: each says what it can show, and
is told nothing beyond that."""

from __future__ import annotations

import sys

import pytest
import pytest_lsp
from lsprotocol import types as lsp
from pytest_lsp import ClientServerConfig, LanguageClient, client_capabilities

URI = "file:///site/part.html"
TEXT = (
    '<p style="color: #777; background: white">Read <a href="/fees">here</a>.</p>\n'
    "<h2>Hours</h2>\n"
    '<div role=""></div>\n'
)


@pytest_lsp.fixture(
    config=ClientServerConfig(server_command=[sys.executable, "-m", "plumrake", "lsp"]),
    params=["neovim@0.11", "emacs@29", "visual-studio-code"],
)
async def client(request: pytest.FixtureRequest, lsp_client: LanguageClient):  # type: ignore[no-untyped-def]
    """A client that can what an editor can."""
    watched: list[str] = []

    @lsp_client.feature(lsp.CLIENT_REGISTER_CAPABILITY)
    def registered(params: lsp.RegistrationParams) -> None:
        watched.extend(one.method for one in params.registrations)

    capabilities = client_capabilities(request.param)
    await lsp_client.initialize_session(
        lsp.InitializeParams(capabilities=capabilities, workspace_folders=None)
    )
    yield
    assert set(watched) <= {lsp.WORKSPACE_DID_CHANGE_WATCHED_FILES}
    await lsp_client.shutdown_session()


async def test_a_session(client: LanguageClient) -> None:
    """Opened, looked at, asked, mended, closed."""
    client.text_document_did_open(
        lsp.DidOpenTextDocumentParams(lsp.TextDocumentItem(URI, "html", 1, TEXT))
    )
    await client.wait_for_notification(lsp.TEXT_DOCUMENT_PUBLISH_DIAGNOSTICS)
    [vague] = [one for one in client.diagnostics[URI] if one.code == "links/vague"]
    document = lsp.TextDocumentIdentifier(URI)
    hover = await client.text_document_hover_async(lsp.HoverParams(document, vague.range.start))
    assert hover is not None
    assert isinstance(hover.contents, lsp.MarkupContent)
    assert "Who is hindered" in hover.contents.value
    actions = await client.text_document_code_action_async(
        lsp.CodeActionParams(document, vague.range, lsp.CodeActionContext([vague]))
    )
    assert actions
    assert "Write into the link what it leads to." in [one.title for one in actions]
    symbols = await client.text_document_document_symbol_async(lsp.DocumentSymbolParams(document))
    assert [one.name for one in symbols or []] == ["Hours"]
    colours = await client.text_document_document_color_async(lsp.DocumentColorParams(document))
    assert [round(one.color.red, 2) for one in colours or []] == [0.47, 1.0]
    [shown] = await client.text_document_color_presentation_async(
        lsp.ColorPresentationParams(document, lsp.Color(0.0, 0.0, 0.5, 1.0), colours[0].range)
    )
    assert shown.label == "#000080"
    offered = await client.text_document_completion_async(
        lsp.CompletionParams(document, lsp.Position(2, len('<div role="')))
    )
    items = offered.items if isinstance(offered, lsp.CompletionList) else offered or []
    assert "navigation" in [one.label for one in items]
