"""``plumrake worker``."""

from __future__ import annotations

import asyncio

import click
import structlog

from plumrake.cli.processes import set_up_logging, settings_or_fail
from plumrake.jobs.privileges import give_up_root
from plumrake.jobs.worker import Post, run_worker
from plumrake.net.fetch import Limits


@click.command("worker")
def worker_command() -> None:
    """Run a worker: it reads the pages of sweeps. Any number may run, on any machine that reaches
    the database.

    Started by root, it becomes the user 'plumrake-worker' where that user can do the work.
    """
    settings = settings_or_fail()
    set_up_logging(as_json=settings.log_json)
    if notice := give_up_root():
        structlog.get_logger().warning("privileges", notice=notice)
    asyncio.run(
        run_worker(
            settings.database,
            jobs=settings.worker_jobs,
            tabs=settings.worker_tabs,
            limits=Limits(seconds=settings.page_seconds),
            mail=Post(settings.mail_server, settings.console_address),
            sources=settings.sources,
            describer=settings.describer_asked,
            kept=settings.kept,
            store=settings.store,
        )
    )
