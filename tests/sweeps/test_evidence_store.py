"""Pictures in a store beside the database: carried there, shown from there, dropped there, brought
back."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from collections.abc import AsyncIterator, Iterator
from contextlib import asynccontextmanager, contextmanager
from pathlib import Path
from typing import Any

import httpx
import psycopg
import pytest

from plumrake.actions import evidence, picturing
from plumrake.actions.ports import Connect
from plumrake.client import PlumRake, PlumRakeError
from plumrake.demo.ports import free_port
from plumrake.demo.seed import SITE
from plumrake.outbound.object_store import ObjectStore, StoreAway, StoreSettings
from tests.conftest import Running, wait_for

BEGINS_SWEPT = True
BUCKET = "pictures"
SERVER = Path(__file__).parents[2] / ".venv/store/bin/moto_server"
HASHES = "SELECT hash FROM evidence ORDER BY hash"
HERE = "SELECT count(*) FROM evidence WHERE content IS NOT NULL"
MADE_LONG_AGO = "UPDATE evidence SET created_at = now() - interval '2 hours'"
PICTURED = "SELECT key, finding_id, picture FROM cause_picture ORDER BY 1, 2, 3"


@pytest.fixture(scope="module")
def endpoint(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A server that speaks the protocol of S3, with a bucket."""
    port = free_port()
    log = (tmp_path_factory.mktemp("store") / "store.log").open("wb")
    child = subprocess.Popen([SERVER, "-H", "127.0.0.1", "-p", str(port)], stdout=log, stderr=log)
    address = f"http://127.0.0.1:{port}"

    def is_there() -> bool:
        try:
            return httpx.put(f"{address}/{BUCKET}").is_success
        except httpx.TransportError:
            return False

    wait_for(is_there, 60, "the store")
    yield address
    child.terminate()
    child.wait()


@pytest.fixture
def store(endpoint: str, request: pytest.FixtureRequest) -> ObjectStore:
    """A place of the test's own in the bucket."""
    place = f"s3://{BUCKET}/{request.node.name}"
    return ObjectStore(StoreSettings(place, endpoint, key="rake", secret="plum"))


def settings(store: ObjectStore, endpoint: str) -> dict[str, str]:
    return {
        "evidence_store": store.address,
        "evidence_endpoint": endpoint,
        "evidence_key": "rake",
        "evidence_secret": "plum",
    }


@contextmanager
def served(database: str, folder: Path, **given: str) -> Iterator[Running]:
    """A service with settings of its own."""
    running = Running(database, free_port(), folder)
    running.start("serve", **given)
    try:
        running.wait_until_ready()
        yield running
    finally:
        running.stop()


@pytest.fixture
def connect(database: str) -> Connect:
    @asynccontextmanager
    async def lend() -> AsyncIterator[psycopg.AsyncConnection[Any]]:
        async with await psycopg.AsyncConnection.connect(database) as connection:
            yield connection

    return lend


def told(database: str, query: str, *values: Any) -> list[tuple[Any, ...]]:
    with psycopg.connect(database) as connection:
        found = connection.execute(query, values)  # type: ignore[arg-type]
        return found.fetchall() if found.description else []


def pictures_seen(rake: PlumRake) -> dict[str, bytes]:
    """Return pictures by where one asks for them: whole ones, of findings, cut out of a page."""
    causes = [one for one in rake.causes.list(SITE) if one.pictures]
    finding = next(one for one in rake.findings.list(SITE) if one.box)
    reading = next(iter(rake.readings.of_page(SITE, "/")))
    places = [
        f"/api/v1/evidence/{causes[0].pictures[0]}",
        f"/api/v1/evidence/{reading.picture}",
        f"/api/v1/findings/{finding.id}/picture",
        f"/api/v1/readings/{reading.id}/cut?x=0&y=0&width=300&height=200",
    ]
    return {place: rake.request("GET", place).content for place in places}


def test_a_worker_carries_pictures_that_are_shown_as_before(
    database: str, store: ObjectStore, endpoint: str, tmp_path: Path
) -> None:
    """Nobody sees where a picture is; those of the last hour stay in the database."""
    given = settings(store, endpoint)
    with served(database, tmp_path, **given) as running, running.client() as rake:
        before = pictures_seen(rake)
        told(database, MADE_LONG_AGO)
        [(newest,)] = told(database, "SELECT min(hash) FROM evidence")
        told(database, "UPDATE evidence SET created_at = now() WHERE hash = %s", newest)
        running.start("worker", **given)
        wait_for(lambda: told(database, HERE) == [(1,)], 150, running.logs)
        assert pictures_seen(rake) == before
        told(database, MADE_LONG_AGO)
        metrics = httpx.get(f"{running.address}/metrics").text
        [waits] = re.findall(r"^plumrake_oldest_picture_seconds (\S+)$", metrics, re.MULTILINE)
        assert 7200 <= float(waits) < 7400, "one is still here"


async def test_a_store_that_is_away_is_said_and_nothing_else_stops(
    database: str, store: ObjectStore, endpoint: str, tmp_path: Path, connect: Connect
) -> None:
    """What is in the database is shown; the answer names no address of ours. So where the setting
    is gone."""
    away = settings(store, endpoint) | {"evidence_endpoint": f"http://127.0.0.1:{free_port()}"}
    [(lost,)] = told(database, "SELECT min(hash) FROM evidence")
    told(database, "UPDATE evidence SET content = NULL WHERE hash = %s", lost)
    with served(database, tmp_path, **away) as running, running.client() as rake:
        with pytest.raises(PlumRakeError) as refused:
            rake.request("GET", f"/api/v1/evidence/{lost}")
        assert (refused.value.status, refused.value.code) == (503, "evidence-away")
        assert "127.0.0.1" not in str(refused.value)
        reading = next(iter(rake.readings.of_page(SITE, "/")))
        assert rake.request("GET", f"/api/v1/evidence/{reading.picture}").content
    with pytest.raises(StoreAway, match="PLUMRAKE_EVIDENCE_STORE"):
        await evidence.content_by_hash(connect, None, lost)


async def test_what_breaks_off_loses_nothing(
    database: str, store: ObjectStore, connect: Connect, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A content goes from the database only when it is in the store; what was put there before is
    put again."""
    put, calls = store.put, []

    async def breaks_off(*given: Any) -> None:
        calls.append(given)
        if len(calls) > 20:
            raise StoreAway("gone")
        await put(*given)

    monkeypatch.setattr(store, "put", breaks_off)
    [(number,)] = told(database, HERE)
    with pytest.raises(StoreAway):
        await evidence.carry(connect, store, after_seconds=0)
    assert told(database, HERE) == [(number,)]
    monkeypatch.setattr(store, "put", put)
    assert await evidence.carry(connect, store, after_seconds=0) == number
    assert told(database, HERE) == [(0,)]
    for (content_hash,) in told(database, HASHES):
        assert await store.get(content_hash)


async def test_what_nothing_shows_goes_from_the_store_a_month_later(
    database: str, store: ObjectStore, connect: Connect
) -> None:
    """So long an older copy of the database finds it there; what came back meanwhile stays."""
    for name in ("away", "back", "lately"):
        told(
            database,
            "INSERT INTO evidence (hash, media_type, content) VALUES (%s, 'image/webp', %s)",
            name,
            name.encode(),
        )
    await evidence.carry(connect, store, after_seconds=0)
    told(database, "DELETE FROM evidence WHERE hash IN ('away', 'back')")
    told(database, "UPDATE evidence_dropped SET dropped_at = now() - interval '31 days'")
    told(database, "DELETE FROM evidence WHERE hash = 'lately'")
    told(
        database,
        "INSERT INTO evidence (hash, media_type, content) VALUES ('back', 'image/webp', 'back')",
    )
    await evidence.carry(connect, store)
    assert [await store.get(name) for name in ("away", "back", "lately")] == [
        None,
        b"back",
        b"lately",
    ]
    assert told(database, "SELECT hash FROM evidence_dropped") == [("lately",)]


async def test_causes_are_pictured_from_the_store(
    database: str, store: ObjectStore, connect: Connect
) -> None:
    """Where a page is as it was, its picture may have been carried away before the sweep ends."""
    before = told(database, PICTURED)
    [(sweep,)] = told(database, "SELECT id FROM sweep")
    await evidence.carry(connect, store, after_seconds=0)
    told(database, "DELETE FROM cause_picture")
    async with connect() as connection:
        await picturing.picture_causes(connection, sweep)
    assert told(database, PICTURED) == []
    await evidence.picture_from_store(connect, store)
    assert told(database, PICTURED) == before != []
    assert told(database, "SELECT * FROM sweep_to_picture") == []


async def test_a_cause_that_waits_while_others_are_pictured_is_pictured_too(
    database: str, store: ObjectStore, connect: Connect, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Nothing waits for the next sweep because it came a moment late."""
    before = told(database, PICTURED)
    (sweep,), key = told(database, "SELECT id FROM sweep")[0], before[0][0]
    await evidence.carry(connect, store, after_seconds=0)
    told(database, "DELETE FROM cause_picture")
    told(database, f"UPDATE cause SET position = position + 100000 WHERE key = '{key}'")
    async with connect() as connection:
        await picturing.picture_causes(connection, sweep)
    get, came = store.get, []

    async def get_meanwhile(name: str) -> bytes | None:
        if not came:
            came.append(name)
            told(database, f"UPDATE cause SET position = position - 100000 WHERE key = '{key}'")
            async with connect() as connection:
                await picturing.picture_causes(connection, sweep)
        return await get(name)

    monkeypatch.setattr(store, "get", get_meanwhile)
    await evidence.picture_from_store(connect, store)
    assert told(database, PICTURED) == before
    assert told(database, "SELECT * FROM sweep_to_picture") == []


async def test_all_pictures_are_brought_back(
    database: str, store: ObjectStore, endpoint: str, connect: Connect
) -> None:
    """By the command; it tells of what the store lost."""
    contents = "SELECT hash, content FROM evidence ORDER BY hash"
    before = told(database, contents)
    await evidence.carry(connect, store, after_seconds=0)
    lost = before[0][0]
    await store.drop([lost])
    given = settings(store, endpoint)
    environment = {f"PLUMRAKE_{name.upper()}": one for name, one in given.items()}

    def run(command: str, **given: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "plumrake", command],
            env={**os.environ, "PLUMRAKE_DATABASE": database, **given},
            capture_output=True,
            text=True,
            check=False,
        )

    unset = run("bring-back")
    assert (unset.returncode, unset.stdout) == (2, "")
    assert "PLUMRAKE_EVIDENCE_STORE" in unset.stderr
    checked = run("check")
    assert re.search(r"evidence +0 pictures in the database, .* not set", checked.stdout)
    assert "evidence: they are in a store: set PLUMRAKE_EVIDENCE_STORE" in checked.stderr
    checked = run("check", **environment)
    assert f"0 pictures in the database, {len(before)} in {store.address}" in checked.stdout
    assert "evidence:" not in checked.stderr
    away = {"PLUMRAKE_EVIDENCE_ENDPOINT": f"http://127.0.0.1:{free_port()}"}
    assert "check PLUMRAKE_EVIDENCE_" in run("check", **environment | away).stderr
    done = run("bring-back", **environment)
    assert done.stdout == f"{len(before) - 1} pictures brought back\n"
    assert (done.returncode, lost in done.stderr) == (3, True)
    assert told(database, contents) == [(lost, None), *before[1:]]


@pytest.mark.parametrize(
    "address", ["pictures", "s3://", "https://pictures.example/", "s3://a?b=c"]
)
def test_a_store_is_named_by_its_bucket(address: str) -> None:
    """Said at start, before anything is read."""
    done = subprocess.run(
        [sys.executable, "-m", "plumrake", "worker"],
        env={**os.environ, "PLUMRAKE_EVIDENCE_STORE": address},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 2
    assert "PLUMRAKE_EVIDENCE_STORE: has to be s3://BUCKET" in done.stderr
