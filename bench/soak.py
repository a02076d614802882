"""Mixed use over a long time, with what goes wrong in such a time: are there errors beside the
kills, does memory grow, does a transaction stay open, is each answer of the gate true, is anything
lost?

``python -m bench.soak [MINUTES]`` (default: 60). Ten managers and forty editors work on the demo's
site, the gate is asked five times a second, sweeps run; every two minutes a worker is killed, a
worker's browser is killed, the database is restarted, or the mail server goes away for a while.
Exit status: 1 where something is not as wanted. ``.ci/night`` runs ten minutes of it, or
``PLUMRAKE_SOAK_MINUTES``.
"""

from __future__ import annotations

import contextlib
import random
import sys
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

import psutil
import psycopg
from aiosmtpd.controller import Controller
from aiosmtpd.handlers import Sink

from bench.service import EMAIL, Running, demo_site, memory_of, running
from plumrake import models
from plumrake.actions.secret_hashes import secret_hash
from plumrake.client import PlumRake, PlumRakeError
from plumrake.demo.ports import free_port

SITE = "soak"
MANAGERS, EDITORS, ASKERS = 10, 40, 5
_KILL_EVERY = 120.0
_SETTLED = 25.0
"""So many seconds after a kill an error still counts as of the kill: a worker is taken for dead
after ten, a client tries again for a while."""
_LOOK_EVERY = 5.0
_OLD_TRANSACTION = 60.0
_GROWTH = 0.10
GOOD = (
    "<!doctype html><html lang=en><title>Moorings</title>"
    "<main><h1>Moorings</h1><p>Number {}.</p></main>"
)
BAD = GOOD.replace("<p>", "<img src=/a.png><p>")


@dataclass(slots=True)
class Seen:
    """What was seen so far, by all that run at once."""

    done: Counter[str] = field(default_factory=Counter)
    errors: list[tuple[float, str]] = field(default_factory=list)
    untrue: list[str] = field(default_factory=list)
    unanswered: int = 0
    kills: list[tuple[float, float, str]] = field(default_factory=list)
    memory: list[tuple[float, int, int]] = field(default_factory=list)
    oldest_transaction: float = 0.0
    lock: threading.Lock = field(default_factory=threading.Lock)

    def outside_kills(self) -> list[tuple[float, str]]:
        """Return the errors that no kill explains."""
        return [
            (at, says)
            for at, says in self.errors
            if not any(start <= at <= end + _SETTLED for start, end, _ in self.kills)
        ]


class Post:
    """A mail server that may go away and come back; what it is given it throws away."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.start()

    def start(self) -> None:
        """Be there."""
        self._server = Controller(Sink(), hostname="127.0.0.1", port=self.port)
        self._server.start()

    def stop(self) -> None:
        """Be away."""
        self._server.stop()


def main(minutes: float = 60) -> None:
    """Run it and print what was seen."""
    mail = Post(free_port())
    settings = {"mail_host": "127.0.0.1", "mail_port": str(mail.port)}
    with running(workers=2, **settings) as service, demo_site(service.rake, SITE):
        service.rake.sites.change(SITE, models.SiteChange(policy={"gate": {"holds": "barrier"}}))
        sweep = service.rake.sweeps.start(SITE)
        assert list(service.rake.sweeps.follow(sweep.id))[-1].kind == "done"
        tokens = _people(service)
        seen, stopping = Seen(), threading.Event()
        threads = [
            threading.Thread(target=_work, args=(service, token, role, seen, stopping))
            for role, token in tokens
        ]
        threads += [
            threading.Thread(target=_ask, args=(service, tokens[0][1], number, seen, stopping))
            for number in range(ASKERS)
        ]
        threads += [
            threading.Thread(target=_kill, args=(service, mail, seen, stopping, minutes)),
            threading.Thread(target=_look, args=(service, seen, stopping)),
        ]
        start = time.monotonic()
        for thread in threads:
            thread.start()
        while time.monotonic() - start < minutes * 60:
            time.sleep(min(60.0, minutes * 60))
            print(
                f"  {(time.monotonic() - start) / 60:5.1f} min: {sum(seen.done.values())} done, "
                f"{len(seen.errors)} errors, {len(seen.outside_kills())} outside kills",
                flush=True,
            )
        stopping.set()
        for thread in threads:
            thread.join(90)
        is_well = _report(service, seen, minutes)
    mail.stop()
    if not is_well:
        sys.exit(1)


def _people(service: Running) -> list[tuple[str, str]]:
    """Add the people, managers first; return role and token of each."""
    found = []
    with psycopg.connect(service.database) as connection:
        for number in range(MANAGERS + EDITORS):
            role = "manager" if number < MANAGERS else "editor"
            secret = f"plr_soak-{number}"
            connection.execute(
                "WITH made AS (INSERT INTO person (email, name, role, password_hash, immediately)"
                " SELECT %s, %s, %s, password_hash, immediately FROM person WHERE email = %s"
                " RETURNING id)"
                " INSERT INTO token (person_id, name, token_hash, scopes, expires_at)"
                " SELECT id, 'soak', %s, '{read,write}', now() + interval '1 day' FROM made",
                [
                    f"{role}{number}@soak.example",
                    f"{role} {number}",
                    role,
                    EMAIL,
                    secret_hash(secret),
                ],
            )
            found.append((role, secret))
    return found


@contextlib.contextmanager
def _noted(seen: Seen, what: str) -> Iterator[None]:
    try:
        yield
    except PlumRakeError as error:
        if error.status in (404, 409, 412):
            name = f"{what}: refused"  # somebody else was quicker
        else:
            with seen.lock:
                seen.errors.append((time.monotonic(), f"{what}: {type(error).__name__}: {error}"))
            return
        with seen.lock:
            seen.done[name] += 1
    else:
        with seen.lock:
            seen.done[what] += 1


def _work(service: Running, token: str, role: str, seen: Seen, stopping: threading.Event) -> None:
    """Do what somebody of a role does, with a pause after each."""
    chance = random.Random(token)
    with PlumRake(service.address, token=token) as rake:
        deeds = _deeds(rake, chance, role)
        while not stopping.wait(chance.uniform(1.0, 4.0)):
            what = chance.choices([*deeds], [weight for weight, _ in deeds.values()])[0]
            with _noted(seen, what):
                deeds[what][1]()


def _deeds(
    rake: PlumRake, chance: random.Random, role: str
) -> dict[str, tuple[int, Callable[[], object]]]:
    def hand_out() -> None:
        causes = list(rake.causes.list(SITE, handed_out=False))[:40]
        if causes:
            rake.fixes.hand_out(SITE, causes=[chance.choice(causes).key])

    def move() -> None:
        fixes = list(rake.fixes.list(SITE))
        if not fixes:
            return
        fix = rake.fixes.show(chance.choice(fixes).id)
        wanted = [one for one in ("take", "hand_in", "put_back", "note") if one in fix.moves]
        if wanted:
            rake.fixes.move(fix, chance.choice(wanted), why="soaked")

    def sweep() -> None:
        if not any(
            one.state in ("waiting", "running") for one in _first(rake.sweeps.list(SITE), 5)
        ):
            rake.sweeps.start(SITE, section=chance.choice(["/visit/", "/boating/", "/news/"]))

    common: dict[str, tuple[int, Callable[[], object]]] = {
        "desk": (10, rake.fixes.desk),
        "fixes": (8, lambda: list(rake.fixes.list(SITE))),
        "findings": (6, lambda: _first(rake.findings.list(SITE), 50)),
        "notifications": (4, lambda: _first(rake.notifications.notifications(), 20)),
        "move": (8, move),
    }
    if role == "editor":
        return common
    return {
        **common,
        "causes": (6, lambda: list(rake.causes.list(SITE))),
        "figures": (4, lambda: rake.fixes.figures(SITE)),
        "hand out": (4, hand_out),
        "sweep": (2, sweep),
        "log": (1, lambda: _first(rake.log.entries(SITE), 20)),
        "account": (1, lambda: rake.exports.account(SITE)),
    }


def _first(found: Iterator[Any], most: int) -> list[Any]:
    return [one for _, one in zip(range(most), found, strict=False)]


def _ask(service: Running, token: str, number: int, seen: Seen, stopping: threading.Event) -> None:
    """Ask the gate once a second, for a content with a barrier and one without in turn."""
    count = 0
    with PlumRake(service.address, token=token) as rake:
        while not stopping.wait(1.0):
            count += 1
            is_bad = count % 2 == 0
            document = (BAD if is_bad else GOOD).format(f"{number} {count}")
            with _noted(seen, "gate"):
                answer = rake.gate.ask(SITE, "/moorings/", document=document, lens="markup")
                with seen.lock:
                    if answer.state != "answered":
                        seen.unanswered += 1
                    elif (answer.decision == "held") != is_bad and answer.problem_code is None:
                        seen.untrue.append(f"{answer.decision}: {answer.reason}")


def _kill(
    service: Running, mail: Post, seen: Seen, stopping: threading.Event, minutes: float
) -> None:
    """Break one thing after the other, each of them once at least however short the time is."""

    def worker() -> None:
        service.kill_worker(0)

    def browser() -> None:
        for one in service.workers[-1].children(recursive=True):
            with contextlib.suppress(psutil.Error):
                if "chrom" in one.name():
                    one.kill()

    def post() -> None:
        mail.stop()
        time.sleep(20)
        mail.start()

    deeds = [worker, browser, service.restart_database, post]
    count = 0
    while not stopping.wait(min(_KILL_EVERY, minutes * 60 / (len(deeds) + 1))):
        deed = deeds[count % len(deeds)]
        count += 1
        start = time.monotonic()
        seen.kills.append((start, start + 60, deed.__name__))
        deed()
        seen.kills[-1] = (start, time.monotonic(), deed.__name__)


def _look(service: Running, seen: Seen, stopping: threading.Event) -> None:
    """Look at memory and at open transactions."""
    while not stopping.wait(_LOOK_EVERY):
        with contextlib.suppress(psycopg.Error, psutil.Error):
            seen.memory.append((time.monotonic(), memory_of(service.service), service.memory()))
            with psycopg.connect(service.database) as connection:
                found = connection.execute(
                    "SELECT coalesce(max(extract(EPOCH FROM now() - xact_start)), 0)"
                    " FROM pg_stat_activity WHERE datname = current_database()"
                    " AND pid <> pg_backend_pid() AND backend_type = 'client backend'"
                ).fetchall()
            seen.oldest_transaction = max(seen.oldest_transaction, float(found[0][0]))


def _report(service: Running, seen: Seen, minutes: float) -> bool:
    """Print what was seen; tell whether all of it is as wanted."""
    print(f"  {minutes:g} minutes, ended {datetime.now(UTC):%H:%M}; done:")
    for what, count in seen.done.most_common():
        print(f"    {count:6} {what}")
    kills = Counter(name for _, _, name in seen.kills)
    print(f"  kills: {', '.join(f'{count} {name}' for name, count in kills.items())}")
    outside = seen.outside_kills()
    print(f"  errors: {len(seen.errors)}, of them outside kills {len(outside)} (0 wanted)")
    for _, says in outside[:10]:
        print(f"    {says[:160]}")
    print(f"  answers of the gate that were not true: {len(seen.untrue)} (0 wanted)")
    for says in seen.untrue[:5]:
        print(f"    {says[:160]}")
    print(f"  not answered within 20 s: {seen.unanswered}")
    print(f"  oldest transaction: {seen.oldest_transaction:.1f} s ({_OLD_TRANSACTION:.0f} at most)")
    later = seen.memory[len(seen.memory) // 2 :]
    is_flat = True
    for name, place in (("service", 1), ("workers with browsers", 2)):
        third, fourth = _means([int(one[place]) for one in later])
        is_flat &= fourth / third - 1 <= _GROWTH
        print(
            f"  memory of the {name}: {third / 1e6:.0f} MB, then {fourth / 1e6:.0f} MB in the last "
            f"quarter ({fourth / third - 1:+.1%}; {_GROWTH:.0%} at most)"
        )
    with psycopg.connect(service.database) as connection:
        doubled, lost = connection.execute(
            "SELECT (SELECT count(*) FROM (SELECT 1 FROM reading GROUP BY sweep_id, page_id, lens"
            " HAVING count(*) > 1) d),"
            " (SELECT count(*) FROM sweep_row WHERE state = 'done' AND read + unreadable < total)"
        ).fetchall()[0]
    print(
        f"  pages read twice in a sweep: {doubled}; sweeps done with pages lost: {lost} (0 wanted)"
    )
    return is_flat and not (
        outside or seen.untrue or doubled or lost or seen.oldest_transaction > _OLD_TRANSACTION
    )


def _means(values: list[int]) -> tuple[float, float]:
    half = max(1, len(values) // 2)
    first, second = values[:half], values[half:] or values
    return sum(first) / len(first), sum(second) / len(second)


if __name__ == "__main__":
    main(*map(float, sys.argv[1:]))
