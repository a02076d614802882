"""The HTTP client that everything fetches with: it reaches only what the guard lets through."""

from __future__ import annotations

import asyncio
import select
import ssl
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

import httpcore
import httpx

from plumrake.net.exchange import USER_AGENT
from plumrake.net.guard import Guard
from plumrake.net.unpacking import CODINGS


class _Stream(httpcore.AsyncNetworkStream):
    """A connection that knows its socket: the pool asks each that waits, with every request,
    whether its host has closed it, and anyio takes a tenth of a millisecond to look that up."""

    def __init__(self, inner: httpcore.AsyncNetworkStream) -> None:
        self._inner = inner
        self._socket = inner.get_extra_info("socket")

    async def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        return await self._inner.read(max_bytes, timeout)

    async def write(self, buffer: bytes, timeout: float | None = None) -> None:
        await self._inner.write(buffer, timeout)

    async def aclose(self) -> None:
        await self._inner.aclose()

    async def start_tls(
        self,
        ssl_context: ssl.SSLContext,
        server_hostname: str | None = None,
        timeout: float | None = None,
    ) -> httpcore.AsyncNetworkStream:
        return _Stream(await self._inner.start_tls(ssl_context, server_hostname, timeout))

    def get_extra_info(self, info: str) -> Any:
        if info != "is_readable":
            return self._inner.get_extra_info(info)
        number = -1 if self._socket is None else self._socket.fileno()
        if number < 0:
            return True
        look = select.poll()
        look.register(number, select.POLLIN)
        return bool(look.poll(0))


@dataclass(slots=True)
class _GuardedBackend(httpcore.AsyncNetworkBackend):
    """httpcore's way to the network, led through the guard."""

    guard: Guard
    inner: httpcore.AsyncNetworkBackend = field(default_factory=httpcore.AnyIOBackend)

    async def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[Any] | None = None,
    ) -> httpcore.AsyncNetworkStream:
        address = await self.guard.resolve(host, port)
        return _Stream(
            await self.inner.connect_tcp(address, port, timeout, local_address, socket_options)
        )

    async def sleep(self, seconds: float) -> None:
        await asyncio.sleep(seconds)


def guarded_client(guard: Guard, seconds: float = 30.0) -> httpx.AsyncClient:
    """Return an HTTP client that can reach only what the guard lets through; it follows no redirect
    by itself."""
    transport = httpx.AsyncHTTPTransport(retries=0)
    transport._pool = httpcore.AsyncConnectionPool(
        ssl_context=ssl.create_default_context(),
        network_backend=_GuardedBackend(guard),
        max_connections=20,
        keepalive_expiry=10,
    )
    headers = {
        "user-agent": USER_AGENT,
        "accept": "text/html,application/xhtml+xml;q=0.9,*/*;q=0.1",
        "accept-encoding": CODINGS,
    }
    return httpx.AsyncClient(
        transport=transport,
        headers=headers,
        follow_redirects=False,
        timeout=seconds,
        trust_env=False,
    )
