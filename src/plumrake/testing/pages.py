"""What is asked of a page that a test hands over."""

from __future__ import annotations

import inspect
from collections.abc import Awaitable, Callable, Generator
from dataclasses import dataclass
from typing import Any, Protocol, TypeVar

Box = tuple[float, float, float, float]
Result = TypeVar("Result")


class CannotRead(RuntimeError):
    """A page cannot be read; the words say why and what to do."""


class Page(Protocol):
    """A page in a browser that a test drives. ``evaluate`` runs a JavaScript function in the page,
    waits for what it promises and returns it; ``content`` returns the page's HTML. Where there is
    ``screenshot`` as well, as Playwright has it, texts over pictures are judged too."""

    @property
    def url(self) -> str:
        """The page's address."""
        ...

    def evaluate(self, expression: str, arg: Any = None) -> Any:
        """Return what a function of one argument gives in the page."""
        ...

    def content(self) -> str:
        """Return the page's HTML."""
        ...


class AsyncPage(Protocol):
    """A page as ``Page`` has it, whose methods are to be awaited."""

    @property
    def url(self) -> str:
        """The page's address."""
        ...

    def evaluate(self, expression: str, arg: Any = None) -> Awaitable[Any]:
        """Return what a function of one argument gives in the page."""
        ...

    def content(self) -> Awaitable[str]:
        """Return the page's HTML."""
        ...


@dataclass(frozen=True, slots=True)
class Ask:
    """Something to be asked of a page: a method's name and what it is given. What the page has no
    method for is answered by None."""

    method: str
    given: tuple[Any, ...] = ()
    named: tuple[tuple[str, Any], ...] = ()


Asking = Generator[Ask, Any, Result]


def evaluated(script: str, given: Any) -> Ask:
    """Ask for what a script gives in the page."""
    return Ask("evaluate", (script, given))


def pictured(box: Box) -> Ask:
    """Ask for a part of the whole page (x, y, width, height in CSS px) as PNG."""
    clip = dict(zip(("x", "y", "width", "height"), box, strict=True))
    named = {"clip": clip, "full_page": True, "type": "png", "scale": "css"}
    return Ask("screenshot", (), tuple(named.items()))


def can_picture(page: Page | AsyncPage) -> bool:
    """Tell whether pictures can be taken of a page."""
    return callable(getattr(page, "screenshot", None))


def asked(page: Page, asking: Asking[Result]) -> Result:
    """Ask everything of a page; return the outcome. Raises ``CannotRead``."""
    try:
        wanted = next(asking)
        while True:
            answer = _method(page, wanted)()
            if inspect.isawaitable(answer):
                answer.close() if inspect.iscoroutine(answer) else None
                raise CannotRead(
                    "this page's methods are to be awaited; use 'await plumrake.read_async(page)'"
                )
            wanted = asking.send(answer)
    except StopIteration as done:
        result: Result = done.value
        return result


async def asked_async(page: AsyncPage, asking: Asking[Result]) -> Result:
    """Ask everything of a page whose methods are to be awaited; return the outcome. Raises
    ``CannotRead``."""
    try:
        wanted = next(asking)
        while True:
            answer = _method(page, wanted)()
            wanted = asking.send(await answer if inspect.isawaitable(answer) else answer)
    except StopIteration as done:
        result: Result = done.value
        return result


def _method(page: Page | AsyncPage, wanted: Ask) -> Callable[[], Any]:
    method = getattr(page, wanted.method, None)
    if not callable(method):
        raise CannotRead(
            f"this page has no '{wanted.method}'; plumrake.testing.Page says what is needed"
        )
    return lambda: method(*wanted.given, **dict(wanted.named))
