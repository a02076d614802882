"""The language server: from its start to the first diagnostics, and from a keystroke to the next.

``python -m bench.lsp``: milliseconds, and memory in MiB; each also against the time of ``python -c
pass`` on this machine, since machines differ.
"""

from __future__ import annotations

import asyncio
import subprocess
import sys
import time

import psutil
from lsprotocol import types as lsp
from pygls.lsp.client import LanguageClient

from plumrake.lsp import server

LINES = 1_000
KEYSTROKES = 40
URI = "file:///bench/page.html"


def page(lines: int, words: str = "") -> str:
    """Return a page of so many lines, with a fault on each tenth."""
    names = ("here" if number % 10 == 0 else f"Lock {number}" for number in range(lines))
    body = "".join(
        f'<p>Line {number} about the lock. <a href="/{number}">{name}</a></p>\n'
        for number, name in enumerate(names)
    )
    return (
        f'<!doctype html>\n<html lang="en"><head><title>Locks</title></head><body><main>'
        f"<h1>Locks {words}</h1>\n{body}</main></body></html>\n"
    )


class Told:
    """What the server told last, by version."""

    def __init__(self, client: LanguageClient) -> None:
        self._news: asyncio.Queue[int] = asyncio.Queue()

        @client.feature(lsp.TEXT_DOCUMENT_PUBLISH_DIAGNOSTICS)
        def told(params: lsp.PublishDiagnosticsParams) -> None:
            self._news.put_nowait(params.version or 0)

    async def of(self, version: int) -> None:
        """Wait until a version was told of."""
        while await asyncio.wait_for(self._news.get(), 60) < version:
            pass


async def measure(bare: float) -> None:
    """Print the figures, each also against the seconds of an empty Python."""
    client = LanguageClient("bench", "1")
    told = Told(client)
    begun = time.perf_counter()
    await client.start_io(sys.executable, "-m", "plumrake", "lsp")
    await client.initialize_async(lsp.InitializeParams(capabilities=lsp.ClientCapabilities()))
    client.initialized(lsp.InitializedParams())
    started = time.perf_counter() - begun
    begun = time.perf_counter()
    item = lsp.TextDocumentItem(URI, "html", 1, page(LINES))
    client.text_document_did_open(lsp.DidOpenTextDocumentParams(item))
    await told.of(1)
    first = time.perf_counter() - begun
    waits: list[float] = []
    for version in range(2, 2 + KEYSTROKES):
        whole = lsp.TextDocumentContentChangeWholeDocument(page(LINES, "x" * version))
        document = lsp.VersionedTextDocumentIdentifier(version, URI)
        begun = time.perf_counter()
        client.text_document_did_change(lsp.DidChangeTextDocumentParams(document, [whole]))
        await told.of(version)
        waits.append(time.perf_counter() - begun - server.WAIT_SECONDS)
    waits.sort()
    process = client._server
    memory = psutil.Process(process.pid).memory_info().rss / 2**20 if process is not None else 0
    for name, seconds, wanted in (
        ("start", started, 500),
        (f"first diagnostics, {LINES:,} lines", first, 300),
        ("after a keystroke, 95 of 100", waits[int(len(waits) * 0.95) - 1], 50),
        ("after a keystroke, median", waits[len(waits) // 2], 50),
    ):
        print(
            f"  {name:<32} {seconds * 1000:6.0f} ms (wanted: {wanted}); "
            f"{seconds / bare:5.1f} times an empty Python"
        )
    print(f"  memory {memory:.0f} MiB (wanted: 150)")
    await client.shutdown_async(None)
    client.exit(None)
    await client.stop()


def main() -> None:
    """Measure once."""
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-c", "pass"], check=True)
    asyncio.run(measure(time.perf_counter() - begun))


if __name__ == "__main__":
    main()
