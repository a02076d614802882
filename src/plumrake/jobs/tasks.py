"""The tasks. Each calls one action; what they work with comes from the worker (``Resources``)."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

import structlog
from procrastinate import Blueprint, JobContext, RetryStrategy
from procrastinate.exceptions import ConnectorException
from psycopg import OperationalError

from plumrake.actions import (
    drafting,
    drawing,
    evidence,
    finishing,
    gate,
    items,
    links,
    notifying,
    passwords,
    picture_texts,
    planning,
    schedules,
    sweeps,
    tidying,
    verdicts,
    writing_out,
)
from plumrake.actions.drafting import ReadingMemory
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.site_sources import SourceSettings
from plumrake.actions.tidying import KeptDays
from plumrake.lenses.read_options import DrawnAs
from plumrake.outbound.describer import Describer
from plumrake.outbound.mail import MailServer
from plumrake.outbound.object_store import ObjectStore, StoreAway
from plumrake.records import log as log_records

log = structlog.get_logger()

DEAD_AFTER_SECONDS = 10.0
"""A worker whose heart has not beaten for so long is dead; its jobs are given to others."""

SWEEPS_QUEUE, GATE_QUEUE = "default", "gate"
"""Sweeps and all else wait in one queue, the gate's questions in another, which has workers of its
own."""
_MOST_ATTEMPTS = 6
_RETRY = RetryStrategy(max_attempts=_MOST_ATTEMPTS, exponential_wait=2)
"""For a database that restarts or a machine that runs out of something: six tries over about two
minutes."""


@dataclass(frozen=True, slots=True)
class Resources:
    """What the worker gives to its tasks."""

    connect: Connect
    enqueue: Enqueue
    readers: ReaderFor
    gate_readers: ReaderFor
    mail: MailServer | None
    address: str
    sources: SourceSettings
    memory: ReadingMemory
    describer: Describer | None = None
    kept: KeptDays = field(default_factory=KeptDays)
    store: ObjectStore | None = None


def _resources(context: JobContext) -> Resources:
    resources: Resources = context.additional_context["resources"]
    return resources


async def plan_sweep(context: JobContext, sweep_id: int) -> None:
    """Find a sweep's pages and put its first batches into the queue; what breaks off on the last
    try too ends the sweep."""
    resources = _resources(context)
    try:
        await planning.plan_sweep(resources.connect, resources.enqueue, resources.readers, sweep_id)
    except (ConnectorException, OperationalError):
        raise
    except Exception as error:
        if context.job.attempts < _MOST_ATTEMPTS - 1:
            raise
        log.exception("a sweep is given up", sweep=sweep_id, problem=type(error).__name__)
        says = (
            f"its pages could not be found: {error or type(error).__name__}; the worker's log "
            "says more"
        )
        await planning.give_up_planning(resources.connect, sweep_id, says)


async def read_batch(context: JobContext, sweep_id: int, batch: int) -> None:
    """Read a batch of a sweep's pages; one that breaks off on the last try too is given up, and the
    sweep goes on."""
    resources = _resources(context)
    try:
        await sweeps.read_batch(
            resources.connect,
            resources.enqueue,
            resources.readers,
            sweep_id,
            batch,
            resources.sources,
        )
    except (ConnectorException, OperationalError):
        raise
    except Exception as error:
        if context.job.attempts < _MOST_ATTEMPTS - 1:
            raise
        log.exception(
            "a batch is given up", sweep=sweep_id, batch=batch, problem=type(error).__name__
        )
        await sweeps.give_up_batch(resources.connect, resources.enqueue, sweep_id, batch)


async def answer_gate(context: JobContext, clearance_id: int) -> None:
    """Answer what the gate is asked; it has readers of its own, so that no sweep is waited for."""
    resources = _resources(context)
    await gate.answer(resources.connect, resources.gate_readers, clearance_id, resources.sources)


async def sync_items(context: JobContext, site_id: int, environment: str) -> None:
    """List the items of a site's content system."""
    resources = _resources(context)
    await items.sync(resources.connect, resources.enqueue, resources.sources, site_id, environment)


async def read_item(context: JobContext, site_id: int, environment: str, number: str) -> None:
    """Read an item as it would go out."""
    resources = _resources(context)
    await items.read_ahead(
        resources.connect, resources.enqueue, resources.sources, site_id, environment, number
    )


async def read_due(context: JobContext, timestamp: int) -> None:
    """Have scheduled items read before they are due."""
    await items.read_due(_resources(context).connect, _resources(context).enqueue)


async def draft_correction(context: JobContext, correction_id: int) -> None:
    """Draft a correction that somebody waits for."""
    resources = _resources(context)
    await _draft(context, resources.gate_readers, correction_id)


async def draft_alike(context: JobContext, correction_id: int) -> None:
    """Draft one of many corrections that are alike; they wait with the sweeps."""
    await _draft(context, _resources(context).readers, correction_id)


async def _draft(context: JobContext, readers: ReaderFor, correction_id: int) -> None:
    resources = _resources(context)
    try:
        await drafting.draft(
            resources.connect, readers, resources.sources, resources.memory, correction_id
        )
    except (ConnectorException, OperationalError):
        raise
    except Exception as error:
        if context.job.attempts < _MOST_ATTEMPTS - 1:
            raise
        log.exception("a correction is given up", correction=correction_id)
        says = f"drafting broke off ({type(error).__name__}); the worker's log says more"
        await drafting.give_up(resources.connect, correction_id, says)


async def propose_texts(context: JobContext, finding_id: int, description_id: int | None) -> None:
    """Find texts for the picture of a finding, or have it described."""
    resources = _resources(context)
    await picture_texts.propose(
        resources.connect,
        resources.gate_readers,
        resources.sources,
        resources.describer,
        finding_id,
        description_id,
    )


async def draw_picture(context: JobContext, reading_id: int, kind: DrawnAs) -> None:
    """Draw a picture of a reading's page that somebody waits for."""
    resources = _resources(context)
    readers = resources.gate_readers
    try:
        await drawing.draw_picture(resources.connect, readers, resources.sources, reading_id, kind)
    except (ConnectorException, OperationalError):
        raise
    except Exception as error:
        if context.job.attempts < _MOST_ATTEMPTS - 1:
            raise
        log.exception("a picture is given up", reading=reading_id, kind=kind)
        says = f"drawing broke off ({type(error).__name__}); the worker's log says more"
        await drawing.give_up(resources.connect, reading_id, kind, says)


async def write_corrections(
    context: JobContext, ids: list[int], by_id: int | None, takes_back: bool
) -> None:
    """Write corrections into their sources, or take them back there."""
    resources = _resources(context)
    work = writing_out.Work(tuple(ids), by_id, takes_back=takes_back)
    try:
        await writing_out.write_corrections(
            resources.connect,
            resources.enqueue,
            resources.readers,
            resources.sources,
            resources.memory,
            work,
        )
    except (ConnectorException, OperationalError):
        raise
    except Exception as error:
        log.exception("writing corrections broke off", attempt=context.job.attempts)
        if context.job.attempts < _MOST_ATTEMPTS - 1:
            raise
        says = f"writing broke off ({type(error).__name__}); the worker's log says more"
        await writing_out.give_up(resources.connect, work, says)


async def finish_sweep(context: JobContext, sweep_id: int) -> None:
    """Gather the causes of a sweep whose pages are all read, and mark it as done."""
    resources = _resources(context)
    await finishing.finish_sweep(resources.connect, resources.enqueue, sweep_id)


async def follow_links(context: JobContext, site_id: int, sweep_id: int) -> None:
    """Follow all links of a site's newest sweep."""
    resources = _resources(context)
    await links.follow(resources.connect, resources.readers, site_id, sweep_id)


async def rescue(context: JobContext, timestamp: int) -> Any:
    """Give back to the queue what died with its worker, and take up sweeps that nobody works on."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=DEAD_AFTER_SECONDS):
        await manager.retry_job(job)
    resources = _resources(context)
    await sweeps.take_up_unfinished(resources.connect, resources.enqueue)


async def start_scheduled(context: JobContext, timestamp: int) -> None:
    """Start the sweeps that are due by their sites' schedules."""
    resources = _resources(context)
    await schedules.start_due(
        resources.connect, resources.enqueue, datetime.fromtimestamp(timestamp, UTC)
    )


async def tidy(context: JobContext, timestamp: int) -> None:
    """Forget what is old and what nobody needs any more."""
    resources = _resources(context)
    await tidying.tidy(resources.connect, resources.kept)


async def make_room(context: JobContext, timestamp: int) -> None:
    """Have the next partition of sweeps ready before it is needed."""
    await tidying.make_room(_resources(context).connect)


async def carry_evidence(context: JobContext, timestamp: int) -> None:
    """Carry contents of evidence into the store, and cut the pictures that wait for some there."""
    resources = _resources(context)
    if resources.store is None:
        return
    try:
        await evidence.picture_from_store(resources.connect, resources.store)
        await evidence.carry(resources.connect, resources.store)
    except StoreAway as problem:
        log.warning("the evidence store is away", problem=str(problem))


async def seal_log(context: JobContext, timestamp: int) -> None:
    """Seal what the log says since the last time."""
    async with _resources(context).connect() as connection:
        await log_records.seal(connection)


async def send_emails(context: JobContext, timestamp: int) -> None:
    """Send the e-mails that are not to wait, and the daily ones that are due."""
    resources = _resources(context)
    if resources.mail is None:
        return
    now = datetime.fromtimestamp(timestamp, UTC)
    await passwords.send_resets(resources.connect, resources.mail, resources.address)
    await notifying.write_urgent(resources.connect, resources.address)
    await notifying.write_digests(resources.connect, resources.address, now)
    await notifying.send_waiting(resources.connect, resources.mail)


async def deliver(context: JobContext, timestamp: int) -> None:
    """Send what webhooks wait for."""
    await notifying.deliver(_resources(context).connect)


async def end_waivers(context: JobContext, timestamp: int) -> None:
    """End the waivers whose last day is over."""
    await verdicts.end_due_waivers(
        _resources(context).connect, datetime.fromtimestamp(timestamp, UTC).date()
    )


def make_blueprint() -> Blueprint:
    """Return the tasks for one app. An app renames the tasks that it takes over, so each has to
    have its own."""
    blueprint = Blueprint()
    of_sweeps = (plan_sweep, read_batch, finish_sweep, follow_links)
    for task in (*of_sweeps, draft_alike, write_corrections, sync_items, read_item):
        blueprint.task(name=task.__name__, pass_context=True, retry=_RETRY)(task)
    for awaited in (answer_gate, draft_correction, propose_texts, draw_picture):
        blueprint.task(name=awaited.__name__, pass_context=True, retry=_RETRY, queue=GATE_QUEUE)(
            awaited
        )
    clock = (
        ("* * * * * */5", rescue),
        ("* * * * * */5", deliver),
        ("* * * * * */10", send_emails),
        ("* * * * * */10", seal_log),
        ("* * * * *", start_scheduled),
        ("* * * * *", carry_evidence),
        ("*/5 * * * *", read_due),
        ("*/5 * * * *", make_room),
        ("1 * * * *", end_waivers),
        ("17 3 * * *", tidy),
    )
    for cron, periodic in clock:
        kept = blueprint.task(
            name=periodic.__name__, pass_context=True, queueing_lock=periodic.__name__
        )(periodic)
        blueprint.periodic(cron=cron)(kept)
    return blueprint
