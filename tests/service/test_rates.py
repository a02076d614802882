"""How many requests a minute are let in, and how one is told."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from plumrake.client import PlumRake
from plumrake.demo.ports import free_port
from tests.conftest import MANAGER, Running, token_of

A_MINUTE = 60


@pytest.fixture(scope="module")
def strict(running: Running, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """A service that lets few in, on the same database."""
    folder: Path = tmp_path_factory.mktemp("strict")
    made = Running(running.database, free_port(), folder)
    made.start("serve", requests_a_minute=str(A_MINUTE))
    made.wait_until_ready()
    yield made
    made.stop()


def told(answer: httpx.Response) -> tuple[str, int]:
    """Return whose limit an answer tells of, and how many requests are left."""
    found = re.fullmatch(r'"(\w+)";r=(\d+);t=(\d+)', answer.headers["RateLimit"])
    assert found
    assert 0 < int(found[3]) <= A_MINUTE
    return found[1], int(found[2])


def test_each_token_has_a_limit_of_its_own(manager: PlumRake, strict: Running) -> None:
    """What is left is on each answer; beyond it 429 with how long to wait; another token and the
    health of the service are not touched by it."""
    first, second = token_of(manager, "read"), token_of(manager, "read")

    def ask(token: str) -> httpx.Response:
        signed = {"Authorization": f"Bearer {token}"}
        return httpx.get(f"{strict.address}/api/v1/sites", headers=signed)

    answers = [ask(first) for _ in range(A_MINUTE + 15)]
    good = [answer for answer in answers if answer.status_code == 200]
    assert A_MINUTE <= len(good) <= A_MINUTE + 10  # a few more where a minute passes meanwhile
    assert told(good[0]) == ("person", A_MINUTE - 1)
    assert told(good[30]) < told(good[0])
    assert told(good[-1])[1] <= 1
    assert answers[0].headers["RateLimit-Policy"] == f'"person";q={A_MINUTE};w=60'
    refused = answers[-1]
    assert (refused.status_code, refused.json()["code"]) == (429, "too-many-requests")
    assert 0 < int(refused.headers["Retry-After"]) <= 120
    assert ask(second).status_code == 200
    assert httpx.get(f"{strict.address}/health/ready").status_code == 200


def test_guessing_tokens_from_one_address_ends_soon(manager: PlumRake, strict: Running) -> None:
    """Each guess counts for the address; who was let in with a good one before goes on, and nobody
    comes in there without one until a minute is over."""
    good = {"Authorization": f"Bearer {token_of(manager, 'read')}"}
    elsewhere = httpx.HTTPTransport(local_address="127.0.0.2")
    with httpx.Client(base_url=strict.address, transport=elsewhere) as client:
        assert client.get("/api/v1/sites", headers=good).status_code == 200
        guesses = [
            client.get("/api/v1/sites", headers={"Authorization": f"Bearer guess-{number}"})
            for number in range(A_MINUTE // 5 + 10)
        ]
        codes = [guess.status_code for guess in guesses]
        assert codes[0] == 401
        assert codes[-1] == 429
        assert codes.count(401) <= A_MINUTE // 5 + 5
        assert client.get("/api/v1/sites", headers=good).status_code == 200
        body = {"email": MANAGER, "password": "guessed"}
        assert client.post("/api/v1/session", json=body).status_code == 429
