"""Pages are assessed in processes that end where a page goes past its time or memory, and what they
say is the same as in this process."""

from __future__ import annotations

import asyncio
import os
import time
from collections.abc import AsyncIterator

import psutil
import pytest

from plumrake.actions.reading import PageResult, read_and_assess
from plumrake.core.policy import Policy
from plumrake.demo.site import build_environment
from plumrake.lenses import runners
from plumrake.lenses.reader import PageReader
from plumrake.lenses.runners import (
    AssessorLost,
    ProcessRunner,
    ProcessRunners,
    Runners,
    ThreadRunners,
)

LOCKS = b"<!doctype html><html lang=en><title>Locks</title><main><h1>Locks</h1><img src=a.png>"


@pytest.fixture
async def apart() -> AsyncIterator[ProcessRunners]:
    """Processes that end with the test."""
    lent = ProcessRunners()
    yield lent
    lent.close()


def is_there(process_id: int) -> bool:
    """Tell whether a process is there and runs."""
    try:
        return psutil.Process(process_id).status() != psutil.STATUS_ZOMBIE
    except psutil.NoSuchProcess:
        return False


async def lost_by(apart: ProcessRunners, function: object, *given: object) -> int:
    """Let a runner run what costs it its life; return the number of its process."""
    async with apart.lend() as runner:
        assert isinstance(runner, ProcessRunner)
        with pytest.raises(AssessorLost):
            await runner.run(function, *given)  # type: ignore[arg-type]
        with pytest.raises(AssessorLost):
            await runner.run(len, "abc")
        return runner.process_id


async def test_what_never_ends_is_killed(
    apart: ProcessRunners, monkeypatch: pytest.MonkeyPatch
) -> None:
    """When its time is over the process is gone, and the next page has another."""
    await apart.warm_up()
    monkeypatch.setattr(runners, "_SECONDS", 0.3)
    lost = await lost_by(apart, time.sleep, 600)
    monkeypatch.undo()
    assert not is_there(lost)
    async with apart.lend() as runner:
        assert await runner.run(len, "abc") == 3


async def test_all_are_ended_while_one_is_lent(apart: ProcessRunners) -> None:
    """Where a worker stops in the middle of a page, whoever still has one gives it back all the
    same, and nobody gets it again."""
    async with apart.lend() as runner:
        assert isinstance(runner, ProcessRunner)
        apart.close()
    assert not is_there(runner.process_id)
    async with apart.lend() as another:
        assert await another.run(len, "abc") == 3


async def test_what_takes_too_much_memory_is_killed(apart: ProcessRunners) -> None:
    """Two gigabytes for one page are not to be had."""
    assert not is_there(await lost_by(apart, bytearray, 2 * 10**9))


async def test_a_process_that_dies_is_no_fault_of_the_next(apart: ProcessRunners) -> None:
    """Whatever ended it."""
    await lost_by(apart, os._exit, 3)
    async with apart.lend() as runner:
        assert await runner.run(len, "abc") == 3


async def test_a_process_is_used_again(apart: ProcessRunners) -> None:
    """For the next page, by one reader at a time."""
    numbers = []
    for _ in range(3):
        async with apart.lend() as runner, apart.lend() as other:
            numbers.append({await runner.run(os.getpid), await other.run(os.getpid)})
    assert numbers == [numbers[0]] * 3
    assert len(numbers[0]) == 2


@pytest.mark.parametrize("kind", [ThreadRunners, ProcessRunners])
async def test_what_is_not_waited_for_is_worked_off(
    kind: type[ThreadRunners | ProcessRunners],
) -> None:
    """Before the next question, so that no two compute over one page at once."""
    lent = kind()
    async with lent.lend() as runner:
        with pytest.raises(TimeoutError):
            async with asyncio.timeout(0.1):
                await runner.run(time.sleep, 0.4)
        assert await runner.run(len, "abc") == 3
        with pytest.raises((RuntimeError, ValueError), match="invalid literal"):
            await runner.run(int, "x")
        assert await runner.run(len, "ab") == 2
    if isinstance(lent, ProcessRunners):
        lent.close()


async def read(lens: str, lent: Runners, html: bytes, address: str) -> PageResult:
    """Read a page in hand."""
    async with PageReader(lens, runners=lent) as reader:
        return await read_and_assess(
            lambda options: reader.read_html(html, address, options),
            Policy(),
            lent,
            inventory=True,
            worth=lambda found: bool(found.findings),
        )


@pytest.mark.parametrize("lens", ["markup", "rendered"])
async def test_both_kinds_say_the_same(apart: ProcessRunners, lens: str) -> None:
    """Of the demo's pages: findings, what they hold, and how they look to others."""
    pages = [page for page in build_environment("live") if page.answers][:3]
    for page in pages:
        html, address = page.html.encode(), f"http://harrowmere.invalid{page.address}"
        own, other = [await read(lens, one, html, address) for one in (ThreadRunners(), apart)]
        assert own.problem is None
        assert other.assessment == own.assessment
        assert other.inventory == own.inventory
        assert other.page_views == own.page_views
        assert (other.picture is None) == (own.picture is None)


@pytest.mark.parametrize("lens", ["markup", "rendered"])
async def test_a_page_that_costs_two_is_too_hard(
    apart: ProcessRunners, monkeypatch: pytest.MonkeyPatch, lens: str
) -> None:
    """It is a result like others, and it is not tried a third time."""
    await apart.warm_up()
    monkeypatch.setattr(runners, "_SECONDS", -1.0)
    started: list[int] = []
    begin = ProcessRunner.begin
    monkeypatch.setattr(
        ProcessRunner, "begin", lambda runner: (started.append(1), begin(runner))[1]
    )
    result = await read(lens, apart, LOCKS, "http://hard.invalid/")
    assert result.problem is not None
    assert result.problem.code == "page-too-hard"
    assert result.address == "http://hard.invalid/"
    assert len(started) == 2
