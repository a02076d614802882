"""The procrastinate app and how a job is put into its queue within a transaction."""

from __future__ import annotations

from typing import Any

from procrastinate import App, PsycopgConnector

from plumrake.jobs.tasks import make_blueprint
from plumrake.records.connecting import lasting
from plumrake.records.queries import Connection

_NAMESPACE = "plumrake"


def make_app(database: str) -> App:
    """Return the app with every task, on a database address."""
    app = App(connector=PsycopgConnector(conninfo=lasting(database), min_size=1, max_size=4))
    app.add_tasks_from(make_blueprint(), namespace=_NAMESPACE)
    return app


class Queue:
    """Puts jobs into the queue; the job is there when, and only when, the transaction is
    committed."""

    def __init__(self, app: App) -> None:
        self._app = app

    async def __call__(
        self, connection: Connection, name: str, arguments: dict[str, Any], *, priority: int = 0
    ) -> None:
        """Defer the task ``name`` with its arguments on the caller's connection; those of higher
        priority are taken first."""
        task = self._app.configure_task(
            f"{_NAMESPACE}:{name}", connection=connection, priority=priority
        )
        await task.defer_async(**arguments)
