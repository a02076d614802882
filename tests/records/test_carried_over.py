"""What stood in a database before the words were set right is carried over: nothing gets lost, and
everything is called what it is called now."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

import psycopg
import pytest
from psycopg.types.json import Jsonb
from yoyo import get_backend, read_migrations

import plumrake.records
from plumrake.records.migrate import migrate
from tests.services import copied

MIGRATIONS = str(Path(plumrake.records.__file__).parent / "migrations")
FIRST_RENAMED = "0011.one_word_each"


def backend_of(database: str) -> Any:
    """What applies migrations, and takes them back."""
    return get_backend(database.replace("postgresql://", "postgresql+psycopg://", 1))


class Old:
    """A database of before, with short ways to put rows in."""

    def __init__(self, connection: psycopg.Connection[Any]) -> None:
        self.connection = connection

    def add(self, table: str, **values: Any) -> int:
        """Put a row in; return its id."""
        names, marks = ", ".join(f'"{name}"' for name in values), ", ".join("%s" for _ in values)
        row = self.connection.execute(
            f"INSERT INTO {table} ({names}) VALUES ({marks}) RETURNING *",  # type: ignore[arg-type]
            [Jsonb(value) if isinstance(value, dict) else value for value in values.values()],
        ).fetchone()
        assert row is not None
        return int(row[0])

    def finding(self, reading: tuple[int, int, int], check: str, **values: Any) -> int:
        """Put a finding in: of a reading, its sweep and its page."""
        usual = {
            "reading_id": reading[0],
            "sweep_id": reading[1],
            "page_id": reading[2],
            "ordinal": values.get("ordinal", 1),
            "check_id": check,
            "outcome": "failed",
            "weight": "obstacle",
            "criteria": ["1.1.1"],
            "says": "A picture is wrong.",
            "selector": "img",
            "visible": True,
            "excerpt": "<img>",
            "facts": {},
            "mends": Jsonb([]),
            "place_key": f"{check} {values}",
            "cause_key": check,
        }
        return self.add("finding", **{**usual, **values})

    def fix(self, site: int, state: str, check: str, **values: Any) -> int:
        """Put a fix of a cause in."""
        usual = {
            "site_id": site,
            "edition": "live",
            "cause": f"cause {state}",
            "check_id": check,
            "weight": "obstacle",
            "rank": 2,
            "says": "A picture is wrong.",
            "region": "footer",
            "by_template": False,
            "path": "/a/",
            "places": 1,
            "pages": 1,
            "state": state,
        }
        return self.add("fix", **{**usual, **values})


def fill(old: Old) -> None:
    """A site whose week was played with the words of before."""
    ned = old.add("person", email="ned@x.example", name="Ned", role="editor", password_hash="x")
    crew = old.add("crew", name="Lock keepers")
    old.add("crew_member", crew_id=crew, person_id=ned)
    policy = {
        "without": ["headings/no-main"],
        "regions": ["main"],
        "stock-texts": ["image"],
        "gate": {"parts": [{"pattern": "/news/*"}]},
    }
    site = old.add(
        "site",
        slug="trust",
        name="Trust",
        live_address="https://x.example/",
        found_by="both",
        policy=policy,
        journeys=Jsonb([{"name": "Hire", "steps": [{"fill": "Name", "with": "Ned"}]}]),
        schedule_edition="staging",
    )
    sweep = old.add(
        "sweep",
        site_id=site,
        edition="staging",
        lens="markup",
        policy=policy,
        state="done",
        counted={"barriers": 0},
    )
    page = old.add("page", site_id=site, path="/a/")
    reading = old.add(
        "reading",
        sweep_id=sweep,
        page_id=page,
        address="https://x.example/a/",
        lens="markup",
        status="read",
        title="A",
        language="en",
        elements=3,
        untested=Jsonb([{"check": "forms/label-astray", "why": "no style"}]),
        ready=False,
        seconds=1,
    )
    where = (reading, sweep, page)
    first = old.finding(where, "pictures/ornament-described", region="footer", returned=True)
    old.finding(where, "pictures/moving", says="The film has no captions.", ordinal=2)
    old.finding(where, "pictures/moving", says="Sound begins.", ordinal=3)
    old.finding(where, "text/spelling", outcome="cantTell", weight="friction", ordinal=4)
    old.finding(where, "links/vague", answer="fine", outcome="cantTell", ordinal=5)
    old.add(
        "cause",
        sweep_id=sweep,
        key="c",
        position=1,
        check_id="pictures/ornament-described",
        outcome="failed",
        weight="obstacle",
        region="footer",
        by_template=True,
        places=1,
        pages=1,
        best=first,
        first_sweep=sweep,
        first_seen_at=datetime(2026, 1, 1, tzinfo=UTC),
    )
    for state in ("open", "returned", "void"):
        fix = old.fix(site, state, "pictures/ornament-described", crew_id=crew)
        for move, before, after in (
            ("hand_in", "open", "handed_in"),
            ("return", "handed_in", state),
        ):
            old.add("fix_event", fix_id=fix, move=move, before=before, after=after, actor="reading")
    old.add("notice", person_id=ned, kind="returned", fix_id=fix)
    old.add(
        "webhook",
        site_id=site,
        address="https://y.example/",
        secret="s",
        kinds=["fix.returned", "fix.proven"],
        made_by=ned,
    )
    old.add(
        "saved_filter",
        person_id=ned,
        site_id=site,
        view="fixes",
        name="Mine",
        query={"edition": "live", "state": "returned"},
    )
    old.add(
        "waiver",
        site_id=site,
        scope="check",
        check_id="pictures/moving",
        pattern="/caf%C3%A9/*",
        says="The recording has no text.",
        reason="later",
        ends_on=date(2027, 1, 1),
        granted_by=ned,
    )


@pytest.fixture(scope="module")
def old(postgres: str) -> Iterator[str]:
    """The address of a database of before, filled."""
    database = copied(postgres, "template0")
    backend = backend_of(database)
    earlier = read_migrations(MIGRATIONS).filter(lambda one: one.id < FIRST_RENAMED)
    with backend.lock():
        backend.apply_migrations(backend.to_apply(earlier))
    backend.connection.close()
    with psycopg.connect(database) as connection:
        fill(Old(connection))
    yield database


@pytest.fixture(scope="module")
def now(old: str) -> Iterator[psycopg.Connection[Any]]:
    """A connection to it, brought to the newest shape."""
    migrate(old)
    with psycopg.connect(old, autocommit=True) as connection:
        yield connection


CARRIED = {
    "checks of findings": (
        "SELECT check_id FROM finding ORDER BY ordinal",
        [
            ("pictures/decorative-described",),
            ("media/no-captions",),
            ("media/sound-by-itself",),
            ("text/spelling",),
            ("links/vague",),
        ],
    ),
    "what counts": (
        "SELECT standing, rank FROM finding ORDER BY ordinal",
        [("counts", 4), ("counts", 4), ("counts", 4), ("doubtful", 7), ("judged fine", 5)],
    ),
    "figures": (
        "SELECT counted ->> 'doubtful', counted ->> 'words', environment FROM sweep",
        [("0", "1", "staging")],
    ),
    "zones": ("SELECT zone, reopened FROM finding WHERE ordinal = 1", [("footer", True)]),
    "causes": ("SELECT check_id, zone FROM cause", [("pictures/decorative-described", "footer")]),
    "states of fixes": (
        "SELECT state, reopened_after, zone, rank FROM fix ORDER BY id",
        [
            ("open", None, "footer", 4),
            ("reopened", "handed_in", "footer", 4),
            ("page_gone", None, "footer", 4),
        ],
    ),
    "moves": (
        "SELECT move, before, after FROM fix_event WHERE after = 'reopened'",
        [("reopen", "handed_in", "reopened")],
    ),
    "groups": (
        "SELECT g.name, m.person_id IS NOT NULL, count(f.id) FROM people_group g"
        " JOIN people_group_member m ON m.group_id = g.id JOIN fix f ON f.group_id = g.id"
        " GROUP BY 1, 2",
        [("Lock keepers", True, 3)],
    ),
    "notifications": ("SELECT kind FROM notification", [("reopened",)]),
    "webhooks": ("SELECT kinds FROM webhook", [(["fix.reopened", "fix.proven"],)]),
    "saved filters": (
        "SELECT query FROM saved_filter",
        [({"environment": "live", "state": "reopened"},)],
    ),
    "policies": (
        "SELECT policy, schedule_environment FROM site",
        [
            (
                {
                    "without": ["headings/no-level-1"],
                    "scope": ["main"],
                    "filler-texts": ["image"],
                    "gate": {"sections": [{"pattern": "/news/*"}]},
                },
                "staging",
            )
        ],
    ),
    "journeys": (
        "SELECT journeys FROM site",
        [([{"name": "Hire", "steps": [{"into": "Name", "write": "Ned"}]}],)],
    ),
    "what was untested": (
        "SELECT untested FROM reading",
        [([{"check": "forms/label-dangling", "why": "no style"}],)],
    ),
    "waivers": (
        "SELECT check_id, path_like FROM waiver",
        [("media/no-transcript", r"/caf\%C3\%A9/%")],
    ),
}


@pytest.mark.parametrize("what", CARRIED)
def test_what_stood_before_is_called_what_it_is_called_now(
    now: psycopg.Connection[Any], what: str
) -> None:
    """Each in its table, with nothing lost on the way."""
    query, expected = CARRIED[what]
    assert now.execute(query).fetchall() == expected  # type: ignore[call-overload]


def test_what_is_there_can_be_taken_back_and_brought_up_again(
    now: psycopg.Connection[Any], old: str
) -> None:
    """With its rows: as many as before, and fixes in the states that they were in."""
    counts = "SELECT count(*) FROM finding UNION ALL SELECT count(*) FROM fix_event"
    before = now.execute(counts).fetchall()
    backend = backend_of(old)
    later = read_migrations(MIGRATIONS).filter(lambda one: one.id >= FIRST_RENAMED)
    with backend.lock():
        backend.rollback_migrations(backend.to_rollback(later))
    backend.connection.close()
    assert now.execute(counts).fetchall() == before
    states = now.execute("SELECT state, crew_id IS NOT NULL FROM fix ORDER BY id").fetchall()
    assert states == [("open", True), ("returned", True), ("void", True)]
    migrate(old)
    assert now.execute(counts).fetchall() == before
    query, expected = CARRIED["states of fixes"]
    assert now.execute(query).fetchall() == expected
