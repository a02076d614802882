"""What the service answers to bad input, repeated requests, listings, streams and probes."""

import json
import re
import uuid
from pathlib import Path

import httpx
import pytest

from plumrake import client, models
from plumrake.client import ConflictError, NotFound, NotValid, PlumRake
from plumrake.demo.seed import SITE
from plumrake.models import NewSite
from tests.conftest import Running, token_of


@pytest.fixture(scope="module")
def token(manager: PlumRake) -> str:
    return token_of(manager, "read", "write")


@pytest.fixture
def raw(running: Running, token: str) -> httpx.Client:
    return httpx.Client(
        base_url=f"{running.address}/api/v1", headers={"Authorization": f"Bearer {token}"}
    )


@pytest.fixture(scope="module")
def swept(running: Running, manager: PlumRake) -> int:
    """A finished sweep's number."""
    running.start("worker")
    sweep = manager.sweeps.start(SITE, lens="markup")
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    return sweep.id


BAD = [
    (
        "post",
        "/sites",
        {"slug": "Bad Slug", "name": "x", "live_address": "http://x.example/"},
        422,
        "use small letters, digits and hyphens",
    ),
    (
        "post",
        "/sites",
        {"slug": "x", "name": "  ", "live_address": "http://x.example/"},
        422,
        "name",
    ),
    (
        "post",
        "/sites",
        {"slug": "x", "name": "x", "live_address": "javascript:alert(1)"},
        422,
        "live_address",
    ),
    (
        "post",
        "/sites",
        {"slug": "x", "name": "x", "live_address": "http://x.example/", "colour": "red"},
        422,
        "colour",
    ),
    (
        "post",
        "/sites",
        {"slug": "x", "name": "x", "live_address": "http://x.example/", "found_by": "list"},
        422,
        "listed_paths",
    ),
    ("post", f"/sites/{SITE}/sweeps", {"environment": "both"}, 422, "environment"),
    (
        "post",
        f"/sites/{SITE}/sweeps",
        {"section": "boating"},
        422,
        "section: 'boating' is no path; begin it with '/'",
    ),
    ("post", "/sites/nowhere/sweeps", {}, 404, "nowhere"),
    ("get", f"/sites/{SITE}/findings?weight=heavy", None, 422, "weight"),
    ("get", f"/sites/{SITE}/findings?check=links/colour", None, 422, "links/colour"),
    ("get", f"/sites/{SITE}/findings?limit=1000", None, 422, "limit"),
    ("get", "/findings/999999", None, 404, "999999"),
    ("get", "/findings/abc", None, 422, "finding_id"),
    ("get", "/checks/links/colour", None, 404, "links/colour"),
    ("get", "/nothing", None, 404, "/api/v1/nothing"),
]


@pytest.mark.parametrize(("method", "path", "body", "status", "named"), BAD)
def test_bad_input_is_a_problem_document(
    raw: httpx.Client, method: str, path: str, body: dict[str, str] | None, status: int, named: str
) -> None:
    """Status, stable code, and a detail that names what is wrong."""
    answer = raw.request(method, path, json=body)
    assert answer.status_code == status
    assert answer.headers["content-type"] == "application/problem+json"
    document = answer.json()
    assert named in document["detail"]
    assert document["code"]
    assert document["status"] == status


def test_broken_json_and_wrong_type(raw: httpx.Client) -> None:
    """A body that is no JSON is refused, not guessed at."""
    answer = raw.post("/sites", content=b"{", headers={"Content-Type": "application/json"})
    assert answer.status_code == 422
    assert (
        raw.post("/sites", content=b"slug=x", headers={"Content-Type": "text/plain"}).status_code
        == 422
    )


def test_idempotency_key_gives_the_first_answer_again(raw: httpx.Client, manager: PlumRake) -> None:
    """The same request under the same key is done once; another one under that key is refused."""
    key = {"Idempotency-Key": str(uuid.uuid4())}
    body = {"slug": "once", "name": "Once", "live_address": "http://once.example/"}
    first, second = (
        raw.post("/sites", json=body, headers=key),
        raw.post("/sites", json=body, headers=key),
    )
    assert (first.status_code, second.status_code) == (201, 201)
    assert first.json() == second.json()
    other = raw.post("/sites", json={**body, "slug": "twice"}, headers=key)
    assert (other.status_code, other.json()["code"]) == (409, "key-used")
    assert [site.slug for site in manager.sites.list()].count("once") == 1
    taken = raw.post("/sites", json=body)
    assert (taken.status_code, taken.json()["code"]) == (409, "slug-taken")


def test_a_waiver_is_granted_once_whoever_asks_again(
    raw: httpx.Client, swept: int, manager: PlumRake
) -> None:
    """As everything that is added: who got no answer asks again and has one."""
    finding = next(iter(manager.findings.list(SITE, sweep=swept, outcome="failed")))
    body = {"scope": "place", "reason": "Asked twice", "ends_on": "2099-01-01"}
    key = {"Idempotency-Key": str(uuid.uuid4())}
    first, second = (
        raw.post(f"/findings/{finding.id}/waiver", json=body, headers=key) for _ in range(2)
    )
    assert (first.status_code, first.json()) == (second.status_code, second.json())
    assert first.status_code == 201, first.text
    granted = [one.reason for one in manager.decisions.waivers(SITE)]
    assert granted.count("Asked twice") == 1


WITHOUT_TRACE = frozenset(
    {
        "/password/strength", "/sites/{}/policy/trial", "/sites/{}/gate/trial",
        "/sites/{}/review/next", "/sites/{}/published", "/sites/{}/members",
    }
)  # fmt: skip
"""What may be asked twice without a key: nothing is added by it."""


def test_the_client_asks_again_only_for_what_is_then_done_once(raw: httpx.Client) -> None:
    """Each path that its ``post`` sends a key to takes one; answers with a secret are not asked for
    again."""
    source = Path(client.__file__).with_name("_async.py").read_text(encoding="utf-8")
    calls = re.findall(r"_rake\.post\((.*?)\n {4}(?:async )?def ", source, re.DOTALL)
    sent = {
        re.sub(r"{\w+}", "{}", path[1])
        for call in calls
        if "again=False" not in call and (path := re.search(r'"/api/v1([^"]*)"', call))
    }
    document = raw.get("/openapi.json").json()
    keyed = {
        re.sub(r"{\w+}", "{}", path.removeprefix("/api/v1"))
        for path, operations in document["paths"].items()
        if any(
            one["name"] == "Idempotency-Key"
            for one in operations.get("post", {}).get("parameters", [])
        )
    }
    assert len(sent) > 15
    assert sent - keyed == WITHOUT_TRACE


@pytest.mark.parametrize("sort", ["page", "weight"])
def test_listing_is_paged_without_gaps(
    raw: httpx.Client, swept: int, manager: PlumRake, sort: models.FindingSort
) -> None:
    """Following ``next`` gives every finding once, in its order; the total says how many."""
    place, found = f"/sites/{SITE}/findings?sweep={swept}&limit=7&sort={sort}", []
    weights = ["barrier", "obstacle", "friction"]
    while place:
        page = raw.get(place.removeprefix("/api/v1")).json()
        found += [
            (weights.index(item["weight"]), item["outcome"] != "failed", item["ordinal"])
            for item in page["items"]
        ]
        place = page["next"]
    ordinals = [ordinal for _, _, ordinal in found]
    assert len(set(ordinals)) == len(ordinals) == page["total"]
    assert (found if sort == "weight" else ordinals) == sorted(
        found if sort == "weight" else ordinals  # type: ignore[type-var]
    )
    listed = manager.findings.list(SITE, sweep=swept, sort=sort)
    assert [one.ordinal for one in listed] == ordinals


def test_pages_with_the_heaviest_faults_come_first(
    raw: httpx.Client, swept: int, manager: PlumRake
) -> None:
    """By weight each page comes once, what could not be read first; by path they are in the order
    of the alphabet."""
    pages = list(manager.sweeps.readings(swept, sort="weight"))
    keys = [
        (one.status == "read", -one.barriers, -one.obstacles, -one.frictions, one.path)
        for one in pages
    ]
    assert keys == sorted(keys)
    assert keys[0] != keys[-1]
    assert all(one.failed == one.barriers + one.obstacles + one.frictions for one in pages)
    by_path = [one.path for one in manager.sweeps.readings(swept)]
    assert by_path == sorted(one.path for one in pages)
    place, found = f"/sweeps/{swept}/readings?limit=5&sort=weight", []
    while place:
        part = raw.get(place.removeprefix("/api/v1")).json()
        found += [one["path"] for one in part["items"]]
        place = part["next"]
    assert found == [one.path for one in pages]


def test_filters(manager: PlumRake, swept: int) -> None:
    """Each filter lets through exactly what it says."""
    every = list(manager.findings.list(SITE, sweep=swept))
    assert [f.id for f in manager.findings.list(SITE, sweep=swept, check="links")] == [
        f.id for f in every if f.check.startswith("links/")
    ]
    assert [f.id for f in manager.findings.list(SITE, sweep=swept, weight="barrier")] == [
        f.id for f in every if f.weight == "barrier"
    ]
    assert [f.id for f in manager.findings.list(SITE, sweep=swept, path="/news/")] == [
        f.id for f in every if f.path.startswith("/news/")
    ]
    assert {
        one.outcome for one in manager.findings.list(SITE, sweep=swept, outcome="cantTell")
    } == {"cantTell"}
    share = next(f for f in every if f.path.startswith("/news/") and f.check == "links/no-name")
    same = list(manager.findings.list(SITE, sweep=swept, cause=share.cause_key))
    shown = manager.findings.show(share.id)
    assert (len(same), len({f.path for f in same})) == (
        shown.same_cause_places,
        shown.same_cause_pages,
    )


def test_markup_sweep_says_what_it_did_not_test(manager: PlumRake, swept: int) -> None:
    """Without a browser contrast is told by style sheets; nothing of a layout is made up."""
    found = {one.check for one in manager.findings.list(SITE, sweep=swept, check="contrast")}
    assert found == {"contrast/text", "contrast/placeholder"}
    assert not list(manager.findings.list(SITE, sweep=swept, check="zoom"))
    assert manager.sweeps.show(swept).lens == "markup"


def test_stream_resumes_after_an_event(raw: httpx.Client, swept: int) -> None:
    """``Last-Event-ID`` gives what came after that event, and nothing twice."""
    whole = _events(raw.get(f"/sweeps/{swept}/events").text)
    assert [event["id"] for event in whole] == sorted({event["id"] for event in whole})
    rest = _events(
        raw.get(f"/sweeps/{swept}/events", headers={"Last-Event-ID": str(whole[1]["id"])}).text
    )
    assert rest == whole[2:]


def _events(text: str) -> list[dict[str, int]]:
    return [
        json.loads(line.removeprefix("data:"))
        for line in text.splitlines()
        if line.startswith("data:")
    ]


def test_a_section_alone(manager: PlumRake, swept: int) -> None:
    """A sweep of a section reads its pages and no other; it leaves the site's headline figures
    alone."""
    before = manager.sites.show(SITE).figures
    sweep = manager.sweeps.start(SITE, section="/locks/", lens="markup")
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    paths = [reading.path for reading in manager.sweeps.readings(sweep.id)]
    assert paths
    assert all(path.startswith("/locks/") for path in paths)
    assert manager.sites.show(SITE).figures == before


def test_errors_of_the_client(manager: PlumRake) -> None:
    """Each kind of problem is an exception of its own with the problem's code."""
    with pytest.raises(NotFound) as missing:
        manager.sites.show("nowhere")
    assert missing.value.code == "no-such-site"
    with pytest.raises(ConflictError) as conflict:
        manager.sites.add(NewSite(slug=SITE, name="Again", live_address="http://x.example/"))
    assert conflict.value.code == "slug-taken"
    with pytest.raises(NotValid):
        list(manager.findings.list(SITE, check="colour"))


def test_probes_metrics_and_headers(running: Running) -> None:
    """Live and ready answer; metrics count; every answer forbids what a hostile page could use."""
    assert httpx.get(f"{running.address}/health/live").json() == {"status": "live"}
    assert httpx.get(f"{running.address}/health/ready").json() == {"status": "ready"}
    assert (
        'plumrake_answers_total{method="GET",status="200"}'
        in httpx.get(f"{running.address}/metrics").text
    )
    headers = httpx.get(f"{running.address}/health/live").headers
    assert "script-src" not in headers["content-security-policy"]
    assert headers["content-security-policy"].startswith("default-src 'self'")
    assert headers["x-content-type-options"] == "nosniff"
    document = httpx.get(f"{running.address}/api/v1/openapi.json").json()
    assert all(
        operation.get("operationId")
        for path in document["paths"].values()
        for operation in path.values()
    )


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("post", "/sites", {"slug": "nul", "name": "Mi\0ll", "live_address": "http://x.example/"}),
        ("patch", f"/sites/{SITE}", {"policy": {"leave-out": [".\0x"]}}),
        ("get", f"/sites/{SITE}/findings?path=/%00", None),
        ("get", f"/sites/{SITE}/readings?path=/%00", None),
        ("get", f"/sites/{SITE}/find?text=%00", None),
        ("post", "/session", {"email": "ned\0@harrowmere.example", "password": "x\0"}),
        ("get", f"/sites/{SITE}/fixes?cause=%00", None),
    ],
)
def test_nul_in_a_text_is_refused(
    raw: httpx.Client, method: str, path: str, body: dict[str, object] | None
) -> None:
    """The character that no database keeps is no fault of the service: it is said, or nothing is
    found."""
    answer = raw.request(method, path, json=body)
    assert answer.status_code in (200, 401, 404, 422), answer.text
    if answer.status_code == 422:
        assert answer.json()["code"] == "not-valid"


def test_numbers_that_no_column_holds_are_refused(raw: httpx.Client) -> None:
    """A number beyond 64 bits names nothing, and says so."""
    answer = raw.get(f"/findings/{10**30}")
    assert answer.status_code in (404, 422)
