"""Long work that may be given up since what it was for has changed."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_asked: ContextVar[Callable[[], bool] | None] = ContextVar("overtaken", default=None)


class Overtaken(Exception):
    """What the work was for has changed."""


@contextmanager
def may_be_overtaken(is_overtaken: Callable[[], bool]) -> Iterator[None]:
    """Have ``go_on`` ask, for as long as this is open and in this thread."""
    token = _asked.set(is_overtaken)
    try:
        yield
    finally:
        _asked.reset(token)


def go_on() -> None:
    """Called in long loops. Raises ``Overtaken`` where the work is to be given up."""
    ask = _asked.get()
    if ask is not None and ask():
        raise Overtaken
