"""What goes by its age, and what stays."""

from __future__ import annotations

import os
import subprocess
import sys

import psycopg
import pytest

from tests.conftest import Running, wait_for

MESSAGES = """
INSERT INTO email (person_id, subject, text, made_at, sent_at, given_up_at)
SELECT min(p.id), s.subject, '', now() - interval '1 year', s.sent_at, s.given_up_at
FROM person p CROSS JOIN (VALUES
    ('sent long ago', now() - interval '91 days', NULL),
    ('given up long ago', NULL, now() - interval '91 days'),
    ('sent lately', now() - interval '89 days', NULL),
    ('still to be sent', NULL::timestamptz, NULL::timestamptz)
) s (subject, sent_at, given_up_at)
GROUP BY s.subject, s.sent_at, s.given_up_at
"""
JOBS = """
WITH made AS (
    INSERT INTO procrastinate_jobs (queue_name, task_name, status, args)
    SELECT 'x', s.name, s.status::procrastinate_job_status, '{}' FROM (VALUES
        ('failed long ago', 'failed'), ('failed lately', 'failed'), ('waits', 'todo')
    ) s (name, status)
    RETURNING id, task_name
)
SELECT id FROM made WHERE task_name IN ('failed long ago', 'waits')
"""


@pytest.fixture
def filled(running: Running) -> str:
    """A database with messages and jobs of all ages."""
    with psycopg.connect(running.database) as connection:
        connection.execute(MESSAGES)
        old = [number for (number,) in connection.execute(JOBS).fetchall()]
        connection.execute("DELETE FROM procrastinate_events WHERE job_id = ANY(%s)", [old])
        connection.execute(
            "INSERT INTO procrastinate_events (job_id, type, at)"
            " SELECT unnest(%s::bigint[]), 'deferred', now() - interval '31 days'",
            [old],
        )
        connection.execute(
            "INSERT INTO procrastinate_events (job_id, type)"
            " SELECT id, 'failed' FROM procrastinate_jobs WHERE task_name = 'failed lately'"
        )
    return running.database


def test_what_is_old_goes_and_how_much_is_said(filled: str) -> None:
    """By the command: what waits stays whatever its age."""

    def tidied() -> str:
        return subprocess.run(
            [sys.executable, "-m", "plumrake", "tidy"],
            env={**os.environ, "PLUMRAKE_DATABASE": filled},
            capture_output=True,
            text=True,
            check=True,
        ).stdout

    assert tidied() == (
        "forgotten: 0 sweeps, 0 pieces of evidence, 0 entries of the log, 2 messages, 1 job\n"
    )
    assert "0 messages, 0 jobs" in tidied()
    with psycopg.connect(filled) as connection:
        emails = connection.execute("SELECT subject FROM email ORDER BY subject").fetchall()
        jobs = connection.execute(
            "SELECT task_name FROM procrastinate_jobs WHERE queue_name = 'x' ORDER BY task_name"
        ).fetchall()
    assert emails == [("sent lately",), ("still to be sent",)]
    assert jobs == [("failed lately",), ("waits",)]


def test_jobs_that_went_well_are_not_kept(running: Running) -> None:
    """The clock alone makes a job every five seconds."""
    with psycopg.connect(running.database) as connection:
        before = connection.execute("SELECT last_value FROM procrastinate_jobs_id_seq").fetchall()
    first = before[0][0] + 1
    running.start("worker")

    def worked() -> bool:
        with psycopg.connect(running.database) as connection:
            found = connection.execute(
                "SELECT last_value > %s FROM procrastinate_jobs_id_seq", [first + 12]
            ).fetchall()
        return bool(found[0][0])

    wait_for(worked, 90, running.logs)
    with psycopg.connect(running.database) as connection:
        kept = connection.execute(
            "SELECT count(*) FROM procrastinate_jobs WHERE status = 'succeeded'"
        ).fetchall()
        events = connection.execute(
            "SELECT e.type, e.job_id FROM procrastinate_events e WHERE e.job_id > %s"
            " AND NOT EXISTS (SELECT FROM procrastinate_jobs j WHERE j.id = e.job_id)",
            [first],
        ).fetchall()
    assert (kept, events) == ([(0,)], [])
