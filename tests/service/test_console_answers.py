"""What the console asks beside the resources: readings and page views, finding, trying, filters,
decisions in bulk, the start, live news."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta

import httpx
import pytest

from plumrake.client import NotAllowed, NotFound, NotValid, PlumRake
from plumrake.demo.seed import SITE
from tests.conftest import EDITOR, Running

BEGINS_SWEPT = True


def test_readings_and_ways_of_a_page(manager: PlumRake, swept: int) -> None:
    """A page's readings over time; each page view has its rows, or says that it is not stored;
    pieces of the picture come as WebP."""
    reading = next(manager.readings.of_page(SITE, "/visit/gallery/"))
    assert (reading.sweep_id, reading.environment, reading.has_views) == (swept, "live", True)
    outline = manager.readings.view(reading.id, "outline")
    assert [row["name"] for row in outline.rows if row["level"] == 1] == ["Gallery"]
    heard = manager.readings.view(reading.id, "heard")
    assert any(row["line"] == "heading level 1, Gallery" for row in heard.rows)
    pictures = manager.readings.view(reading.id, "pictures").rows
    box = next(row["box"] for row in pictures if row["file"] == "ice.jpg")
    cut = manager.request(
        "GET",
        f"/api/v1/readings/{reading.id}/cut",
        params=dict(zip(("x", "y", "width", "height"), box, strict=True)),
    )
    assert (cut.headers["content-type"], cut.content[8:12]) == ("image/webp", b"WEBP")
    named = manager.readings.view(reading.id, "names", selector=outline.rows[-1]["selector"])
    assert len(named.rows) == 1
    with pytest.raises(NotFound):
        manager.readings.show(999_999)
    with pytest.raises(NotValid):
        manager.readings.view(reading.id, "smell")  # type: ignore[arg-type]


def test_unchanged_pages_keep_their_ways(manager: PlumRake, swept: int) -> None:
    """A page that is kept from the sweep before can be looked at as before."""
    again = manager.sweeps.start(SITE)
    assert list(manager.sweeps.follow(again.id))[-1].kind == "done"
    first, second = list(manager.readings.of_page(SITE, "/visit/gallery/"))[:2]
    assert first.unchanged
    assert (
        manager.readings.view(first.id, "order").rows
        == manager.readings.view(second.id, "order").rows
        != []
    )


def test_finding_by_words(manager: PlumRake, swept: int) -> None:
    """Each kind by its own words; what means something to SQL is only a letter here."""
    kinds = {thing.kind: thing for thing in manager.readings.find(SITE, "gallery")}
    assert kinds["page"].key == "/visit/gallery/"
    assert {thing.kind for thing in manager.readings.find(SITE, "links/vague")} >= {
        "cause",
        "check",
    }
    assert [thing.title for thing in manager.readings.find(SITE, "osric")] == ["Osric Pike"]
    assert not manager.readings.find(SITE, "100%_\\")


def test_policy_is_tried_and_nothing_saved(manager: PlumRake, swept: int) -> None:
    """Fewer pages are ready when frictions hold; bad policies are told; the site's own stays."""
    ready = manager.sites.show(SITE).figures[0].ready
    trial = manager.sites.try_policy(SITE, {"hold": "barrier"})
    assert (trial.ready_before, trial.ready_after - len(trial.freed) + len(trial.held)) == (
        ready,
        ready,
    )
    assert trial.ready_after > ready
    with pytest.raises(NotValid, match="hold"):
        manager.sites.try_policy(SITE, {"hold": "everything"})
    assert manager.sites.show(SITE).policy == {}


def test_causes_are_sorted_as_asked(manager: PlumRake, swept: int) -> None:
    """By reach, by weight or by how new: every cause once, however small the parts that are asked
    for."""
    heavy = ("barrier", "obstacle", "friction")
    by_reach = list(manager.causes.list(SITE, sort="reach"))
    assert [one.pages for one in by_reach] == sorted((one.pages for one in by_reach), reverse=True)
    expected = {
        "weight": sorted(
            by_reach, key=lambda one: (heavy.index(one.weight), one.outcome != "failed")
        ),
        "newest": sorted(by_reach, key=lambda one: -one.first_sweep),
    }
    assert list(manager.causes.list(SITE)) == expected["weight"], "what matters stands first"
    for sort, wanted in expected.items():
        path, found = f"/api/v1/sites/{SITE}/causes?sort={sort}&limit=7", []
        while path:
            part = manager._http.get(path).json()
            path, found = part["next"], [*found, *(one["key"] for one in part["items"])]
        assert found == [one.key for one in wanted]


def test_causes_are_decided_together(manager: PlumRake, swept: int) -> None:
    """A waiver each, all or none; doubtful places are answered together; a sure fault is not
    judged."""
    causes = list(manager.causes.list(SITE, outcome="failed"))
    until = datetime.now(UTC).date() + timedelta(days=9)
    sweep = causes[0].sweep_id
    with pytest.raises(NotValid, match="no cause 'nowhere'"):
        manager.decisions.decide_causes(
            SITE, [causes[-1].key, "nowhere"], sweep, "later", ends_on=until
        )
    assert list(manager.decisions.waivers(SITE)) == []
    made = manager.decisions.decide_causes(
        SITE, [one.key for one in causes[-2:]], sweep, "later", ends_on=until
    )
    assert len(made.waivers) == len(list(manager.decisions.waivers(SITE, in_force=True))) == 2
    doubtful = next(manager.causes.list(SITE, outcome="cantTell"))
    assert (
        len(
            manager.decisions.decide_causes(
                SITE, [doubtful.key], sweep, "looked at", answer="fine"
            ).judgements
        )
        == doubtful.places
    )
    with pytest.raises(NotValid, match="may be waived, not judged"):
        manager.decisions.decide_causes(SITE, [causes[0].key], sweep, "looked at", answer="fine")
    with pytest.raises(NotValid, match="last day"):
        manager.decisions.decide_causes(SITE, [causes[0].key], sweep, "looked at")
    for waiver in made.waivers:
        manager.decisions.end_waiver(SITE, waiver)


def test_figures_follow_each_decision(manager: PlumRake, swept: int) -> None:
    """The headline counts are those of the findings less what is waived, and come back when the
    waiver ends."""
    before = manager.sites.show(SITE).figures[0]
    cause = next(manager.causes.list(SITE, check="pictures/no-text", outcome="failed"))
    waiver = manager.decisions.waive(
        cause.best, scope="cause", reason="drawn anew", ends_on=datetime.now(UTC).date()
    )
    during = manager.sites.show(SITE).figures[0]
    assert (during.barriers, during.waived) == (
        before.barriers - cause.places,
        before.waived + cause.places,
    )
    manager.decisions.end_waiver(SITE, waiver.id)
    assert manager.sites.show(SITE).figures[0] == before


def test_filters_are_ones_own(running: Running, manager: PlumRake, swept: int) -> None:
    """A filter is saved for its maker alone, replaced under the same name, and dropped."""
    place = f"/api/v1/sites/{SITE}/filters"
    body = {"view": "findings", "name": "Mine", "query": {"weight": "barrier"}}
    first = manager.request("POST", place, json=body).json()
    second = manager.request(
        "POST", place, json=body | {"name": "mine", "query": {"weight": "friction"}}
    ).json()
    assert (second["id"], second["query"]) == (first["id"], {"weight": "friction"})
    with running.client(EDITOR) as editor:
        assert editor.request("GET", place).json()["items"] == []
        with pytest.raises(NotFound):
            editor.request("DELETE", f"{place}/{first['id']}")
    manager.request("DELETE", f"{place}/{first['id']}")
    assert manager.request("GET", place).json()["items"] == []


def test_one_text_for_a_picture_is_for_managers(
    running: Running, manager: PlumRake, swept: int
) -> None:
    """Editors may not offer it; a picture that is not there is said."""
    place = f"/api/v1/sites/{SITE}/picture-texts"
    with running.client(EDITOR) as editor, pytest.raises(NotAllowed):
        editor.request("POST", place, json={"key": "x", "text": "y"})
    with pytest.raises(NotValid, match="no such picture"):
        manager.request("POST", place, json={"key": "x", "text": "y"})


def test_start_is_shut_once_there_is_somebody(running: Running) -> None:
    """Nobody becomes a manager by the start of a service that has people."""
    assert httpx.get(f"{running.address}/api/v1/start").json()["empty"] is False
    body = {
        "key": "any",
        "email": "sly@harrowmere.example",
        "name": "Sly",
        "password": "long enough it is",
    }
    answer = httpx.post(f"{running.address}/api/v1/start", json=body)
    assert (answer.status_code, answer.json()["code"]) == (409, "not-empty")


def test_news_are_for_those_who_are_signed_in(
    running: Running, manager: PlumRake, swept: int
) -> None:
    """The stream begins with a greeting and tells a move once; without a session there is none."""
    assert httpx.get(f"{running.address}/api/v1/sites/{SITE}/live").status_code == 401
    cause = next(one for one in manager.causes.list(SITE, outcome="failed") if not one.fix_id)
    heard: list[dict[str, object]] = []
    with manager._http.stream("GET", f"/api/v1/sites/{SITE}/live", timeout=20) as stream:
        for line in stream.iter_lines():
            if not line.startswith("data:"):
                continue
            heard.append(json.loads(line.removeprefix("data:")))
            if len(heard) == 1:
                (fix,) = manager.fixes.hand_out(SITE, sweep=cause.sweep_id, causes=[cause.key])
            elif heard[-1]["kind"] == "fixes":
                break
    assert heard[0]["kind"] == "hello"
    assert heard[-1]["fixes"] == [fix.id]
