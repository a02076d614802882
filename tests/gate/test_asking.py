"""Asking the gate over the API: every way to ask, who may, what a clearance is good for, hostile
drafts, many askers at once."""

from __future__ import annotations

import asyncio
import hashlib
import threading
from collections import Counter
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import httpx
import psycopg
import pytest

from plumrake import __version__, models
from plumrake.client import ConflictError, NotAllowed, NotValid, PlumRakeError
from plumrake.demo.seed import SITE
from tests.conftest import MANAGER, PASSWORD, wait_for
from tests.gate.conftest import page_of
from tests.services import serve_in_thread
from tests.trust import Trust

PATH = "/boating/moorings/"
BAD = '<p><img src="/media/ice.jpg"></p></article>'


def draft(trust: Trust, piece: str = "", path: str = PATH) -> str:
    """Return a live page with a piece at the end of its article."""
    return page_of(trust, path)[1].replace("</article>", f"{piece}</article>", 1)


def hash_of(content: str) -> str:
    return f"sha256:{hashlib.sha256(content.encode()).hexdigest()}"


@pytest.mark.parametrize("lens", ["markup", "rendered"])
def test_what_the_change_brings_holds(trust: Trust, lens: models.Lens) -> None:
    """Both lenses tell a new fault from the old ones, whose places are the same."""
    held = trust.manager.gate.ask(
        SITE, PATH, document=draft(trust, '<p><img src="/media/ice.jpg"></p>'), lens=lens
    )
    assert (
        held.decision,
        [(one.check, one.standing) for one in held.judged if one.origin == "brought"],
    ) == ("held", [("pictures/no-text", "holds")])
    assert held.seal is None
    clear = trust.manager.gate.ask(
        SITE, PATH, document=draft(trust, "<p>Ring us before noon.</p>"), lens=lens
    )
    assert (clear.decision, {one.standing for one in clear.judged if one.outcome == "failed"}) == (
        "clear",
        {"was there before"},
    )
    assert clear.seal
    assert clear.content_hash == hash_of(draft(trust, "<p>Ring us before noon.</p>"))
    if lens == "markup":
        assert {"check": "zoom/reflow", "needs": "layout"} in clear.untested
        assert "contrast/text" not in {one["check"] for one in clear.untested}


def test_fragment_is_read_in_its_frame(trust: Trust) -> None:
    """A fragment has the frame's headings, styles and language around it, and lines of its own; a
    slot that is not there is said."""
    gate = trust.manager.gate
    held = gate.ask(
        SITE,
        "/news/new-lock/",
        fragment="<p>A lock.</p>\n<h5>Depth</h5>\n<p>Two yards.</p>",
        frame=PATH,
        slot="article.text",
    )
    assert [(one.check, one.line) for one in held.judged if one.check == "headings/no-level-1"] == [
        ("headings/no-level-1", None)
    ]
    clear = gate.ask(
        SITE,
        "/news/new-lock/",
        fragment="<h1>A lock</h1>\n<p>Two yards.</p>\n<img src='/media/ice.jpg'>",
        frame=PATH,
        slot="article.text",
    )
    assert [
        (one.check, one.line)
        for one in clear.judged
        if one.origin == "brought" and "ice" in one.excerpt
    ] == [("pictures/no-text", 3)]
    astray = gate.ask(SITE, "/news/new-lock/", fragment="<p>x</p>", frame=PATH, slot=".nowhere")
    assert (astray.decision, astray.problem_code, astray.seal) == ("held", "bad-frame", None)
    with pytest.raises(NotValid, match="fragment needs"):
        gate.ask(SITE, "/news/new-lock/", fragment="<p>x</p>")


def test_preview_addresses_are_the_sites_own(trust: Trust) -> None:
    """A preview in staging is read; addresses elsewhere are refused before anything is fetched."""
    site = trust.manager.sites.show(SITE)
    preview = trust.manager.gate.ask(
        SITE, "/visit/gallery/", address=f"{site.staging_address}visit/gallery/"
    )
    assert preview.state == "answered"
    assert preview.content_hash == hash_of((trust.staging / "visit/gallery/index.html").read_text())
    for elsewhere in (
        "http://127.0.0.1:1/",
        "http://169.254.169.254/latest/meta-data/",
        "file:///etc/passwd",
    ):
        with pytest.raises(NotValid, match="none of the site's own addresses"):
            trust.manager.gate.ask(SITE, "/visit/gallery/", address=elsewhere)


def test_release_says_what_it_brings_and_mends(trust: Trust) -> None:
    """All of staging below a section against live: per page, per section, in all; the answer comes
    by webhook too."""
    rake = trust.manager
    heard: list[dict[str, Any]] = []
    hook = _listener(heard)
    rake.notifications.add_webhook(SITE, hook, ["release.answered"])
    sweep = rake.sweeps.start(SITE, environment="staging", lens="markup")
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    file = trust.staging / "visit/access/index.html"
    file.write_text(
        file.read_text().replace("</article>", '<p><a href="/visit/">here</a></p></article>', 1)
    )
    release = rake.gate.ask_release(SITE, "spring", section="/visit/", lens="markup")
    wait_for(lambda: rake.gate.show_release(release.id).waiting == 0, 60, "the release to be read")
    whole = rake.gate.show_release(release.id)
    assert whole.decision == "held"
    page = next(one for one in whole.pages if one.path == "/visit/access/")
    assert (page.decision, page.holding) == ("held", 1)
    assert [one.section for one in whole.sections] == ["/visit/"]
    assert whole.brought == sum(one.brought for one in whole.pages)
    wait_for(lambda: heard, 90, "the webhook")
    assert heard[0]["data"] == {
        "id": release.id,
        "site": SITE,
        "name": "spring",
        "pages": len(whole.pages),
        "decision": "held",
        "held": [one.path for one in whole.pages if one.decision == "held"],
    }


def _listener(heard: list[dict[str, Any]]) -> str:
    import json

    class Handler(BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            heard.append(json.loads(self.rfile.read(int(self.headers["content-length"]))))
            self.send_response(204)
            self.end_headers()

        def log_message(self, *args: Any) -> None:
            pass

    return serve_in_thread(ThreadingHTTPServer(("127.0.0.1", 0), Handler)) + "/hook"


def test_a_clearance_is_good_for_that_content_alone_and_once(trust: Trust) -> None:
    """Changed afterwards, replayed, forged, for another page, expired, held or waiting: each is
    refused with its code."""
    gate, content = trust.manager.gate, draft(trust, "<p>Ring us.</p>")
    clearance = gate.ask(SITE, PATH, document=content, lens="markup")

    def refused(changed: models.Clearance, content_hash: str) -> str:
        with pytest.raises(PlumRakeError) as caught:
            gate.use(changed, content_hash)
        return caught.value.code

    assert refused(clearance, hash_of(content + " ")) == "other-content"
    assert refused(clearance.model_copy(update={"seal": "0" * 64}), hash_of(content)) == "bad-seal"
    assert (
        refused(clearance.model_copy(update={"path": "/boating/fees/"}), hash_of(content))
        == "other-page"
    )
    other = gate.ask(
        SITE, "/boating/fees/", document=draft(trust, "", "/boating/fees/"), lens="markup"
    )
    assert (
        refused(clearance.model_copy(update={"seal": other.seal}), hash_of(content)) == "bad-seal"
    )
    held = gate.ask(SITE, PATH, document=draft(trust, '<img src="/media/ice.jpg">'), lens="markup")
    assert refused(held, held.content_hash or "") == "not-cleared"
    assert gate.use(clearance, hash_of(content)).used_at is not None
    assert refused(clearance, hash_of(content)) == "clearance-used"
    late = gate.ask(SITE, PATH, document=content, lens="markup")
    with psycopg.connect(trust.running.database, autocommit=True) as connection:
        connection.execute(
            "UPDATE clearance SET valid_until = now() - interval '1 minute' WHERE id = %s",
            (late.id,),
        )
    assert refused(gate.show(late.id), hash_of(content)) == "clearance-expired"
    assert refused(late, hash_of(content)) == "bad-seal"


def test_who_may_ask_and_overrule(trust: Trust) -> None:
    """Readers may not ask; an editor may not overrule unless the policy says so; only what is held
    is overruled, and once."""
    rake, ned = trust.manager, trust.people["ned"]
    held = ned.gate.ask(
        SITE, PATH, document=draft(trust, '<img src="/media/ice.jpg">'), lens="markup"
    )
    assert held.asked_by == "Ned Osier"
    with pytest.raises(PlumRakeError, match="overruled by manager here"):
        ned.gate.overrule(held.id, "it is late")
    overruled = rake.gate.overrule(held.id, "it is late")
    assert overruled.seal
    assert rake.gate.use(overruled, held.content_hash or "").used_at is not None
    with pytest.raises(ConflictError, match="overruled already"):
        rake.gate.overrule(held.id, "again")
    invitation = rake.request(
        "POST",
        "/api/v1/invitations",
        json={"email": "reader@harrowmere.example", "name": "Reader", "role": "reader"},
    ).json()
    rake.request(
        "POST",
        "/api/v1/invitations/accept",
        json={"secret": invitation["secret"], "password": PASSWORD},
    )
    reader = trust.running.client("reader@harrowmere.example")
    with pytest.raises(NotAllowed):
        reader.gate.ask(SITE, PATH)
    assert reader.gate.show(overruled.id).seal is None


def test_rules_are_tried_on_what_was_asked(trust: Trust) -> None:
    """With other rules, of so many publications so many would have been held."""
    rake = trust.manager
    for text in ("<p>As before.</p>", '<img src="/media/ice.jpg">'):
        rake.gate.ask(SITE, PATH, document=draft(trust, text), lens="markup")
    asked = [one for one in rake.gate.list(SITE) if one.state == "answered"]
    assert {one.decision for one in asked} == {"clear", "held"}
    none = rake.gate.try_rules(SITE, {"holds": "none"})
    unread = sum(one.problem_code is not None for one in asked)
    assert (none.publications, none.held_before, none.held_after) == (
        len(asked),
        sum(one.decision == "held" for one in asked),
        unread,
    )
    everything = rake.gate.try_rules(SITE, {"counts": "everything"})
    assert everything.held_after > none.held_after
    with pytest.raises(NotValid, match="counts"):
        rake.gate.try_rules(SITE, {"counts": "some"})


HOSTILE = {
    "ten megabytes": "<!doctype html><html lang=en><title>Long</title><main><h1>Long</h1>"
    + "<p>"
    + "x" * 10_000_000
    + "</p></main>",
    "fifty thousand deep": "<!doctype html><html lang=en><title>Deep</title><main><h1>Deep</h1>"
    + "<div>" * 50_000,
    "a script that never ends": (
        "<!doctype html><html "
        "lang=en><title>Loop</title><main><h1>Loop</h1><script>for(;;);</script></main>"
    ),
    "meta refresh to a private address": (
        "<!doctype html><html lang=en><title>Away</title><meta http-equiv=refresh "
        'content="0;url=http://169.254.169.254/"><main><h1>Away</h1></main>'
    ),
    "a bomb in data": "<!doctype html><html lang=en><title>Bomb</title><main><h1>Bomb</h1>"
    + "".join(
        (
            f'<img alt="x{n}" src="data:image/svg+xml,%3Csvg xmlns=\'http://www.w3.org/2000/svg\' '
            "width='60000' height='60000'/%3E\">"
        )
        for n in range(200)
    )
    + "</main>",
}


@pytest.mark.parametrize("kind", HOSTILE)
def test_hostile_drafts_are_answered_within_the_limits(trust: Trust, kind: str) -> None:
    """Each gets an answer while it is waited for; what could not be read is held and never cleared;
    the gate goes on."""
    clearance = trust.manager.gate.ask(SITE, PATH, document=HOSTILE[kind], wait=60)
    assert clearance.state == "answered"
    if clearance.problem_code is not None:
        assert (clearance.decision, clearance.seal) == ("held", None)
    after = trust.manager.gate.ask(SITE, PATH, document=draft(trust), lens="markup")
    assert after.decision == "clear"


def test_two_hundred_askers_at_once(trust: Trust) -> None:
    """Every one gets a true answer or a clear "later" with Retry-After; none is cleared unread."""
    rake = trust.manager
    address, headers, cookies = rake.server, dict(rake._http.headers), dict(rake._http.cookies)
    good, bad = (
        draft(trust, "<p>Number {}.</p>"),
        draft(trust, '<p>Number {}.</p><img src="/media/ice.jpg">'),
    )

    async def one(client: httpx.AsyncClient, number: int) -> tuple[int, httpx.Response]:
        content = (bad if number % 2 else good).replace("Number {}", f"Number {number}")
        body = {"path": PATH, "lens": "markup", "document": content, "wait": 60}
        return number, await client.post(f"/api/v1/sites/{SITE}/gate", json=body)

    async def all_at_once() -> list[tuple[int, httpx.Response]]:
        limits = httpx.Limits(max_connections=200)
        async with httpx.AsyncClient(
            base_url=address, headers=headers, cookies=cookies, timeout=120, limits=limits
        ) as client:
            return await asyncio.gather(*(one(client, number) for number in range(200)))

    answers: list[tuple[int, httpx.Response]] = []
    runner = threading.Thread(target=lambda: answers.extend(asyncio.run(all_at_once())))
    runner.start()
    runner.join(150)
    statuses = Counter(response.status_code for _, response in answers)
    assert sum(statuses.values()) == 200
    assert set(statuses) <= {201, 202, 503}, statuses
    assert statuses[201] >= 30
    for number, response in answers:
        if response.status_code == 201:
            assert response.json()["decision"] == ("held" if number % 2 else "clear"), number
        else:
            assert int(response.headers["retry-after"]) >= 1
            assert response.json().get("decision") is None
    with psycopg.connect(trust.running.database) as connection:
        (unread,) = connection.execute(
            "SELECT count(*) FROM clearance WHERE decision <> 'held' AND (state = 'waiting' "
            "OR seconds IS NULL)"
        ).fetchone() or (1,)
    assert unread == 0


def test_one_asker_does_not_keep_others_waiting(trust: Trust) -> None:
    """Neither by a release of many pages, which waits behind whoever asks for one, nor by asking
    for many at once."""
    with psycopg.connect(trust.running.database, autocommit=True) as connection:
        [(manager, site)] = connection.execute(
            "SELECT p.id, s.id FROM person p, site s WHERE p.email = %s AND s.slug = %s",
            [MANAGER, SITE],
        ).fetchall()
        connection.execute(
            "INSERT INTO clearance (site_id, path, given_as, address, lens, asked_by) SELECT "
            "%s, '/', 'staging', 'http://waits.example/', 'markup', %s FROM generate_series(1, 40)",
            [site, manager],
        )
    with pytest.raises(PlumRakeError) as busy:
        trust.manager.gate.ask(SITE, PATH, document=draft(trust), lens="markup")
    assert busy.value.code == "gate-busy"
    ned = trust.people["ned"].gate
    assert ned.ask(SITE, PATH, document=draft(trust), lens="markup").decision == "clear"
    with psycopg.connect(trust.running.database, autocommit=True) as connection:
        connection.execute("DELETE FROM clearance WHERE address = 'http://waits.example/'")
    paths = [f"/boating/?page={number}" for number in range(60)]
    release = trust.manager.gate.ask_release(SITE, "May", paths=paths, lens="markup")
    assert ned.ask(SITE, PATH, document=draft(trust), lens="markup").decision == "clear"
    assert trust.manager.gate.show_release(release.id).waiting > 0


def test_who_asks_cannot_choose_the_weaker_reading(trust: Trust) -> None:
    """The policy says how a page is read at least, and what has to be tested on it."""
    rake = trust.manager
    for rules, lens, decision in (
        ({"least-reading": "browser"}, "rendered", "clear"),
        ({"tested": ["keyboard"]}, "markup", "held"),
        ({"tested": ["keyboard"], "from": "2999-01-01"}, "markup", "clear"),
        ({"tested": ["headings"]}, "markup", "clear"),
    ):
        site = rake.sites.show(SITE)
        policy = {**site.policy, "gate": rules}
        rake.sites.change(SITE, models.SiteChange(policy=policy), site.tag)
        asked = rake.gate.ask(SITE, PATH, document=draft(trust), lens="markup", wait=60)
        assert (asked.lens, asked.decision) == (lens, decision), (rules, asked.reason)
        assert ("could not be" in asked.reason) == (decision == "held")


def test_the_seal_holds_what_was_judged_by(trust: Trust) -> None:
    """Lens, policy and core stand in the answer; one that was altered is not good any more."""
    asked = trust.manager.gate.ask(SITE, PATH, document=draft(trust), lens="markup")
    assert (len(asked.policy_version), asked.core_version) == (16, __version__)
    for field in ("lens", "policy_version", "core_version"):
        with psycopg.connect(trust.running.database, autocommit=True) as connection:
            [(before,)] = connection.execute(
                f"SELECT {field} FROM clearance WHERE id = %s",  # type: ignore[arg-type]
                [asked.id],
            ).fetchall()
            change = f"UPDATE clearance SET {field} = %s WHERE id = %s"
            other = "rendered" if field == "lens" else "other"
            connection.execute(change, [other, asked.id])  # type: ignore[arg-type]
            with pytest.raises(PlumRakeError) as refused:
                trust.manager.gate.use(asked, asked.content_hash or "")
            assert refused.value.code == "bad-seal"
            connection.execute(change, [before, asked.id])  # type: ignore[arg-type]
    assert trust.manager.gate.use(asked, asked.content_hash or "").used_at is not None


def test_links_are_followed_before_publishing(trust: Trust) -> None:
    """A dead link that the draft brings holds, a dead one of the live page does not; staging
    addresses and pages of staging alone are told."""
    rake, path = trust.manager, "/visit/towpath/"
    file, before = page_of(trust, path)
    file.write_text(
        before.replace(
            "</article>", '<p><a href="/visit/was-never-there/">Old timetable</a></p></article>', 1
        )
    )
    (trust.staging / "visit/new-walk").mkdir()
    (trust.staging / "visit/new-walk/index.html").write_text(page_of(trust, path)[1])
    staging = rake.sites.show(SITE).staging_address
    brought = (
        '<p><a href="/visit/nor-this/">New timetable</a> <a href="/visit/new-walk/">New '
        f'walk</a> <a href="{staging}visit/">Visits</a> '
        '<a href="/visit/#no-such-part">Parts of a visit</a> <a href="/visit/">Visits of all '
        "kinds</a></p>"
    )
    for lens in ("markup", "rendered"):
        answer = rake.gate.ask(SITE, path, document=draft(trust, brought, path), lens=lens)  # type: ignore[arg-type]
        found = {
            (one.check, one.origin, one.standing)
            for one in answer.judged
            if one.check.startswith("links/dead") or "staging" in one.check
        }
        assert {
            ("links/dead", "before", "was there before"),
            ("links/dead", "brought", "holds"),
            ("links/staging-address", "brought", "holds"),
        } <= found
        assert ("links/dead-anchor", "brought", "holds") in found
        says = " ".join(one.says for one in answer.judged)
        assert "/visit/nor-this/ leads nowhere: there is no such page (404" in says
        assert "/visit/new-walk/ works in staging alone" in says
    file.write_text(before)
