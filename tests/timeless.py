"""An event loop whose clock jumps to whatever it waits for: what lasts seconds is over at once, and
no load on the machine changes when something begins."""

from __future__ import annotations

import asyncio
from collections.abc import Coroutine
from typing import Any, TypeVar

Result = TypeVar("Result")


class TimelessLoop(asyncio.SelectorEventLoop):
    """A loop without files or sockets to wait for: only its own clock."""

    def __init__(self) -> None:
        super().__init__()
        self._seconds = 0.0
        select = self._selector.select  # type: ignore[attr-defined]

        def jump(timeout: float | None = None) -> Any:
            self._seconds += timeout or 0.0
            return select(0)

        self._selector.select = jump  # type: ignore[attr-defined]

    def time(self) -> float:
        return self._seconds


def run_timeless(work: Coroutine[Any, Any, Result]) -> Result:
    """Run it to its end on such a loop."""
    with asyncio.Runner(loop_factory=TimelessLoop) as runner:
        return runner.run(work)
