"""A port for whatever is started on loopback."""

from __future__ import annotations

import contextlib
import random
import socket

_PORTS = range(20_000, 32_000)
"""Below those that systems give to connections that go out: one of these would have a port that was
free a moment ago, or meet itself there."""
_TRIES = 100
_ANY = random.SystemRandom()
"""Not the shared generator: processes that begin it alike, as tests do, would choose alike."""


def free_port() -> int:
    """Return a port of loopback that nobody listens at. Raises ``OSError`` where there is none."""
    for port in _ANY.sample(_PORTS, _TRIES):
        with contextlib.closing(socket.socket()) as listener, contextlib.suppress(OSError):
            listener.bind(("127.0.0.1", port))
            return port
    raise OSError(f"no port of loopback from {_PORTS.start} to {_PORTS.stop} is free")
