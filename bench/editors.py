"""Fifty editors at once move 5,000 fixes: no update is lost, no state is stuck, and events add up
to states.

``python -m bench.editors [FIXES] [EDITORS] [MOVES EACH]``. On loopback; the proofs that hand-ins
ask for are left in the queue, since no worker runs.
"""

from __future__ import annotations

import asyncio
import random
import sys
import time
from collections import Counter

import psycopg

from bench.made_fixes import SITE, fill
from bench.service import running
from plumrake.actions.sign_ins import make_token
from plumrake.client import AsyncPlumRake, ChangedMeanwhile, WrongState
from plumrake.records import people


def main(fixes: int = 5_000, editors: int = 50, moves_each: int = 1) -> None:
    """Print moves per second, how many were refused since somebody else was first, and what the
    events say of the states."""
    with running(workers=0) as service:
        fill(
            service.database, pages=fixes // 4, per_page=8, causes=fixes, people=editors, live=True
        )
        _check(
            service.database,
            *asyncio.run(
                _all(
                    service.rake.server,
                    service.database,
                    fixes,
                    editors,
                    fixes * moves_each // editors,
                )
            ),
        )


async def _all(
    server: str, database: str, fixes: int, editors: int, moves: int
) -> tuple[Counter[str], float]:
    tokens = await _tokens(database, editors)
    ids = [fix.id async for fix in AsyncPlumRake(server, token=tokens[0]).fixes.list(SITE)]
    assert len(ids) == fixes
    done: Counter[str] = Counter()
    start = time.monotonic()
    await asyncio.gather(
        *(_editor(server, token, ids, number, done, moves) for number, token in enumerate(tokens))
    )
    return done, time.monotonic() - start


async def _tokens(database: str, editors: int) -> list[str]:
    async with await psycopg.AsyncConnection.connect(database) as connection:
        everybody = [
            person for person in await people.all_people(connection) if person.role == "editor"
        ][:editors]
        await connection.execute(
            "UPDATE person SET role = 'manager' WHERE role = 'editor'"
        )  # so that all may move all, and meet
        return [
            (await make_token(connection, person.id, "bench", ["read", "write"], days=1))[1]
            for person in everybody
        ]


async def _editor(
    server: str, token: str, ids: list[int], seed: int, done: Counter[str], moves: int
) -> None:
    """Move fixes chosen at random, a third of them from a small set on which everybody meets."""
    chance = random.Random(seed)
    async with AsyncPlumRake(server, token=token, timeout=120) as rake:
        for _ in range(moves):
            fix = await rake.fixes.show(
                chance.choice(ids[:100]) if chance.random() < 0.33 else chance.choice(ids)
            )
            able = [
                move
                for move in fix.moves
                if move in ("take", "put_back", "withdraw", "note", "propose")
            ]
            move = chance.choice(able)
            extra = {"proposal": {"kind": "advice", "says": f"{seed}"}} if move == "propose" else {}
            try:
                await rake.fixes.move(fix, move, why=f"editor {seed}", **extra)  # type: ignore[arg-type]
                done[move] += 1
            except ChangedMeanwhile:
                done["refused: changed meanwhile"] += 1
            except WrongState:
                done["refused: wrong state"] += 1


def _check(database: str, done: Counter[str], seconds: float) -> None:
    made = sum(count for move, count in done.items() if not move.startswith("refused"))
    refused = {move: count for move, count in done.items() if move.startswith("refused")}
    print(f"{made} moves by editors at once, {made / seconds:.0f} moves/s; {refused}")
    with psycopg.connect(database) as connection:
        (events,) = connection.execute(
            "SELECT count(*) FROM fix_event WHERE move <> 'make'"
        ).fetchone() or (0,)
        (versions,) = connection.execute("SELECT sum(version - 1) FROM fix").fetchone() or (0,)
        (wrong,) = connection.execute(
            "SELECT count(*) FROM fix f WHERE f.state <> (SELECT e.after FROM fix_event e "
            "WHERE e.fix_id = f.id ORDER BY e.id DESC LIMIT 1)"
        ).fetchone() or (0,)
        (broken,) = connection.execute(
            "SELECT count(*) FROM (SELECT before, lag(after) OVER (PARTITION BY fix_id ORDER "
            "BY id) AS previous FROM fix_event) e "
            "WHERE previous IS NOT NULL AND before <> previous"
        ).fetchone() or (0,)
    print(
        f"  events kept {events}, versions counted {versions}, both should be {made}: "
        f"{'yes' if events == versions == made else 'NO'}"
    )
    print(
        f"  fixes whose events do not lead to their state: {wrong}; broken chains of events: "
        f"{broken}"
    )


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
