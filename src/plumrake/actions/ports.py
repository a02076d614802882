"""What actions are given by whoever runs them: connections, the queue, readers."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractAsyncContextManager
from typing import Any, Protocol

from plumrake.lenses.reader import PageReader
from plumrake.records.queries import Connection


class Enqueue(Protocol):
    """Puts a job into the queue within the connection's transaction."""

    async def __call__(
        self, connection: Connection, name: str, arguments: dict[str, Any], *, priority: int = 0
    ) -> None:
        """Defer the task ``name``; those of higher priority are taken first."""


Connect = Callable[[], AbstractAsyncContextManager[Connection]]
"""Borrow a connection."""
ReaderFor = Callable[[str, tuple[str, ...]], AbstractAsyncContextManager[PageReader]]
"""Lend a reader for a lens and the origins with leave to be private."""
