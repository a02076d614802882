"""Fixes through the service: who may do what, nobody overwrites anybody, listings, bulk, policy,
waivers, judgements."""

import asyncio
import csv
import io
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise

import httpx
import psycopg
import pytest
from psycopg_pool import AsyncConnectionPool

from plumrake import models
from plumrake.actions.verdicts import end_due_waivers
from plumrake.client import (
    BadCredentials,
    ChangedMeanwhile,
    ConflictError,
    MoveNotAllowed,
    NotAllowed,
    NotFound,
    NotSignedIn,
    NotValid,
    PlumRake,
    WrongState,
)
from plumrake.demo.seed import SITE, cast
from tests.conftest import token_of
from tests.trust import Trust

PASSWORD = cast()["password"]


def today() -> date:
    return datetime.now(UTC).date()


def swept(rake: PlumRake, **how: object) -> models.Sweep:
    """Sweep staging by the markup lens."""
    sweep = rake.sweeps.start(SITE, environment="staging", lens="markup", **how)  # type: ignore[arg-type]
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return rake.sweeps.show(sweep.id)


@pytest.fixture(scope="module")
def first(trust: Trust) -> models.Sweep:
    return swept(trust.manager)


@pytest.fixture(scope="module")
def made(trust: Trust, first: models.Sweep) -> list[models.Fix]:
    """A fix of every sure cause, with whoever answers for it."""
    causes = [one.key for one in trust.manager.causes.list(SITE, sweep=first.id, outcome="failed")]
    return list(trust.manager.fixes.hand_out(SITE, sweep=first.id, causes=causes))


def of(trust: Trust, name: str, state: models.FixState = "open") -> models.Fix:
    """Return a fix in a state that somebody owns."""
    full = {
        "ned": "Ned Osier",
        "imke": "Imke Sander",
        "ruth": "Ruth Alder",
        "osric": "Osric Pike",
        "philippa": "Philippa Wren",
    }[name]
    return next(fix for fix in trust.manager.fixes.list(SITE, state=[state]) if fix.owner == full)


def test_hand_out_goes_to_who_answers(trust: Trust, made: list[models.Fix]) -> None:
    """Each page's owner gets its fixes, the template's owner what the template prints; handing out
    again makes nothing new."""
    patterns = {
        "Ned Osier": ("/boating/", "/stoppages/"),
        "Imke Sander": ("/visit/", "/de/"),
        "Ruth Alder": ("/news/", "/events/"),
    }
    for fix in made:
        if fix.by_template:
            assert fix.owner == "Tamsin Reed"
        elif fix.owner in patterns and fix.pages == 1:
            assert fix.path.startswith(patterns[fix.owner])
    again = trust.manager.fixes.hand_out(SITE, causes=[made[0].cause], environment="staging")
    assert [fix.id for fix in again] == [made[0].id]
    assert len(trust.manager.fixes.show(made[0].id).events) == 1
    cause = trust.manager.causes.show(SITE, made[0].cause, environment="staging")
    assert (cause.fix_id, cause.fix_state, cause.fix_owner) == (made[0].id, "open", made[0].owner)
    assert not list(
        trust.manager.causes.list(SITE, environment="staging", outcome="failed", handed_out=False)
    )
    with pytest.raises(NotValid, match="has no cause 'none'"):
        trust.manager.fixes.hand_out(SITE, causes=["none"], environment="staging")


def test_service_refuses_what_a_role_may_not(trust: Trust, made: list[models.Fix]) -> None:
    """An editor neither hands out nor moves what others own; the refusal has its code and says who
    may."""
    fix = of(trust, "imke")
    ned, imke = trust.people["ned"], trust.people["imke"]
    for move in ("take", "hand_in"):
        with pytest.raises(MoveNotAllowed, match="for its owner or a manager"):
            ned.fixes.move(fix, move)
    with pytest.raises(MoveNotAllowed, match="'assign' is for manager"):
        imke.fixes.move(fix, "assign", owner=models.OwnerChoice())
    with pytest.raises(WrongState, match="'put back' needs a fix that is in hand"):
        imke.fixes.move(fix, "put_back")
    with pytest.raises(NotAllowed):
        ned.fixes.hand_out(SITE, causes=[fix.cause], environment="staging")
    with pytest.raises(NotAllowed):
        ned.fixes.desk(person=imke.people.me().id)
    assert imke.fixes.show(fix.id).moves == ["take", "note", "propose", "hand_in"]
    assert ned.fixes.show(fix.id).moves == ["note", "propose"]
    assert ned.fixes.show(fix.id).state == "open"


def test_two_people_never_overwrite_each_other(trust: Trust, made: list[models.Fix]) -> None:
    """Who moves a fix as it was before is told so, and what the other did stands; without a tag
    nothing is moved."""
    fix = of(trust, "osric")
    osric = trust.people["osric"]
    taken = osric.fixes.move(fix, "take")
    with pytest.raises(ChangedMeanwhile):
        trust.manager.fixes.move(fix, "due", due_on=today() + timedelta(days=3))
    due = trust.manager.fixes.move(taken, "due", due_on=today() - timedelta(days=1))
    assert due.late
    assert trust.manager.fixes.show(fix.id).state == "in_hand"
    assert fix.id in {one.id for one in trust.manager.fixes.list(SITE, late=True)}
    token = token_of(trust.manager, "read", "write")
    raw = httpx.post(
        f"{trust.running.address}/api/v1/fixes/{fix.id}/moves",
        headers={"Authorization": f"Bearer {token}"},
        json={"move": "put_back"},
    )
    assert (raw.status_code, raw.json()["code"]) == (428, "tag-needed")
    noted = osric.fixes.move(
        due, "note", why="asked the photographer", links=["https://pictures.example/42"]
    )
    assert noted.links == ["https://pictures.example/42"]
    proposed = osric.fixes.move(
        noted,
        "propose",
        proposal={"kind": "set-attribute", "attribute": "alt", "value": "Lock at dusk"},
    )
    assert proposed.proposal == {
        "kind": "set-attribute",
        "attribute": "alt",
        "value": "Lock at dusk",
    }
    assert osric.fixes.move(proposed, "put_back").state == "open"


def test_many_are_moved_at_once(trust: Trust, made: list[models.Fix]) -> None:
    """Each of several is moved or refused on its own, with the reason."""
    ids = [fix.id for fix in made if fix.owner == "Philippa Wren"][:3]
    ned = trust.people["ned"].people.me().id
    results = trust.manager.fixes.move_all(
        SITE,
        [*ids, 10**9],
        "assign",
        why="you have time",
        owner=models.OwnerChoice(person_id=ned),
        due_on=today(),
    )
    assert [result.fix.owner if result.fix else result.code for result in results] == [
        "Ned Osier"
    ] * 3 + ["no-such-fix"]
    assert [
        result.code for result in trust.people["ned"].fixes.move_all(SITE, ids[:1], "withdraw")
    ] == ["wrong-state"]
    told = list(trust.people["ned"].notifications.notifications(unread=True))
    assert {
        notification.fix_id for notification in told if notification.why == "you have time"
    } == set(ids)
    trust.people["ned"].notifications.seen(told[0].id)
    assert not list(trust.people["ned"].notifications.notifications(unread=True))
    page = next(
        page
        for page in trust.people["ned"].fixes.desk().pages
        if any(fix.id == ids[0] for fix in page.fixes)
    )
    assert page.site == SITE


@pytest.mark.parametrize("sort", ["reach", "due", "change"])
def test_listings_page_through_everything_once(
    trust: Trust, made: list[models.Fix], sort: str
) -> None:
    """Page by page, each order gives each fix once, in its order."""
    token = token_of(trust.manager, "read")
    found: list[dict[str, object]] = []
    address = f"/api/v1/sites/{SITE}/fixes?sort={sort}&limit=7&environment=staging"
    with httpx.Client(
        base_url=trust.running.address, headers={"Authorization": f"Bearer {token}"}
    ) as http:
        while address:
            page = http.get(address).raise_for_status().json()
            found += page["items"]
            address = page["next"] or ""
    assert len({one["id"] for one in found}) == len(found) == len(made)
    weights = ["barrier", "obstacle", "friction"]
    orders = {
        "reach": [
            (weights.index(str(one["weight"])), -int(str(one["pages"])), int(str(one["id"])))
            for one in found
        ],
        "due": [(str(one["due_on"] or "9999"), int(str(one["id"]))) for one in found],
        "change": [(str(one["changed_at"]), int(str(one["id"]))) for one in reversed(found)],
    }
    assert all(before < after for before, after in pairwise(orders[sort]))  # type: ignore[operator]


@pytest.mark.parametrize(
    "query",
    [
        "after=x,y,z",
        "after=1,2",
        "sort=due&after=2026-13-40,1",
        "sort=change&after=now,1",
        "sort=reach&after=infinity,1",
        "after=1,1,9' OR 1=1",
    ],
)
def test_a_bad_key_of_a_listing_is_told(trust: Trust, made: list[models.Fix], query: str) -> None:
    """What no listing gave is one clear error."""
    token = token_of(trust.manager, "read")
    answer = httpx.get(
        f"{trust.running.address}/api/v1/sites/{SITE}/fixes?{query}",
        headers={"Authorization": f"Bearer {token}"},
    )
    assert (answer.status_code, answer.json()["code"]) == (422, "not-valid")
    assert "take it from 'next'" in answer.json()["detail"]


def test_owners_have_to_be_able_to_mend(
    trust: Trust, made: list[models.Fix], first: models.Sweep
) -> None:
    """Nobody, a reader, or a group that is not there is refused by hand-out, hand-on and groups
    alike; nothing changes."""
    rake = trust.manager
    reader = rake.people.accept(
        rake.people.invite("lurker@harrowmere.example", "Lea Rohr", "reader").secret or "",
        "a-long-password",
    )
    finding = next(rake.findings.list(SITE, sweep=first.id, outcome="failed"))
    for wrong in ({"person_id": 10**9}, {"person_id": reader.id}, {"group_id": 10**9}):
        owner = models.OwnerChoice.model_validate(wrong)
        with pytest.raises(NotValid, match="owner"):
            rake.fixes.hand_out(SITE, causes=[made[0].cause], environment="staging", owner=owner)
        with pytest.raises(NotValid, match="owner"):
            rake.fixes.hand_out(SITE, findings=[finding.id], owner=owner)
        with pytest.raises(NotValid, match="owner"):
            rake.fixes.move(rake.fixes.show(made[0].id), "assign", owner=owner)
    with pytest.raises(NotValid, match="there is no person 1000000000"):
        rake.people.add_group("Ghosts", [10**9])
    assert "Ghosts" not in {group.name for group in rake.people.groups()}
    assert rake.fixes.show(made[0].id).owner == made[0].owner


def test_filters_let_through_what_they_say(trust: Trust, made: list[models.Fix]) -> None:
    """Check and area, weight, path, owner and nobody's."""
    rake = trust.manager
    assert {fix.check.partition("/")[0] for fix in rake.fixes.list(SITE, check="pictures")} == {
        "pictures"
    }
    assert {fix.weight for fix in rake.fixes.list(SITE, weight="friction")} == {"friction"}
    assert all(fix.path.startswith("/visit/") for fix in rake.fixes.list(SITE, path="/visit/"))
    assert not list(rake.fixes.list(SITE, unowned=True))
    figures = rake.fixes.figures(SITE)
    assert sum(figures.states.values()) == len(list(rake.fixes.list(SITE)))
    assert sum(one.open + one.in_hand + one.reopened for one in figures.owners) == len(made)


def test_waivers_reach_as_far_as_they_say_and_end(
    trust: Trust, made: list[models.Fix], first: models.Sweep
) -> None:
    """Findings are counted apart while a waiver holds; its fix is waived; when its last day is over
    all stands again."""
    rake = trust.manager
    fix = next(fix for fix in made if fix.check == "links/no-name" and fix.pages == 10)
    before = next(one for one in rake.sites.show(SITE).figures if one.environment == "staging")
    with pytest.raises(NotValid, match="is over"):
        rake.decisions.waive(
            fix.finding_id or 0,
            scope="cause",
            reason="old days",
            ends_on=today() - timedelta(days=1),
        )
    with pytest.raises(NotAllowed, match="granted by manager"):
        trust.people["ruth"].decisions.waive(
            fix.finding_id or 0, scope="cause", reason="no time", ends_on=today()
        )
    waiver = rake.decisions.waive(
        fix.finding_id or 0, scope="cause", reason="new share bar in January", ends_on=today()
    )
    assert waiver.covers == 10
    assert rake.fixes.show(fix.id).state == "waived"
    during = next(one for one in rake.sites.show(SITE).figures if one.environment == "staging")
    assert (during.waived, before.barriers - during.barriers) == (10, 10)
    vague = next(fix for fix in made if fix.check == "links/vague" and fix.by_template)
    second = rake.decisions.waive(
        vague.finding_id or 0, scope="cause", reason="new cards in January", ends_on=today()
    )
    assert rake.sites.show(SITE).figures[-1].ready > before.ready
    rake.decisions.end_waiver(SITE, second.id)
    one_page = rake.findings.show(fix.finding_id or 0)
    assert one_page.waiver_id == waiver.id
    exported = list(csv.DictReader(io.StringIO(rake.decisions.waivers_as_csv(SITE))))
    assert [(row["reason"], row["covers"]) for row in exported] == [
        ("new cards in January", "0"),
        ("new share bar in January", "10"),
    ]
    assert swept(rake).ready == during.ready

    async def a_day_later() -> int:
        async with AsyncConnectionPool(
            trust.running.database, min_size=1, max_size=2, open=False
        ) as pool:
            return await end_due_waivers(pool.connection, today() + timedelta(days=1))

    assert asyncio.run(a_day_later()) == 1
    ended = rake.fixes.show(fix.id)
    assert (ended.state, ended.events[-1].actor, ended.events[-1].move) == (
        "open",
        "clock",
        "end_waiver",
    )
    after = next(one for one in rake.sites.show(SITE).figures if one.environment == "staging")
    assert (after.waived, after.barriers, after.ready) == (0, before.barriers, before.ready)


def test_a_waiver_that_ends_leaves_what_another_covers(
    trust: Trust, made: list[models.Fix]
) -> None:
    """Of two waivers about one cause the fix stays waived until both are over; an editor grants
    where policy lets them, by their own name and role."""
    rake, ruth = trust.manager, trust.people["ruth"]
    with trust.policy(**{"waivers-by": ["manager", "editor"]}):
        fix = next(
            fix
            for fix in made
            if fix.owner == "Ruth Alder" and rake.fixes.show(fix.id).state == "open"
        )
        assert "waive" in ruth.fixes.show(fix.id).moves
        until = today() + timedelta(days=30)
        waivers = [
            who.decisions.waive(fix.finding_id or 0, scope="cause", reason="for now", ends_on=until)
            for who in (ruth, rake)
        ]
        waived = rake.fixes.show(fix.id)
        assert (waived.state, waived.events[-1].by, waived.events[-1].actor) == (
            "waived",
            "Ruth Alder",
            "editor",
        )
        rake.decisions.end_waiver(SITE, waivers[0].id)
        assert rake.fixes.show(fix.id).state == "waived"
        rake.decisions.end_waiver(SITE, waivers[1].id)
        assert rake.fixes.show(fix.id).state == "open"


def test_waivers_of_place_page_and_part(trust: Trust, made: list[models.Fix]) -> None:
    """A place covers itself, a page its page, a check its part of the site."""
    rake = trust.manager
    sweep = next(one for one in rake.sweeps.list(SITE) if one.scope == "all")
    found = list(rake.findings.list(SITE, sweep=sweep.id, check="links/vague", path="/news/"))
    until = today() + timedelta(days=30)
    place = rake.decisions.waive(found[0].id, scope="place", reason="for now", ends_on=until)
    page = rake.decisions.waive(found[0].id, scope="page", reason="for now", ends_on=until)
    part = rake.decisions.waive(
        found[0].id, scope="check", reason="for now", ends_on=until, pattern="/news/*"
    )
    on_page = sum(one.path == found[0].path for one in found)
    covers = {one.id: one.covers for one in rake.decisions.waivers(SITE, in_force=True)}
    assert (covers[place.id], covers[page.id], covers[part.id]) == (
        1,
        on_page - 1,
        len(found) - on_page,
    )
    for waiver in (place, page, part):
        rake.decisions.end_waiver(SITE, waiver.id)
    with pytest.raises(NotFound):
        rake.decisions.end_waiver(SITE, part.id)
    assert not any(
        one.waiver_id for one in rake.findings.list(SITE, sweep=sweep.id, check="links/vague")
    )


def test_judgements_stand_until_taken_back(trust: Trust, made: list[models.Fix]) -> None:
    """'Fault' counts as a fault, 'fine' as nothing; another answer takes the place of the first; a
    sure fault is not judged."""
    rake = trust.manager
    sweep = next(one for one in rake.sweeps.list(SITE) if one.scope == "all")

    def doubtful() -> int:
        return next(
            one for one in rake.sites.show(SITE).figures if one.environment == "staging"
        ).doubtful

    before = doubtful()
    finding = next(
        rake.findings.list(
            SITE, sweep=sweep.id, outcome="cantTell", weight="obstacle", path="/locks/"
        )
    )
    fault = trust.people["osric"].decisions.judge(finding.id, "fault", "it is not decorative")
    ready = rake.sweeps.show(sweep.id).ready
    assert doubtful() == before - 1
    assert rake.findings.show(finding.id).answer == "fault"
    rake.decisions.judge(finding.id, "fine", "on second thoughts")
    assert rake.findings.show(finding.id).answer == "fine"
    assert rake.sweeps.show(sweep.id).ready >= ready
    assert [one.note for one in rake.decisions.judgements(SITE)] == ["on second thoughts"]
    with pytest.raises(NotFound):
        rake.decisions.end_judgement(SITE, fault.id)
    rake.decisions.end_judgement(SITE, next(rake.decisions.judgements(SITE)).id)
    assert doubtful() == before
    sure = next(rake.findings.list(SITE, sweep=sweep.id, outcome="failed"))
    with pytest.raises(NotValid, match="sure fault"):
        rake.decisions.judge(sure.id, "fine", "not so bad")


def test_policy_hands_out_by_itself(trust: Trust, made: list[models.Fix]) -> None:
    """Every new barrier becomes a fix of its owner, due in so many days; nothing is read anew for
    that."""
    rake = trust.manager
    with trust.policy(**{"hand-out": "barrier", "due-days": 5}):
        file = trust.staging / "visit/towpath/index.html"
        file.write_text(
            file.read_text().replace("</article>", '<img src="/media/new-boat.jpg"></article>', 1)
        )
        sweep = swept(rake)
        assert sweep.unchanged == sweep.total - 1
        fix = next(
            fix for fix in rake.fixes.list(SITE, path="/visit/towpath/", check="pictures/no-text")
        )
        assert (fix.owner, fix.due_on, fix.made_by) == (
            "Imke Sander",
            today() + timedelta(days=5),
            None,
        )
        assert trust.manager.fixes.show(fix.id).events[0].actor == "reading"
        file.write_text(file.read_text().replace('<img src="/media/new-boat.jpg">', ""))
        swept(rake)
        proven = rake.fixes.show(fix.id)
        assert (proven.state, proven.events[-1].why) == ("proven", "read again: gone from 1 page")


def test_groups_own_together(trust: Trust, made: list[models.Fix]) -> None:
    """What a group owns stands on each member's desk; a member takes it; a dropped group owns
    nothing."""
    rake = trust.manager
    ruth, imke = (trust.people[name].people.me().id for name in ("ruth", "imke"))
    group = rake.people.add_group("Words", [ruth, imke])
    with pytest.raises(ConflictError, match="is called 'words' already"):
        rake.people.add_group("words")
    rake.people.assign_responsibility(SITE, "/accessibility/*", group=group.id)
    assert (
        next(
            area
            for area in rake.people.responsibilities(SITE)
            if area.pattern == "/accessibility/*"
        ).owner
        == "Words"
    )
    fix = of(trust, "philippa")
    handed = rake.fixes.move(fix, "assign", owner=models.OwnerChoice(group_id=group.id))
    assert (handed.owner, handed.group) == (None, "Words")
    for name in ("ruth", "imke"):
        assert any(
            one.id == fix.id for page in trust.people[name].fixes.desk().pages for one in page.fixes
        )
    assert trust.people["imke"].fixes.move(handed, "take").owner == "Imke Sander"
    rake.people.set_members(group.id, [ruth])
    rake.people.drop_group(group.id)
    assert not any(
        area.pattern == "/accessibility/*" for area in rake.people.responsibilities(SITE)
    )


def test_people_come_in_and_go(trust: Trust) -> None:
    """Invited, come in once, change the password (other sessions end), shut out; the last manager
    stays."""
    rake, address = trust.manager, trust.running.address
    invitation = rake.people.invite("wren@harrowmere.example", "Jenny Wren", "reader")
    with PlumRake(address) as guest:
        with pytest.raises(NotFound):
            guest.people.accept("not-the-secret", "a-long-password")
        person = guest.people.accept(invitation.secret or "", "a-long-password")
        with pytest.raises(NotFound):
            guest.people.accept(invitation.secret or "", "another-password")
        guest.people.sign_in("wren@harrowmere.example", "a-long-password")
        with pytest.raises(NotAllowed):
            guest.fixes.move_all(SITE, [1], "note", why="hello")
        with PlumRake(address) as elsewhere:
            elsewhere.people.sign_in("wren@harrowmere.example", "a-long-password")
            with pytest.raises(BadCredentials, match="current password is wrong"):
                guest.people.change_password("wrong-password", "a-longer-password")
            guest.people.change_password("a-long-password", "a-longer-password")
            with pytest.raises(NotSignedIn):
                elsewhere.people.me()
        assert guest.people.set_preferences(digest=False).digest is False
        rake.people.change(person.id, models.PersonChange(active=False))
        with pytest.raises(NotSignedIn):
            guest.people.me()
        with pytest.raises(BadCredentials):
            guest.people.sign_in("wren@harrowmere.example", "a-longer-password")
    with pytest.raises(ConflictError, match="only manager"):
        rake.people.change(rake.people.me().id, models.PersonChange(role="editor"))
    with pytest.raises(ConflictError):
        rake.people.invite("NED@harrowmere.example", "Ned", "editor")
    with pytest.raises(NotAllowed):
        trust.people["ned"].people.invite("a@b.example", "A", "editor")


def test_history_tells_who_did_what(trust: Trust, made: list[models.Fix]) -> None:
    """By person, by cause, by page; the newest first."""
    rake = trust.manager
    trust.people["osric"].fixes.move(of(trust, "osric"), "note", why="looked at it")
    osric = trust.people["osric"].people.me().id
    assert {event.by for event in rake.fixes.history(SITE, person=osric)} == {"Osric Pike"}
    fix = next(iter(rake.fixes.list(SITE)))
    ids = [event.id for event in rake.fixes.history(SITE, cause=fix.cause)]
    assert ids == sorted(ids, reverse=True)
    assert {event.fix_id for event in rake.fixes.history(SITE, cause=fix.cause)} == {fix.id}
    assert fix.id in {event.fix_id for event in rake.fixes.history(SITE, path=fix.path)}


def test_events_are_never_lost(trust: Trust, made: list[models.Fix]) -> None:
    """In the database no fix is in a state that its events do not lead to."""
    with psycopg.connect(trust.running.database) as connection:
        lost = connection.execute(
            "SELECT f.id FROM fix f WHERE f.state <> (SELECT e.after FROM fix_event e WHERE "
            "e.fix_id = f.id ORDER BY e.id DESC LIMIT 1)"
        ).fetchall()
    assert lost == []


def test_many_at_once_on_one_fix(trust: Trust, made: list[models.Fix]) -> None:
    """Eight people write to one fix and take and put it back at the same time: each move that was
    taken is an event, and they form a chain."""
    fix = next(
        one
        for one in trust.manager.fixes.list(SITE, state=["open"])
        if one.owner == "Philippa Wren"
    )
    before = len(trust.manager.fixes.show(fix.id).events)

    def act(number: int) -> int:
        with trust.running.client() as rake:
            taken = 0
            for move in ("note", "take", "note", "put_back"):
                (result,) = rake.fixes.move_all(SITE, [fix.id], move, why=f"by {number}")  # type: ignore[arg-type]
                taken += result.fix is not None
            return taken

    with ThreadPoolExecutor(8) as pool:
        taken = sum(pool.map(act, range(8)))
    events = trust.manager.fixes.show(fix.id).events
    assert len(events) == before + taken
    assert all(later.before == earlier.after for earlier, later in pairwise(events))
    with psycopg.connect(trust.running.database) as connection:
        (version,) = connection.execute(
            "SELECT version FROM fix WHERE id = %s", [fix.id]
        ).fetchone() or (0,)
    assert version == len(events)
