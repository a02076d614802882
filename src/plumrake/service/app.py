"""The app factory: what the service is put together from, and what holds for every answer."""

from __future__ import annotations

import time
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from importlib.resources import files
from pathlib import Path
from typing import Annotated, Any

import structlog
from fastapi import APIRouter, FastAPI, Query, Response
from prometheus_client import (
    CONTENT_TYPE_LATEST,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    generate_latest,
)
from psycopg import Error
from psycopg_pool import AsyncConnectionPool, PoolTimeout
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from plumrake import __version__
from plumrake.actions.start import start_key
from plumrake.actions.tries import TryRoom
from plumrake.jobs.app import Queue, make_app
from plumrake.records import health
from plumrake.records.connecting import lasting
from plumrake.service import problems
from plumrake.service.marks import marks_script
from plumrake.service.openapi import document_of
from plumrake.service.problems import Refusal
from plumrake.service.rates import Paced
from plumrake.service.routes import (
    corrections,
    exports,
    findings,
    fixes,
    gate,
    items,
    live,
    notifications,
    people,
    readings,
    reviews,
    signing_in,
    sites,
    start,
    statements,
    sweeps,
    trying,
    verdicts,
    views,
    words,
)
from plumrake.service.routes import (
    log as log_routes,
)
from plumrake.settings import Settings

log = structlog.get_logger()

_MOST_BODY_BYTES = 12_000_000
_POLICY = (
    "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; object-src "
    "'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)
_HEADERS = {
    b"content-security-policy": _POLICY.encode(),
    b"x-content-type-options": b"nosniff",
    b"referrer-policy": b"same-origin",
    b"x-frame-options": b"DENY",
}

_HTTPS_HEADERS = {b"strict-transport-security": b"max-age=31536000"}
"""Over HTTPS browsers stay there for a year (RFC 6797)."""

_ROUTES = (
    start,
    signing_in,
    people,
    sites,
    sweeps,
    findings,
    readings,
    views,
    fixes,
    verdicts,
    reviews,
    statements,
    corrections,
    exports,
    words,
    gate,
    items,
    notifications,
    trying,
    live,
    log_routes,
)


def create_app(settings: Settings | None = None) -> FastAPI:
    """Return the service on its settings (default: from the environment)."""
    settings = settings or Settings()

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        pool: AsyncConnectionPool[Any] = AsyncConnectionPool(
            lasting(settings.database), min_size=1, max_size=8, open=False
        )
        queue = make_app(settings.database)
        app.state.tries = TryRoom(settings.sources)
        async with pool, queue.open_async():
            app.state.pool, app.state.enqueue = pool, Queue(queue)
            await _tell_start(pool, settings.console_address)
            try:
                yield
            finally:
                app.state.tries.close()

    app = FastAPI(
        title="Plum Rake",
        version=__version__,
        openapi_url="/api/v1/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=lifespan,
        max_body_size=_MOST_BODY_BYTES,
    )
    app.openapi = lambda: document_of(app)  # type: ignore[method-assign]
    app.state.settings, app.state.store = settings, settings.store
    problems.install(app)
    api = APIRouter(prefix="/api/v1")
    for module in _ROUTES:
        api.include_router(module.router)
    app.include_router(api)
    registry = CollectorRegistry()
    _add_health(app, registry)
    _add_marks(app, settings.console_address)
    _add_console(app)
    app.add_middleware(Paced, a_minute=settings.requests_a_minute)
    app.add_middleware(Guarded, registry=registry, is_https=settings.is_https)
    return app


async def _tell_start(pool: AsyncConnectionPool[Any], address: str) -> None:
    """Say in the log, while nobody can sign in yet, where the first person is made; a database that
    is not ready is left to ``/health/ready``."""
    try:
        async with pool.connection(timeout=5) as connection:
            key = await start_key(connection)
    except (PoolTimeout, Error):
        return
    if key is not None:
        log.warning(
            "nobody can sign in yet; make the first person there", address=f"{address}/start#{key}"
        )


_GAUGES = {
    "worked_on": "Queues that workers take jobs from; each worker takes two.",
    "oldest_job_seconds": "How long the oldest job waits that could be done.",
    "oldest_question_seconds": "How long the oldest question to the gate waits.",
    "oldest_sweep_seconds": "How long the oldest sweep is under way.",
    "emails_failing": "E-mails that were tried and did not go out.",
    "oldest_picture_seconds": (
        "How long the oldest picture waits to be carried into the store, where there is one."
    ),
    "bytes": "Bytes of the database.",
}
"""What ``/metrics`` says of the database and what works on it (records/health.py)."""


def _add_health(app: FastAPI, registry: CollectorRegistry) -> None:
    gauges = {
        name: Gauge(f"plumrake_{name}", says, registry=registry) for name, says in _GAUGES.items()
    }

    @app.get("/health/live", include_in_schema=False)
    async def live() -> dict[str, str]:
        return {"status": "live"}

    @app.get("/health/ready", include_in_schema=False)
    async def ready() -> dict[str, str]:
        async with app.state.pool.connection(timeout=2) as connection:
            await connection.execute("SELECT 1")
        return {"status": "ready"}

    @app.get("/metrics", include_in_schema=False)
    async def metrics() -> Response:
        async with app.state.pool.connection(timeout=2) as connection:
            state = await health.state_of(connection)
        for name, gauge in gauges.items():
            gauge.set(getattr(state, name))
        return Response(generate_latest(registry), media_type=CONTENT_TYPE_LATEST)

    @app.api_route(
        "/api/{rest:path}",
        methods=["GET", "POST", "PUT", "PATCH", "DELETE"],
        include_in_schema=False,
    )
    async def no_such_address(rest: str) -> None:
        raise Refusal(
            404,
            "no-such-address",
            f"there is nothing at /api/{rest}; /api/v1/openapi.json lists what there is",
        )


def _add_marks(app: FastAPI, service: str) -> None:
    """Serve the script of the panel on staging sites, which other origins may load."""

    @app.get("/marks.js", include_in_schema=False)
    async def marks(
        site: Annotated[str, Query(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=60)],
    ) -> Response:
        return Response(
            marks_script(service, site),
            media_type="text/javascript",
            headers={"cache-control": "public, max-age=300"},
        )


def _add_console(app: FastAPI) -> None:
    """Serve the built console where it was built; the API works without it."""
    folder = Path(str(files("plumrake.service"))) / "console"
    if (folder / "index.html").is_file():
        app.frontend("/", directory=str(folder), fallback="index.html")


class Guarded:
    """Security headers on every answer, and counts and times for ``/metrics``."""

    def __init__(self, app: ASGIApp, registry: CollectorRegistry, *, is_https: bool) -> None:
        self._app = app
        self._headers = _HEADERS | (_HTTPS_HEADERS if is_https else {})
        self._answers = Counter(
            "plumrake_answers",
            "Answers by method and status.",
            ["method", "status"],
            registry=registry,
        )
        self._seconds = Histogram(
            "plumrake_answer_seconds",
            "Seconds until an answer began.",
            ["method"],
            registry=registry,
        )

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on; touch only the answer's head."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        start = time.monotonic()

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                present = {name.lower() for name, _ in message["headers"]}
                message["headers"] = [
                    *message["headers"],
                    *(
                        (name, value)
                        for name, value in self._headers.items()
                        if name not in present
                    ),
                ]
                if scope["path"].startswith("/assets/") and message["status"] == 200:
                    message["headers"].append(
                        (b"cache-control", b"public, max-age=31536000, immutable")
                    )
                if scope["path"].startswith("/api/") and b"cache-control" not in present:
                    message["headers"].append((b"cache-control", b"no-store"))
                self._answers.labels(scope["method"], str(message["status"])).inc()
                self._seconds.labels(scope["method"]).observe(time.monotonic() - start)
            await send(message)

        await self._app(scope, receive, guarded)
