"""The worker process: takes jobs, keeps its page readers (and their browsers) warm between them."""

from __future__ import annotations

import asyncio
import contextlib
import signal
from collections.abc import AsyncIterator
from dataclasses import dataclass, field

import structlog
from procrastinate import App
from procrastinate.exceptions import ConnectorException
from psycopg import OperationalError
from psycopg_pool import AsyncConnectionPool, PoolTimeout

from plumrake.actions.drafting import ReadingMemory
from plumrake.actions.site_sources import SourceSettings
from plumrake.actions.tidying import KeptDays
from plumrake.jobs.app import Queue, make_app
from plumrake.jobs.tasks import DEAD_AFTER_SECONDS, GATE_QUEUE, SWEEPS_QUEUE, Resources
from plumrake.lenses.reader import PageReader
from plumrake.lenses.runners import ProcessRunners, Runners
from plumrake.net.fetch import Limits
from plumrake.outbound.describer import Describer
from plumrake.outbound.mail import MailServer
from plumrake.outbound.object_store import ObjectStore
from plumrake.records.connecting import lasting
from plumrake.records.queries import Connection

log = structlog.get_logger()

_MOST_READERS = 3
_HEARTBEAT_SECONDS = 2.0
_AGAIN_AFTER_SECONDS = 2.0


class WarmReaders:
    """Readers by lens and leave, each started once and shared; those not in use go first when there
    are too many."""

    def __init__(self, tabs: int, limits: Limits, runners: Runners) -> None:
        self._runners = runners
        self._tabs = tabs
        self._limits = limits
        self._readers: dict[tuple[str, tuple[str, ...]], PageReader] = {}
        self._users: dict[tuple[str, tuple[str, ...]], int] = {}
        self._lock = asyncio.Lock()

    @contextlib.asynccontextmanager
    async def __call__(
        self, lens: str, private_origins: tuple[str, ...]
    ) -> AsyncIterator[PageReader]:
        """Lend the reader for a lens and the origins with leave to be private."""
        key = (lens, private_origins)
        async with self._lock:
            if key not in self._readers:
                await self._make_room()
                self._readers[key] = await PageReader(
                    lens, self._limits, private_origins, self._tabs, runners=self._runners
                ).__aenter__()
                if self._readers[key].notice:
                    log.warning("browser", notice=self._readers[key].notice)
            self._users[key] = self._users.get(key, 0) + 1
        try:
            yield self._readers[key]
        finally:
            self._users[key] -= 1

    async def _make_room(self) -> None:
        idle = [key for key in self._readers if not self._users.get(key)]
        while len(self._readers) >= _MOST_READERS and idle:
            await self._readers.pop(idle.pop(0)).__aexit__(None, None, None)

    async def close(self) -> None:
        """Stop every reader."""
        for reader in self._readers.values():
            with contextlib.suppress(Exception):
                await reader.__aexit__(None, None, None)
        self._readers.clear()


@dataclass(frozen=True, slots=True)
class Readers:
    """The readers of the sweeps, and those of the gate, which wait for no sweep."""

    sweeps: WarmReaders
    gate: WarmReaders


@dataclass(frozen=True, slots=True)
class Post:
    """How e-mails go out: the mail server, None for no e-mails, and where their links lead."""

    server: MailServer | None = None
    address: str = ""


@dataclass(frozen=True, slots=True)
class Means:
    """What the tasks are given: where sources may be, who describes pictures, None for nobody, for
    how many days things are kept, and the store for contents of evidence, None for the database."""

    sources: SourceSettings
    describer: Describer | None = None
    kept: KeptDays = field(default_factory=KeptDays)
    store: ObjectStore | None = None


async def run_worker(
    database: str,
    *,
    jobs: int = 2,
    tabs: int = 2,
    limits: Limits | None = None,
    mail: Post | None = None,
    sources: SourceSettings | None = None,
    describer: Describer | None = None,
    kept: KeptDays | None = None,
    store: ObjectStore | None = None,
) -> None:
    """Work until SIGTERM or SIGINT. A database that is away is waited for; batches that die with
    the worker are taken up by another."""
    runners = [ProcessRunners(tabs + 2) for _ in range(2)]
    readers = Readers(*(WarmReaders(tabs, limits or Limits(), one) for one in runners))
    await runners[0].warm_up()
    stopping = asyncio.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        asyncio.get_running_loop().add_signal_handler(number, stopping.set)
    try:
        while not stopping.is_set():
            try:
                known = Means(sources or SourceSettings(), describer, kept or KeptDays(), store)
                await _work(database, readers, jobs, stopping, mail or Post(), known)
            except (ConnectorException, OperationalError, PoolTimeout) as error:
                log.warning(
                    "the database is away",
                    problem=str(error).splitlines()[0] if str(error) else type(error).__name__,
                )
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(stopping.wait(), _AGAIN_AFTER_SECONDS)
    finally:
        await readers.sweeps.close()
        await readers.gate.close()
        for one in runners:
            one.close()


async def _work(
    database: str,
    readers: Readers,
    jobs: int,
    stopping: asyncio.Event,
    mail: Post,
    means: Means,
) -> None:
    app = make_app(database)
    pool: AsyncConnectionPool[Connection] = AsyncConnectionPool(
        lasting(database), min_size=1, max_size=3 * jobs + 2, open=False
    )
    async with app.open_async(), pool:
        resources = Resources(
            pool.connection,
            Queue(app),
            readers.sweeps,
            readers.gate,
            mail.server,
            mail.address,
            means.sources,
            ReadingMemory(),
            means.describer,
            means.kept,
            means.store,
        )
        working = asyncio.create_task(_take_all(app, jobs, resources))
        waiting = asyncio.create_task(stopping.wait())
        log.info("the worker is ready", jobs=jobs)
        await asyncio.wait({working, waiting}, return_when=asyncio.FIRST_COMPLETED)
        waiting.cancel()
        if not working.done():
            working.cancel()
        with contextlib.suppress(asyncio.CancelledError):
            await working


async def _take_all(app: App, jobs: int, resources: Resources) -> None:
    await asyncio.gather(
        *(_take(app, queue, jobs, resources) for queue in (SWEEPS_QUEUE, GATE_QUEUE))
    )


async def _take(app: App, queue: str, jobs: int, resources: Resources) -> None:
    """Take jobs of one queue until cancelled."""
    await app.run_worker_async(
        queues=[queue],
        name=queue,
        concurrency=jobs,
        install_signal_handlers=False,
        delete_jobs="successful",
        fetch_job_polling_interval=0.5,
        shutdown_graceful_timeout=5,
        update_heartbeat_interval=_HEARTBEAT_SECONDS,
        stalled_worker_timeout=DEAD_AFTER_SECONDS,
        additional_context={"resources": resources},
    )
