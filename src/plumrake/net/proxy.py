"""The browser's only way out: a proxy that asks the guard for every connection.

Chromium is started with this as its proxy, loopback included, so redirects, scripts, frames and
pictures cannot reach what the guard refuses. Files of local folders and archives never come here:
the tab answers for them.
"""

from __future__ import annotations

import asyncio
import contextlib
import socket
from urllib.parse import urlsplit

from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable

_HEAD_LIMIT = 64 * 1024
_IDLE_SECONDS = 30.0


class GuardProxy:
    """An HTTP proxy (RFC 9110, 7.6 and 9.3.6) for one browser; use as an async context manager."""

    def __init__(self, guard: Guard, most_bytes: int) -> None:
        self.guard = guard
        self._most_bytes = most_bytes
        self._servers: list[asyncio.Server] = []
        self._open: set[asyncio.Task[None]] = set()

    async def __aenter__(self) -> GuardProxy:
        return self

    async def listen(self) -> int:
        """Listen on loopback; return the port. For a browser that shares the machine's network."""
        server = await asyncio.start_server(self._serve, "127.0.0.1", 0, limit=_HEAD_LIMIT)
        self._servers.append(server)
        port: int = server.sockets[0].getsockname()[1]
        return port

    async def listen_on(self, listening: socket.socket) -> None:
        """Listen on a socket that stands in the browser's own network, instead of on others."""
        for server in self._servers:
            server.close()
        self._servers = [await asyncio.start_server(self._serve, sock=listening, limit=_HEAD_LIMIT)]

    async def __aexit__(self, *_: object) -> None:
        for server in self._servers:
            server.close()
        for task in list(self._open):
            task.cancel()
        await asyncio.gather(*self._open, return_exceptions=True)

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        task = asyncio.current_task()
        assert task is not None
        self._open.add(task)
        try:
            await self._answer(reader, writer)
        except Unreadable as refused:
            with contextlib.suppress(OSError):
                writer.write(_plain(502, f"{refused.code}: {refused}"))
                await writer.drain()
        except (
            OSError,
            asyncio.IncompleteReadError,
            asyncio.LimitOverrunError,
            TimeoutError,
            ValueError,
        ):
            pass
        except asyncio.CancelledError:
            pass  # the proxy ends; the stream's own callback would print a task that was cancelled
        finally:
            self._open.discard(task)
            writer.close()

    async def _answer(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        head = await asyncio.wait_for(reader.readuntil(b"\r\n\r\n"), timeout=_IDLE_SECONDS)
        request, _, fields = head.partition(b"\r\n")
        method, target, _ = request.decode("latin-1").split(" ", 2)
        if method == "CONNECT":
            host, _, port = target.rpartition(":")
            upstream = await self.guard.connect(host, int(port))
            writer.write(b"HTTP/1.1 200 Connection established\r\n\r\n")
        else:
            parts = urlsplit(target)
            host = parts.hostname or ""
            path = parts._replace(scheme="", netloc="", fragment="").geturl() or "/"
            upstream = await self.guard.connect(host, parts.port or 80)
            upstream[1].write(
                f"{method} {path} HTTP/1.1\r\n".encode("latin-1") + _forwarded(fields)
            )
        await self._pipe_both(reader, writer, *upstream, is_tunnel=method == "CONNECT")

    async def _pipe_both(
        self,
        reader: asyncio.StreamReader,
        writer: asyncio.StreamWriter,
        from_host: asyncio.StreamReader,
        to_host: asyncio.StreamWriter,
        *,
        is_tunnel: bool,
    ) -> None:
        sending = asyncio.ensure_future(_pipe(reader, to_host, self._most_bytes))
        try:
            if not is_tunnel:
                await _pass_heads(from_host, writer)
            await _pipe(from_host, writer, self._most_bytes)
        finally:
            sending.cancel()
            with contextlib.suppress(asyncio.CancelledError, OSError):
                await sending
            to_host.close()


async def _pipe(source: asyncio.StreamReader, sink: asyncio.StreamWriter, most_bytes: int) -> None:
    """Copy until the source ends, falls silent, or has sent more than it may."""
    copied = 0
    while copied <= most_bytes:
        async with asyncio.timeout(
            _IDLE_SECONDS
        ):  # wait_for may swallow a cancellation that comes together with a chunk
            chunk = await source.read(2**16)
        if not chunk:
            return
        copied += len(chunk)
        sink.write(chunk)
        await sink.drain()


async def _pass_heads(source: asyncio.StreamReader, sink: asyncio.StreamWriter) -> None:
    """Copy the head of a response, and those of interim ones (1xx) before it, saying that the
    connection ends with it (RFC 9112, 9.6).

    Else the browser would send its next request on a connection that is about to be closed. What is
    no head is left for the copying.
    """
    status = b"1"
    while status.startswith(b"1"):
        try:
            async with asyncio.timeout(_IDLE_SECONDS):
                head = await source.readuntil(b"\r\n\r\n")
        except asyncio.IncompleteReadError as ended:
            sink.write(ended.partial)
            return
        first, *lines = head[:-4].split(b"\r\n")
        status = first.partition(b" ")[2][:3]
        if not status.startswith(b"1"):
            lines = [
                *(
                    line
                    for line in lines
                    if not line.lower().startswith((b"connection:", b"keep-alive:"))
                ),
                b"Connection: close",
            ]
        sink.write(b"\r\n".join([first, *lines, b"", b""]))


def _forwarded(fields: bytes) -> bytes:
    """Return the request's header fields without those meant for the proxy; one request per
    connection."""
    own = (b"proxy-", b"connection:", b"keep-alive:")
    kept = [line for line in fields.split(b"\r\n") if line and not line.lower().startswith(own)]
    return b"\r\n".join([*kept, b"Connection: close", b"", b""])


def _head(status: int, kind: str, length: int) -> bytes:
    return (
        f"HTTP/1.1 {status} -\r\nContent-Type: {kind}\r\nContent-Length: {length}\r\nConnection: "
        "close\r\n\r\n"
    ).encode("latin-1")


def _plain(status: int, text: str) -> bytes:
    body = text.encode()
    return _head(status, "text/plain; charset=utf-8", len(body)) + body
