"""Who computes over a stranger's page: a process that can be killed, or a thread of one's own.

A worker's pages are assessed in processes, forked from one that has all checks loaded. Each has
limits of time and memory for a page; one that goes past them is killed, and the page with it.
"""

from __future__ import annotations

import asyncio
import contextlib
import multiprocessing
import pickle
import resource
import signal
import socket
import struct
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from functools import partial
from multiprocessing.process import BaseProcess
from typing import Any, BinaryIO, Concatenate, ParamSpec, Protocol, TypeVar

from plumrake.lenses.answers import UnknownKind, loads
from plumrake.lenses.assessor import Assessor
from plumrake.net.problems import Problem

Given = ParamSpec("Given")
Answer = TypeVar("Answer")

TOO_HARD = "page-too-hard"
_SECONDS = 60.0
_BYTES = 1_500_000_000
_CPU_SECONDS = 150
_MOST_PAGES = 200
_LENGTH = struct.Struct("!Q")
"""What stands before a question or an answer on its way: its length in bytes."""
_AT_ONCE = 2**22
"""So many bytes of an answer are taken in before it is waited for the rest of them."""
_context = multiprocessing.get_context("forkserver")
_context.set_forkserver_preload(["plumrake.lenses.loaded"])


class AssessorLost(Exception):
    """Whoever computed went past the limits of a page, or died."""

    @property
    def problem(self) -> Problem:
        """The problem as data."""
        return Problem(TOO_HARD, str(self))


class Runner(Protocol):
    """Computes for one page at a time."""

    async def do(
        self,
        method: Callable[Concatenate[Assessor, Given], Answer],
        *given: Given.args,
        **named: Given.kwargs,
    ) -> Answer:
        """Return what a method of the page's ``Assessor`` gives. Raises ``AssessorLost``."""

    async def run(
        self, function: Callable[Given, Answer], *given: Given.args, **named: Given.kwargs
    ) -> Answer:
        """Return what a function of a module gives. Raises ``AssessorLost``."""


class _OneAtATime:
    """Answers one question after the other. One that is not waited for any more is worked off all
    the same, before the next."""

    def __init__(self) -> None:
        self._turn = asyncio.Lock()

    @property
    def is_busy(self) -> bool:
        """Whether a question is being worked off."""
        return self._turn.locked()

    async def in_turn(self, asking: Callable[[], Awaitable[Answer]]) -> Answer:
        """Return what a function gives that is waited for when it is its turn."""

        async def work() -> Answer:
            async with self._turn:
                return await asking()

        task = asyncio.ensure_future(work())
        task.add_done_callback(lambda done: done.cancelled() or done.exception())
        return await asyncio.shield(task)


class ThreadRunner(_OneAtATime):
    """A thread of this process: for whoever looks at a page at a terminal, and for tests."""

    def __init__(self) -> None:
        super().__init__()
        self.assessor = Assessor()

    async def do(
        self,
        method: Callable[Concatenate[Assessor, Given], Answer],
        *given: Given.args,
        **named: Given.kwargs,
    ) -> Answer:
        """Return what a method of the page's ``Assessor`` gives."""
        return await self.in_turn(
            partial(asyncio.to_thread, method, self.assessor, *given, **named)
        )

    async def run(
        self, function: Callable[Given, Answer], *given: Given.args, **named: Given.kwargs
    ) -> Answer:
        """Return what a function of a module gives."""
        return await self.in_turn(partial(asyncio.to_thread, function, *given, **named))


class ProcessRunner(_OneAtATime):
    """A process of its own, with limits; what it is asked and what it answers is pickled."""

    def __init__(
        self,
        process: BaseProcess,
        answers: asyncio.StreamReader,
        questions: asyncio.StreamWriter,
    ) -> None:
        super().__init__()
        self._process, self._answers, self._questions = process, answers, questions
        self._pages = 0
        self._left = 0.0
        self._is_lost = False

    @classmethod
    async def started(cls) -> ProcessRunner:
        """Start one."""
        here, there = socket.socketpair()
        with there:
            process = _context.Process(
                target=_serve, args=(there,), name="plumrake-assessor", daemon=True
            )
            await asyncio.to_thread(process.start)
        return cls(process, *await asyncio.open_unix_connection(sock=here, limit=_AT_ONCE))

    @property
    def process_id(self) -> int:
        """The number of the process."""
        return self._process.pid or 0

    @property
    def is_fit(self) -> bool:
        """Whether it may be given another page."""
        is_done = self._is_lost or self.is_busy or self._pages >= _MOST_PAGES
        return not is_done and self._process.is_alive()

    def begin(self) -> None:
        """Begin a page, which has a time of its own."""
        self._pages += 1
        self._left = _SECONDS

    async def do(
        self,
        method: Callable[Concatenate[Assessor, Given], Answer],
        *given: Given.args,
        **named: Given.kwargs,
    ) -> Answer:
        """Return what a method of the page's ``Assessor`` gives. Raises ``AssessorLost``."""
        answer: Answer = await self.in_turn(partial(self._answer, (True, method, given, named)))
        return answer

    async def run(
        self, function: Callable[Given, Answer], *given: Given.args, **named: Given.kwargs
    ) -> Answer:
        """Return what a function of a module gives. Raises ``AssessorLost``."""
        answer: Answer = await self.in_turn(partial(self._answer, (False, function, given, named)))
        return answer

    async def _answer(self, question: Any) -> Any:
        if self._is_lost:
            raise AssessorLost("whoever computed for the page is gone")
        began = time.monotonic()
        try:
            went_well, answer = await self._exchange(question)
        except AssessorLost:
            self.kill()
            raise
        finally:
            self._left -= time.monotonic() - began
        if not went_well:
            raise RuntimeError(f"the page could not be assessed: {answer}")
        return answer

    async def _exchange(self, question: Any) -> tuple[bool, Any]:
        asked = pickle.dumps(question, pickle.HIGHEST_PROTOCOL)
        try:
            async with asyncio.timeout(max(0.0, self._left)):
                self._questions.writelines((_LENGTH.pack(len(asked)), asked))
                await self._questions.drain()
                (length,) = _LENGTH.unpack(await self._answers.readexactly(_LENGTH.size))
                if length > _BYTES:
                    raise OSError("longer than the memory that it was given")
                answer: tuple[bool, Any] = loads(await self._answers.readexactly(length))
        except TimeoutError:
            raise AssessorLost(f"the page took more than {_SECONDS:g} s to be assessed") from None
        except UnknownKind as strange:
            raise AssessorLost(f"whoever computed for the page answered with {strange}") from None
        except (EOFError, OSError):
            raise AssessorLost(
                "whoever computed for the page went past the limits of memory, or died"
            ) from None
        return answer

    def kill(self) -> None:
        """End the process at once."""
        self._is_lost = True
        self._process.kill()  # who waits for an answer hears of it by the stream's end
        self._process.join(1)
        self._questions.close()


class Runners(Protocol):
    """Lends who computes."""

    def lend(self) -> contextlib.AbstractAsyncContextManager[Runner]:
        """Lend a runner for one page."""


class ThreadRunners:
    """Threads of this process."""

    @contextlib.asynccontextmanager
    async def lend(self) -> AsyncIterator[Runner]:
        """Lend a runner for one page."""
        yield ThreadRunner()


class ProcessRunners:
    """Up to ``most`` processes, each lent for one page and then for the next; one that was lost, or
    has done many, is replaced. Who borrows one borrows no second. ``close`` ends them all."""

    def __init__(self, most: int = 4) -> None:
        self._free = asyncio.Semaphore(most)
        self._idle: list[ProcessRunner] = []
        self._all: set[ProcessRunner] = set()

    @contextlib.asynccontextmanager
    async def lend(self) -> AsyncIterator[Runner]:
        """Lend a runner for one page, when one is free."""
        async with self._free:
            runner = await self._taken()
            runner.begin()
            try:
                yield runner
            finally:
                if runner.is_fit:
                    self._idle.append(runner)
                else:
                    self._end(runner)

    async def _taken(self) -> ProcessRunner:
        while self._idle:
            runner = self._idle.pop()
            if runner.is_fit:
                return runner
            self._end(runner)
        runner = await ProcessRunner.started()
        self._all.add(runner)
        return runner

    def _end(self, runner: ProcessRunner) -> None:
        self._all.discard(runner)  # no more there where all were ended meanwhile
        runner.kill()

    async def warm_up(self) -> None:
        """Start one, so that the first page does not wait for all checks to be loaded."""
        async with self.lend() as runner:
            await runner.run(len, ())

    def close(self) -> None:
        """End every process."""
        for runner in self._all:
            runner.kill()
        self._all.clear()
        self._idle.clear()


def _serve(asking: socket.socket) -> None:
    """Answer until nobody asks any more: the page's own assessor, or a function."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # it is for the worker, which ends this one
    resource.setrlimit(resource.RLIMIT_DATA, (_BYTES, _BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    assessor = Assessor()
    with contextlib.suppress(EOFError, OSError, MemoryError), asking.makefile("rb") as questions:
        while True:
            # the worker asks, and nobody else holds the other end
            of_page, function, given, named = pickle.loads(_received(questions))  # noqa: S301
            used = int(time.process_time())
            # where the worker is killed meanwhile, nobody else ends what computes without end
            resource.setrlimit(resource.RLIMIT_CPU, (used + _CPU_SECONDS, resource.RLIM_INFINITY))
            try:
                about = (assessor,) if of_page else ()
                answer = True, function(*about, *given, **named)
            except MemoryError:
                return
            except Exception as error:
                answer = False, f"{type(error).__name__}: {error}"
            told = pickle.dumps(answer, pickle.HIGHEST_PROTOCOL)
            asking.sendall(_LENGTH.pack(len(told)))
            asking.sendall(told)


def _received(stream: BinaryIO) -> bytes:
    """Return the next question. Raises ``EOFError`` where nobody asks any more."""
    (length,) = _LENGTH.unpack(_exactly(stream, _LENGTH.size))
    return _exactly(stream, length)


def _exactly(stream: BinaryIO, size: int) -> bytes:
    found = stream.read(size)
    if len(found) < size:
        raise EOFError
    return found
