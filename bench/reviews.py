"""Reviews on a large site: how long a sweep's end takes for them, and how long the pages of review,
account, statement and way take to answer.

``python -m bench.reviews [PAGES]`` (default 5,000). Times are those of the whole answer over HTTP
on loopback, median of 9; wanted: 300 ms each.
"""

from __future__ import annotations

import asyncio
import statistics
import sys
import time

import psycopg
from psycopg.types.json import Jsonb

from bench.made_fixes import SITE, fill
from bench.service import running
from plumrake.actions.reviews import note_review
from plumrake.client import PlumRake
from plumrake.core.questions.evidence import Shown, shown
from plumrake.core.questions.question import Evidence
from plumrake.records import reviews, sweeps

_TIMES = 9
_TEMPLATES = 12
_LINKS = 80
_FINDINGS = 20
WANTED = 0.3


def evidence(template: int, page: int) -> dict[Evidence, Shown]:
    """Return what a made page has to show."""
    links = [
        {"name": f"Page {to}", "address": f"/{to}/", "selector": f"a:nth-of-type({to % _LINKS})"}
        for to in range(page, page + _LINKS)
    ]
    pictures = [
        {"name": f"Lock {at}", "hash": f"{page}-{at}", "selector": "img", "box": [0, 0, 9, 9]}
        for at in range(8)
    ]
    menu = {"name": "Main", "links": [f"Entry {at}" for at in range(9)], "selector": "nav"}
    return {
        "links": shown(links),
        "pictures": shown(pictures),
        "headings": shown({"level": 2, "name": f"Part {at}", "selector": "h2"} for at in range(9)),
        "reading-order": shown({"text": f"Text {page} {at}", "selector": "p"} for at in range(60)),
        "tables": shown([{"name": "Fees", "cells": []}] if template % 3 == 0 else []),
        "repeated-parts": shown([menu]),
    }


async def fill_evidence(database: str) -> float:
    """Give each reading its inventory and evidence; return the seconds that the sweep's end takes
    for reviews."""
    async with await psycopg.AsyncConnection.connect(database) as connection:
        rows = await (
            await connection.execute("SELECT id, page_id FROM reading ORDER BY id")
        ).fetchall()
        for reading, page in rows:
            template = page % _TEMPLATES
            known = await reviews.store_shown(connection, evidence(template, page))
            links = [
                {"name": f"Page {to}", "target": f"/{to}/", "address": f"/{to}/"}
                for to in range(page, page + _LINKS)
            ]
            census = {f"build-{template}-{at}": 3 for at in range(40)}
            await connection.execute(
                "INSERT INTO inventory (hash, census, pictures, links, colours)"
                " VALUES (%s, %s, '[]', %s, '[]')",
                [f"made-{reading}", Jsonb(census), Jsonb(links)],
            )
            await connection.execute(
                "UPDATE reading SET shown = %s, inventory = %s WHERE id = %s",
                [known, f"made-{reading}", reading],
            )
        await connection.commit()
        await connection.execute("ANALYZE")
        [[sweep_id]] = await (await connection.execute("SELECT max(id) FROM sweep")).fetchall()
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        assert sweep is not None
        begun = time.perf_counter()
        await note_review(connection, sweep)
        await connection.commit()
        return time.perf_counter() - begun


def median(rake: PlumRake, method: str, path: str, body: object = None) -> float:
    """Return the seconds that a call takes."""
    times = []
    for _ in range(_TIMES):
        begun = time.perf_counter()
        rake.request(method, f"/api/v1{path}", json=body)
        times.append(time.perf_counter() - begun)
    return statistics.median(times)


def main(pages: int = 5_000) -> None:
    """Print the figures."""
    with running(workers=0) as service:
        fill(service.database, pages=pages, per_page=_FINDINGS, causes=400, people=20, live=False)
        took = asyncio.run(fill_evidence(service.database))
        print(f"{pages:,} pages: a sweep's end takes {took:.2f} s for reviews")
        rake = service.rake
        sample = [page.path for page in rake.reviews.show(SITE).pages if page.asked]
        print(f"  {len(sample)} pages in the sample, {rake.reviews.show(SITE).asked} questions")
        page = f"path={sample[0]}&question=picture-texts"
        for name, method, path, body in (
            ("review", "GET", f"/sites/{SITE}/review", None),
            ("one question", "GET", f"/sites/{SITE}/review/question?{page}", None),
            (
                "same names (site)",
                "GET",
                f"/sites/{SITE}/review/question?question=same-names",
                None,
            ),
            ("next question", "POST", f"/sites/{SITE}/review/next", {}),
            ("account, HTML", "GET", f"/sites/{SITE}/account?as=html", None),
            ("account, CSV", "GET", f"/sites/{SITE}/account?as=csv", None),
            ("statement", "GET", f"/sites/{SITE}/statement/proposal", None),
            ("way", "GET", f"/sites/{SITE}/way", None),
        ):
            seconds = median(rake, method, path, body)
            mark = "" if seconds <= WANTED else f"   over {WANTED * 1000:.0f} ms"
            print(f"  {name:<20} {seconds * 1000:7.1f} ms{mark}")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
