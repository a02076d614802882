"""The tasks. Each calls one action; what they work with comes from the worker (``Resources``)."""

from __future__ import annotations

from contextlib import AbstractAsyncContextManager
from dataclasses import dataclass
from typing import Any, Protocol

from procrastinate import Blueprint, JobContext, RetryStrategy

from plumrake.actions import sweeps
from plumrake.lenses.reader import PageReader

blueprint = Blueprint()

DEAD_AFTER_SECONDS = 10.0
"""A worker whose heart has not beaten for so long is dead; its jobs are given to others."""

_RETRY = RetryStrategy(max_attempts=6, exponential_wait=2)
"""For a database that restarts or a machine that runs out of something: six tries over about two minutes."""


class Readers(Protocol):
    """Lends page readers."""

    def __call__(self, lens: str, private_origins: tuple[str, ...]) -> AbstractAsyncContextManager[PageReader]:
        """Lend the reader for a lens and the origins with leave to be private."""
        ...


@dataclass(frozen=True, slots=True)
class Resources:
    """What the worker gives to its tasks."""

    connect: sweeps.Connect
    enqueue: sweeps.Enqueue
    readers: Readers


def _resources(context: JobContext) -> Resources:
    resources: Resources = context.additional_context["resources"]
    return resources


@blueprint.task(name="plan_sweep", pass_context=True, retry=_RETRY)
async def plan_sweep(context: JobContext, sweep_id: int) -> None:
    """Find a sweep's pages and put its batches into the queue."""
    resources = _resources(context)
    await sweeps.plan_sweep(resources.connect, resources.enqueue, sweep_id)


@blueprint.task(name="read_batch", pass_context=True, retry=_RETRY)
async def read_batch(context: JobContext, sweep_id: int, batch: int) -> None:
    """Read a batch of a sweep's pages."""
    resources = _resources(context)
    await sweeps.read_batch(resources.connect, resources.readers, sweep_id, batch)


@blueprint.periodic(cron="* * * * * */5")
@blueprint.task(name="rescue", pass_context=True, queueing_lock="rescue")
async def rescue(context: JobContext, timestamp: int) -> Any:
    """Give back to the queue what died with its worker."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=DEAD_AFTER_SECONDS):
        await manager.retry_job(job)
