"""The client library by itself: its two faces agree, and it repeats only what is safe to repeat."""

import inspect
import subprocess
import sys
from pathlib import Path

import httpx
import pytest

import plumrake.client
from plumrake.client import AsyncPlumRake, PlumRake, Unavailable, Unreachable
from plumrake.client import _async as asynchronous
from plumrake.client import _sync as synchronous


def test_sync_client_is_made_from_the_async_one() -> None:
    """The generated file is up to date."""
    script = Path(__file__).parents[2] / "scripts/make_sync_client.py"
    subprocess.run([sys.executable, str(script), "--check"], check=True)


def test_both_faces_have_the_same_methods() -> None:
    """Whatever the one offers, the other offers."""
    for name in ("PlumRake", "People", "Sites", "Sweeps", "Findings", "Checks"):
        one, other = getattr(synchronous, name), getattr(asynchronous, f"Async{name}")
        public = {
            method
            for method, _ in inspect.getmembers(one, inspect.isfunction)
            if not method.startswith("_")
        }
        assert public == {
            method
            for method, _ in inspect.getmembers(other, inspect.isfunction)
            if not method.startswith("_")
        }


def test_public_names_exist() -> None:
    """``__all__`` is true."""
    assert all(hasattr(plumrake.client, name) for name in plumrake.client.__all__)


def answering(rake: PlumRake, *statuses: int) -> list[str]:
    """Let the client be answered by a list of statuses; return the list of requests that it
    sends."""
    seen: list[str] = []

    def handle(request: httpx.Request) -> httpx.Response:
        seen.append(request.method)
        status = statuses[min(len(seen), len(statuses)) - 1]
        return httpx.Response(
            status,
            json={"items": []} if status == 200 else {"detail": "not now", "code": "busy"},
            headers={"Retry-After": "0"},
        )

    rake._http = httpx.Client(
        base_url="http://service.example", transport=httpx.MockTransport(handle)
    )
    return seen


def test_reading_is_repeated_until_it_works() -> None:
    """A service that is busy for a moment is asked again."""
    with PlumRake("http://service.example") as rake:
        seen = answering(rake, 503, 503, 200)
        assert list(rake.sites.list()) == []
        assert seen == ["GET"] * 3


def test_repeating_ends() -> None:
    """A service that stays away is given up on, with the problem's code."""
    with PlumRake("http://service.example") as rake:
        seen = answering(rake, 503)
        with pytest.raises(Unavailable) as error:
            list(rake.sites.list())
        assert error.value.code == "busy"
        assert len(seen) == 4


def test_writing_without_a_key_is_not_repeated() -> None:
    """A write that cannot be told from its repetition is sent once."""
    with PlumRake("http://service.example") as rake:
        seen = answering(rake, 503)
        with pytest.raises(Unavailable):
            rake.people.sign_in("a@b.example", "x")
        assert seen == ["POST"]


def test_nobody_there() -> None:
    """No service at the address is one plain error."""
    with (
        PlumRake("http://127.0.0.1:9") as rake,
        pytest.raises(Unreachable, match="is the service running"),
    ):
        list(rake.sites.list())


async def test_asynchronous_face_works() -> None:
    """The asynchronous client reads listings and closes."""
    async with AsyncPlumRake("http://service.example") as rake:
        rake._http = httpx.AsyncClient(
            base_url="http://service.example",
            transport=httpx.MockTransport(lambda _: httpx.Response(200, json={"items": []})),
        )
        assert [site async for site in rake.sites.list()] == []


def test_listings_follow_their_next_link() -> None:
    """The query of a ``next`` link is kept, so that a listing of several pages comes to its end."""
    rake = PlumRake("http://rake.invalid", token="t")

    def handle(request: httpx.Request) -> httpx.Response:
        after = int(request.url.params.get("after", "0"))
        item = {
            "id": "a/b",
            "title": "T",
            "weight": "barrier",
            "criteria": [],
            "needs": [],
            "parameters": {},
            "summary": "",
            "sections": {},
            "act_rule": None,
        }
        following = f"/api/v1/checks?after={after + 1}" if after < 2 else None
        return httpx.Response(200, json={"items": [item | {"id": f"a/{after}"}], "next": following})

    rake._http = httpx.Client(transport=httpx.MockTransport(handle), base_url="http://rake.invalid")
    assert [check.id for check in rake.checks.list()] == ["a/0", "a/1", "a/2"]
