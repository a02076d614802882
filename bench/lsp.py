"""The language server: from its start to the first diagnostics, and from a keystroke to the next.

Keys are pressed in paragraphs all over the page, each as soon as the last was answered, while the
whole is being read beside it; the answer to a keystroke is the first that tells of its version.

``python -m bench.lsp``: milliseconds, and memory in MiB; each also against the time of ``python -c
pass`` on this machine, since machines differ.
"""

from __future__ import annotations

import asyncio
import json
import os
import subprocess
import sys
import time
from typing import Any

import psutil

LINES = 1_000
KEYSTROKES = 80
PAUSES = (0.05, 0.1, 0.25, 0.4)
"""Seconds between keystrokes: in some the reading of the whole begins."""
URI = "file:///bench/page.html"
LARGE_LINES = 20_000
LARGE_URI = "file:///bench/large.html"


STYLE = "".join(
    f".site .part-{number} > p {{ color: #333; margin: {number}px }} .tile-{number}:hover a "
    f"{{ color: #{number:03}; background: #fff }} "
    for number in range(150)
)
"""As many rules as a theme has, so that contrast is told with every key."""


def page(lines: int) -> str:
    """Return a page of so many lines, with its style sheet and a fault on each tenth."""
    names = ("here" if number % 10 == 0 else f"Lock {number}" for number in range(lines))
    body = "".join(
        f'<p>Line {number} about the lock. <a href="/{number}">{name}</a></p>\n'
        for number, name in enumerate(names)
    )
    return (
        f'<!doctype html>\n<html lang="en"><head><title>Locks</title><style>{STYLE}</style></head>'
        f"<body class=site><main>"
        f"<h1>Locks</h1>\n{body}</main></body></html>\n"
    )


class Editor:
    """The least client of the protocol: what it costs is not the server's."""

    def __init__(self, process: asyncio.subprocess.Process) -> None:
        assert process.stdin is not None
        assert process.stdout is not None
        self._to, self._from = process.stdin, process.stdout

    def send(self, method: str, params: object, number: int | None = None) -> None:
        """Send a message."""
        message = {"jsonrpc": "2.0", "method": method, "params": params}
        if number is not None:
            message["id"] = number
        body = json.dumps(message).encode()
        self._to.write(f"Content-Length: {len(body)}\r\n\r\n".encode() + body)

    async def receive(self) -> tuple[float, dict[str, Any]]:
        """Return the next message and when it had come."""
        head = await asyncio.wait_for(self._from.readuntil(b"\r\n\r\n"), 60)
        length = int(head.lower().partition(b"content-length:")[2].split(b"\r\n")[0])
        body = await self._from.readexactly(length)
        return time.perf_counter(), json.loads(body)

    async def answered(self, number: int) -> float:
        """Return when a request was answered."""
        while True:
            at, message = await self.receive()
            if message.get("id") == number and "method" not in message:
                return at

    async def told(self, version: int) -> float:
        """Return when a version was told of first."""
        while True:
            at, message = await self.receive()
            is_told = message.get("method") == "textDocument/publishDiagnostics"
            if is_told and (message["params"].get("version") or 0) >= version:
                return at


async def started_server() -> tuple[asyncio.subprocess.Process, Editor]:
    """Return the process of a server that has answered ``initialize``, and its client."""
    process = await asyncio.create_subprocess_exec(
        sys.executable,
        "-m",
        "plumrake",
        "lsp",
        stdin=asyncio.subprocess.PIPE,
        stdout=asyncio.subprocess.PIPE,
        limit=2**26,
        env={n: v for n, v in os.environ.items() if n != "PYTHONDONTWRITEBYTECODE"},
    )
    editor = Editor(process)
    editor.send("initialize", {"capabilities": {}, "processId": None, "rootUri": None}, 1)
    await editor.answered(1)
    return process, editor


async def opened(editor: Editor, uri: str, lines: int) -> float:
    """Open a page; return the seconds until it was told of first."""
    begun = time.perf_counter()
    document = {"uri": uri, "languageId": "html", "version": 1, "text": page(lines)}
    editor.send("textDocument/didOpen", {"textDocument": document})
    return await editor.told(1) - begun


async def typed(editor: Editor, uri: str, lines: int, keystrokes: int) -> list[float]:
    """Press keys all over a page; return the seconds until each was told of, sorted."""
    waits: list[float] = []
    for version in range(2, 2 + keystrokes):
        line = version // 8 * 97 % lines
        document = {"uri": uri, "version": version}
        place = {"line": line + 3, "character": len(f"<p>Line {line} about the lock")}
        await asyncio.sleep(PAUSES[version % len(PAUSES)])
        begun = time.perf_counter()
        change = {"range": {"start": place, "end": place}, "text": " x"}
        told = {"textDocument": document, "contentChanges": [change]}
        editor.send("textDocument/didChange", told)
        waits.append(await editor.told(version) - begun)
    return sorted(waits)


async def ended(process: asyncio.subprocess.Process, editor: Editor) -> None:
    """End a server as an editor does."""
    editor.send("shutdown", None, 2)
    await editor.answered(2)
    editor.send("exit", None)
    await process.wait()


async def measure(bare: float) -> None:
    """Print the figures, each also against the seconds of an empty Python."""
    await ended(*await started_server())  # the first start compiles what later ones find
    begun = time.perf_counter()
    process, editor = await started_server()
    started = time.perf_counter() - begun
    editor.send("initialized", {})
    first = await opened(editor, URI, LINES)
    await asyncio.sleep(1)  # the whole, with dictionaries
    waits = await typed(editor, URI, LINES, KEYSTROKES)
    memory = psutil.Process(process.pid).memory_info().rss / 2**20
    editor.send("textDocument/didClose", {"textDocument": {"uri": URI}})
    large = await opened(editor, LARGE_URI, LARGE_LINES)
    await asyncio.sleep(10 * large)
    large_waits = await typed(editor, LARGE_URI, LARGE_LINES, 20)
    for name, seconds, wanted in (
        ("start", started, 500),
        (f"first diagnostics, {LINES:,} lines", first, 300),
        ("after a keystroke, 95 of 100", waits[int(len(waits) * 0.95) - 1], 50),
        ("after a keystroke, median", waits[len(waits) // 2], 50),
        (f"first, {2 * LARGE_LINES:,} elements", large, None),
        ("after a keystroke there, worst", large_waits[-1], None),
        ("after a keystroke there, median", large_waits[len(large_waits) // 2], None),
    ):
        asked = f" (wanted: {wanted})" if wanted is not None else ""
        print(
            f"  {name:<32} {seconds * 1000:6.0f} ms{asked}; "
            f"{seconds / bare:5.1f} times an empty Python"
        )
    print(f"  memory {memory:.0f} MiB (wanted: 150)")
    await ended(process, editor)


def main() -> None:
    """Measure once."""
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-c", "pass"], check=True)
    asyncio.run(measure(time.perf_counter() - begun))


if __name__ == "__main__":
    main()
