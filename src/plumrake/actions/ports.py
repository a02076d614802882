"""What actions are given by whoever runs them: connections, the queue, readers."""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from contextlib import AbstractAsyncContextManager
from typing import Any

from plumrake.lenses.reader import PageReader
from plumrake.records.queries import Connection

Enqueue = Callable[[Connection, str, dict[str, Any]], Awaitable[None]]
"""Put a job into the queue within the connection's transaction: connection, task name,
arguments."""
Connect = Callable[[], AbstractAsyncContextManager[Connection]]
"""Borrow a connection."""
ReaderFor = Callable[[str, tuple[str, ...]], AbstractAsyncContextManager[PageReader]]
"""Lend a reader for a lens and the origins with leave to be private."""
