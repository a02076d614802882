"""Listings over a million findings and 50,000 fixes: how long the service takes, and by which
indexes.

``python -m bench.listings [FINDINGS] [FIXES]``. Times are those of the whole answer over HTTP on
loopback, median of 15, pages of 50.
"""

from __future__ import annotations

import statistics
import sys
import time

import psycopg

from bench.made_fixes import SITE, fill
from bench.service import Running, running
from plumrake.client import PlumRake

_PER_PAGE = 100
_TIMES = 15

LISTINGS = {
    "findings, first page": f"/sites/{SITE}/findings",
    "findings of a check": f"/sites/{SITE}/findings?check=pictures/no-text",
    "findings of an area, by weight": f"/sites/{SITE}/findings?check=links&weight=barrier",
    "findings below a path": f"/sites/{SITE}/findings?path=/section-7/",
    "findings of a cause": f"/sites/{SITE}/findings?cause=cause-77",
    "doubtful findings": f"/sites/{SITE}/findings?outcome=cantTell",
    "causes": f"/sites/{SITE}/causes",
    "causes of a check": f"/sites/{SITE}/causes?check=forms/no-label",
    "fixes by reach": f"/sites/{SITE}/fixes",
    "fixes by due day": f"/sites/{SITE}/fixes?sort=due",
    "fixes by change": f"/sites/{SITE}/fixes?sort=change",
    "fixes open or reopened": f"/sites/{SITE}/fixes?state=open&state=reopened",
    "fixes of an owner": f"/sites/{SITE}/fixes?owner={{owner}}",
    "fixes late": f"/sites/{SITE}/fixes?late=true&sort=due",
    "fixes of a check, by weight": f"/sites/{SITE}/fixes?check=links/vague&weight=obstacle",
    "fixes below a path": f"/sites/{SITE}/fixes?path=/section-7/",
    "fixes nobody has": f"/sites/{SITE}/fixes?unowned=true",
}


def main(findings: int = 1_000_000, fixes: int = 50_000) -> None:
    """Print the median of each listing's first and a later page, then the scans that PostgreSQL
    chose."""
    with running(workers=0) as service:
        start = time.monotonic()
        fill(
            service.database,
            pages=findings // _PER_PAGE,
            per_page=_PER_PAGE,
            causes=fixes,
            people=50,
            live=False,
        )
        print(f"{findings:,} findings, {fixes:,} fixes, made in {time.monotonic() - start:.0f} s")
        slow = [
            name
            for name, path in LISTINGS.items()
            if not _told(service.rake, name, path.format(owner=_owner(service)))
        ]
        print(f"over 100 ms: {', '.join(slow) or 'none'}")
        _plans(service.database)


def _owner(service: Running) -> int:
    return next(person.id for person in service.rake.people.list() if person.role == "editor")


def _told(rake: PlumRake, name: str, path: str) -> bool:
    first, following = median(rake, f"/api/v1{path}{'&' if '?' in path else '?'}limit=50")
    later, _ = median(rake, following) if following else (0.0, None)
    print(f"  {name:<34} first page {first * 1000:6.1f} ms, second {later * 1000:6.1f} ms")
    return max(first, later) < 0.1


def median(rake: PlumRake, path: str) -> tuple[float, str | None]:
    """Return the seconds of an answer at the median, and where the next part of it is."""
    times, following = [], None
    for _ in range(_TIMES):
        start = time.perf_counter()
        following = rake.request("GET", path).json().get("next")
        times.append(time.perf_counter() - start)
    return statistics.median(times), following


def _plans(database: str) -> None:
    """Print which scans each query of the last run used most, from PostgreSQL's own counters."""
    with psycopg.connect(database) as connection:
        rows = connection.execute(
            "SELECT relname, indexrelname, idx_scan FROM pg_stat_user_indexes WHERE relname "
            "IN ('finding', 'fix', 'cause') AND idx_scan > 0 "
            "ORDER BY relname, idx_scan DESC"
        ).fetchall()
        whole = connection.execute(
            "SELECT relname, seq_scan FROM pg_stat_user_tables WHERE relname IN ('finding', "
            "'fix', 'cause') ORDER BY 1"
        ).fetchall()
    for table, index, scans in rows:
        print(f"  {table:<8} {index:<28} {scans:>8} scans")
    print(
        f"  whole tables: {', '.join(f'{table} {scans}' for table, scans in whole)} (filling "
        "included)"
    )


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
