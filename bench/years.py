"""Years of a service: 100 sites with 200,000 pages and 20,000,000 findings. How long listings take,
whether a new sweep slows with what is kept, and how long it takes to forget old ones.

``python -m bench.years [FINDINGS [PAGES]]``, PAGES of each site: fewer of them make as many nights
and partitions of fewer findings. Each night every site is swept; on the first and on the last
one a sweep of unchanged pages is made by the service's own code and measured, without the reading
of pages itself. Answers are timed over HTTP on loopback, as somebody who has all sites, as a
member of one, and as a member of an area of one, median of 15.
"""

from __future__ import annotations

import asyncio
import sys
import time
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import Any

import psycopg

from bench.listings import LISTINGS, median
from bench.made_fixes import SITE
from bench.service import EMAIL, Running, running
from bench.service import PASSWORD as OWN_PASSWORD
from plumrake.actions.finishing import finish_sweep
from plumrake.actions.people import add_person
from plumrake.client import PlumRake
from plumrake.demo.cluster import address_as
from plumrake.records import members, sweeps, tidying
from plumrake.records.connecting import lasting
from plumrake.records.queries import Connection
from plumrake.records.roles import WORKING

SITES, PER_PAGE, CAUSES = 100, 10, 200
ALLOWED = 0.150
MEMBER, PASSWORD = "member@harrowmere.example", "a member of one site"
CONFINED, AREA = "confined@harrowmere.example", "/section-1*"
BATCH = 20

_SITES = """
INSERT INTO site (slug, name, live_address, found_by, private_leave)
SELECT CASE n WHEN 1 THEN %(first)s ELSE 'made-' || n END, 'Made Canal ' || n,
    'http://127.0.0.1:9/' || n || '/', 'sitemap', TRUE
FROM generate_series(1, %(sites)s) n"""
_PAGES = """
INSERT INTO page (site_id, path)
SELECT s.id, '/section-' || n %% 40 || '/page-' || n || '/'
FROM site s, generate_series(1, %(pages)s) n ORDER BY s.id, n"""
_SWEEP = """
INSERT INTO sweep (site_id, environment, lens, state, policy, total, read, created_at, started_at,
    finished_at, batches, counted)
SELECT %(site)s, 'live', 'rendered', 'done', '{}', %(pages)s, %(pages)s, a.at, a.at, a.at, 1,
    jsonb_build_object('barriers', 6000, 'obstacles', 6000, 'frictions', 6000, 'doubtful', 1800,
        'waived', 0)
FROM (SELECT now() - make_interval(days => %(days)s) AS at) a RETURNING id"""
_OF_SWEEP = (
    """
INSERT INTO reading (sweep_id, page_id, address, lens, status, title, language, elements, untested,
    ready, ready_alone, seconds, read_at, content_hash)
SELECT %(sweep)s, p.id, 'http://127.0.0.1:9' || p.path, 'rendered', 'read', 'Page ' || p.id, 'en',
    500, '[]', FALSE, FALSE, 1, now() - make_interval(days => %(days)s), md5(p.path)
FROM page p WHERE p.site_id = %(site)s""",
    """
INSERT INTO sweep_page (sweep_id, page_id, batch, position)
SELECT %(sweep)s, p.id, 0, row_number() OVER (ORDER BY p.id) FROM page p
WHERE p.site_id = %(site)s""",
    """
INSERT INTO finding (reading_id, sweep_id, page_id, ordinal, check_id, outcome, weight, criteria,
    says, selector, visible, excerpt, facts, mends, place_key, cause_key, cause, zone, structure,
    shape_key, standing)
SELECT r.id, r.sweep_id, r.page_id,
    (row_number() OVER (ORDER BY r.page_id, n))::bigint * 1000,
    (ARRAY['links/vague', 'pictures/no-text', 'contrast/text', 'headings/level-jump', 'text/tiny',
        'forms/no-label'])[1 + (r.page_id + n) %% 6],
    CASE WHEN (r.page_id + n) %% 11 = 0 THEN 'cantTell' ELSE 'failed' END,
    (ARRAY['barrier', 'obstacle', 'friction'])[1 + (r.page_id + n) %% 3],
    '{1.1.1}', 'Something is wrong with place ' || n, 'main > p:nth-of-type(' || n || ')', TRUE,
    '<p>', '{}', '[{"says": "Mend it."}]', md5(r.page_id || ' ' || n), c.key, c.key, 'content',
    'p', c.key, CASE WHEN (r.page_id + n) %% 11 = 0 THEN 'doubtful' ELSE 'counts' END
FROM reading r CROSS JOIN generate_series(1, %(per_page)s) n
CROSS JOIN LATERAL (SELECT 'cause-' || (r.page_id * %(per_page)s + n) %% %(causes)s AS key) c
WHERE r.sweep_id = %(sweep)s""",
    """
INSERT INTO cause (sweep_id, key, position, check_id, outcome, weight, zone, by_template, places,
    pages, best, first_sweep, first_seen_at)
SELECT f.sweep_id, f.cause, row_number() OVER (ORDER BY count(*) DESC, f.cause), min(f.check_id),
    'failed', min(f.weight), 'content', FALSE, count(*), count(DISTINCT f.page_id), min(f.id),
    f.sweep_id, now()
FROM finding f WHERE f.sweep_id = %(sweep)s GROUP BY f.sweep_id, f.cause""",
)
_FIXES = """
INSERT INTO fix (site_id, environment, cause, check_id, weight, rank, says, zone, by_template, path,
    places, pages, owner_id, due_on, finding_id, state)
SELECT w.site_id, 'live', c.key, c.check_id, c.weight,
    array_position(ARRAY['barrier', 'obstacle', 'friction'], c.weight), f.says, 'content', FALSE,
    p.path, c.places, c.pages, (SELECT min(id) FROM person), CURRENT_DATE + 10, c.best, 'open'
FROM cause c JOIN sweep w ON w.id = c.sweep_id JOIN finding f ON f.id = c.best
JOIN page p ON p.id = f.page_id
WHERE w.id IN (SELECT max(id) FROM sweep GROUP BY site_id)"""


def main(findings: int = 20_000_000, pages: int = 2_000) -> None:
    """Print what filling, sweeping, listing and forgetting took."""
    nights = max(2, findings // (SITES * pages * PER_PAGE))
    with running(workers=0) as service:
        with psycopg.connect(service.database, autocommit=True) as connection:
            connection.execute(_SITES, {"first": SITE, "sites": SITES})
            connection.execute(_PAGES, {"pages": pages})
            sites = [n for (n,) in connection.execute("SELECT id FROM site ORDER BY id").fetchall()]
        asyncio.run(_member(service.database, sites[0]))
        measured: list[float] = []
        began = time.monotonic()
        for night in range(nights):
            _night(service.database, sites, pages, days=7 * (nights - night))
            if night in (0, nights - 1):
                with psycopg.connect(service.database, autocommit=True) as connection:
                    connection.execute("ANALYZE")
                measured.append(min(_swept(service.database, site, pages) for site in sites[1:4]))
                with psycopg.connect(service.database, autocommit=True) as connection:
                    connection.execute(
                        "UPDATE sweep SET created_at = now() - make_interval(days => %s)"
                        " WHERE created_at > now() - interval '1 hour'",
                        [7 * (nights - night)],
                    )
                print(
                    f"night {night + 1}: a sweep of {pages:,} unchanged pages {measured[-1]:.1f} s"
                )
        with psycopg.connect(service.database, autocommit=True) as connection:
            connection.execute(_FIXES)
            connection.execute("VACUUM ANALYZE")
            [(kept, partitions, size)] = connection.execute(
                "SELECT (SELECT count(*) FROM finding), (SELECT count(*) FROM sweep_partition),"
                " pg_size_pretty(pg_database_size(current_database()))"
            ).fetchall()
        print(
            f"{SITES} sites, {SITES * pages:,} pages, {kept:,} findings in {partitions} "
            f"partitions, {size}, made in {time.monotonic() - began:.0f} s"
        )
        print(f"the last sweep took {measured[-1] / measured[0]:.2f} times the first's")
        _listings(service)
        _forgotten(service.database)


async def _member(database: str, site: int) -> None:
    async with await psycopg.AsyncConnection.connect(database) as connection:
        member = await add_person(connection, MEMBER, "Member", None, PASSWORD)
        await members.put(connection, member.id, site, "manager", None)
        confined = await add_person(connection, CONFINED, "Confined", None, PASSWORD)
        await members.put(connection, confined.id, site, "editor", None, [AREA])


def _night(database: str, sites: list[int], pages: int, days: int) -> None:
    """Sweep every site, as if it had been so many days ago."""
    with psycopg.connect(database, autocommit=True) as connection:
        for site in sites:
            values: dict[str, Any] = {
                "site": site,
                "days": days,
                "pages": pages,
                "per_page": PER_PAGE,
                "causes": CAUSES,
            }
            with connection.transaction():
                [(sweep,)] = connection.execute(_SWEEP, values).fetchall()
                for statement in _OF_SWEEP:
                    connection.execute(statement, {**values, "sweep": sweep})
    asyncio.run(_as_worker(database, tidying.make_room))


async def _as_worker(database: str, act: Any) -> Any:
    async with await psycopg.AsyncConnection.connect(
        lasting(address_as(database, WORKING)), autocommit=True
    ) as connection:
        return await act(connection)


def _swept(database: str, site: int, pages: int) -> float:
    """Return how many seconds the database's part of a sweep of unchanged pages takes: planned,
    carried over in batches, finished."""

    async def act(connection: Connection) -> float:
        start = time.perf_counter()

        @asynccontextmanager
        async def connect() -> AsyncIterator[Connection]:
            yield connection

        async with connection.transaction():
            sweep_id = await sweeps.add_sweep(
                connection,
                sweeps.NewSweep(
                    site_id=site,
                    environment="live",
                    lens="rendered",
                    section="/",
                    policy={},
                    asked_by=None,
                    scope="all",
                    given_paths=[],
                    fresh=False,
                    ground="",
                ),
            )
            sweep = await sweeps.sweep_by_id(connection, sweep_id)
            assert sweep is not None
            found = await connection.execute(
                "SELECT path FROM page WHERE site_id = %s ORDER BY id", [site]
            )
            planned = [sweeps.DiscoveredPage(path, "sitemap") for (path,) in await found.fetchall()]
            await sweeps.plan_pages(connection, sweep, planned, batch_size=BATCH, lanes=1)
            sweep = await sweeps.sweep_by_id(connection, sweep_id)
            assert sweep is not None
        for batch in range(-(-pages // BATCH)):
            async with connection.transaction():
                await sweeps.lock_sweep(connection, sweep_id)
                unread = await sweeps.unread_of_batches(connection, sweep, batch)
                await sweeps.keep_readings(connection, sweep_id, unread, [])
                await sweeps.count_batch(
                    connection,
                    sweep,
                    read=len(unread),
                    unreadable=0,
                    ready=0,
                    unchanged=len(unread),
                    found={},
                )
                await sweeps.take_batch(connection, sweep_id)
        await finish_sweep(connect, _nobody, sweep_id)
        return time.perf_counter() - start

    seconds: float = asyncio.run(_as_worker(database, act))
    return seconds


async def _nobody(*words: Any, **values: Any) -> None:
    """Nothing is put into the queue."""


def _listings(service: Running) -> None:
    """Print what listings take whom."""
    service.rake.people.sign_in(EMAIL, OWN_PASSWORD)  # the session of the beginning is over
    member, confined = PlumRake(service.address), PlumRake(service.address)
    member.people.sign_in(MEMBER, PASSWORD)
    confined.people.sign_in(CONFINED, PASSWORD)
    with psycopg.connect(service.database) as connection:
        [(finding, reading, person)] = connection.execute(
            "SELECT (SELECT max(id) FROM finding), (SELECT max(r.id) FROM reading r JOIN page p"
            " ON p.id = r.page_id WHERE p.site_id = (SELECT min(id) FROM site)"
            " AND p.path LIKE '/section-1%'),"
            " (SELECT min(id) FROM person)"
        ).fetchall()
        [(own,)] = connection.execute(
            "SELECT max(f.id) FROM finding f JOIN page p ON p.id = f.page_id"
            " WHERE p.site_id = (SELECT min(id) FROM site) AND p.path LIKE '/section-1%'"
        ).fetchall()
    single = {
        "all sites": "/sites",
        "overview of a site": f"/sites/{SITE}",
        "sweeps of a site": f"/sites/{SITE}/sweeps",
        "one reading": f"/readings/{reading}",
        "readings of a page": f"/sites/{SITE}/readings?path=/section-7/page-7/",
        "one finding": f"/findings/{own}",
    }
    slow = []
    asking = (("all sites", service.rake), ("one site", member), ("one area", confined))
    for who, rake in asking:
        print(f"answers to whoever has {who}:")
        for name, path in (single | LISTINGS).items():
            words = path.format(owner=person)
            if name not in single:
                words += f"{'&' if '?' in words else '?'}limit=50"
            first, following = median(rake, f"/api/v1{words}")
            later, _ = median(rake, following) if following else (0.0, None)
            print(f"  {name:<34} first page {first * 1000:6.1f} ms, second {later * 1000:6.1f} ms")
            if max(first, later) > ALLOWED:
                slow.append(f"{name} ({who})")
    print(f"over {ALLOWED * 1000:.0f} ms: {', '.join(slow) or 'none'}")
    member.close()
    confined.close()
    assert finding


def _forgotten(database: str) -> None:
    """Print how long it takes to forget all but the newest sweep of each site."""
    with psycopg.connect(database, autocommit=True) as connection:
        connection.execute("UPDATE fix SET state = 'proven'")
        for _ in range(1 + SITES // 50):
            [(first, rows)] = connection.execute(
                "SELECT b.first_sweep, (SELECT count(*) FROM finding f"
                " WHERE f.sweep_id >= b.first_sweep AND f.sweep_id < b.before_sweep)"
                " FROM sweep_partition b WHERE b.first_sweep > 0 ORDER BY 1 LIMIT 1"
            ).fetchall()
            start = time.perf_counter()
            [(gone,)] = connection.execute("SELECT drop_partition(%s, 1, 1)", [first]).fetchall()
            print(
                f"forgotten: {gone} sweeps with {rows:,} findings in "
                f"{(time.perf_counter() - start) * 1000:.0f} ms"
            )


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
