"""Sweeps by the clock: a site's schedule is a cron pattern in UTC."""

from __future__ import annotations

from datetime import datetime

from croniter import croniter

from plumrake.actions.ports import Connect, Enqueue
from plumrake.actions.sites import NoEnvironment
from plumrake.actions.sweeps import SweepRequest, start_sweep
from plumrake.records import sites


async def start_due(connect: Connect, enqueue: Enqueue, now: datetime) -> None:
    """Start a sweep of every site whose schedule had a time since it was last looked at; several
    missed times make one sweep."""
    async with connect() as connection, connection.transaction():
        for site in await sites.scheduled(connection):
            due = croniter(site.schedule or "", site.scheduled_at).get_next(datetime)
            if due > now:
                continue
            await sites.note_scheduled(connection, site.id, now)
            try:
                await start_sweep(
                    connection,
                    site,
                    enqueue,
                    SweepRequest(environment=site.schedule_environment),
                    asked_by=None,
                )
            except NoEnvironment:
                continue
