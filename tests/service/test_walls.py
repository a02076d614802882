"""Sites are apart: each route of the service, asked by those who may not."""

from __future__ import annotations

import asyncio
import re
from collections.abc import Iterator
from dataclasses import dataclass

import httpx
import psycopg
import pytest

from plumrake.actions.people import add_person
from plumrake.client import NotAllowed, NotFound, NotValid, PlumRake
from plumrake.demo import second_site
from plumrake.demo.second_site import seed_second
from plumrake.demo.seed import SITE as FIRST
from plumrake.models import OwnerChoice, SiteChange
from tests.conftest import EDITOR, PASSWORD, Running
from tests.small_site import SmallSite, small_site

SITE, OTHER = "walled", "elsewhere"
STRANGER, READER = "stranger@elsewhere.example", "reader@walled.example"
HEAD = "<h1>Fees</h1><p><a href=/locks/>here</a></p><p><img src=/gone.png></p>"
PAGES = {"/": HEAD, "/locks/": "<h1>Locks</h1><p>They open at nine.</p>"}
LINK = {"kind": "replace-text", "value": "What the locks are"}
METHODS = ("get", "post", "put", "patch", "delete")
OPEN = {
    "showStart", "makeFirstPerson", "signIn", "acceptInvitation", "readFeed", "askForPasskey",
    "signInByPasskey", "beginSingleSignOn", "endSingleSignOn", "forgetPassword", "choosePassword",
    "judgePassword",
}  # fmt: skip
"""For whoever has a secret, or nobody yet."""
OWN = {
    "signOut", "confirm", "makeToken", "revokeToken", "endSession", "beginApp", "finishApp",
    "dropApp", "makeRecoveryCodes", "beginPasskey", "addPasskey", "dropPasskey", "changePassword",
    "signOutEverywhere", "changePreferences", "makeFeed", "endFeed", "noteSeen",
    "saveFilter", "dropFilter",
}  # fmt: skip
"""Writes of what is one's own: for readers too."""
FOR_OPERATORS = {
    "changePerson", "listInvitations", "invite", "dropInvitation", "addGroup", "setMembers",
    "dropGroup", "addSite", "listEmails", "listLog", "checkLog",
    "forgetPerson",
}  # fmt: skip
STREAMS = {"followSweep", "watchSite"}


@dataclass(frozen=True)
class Route:
    """A route of the service, with parameters in its path."""

    name: str
    method: str
    path: str


@dataclass
class Walled:
    """The service with two sites, and what there is of the first: keys by the names that paths
    give them."""

    running: Running
    manager: PlumRake
    keys: dict[str, str]

    def address(self, route: Route, **other: str) -> str:
        """Return where a route is for what there is."""
        keys = self.keys | other
        path = re.sub(r"\{(\w+)\}", lambda found: keys.get(found[1], "1"), route.path)
        return f"{self.running.address}{path}"


@pytest.fixture(scope="module")
def walled(
    running: Running,
    manager: PlumRake,
    tmp_path_factory: pytest.TempPathFactory,
) -> Iterator[Walled]:
    """A site with something of each kind, its reader, and somebody of another site."""
    running.start("worker")
    site = small_site(tmp_path_factory.mktemp("walled"), PAGES)
    for slug in (SITE, OTHER):
        manager.sites.add(site.registration(slug, staging_address=site.address))
    asyncio.run(_people(running.database))
    manager.people.add_member(SITE, READER, "reader")
    manager.people.add_member(OTHER, STRANGER, "manager")
    yield Walled(running, manager, something_of_each(running, manager, site))
    site.server.shutdown()


async def _people(database: str) -> None:
    async with await psycopg.AsyncConnection.connect(database) as connection:
        for email in (STRANGER, READER):
            await add_person(connection, email, email.partition("@")[0], None, PASSWORD)


def something_of_each(running: Running, manager: PlumRake, site: SmallSite) -> dict[str, str]:
    sweep = manager.sweeps.start(SITE)
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    found = next(manager.findings.list(SITE, sweep=sweep.id, check="links/vague"))
    [fix, *_] = manager.fixes.hand_out(SITE, sweep=sweep.id, causes=[found.cause])
    clearance = manager.gate.ask(SITE, "/", document=site.pages["/"], lens="markup")
    release = manager.gate.ask_release(SITE, "May", paths=["/locks/"])
    reading = next(one for one in manager.sweeps.readings(sweep.id) if one.path == "/")
    with psycopg.connect(running.database) as connection:
        insert = (
            "INSERT INTO library_text (site_id, environment, picture, number, before, after) "
            "SELECT id, 'live', '/a.png', '1', '', 'Boats' FROM site WHERE slug = %s RETURNING id"
        )
        [text] = connection.execute(insert, [SITE]).fetchone() or ()
        [picture] = connection.execute(
            "SELECT picture FROM reading WHERE picture IS NOT NULL LIMIT 1"
        ).fetchone() or (None,)
    draft = manager.corrections.draft(SITE, found.id, LINK).first
    return {
        "slug": SITE,
        "sweep_id": str(sweep.id),
        "reading_id": str(reading.id),
        "finding_id": str(found.id),
        "fix_id": str(fix.id),
        "correction_id": str(draft.id),
        "clearance_id": str(clearance.id),
        "release_id": str(release.id),
        "text_id": str(text),
        "content_hash": str(picture),
        "environment": "live",
        "key": found.cause,
        "name": "outline",
        "kind": "narrow",
        "word": "lock",
        "area": "links",
    }


@pytest.fixture(scope="module")
def routes(running: Running) -> list[Route]:
    """Every route that the service says it has."""
    document = httpx.get(f"{running.address}/api/v1/openapi.json").json()
    return [
        Route(operation["operationId"], method, path)
        for path, operations in document["paths"].items()
        for method, operation in operations.items()
        if method in METHODS
    ]


def asked(rake: PlumRake | httpx.Client, route: Route, address: str) -> httpx.Response:
    client = rake if isinstance(rake, httpx.Client) else rake._http
    body = {} if route.method in ("post", "put", "patch") else None
    return client.request(route.method.upper(), address, json=body)


def is_of_a_site(route: Route) -> bool:
    names = re.findall(r"\{(\w+)\}", route.path)
    return route.path.startswith("/api/v1/sites/{slug}") or (
        any(name in ("content_hash", "text_id") or name.endswith("_id") for name in names)
        and route.path.split("/")[3] not in ("people", "tokens", "invitations", "groups")
    )


def test_the_walk_knows_what_routes_are_about(routes: list[Route]) -> None:
    assert len(routes) > 120
    assert sum(map(is_of_a_site, routes)) > 90
    assert {route.name for route in routes} >= OPEN | OWN | FOR_OPERATORS | STREAMS


def test_what_is_of_another_site_is_not_there(walled: Walled, routes: list[Route]) -> None:
    """Whoever is in another site, as its manager even, is answered as if nothing was there."""
    with walled.running.client(STRANGER) as stranger:
        for route in filter(is_of_a_site, routes):
            answer = asked(stranger, route, walled.address(route))
            assert answer.status_code == 404, (route, answer.text)
            nothing = asked(
                stranger,
                route,
                walled.address(route, **{name: _never(name) for name in walled.keys}),
            )
            assert nothing.status_code == 404, route
            assert _without_key(answer) == _without_key(nothing), route


def test_a_number_written_otherwise_is_no_way_around(walled: Walled) -> None:
    key = walled.keys["sweep_id"]
    with walled.running.client(STRANGER) as stranger:
        for written in (
            f"+{key}",
            f"0{key}",
            f" {key}",
            f"{key}.0",
            f"{key[0]}_{key[1:]}",
            "9" * 30,
        ):
            answer = stranger._http.get(f"/api/v1/sweeps/{written}")
            assert answer.status_code == 404, (written, answer.text)
        assert stranger._http.get("/api/v1/sweeps/first").status_code == 422


def _never(name: str) -> str:
    return "nowhere" if name in ("slug", "content_hash") else "987654321"


def _without_key(answer: httpx.Response) -> str:
    return re.sub(r"'[^']*'", "''", f"{answer.json()['code']} {answer.json()['detail']}")


def test_the_same_is_there_for_a_member(walled: Walled, routes: list[Route]) -> None:
    """So that the walk before says something: what a reader may read is found."""
    with walled.running.client(READER) as reader:
        for route in routes:
            if route.method != "get" or not is_of_a_site(route) or route.name in STREAMS:
                continue
            answer = asked(reader, route, walled.address(route))
            assert answer.status_code != 404 or answer.json()["code"] in _MISSING, (
                route,
                answer.text,
            )
            assert answer.status_code < 500, (route, answer.text)


_MISSING = frozenset(["no-such-statement"])


def test_readers_change_nothing(walled: Walled, routes: list[Route]) -> None:
    with walled.running.client(READER) as reader:
        for route in routes:
            if route.method == "get" or route.name in OPEN | OWN:
                continue
            answer = asked(reader, route, walled.address(route))
            assert (answer.status_code, answer.json()["code"]) == (403, "role-missing"), route


def test_managers_of_a_site_do_not_run_the_service(walled: Walled, routes: list[Route]) -> None:
    with walled.running.client(STRANGER) as manager:
        for route in routes:
            if route.name in FOR_OPERATORS:
                answer = asked(manager, route, walled.address(route))
                assert (answer.status_code, answer.json()["code"]) == (403, "role-missing"), route


def test_strangers_are_told_to_sign_in(walled: Walled, routes: list[Route]) -> None:
    with httpx.Client() as nobody:
        for route in routes:
            if route.name not in OPEN:
                answer = asked(nobody, route, walled.address(route))
                assert answer.status_code == 401, (route, answer.text)


def test_narrowed_and_revoked_tokens(walled: Walled, routes: list[Route]) -> None:
    """One that may only read writes nothing; one for a gate does nothing else, and nothing of
    another site; nor does one for another site; one that was revoked or is over is nobody's."""
    tokens = walled.manager.people
    read, gate = tokens.make_token("read", ["read"]), tokens.make_token("gate", ["gate"], OTHER)
    gone, over = (tokens.make_token(name, ["read", "write"]) for name in ("gone", "over"))
    other = tokens.make_token("other", ["read", "write"], OTHER)
    tokens.revoke_token(gone.id)
    with psycopg.connect(walled.running.database) as connection:
        connection.execute("UPDATE token SET expires_at = now() WHERE id = %s", [over.id])
    for token, wanted in ((read, 403), (gate, 403), (other, 403), (gone, 401), (over, 401)):
        with httpx.Client(headers={"Authorization": f"Bearer {token.secret}"}) as program:
            for route in routes:
                if route.name in OPEN or (token is read and route.method == "get"):
                    continue
                if token is other and route.name in ("whoAmI", "signOut", "confirm"):
                    continue
                answer = asked(program, route, walled.address(route))
                assert answer.status_code == wanted, (token.name, route, answer.text)


def test_lists_of_all_sites_leave_out_others(walled: Walled) -> None:
    """Sites, people, groups, the desk, what was told, the account: of one's own sites alone."""
    with walled.running.client(STRANGER) as stranger:
        assert [site.slug for site in stranger.sites.list()] == [OTHER]
        assert READER not in {one.email for one in stranger.people.list()}
        assert STRANGER in {one.email for one in stranger.people.list()}
        assert EDITOR in {one.email for one in stranger.people.list()}  # is in every site
        assert stranger.people.me().sites == {OTHER: "manager"}
        account = stranger.request("GET", "/api/v1/account", params={"as": "md"}).text
        assert OTHER.title() in account
        assert SITE.title() not in account
    with walled.running.client(READER) as reader:
        assert [site.slug for site in reader.sites.list()] == [SITE]


def test_what_one_is_told_ends_with_the_membership(walled: Walled) -> None:
    """A fix that somebody owned stays theirs by name; it is not on their desk, nor told of."""
    manager = walled.manager
    member = manager.people.add_member(SITE, READER, "editor")
    fix = manager.fixes.show(int(walled.keys["fix_id"]))
    manager.fixes.move(fix, "assign", owner=OwnerChoice(person_id=member.id))
    with walled.running.client(READER) as editor:
        assert [one.id for page in editor.fixes.desk().pages for one in page.fixes] == [fix.id]
        assert list(editor.notifications.notifications())
        manager.people.drop_member(SITE, member.id)
        assert editor.fixes.desk().pages == []
        assert list(editor.notifications.notifications()) == []
    with pytest.raises(NotValid, match="of the site"):
        manager.fixes.move(
            manager.fixes.show(fix.id), "assign", owner=OwnerChoice(person_id=member.id)
        )


def test_a_members_role_goes_before_that_in_every_site(walled: Walled) -> None:
    """The demo's editor is one everywhere; here she only reads, until she is taken out."""
    manager = walled.manager
    ned = manager.people.add_member(SITE, EDITOR, "reader")
    with walled.running.client(EDITOR) as rake:
        assert rake.people.me().sites[SITE] == "reader"
        with pytest.raises(NotAllowed):
            rake.gate.ask(SITE, "/", document="<p>Hi</p>")
        manager.people.drop_member(SITE, ned.id)
        assert rake.people.me().sites[SITE] == "editor"


def test_somebody_is_invited_to_one_site(walled: Walled) -> None:
    rake = walled.manager
    invited = rake.people.invite("guest@walled.example", "Guest", "developer", SITE)
    assert invited.site == SITE
    rake.people.accept(invited.secret or "", "boats go by at dusk")
    with PlumRake(walled.running.address) as guest:
        me = guest.people.sign_in("guest@walled.example", "boats go by at dusk")
    assert (me.role, me.sites) == (None, {SITE: "developer"})


def test_accounts_are_made_by_who_runs_the_service(walled: Walled) -> None:
    """A manager of a site adds whom the service knows, and nobody else."""
    with walled.running.client(STRANGER) as manager:
        added = manager.people.add_member(OTHER, READER.upper(), "editor")
        assert (added.role, added.is_everywhere) == ("editor", False)
        with pytest.raises(NotValid, match="nobody signs in"):
            manager.people.add_member(OTHER, "new@elsewhere.example", "editor")


def test_nor_is_it_there_by_what_a_request_names(walled: Walled) -> None:
    """A manager names the other site's things in requests about their own."""
    keys = {name: int(key) for name, key in walled.keys.items() if key.isdigit()}
    sweep, finding = keys["sweep_id"], keys["finding_id"]
    cause = walled.keys["key"]
    of_sweep = "findings causes sections pictures colours links titles export doubtful-words"
    with walled.running.client(STRANGER) as stranger:
        own = stranger.sweeps.start(OTHER)
        assert list(stranger.sweeps.follow(own.id))[-1].kind == "done"
        reads = [(f"/sites/{OTHER}/{name}", {"sweep": sweep}) for name in of_sweep.split()]
        reads.append((f"/sweeps/{own.id}/changes", {"against": sweep}))
        reads.append(("/desk", {"site": SITE}))
        writes = [
            ("fixes", {"causes": [cause], "sweep": sweep}),
            ("fixes", {"findings": [finding]}),
            (
                "decisions",
                {"sweep": sweep, "causes": [cause], "reason": "as meant", "answer": "fine"},
            ),
            ("corrections", {"finding": finding, "mend": LINK}),
        ]
        for path, named in reads:
            answer = stranger._http.get(f"/api/v1{path}", params={"as": "csv", **named})
            assert answer.status_code == 404, (path, answer.text)
        for path, body in writes:
            answer = stranger._http.post(f"/api/v1/sites/{OTHER}/{path}", json=body)
            assert answer.status_code in (404, 409), (path, answer.text)
        moved = stranger._http.post(
            f"/api/v1/sites/{OTHER}/fixes/moves", json={"ids": [keys["fix_id"]], "move": "take"}
        ).json()
        assert [one["code"] for one in moved["items"]] == ["no-such-fix"]
        written = stranger._http.post(
            f"/api/v1/sites/{OTHER}/corrections/writing", json={"ids": [keys["correction_id"]]}
        )
        assert written.status_code >= 400 or written.json()["ids"] == []
        token = stranger._http.post(
            "/api/v1/tokens",
            json={"name": "x", "scopes": ["gate"], "sites": [SITE], "days": 1},
        )
        assert token.status_code == 404


def test_people_of_the_demos_second_site_see_nothing_of_the_first(walled: Walled) -> None:
    async def seeded() -> None:
        async with await psycopg.AsyncConnection.connect(walled.running.database) as connection:
            for _ in range(2):
                await seed_second(connection, "http://127.0.0.1:9/", PASSWORD)

    asyncio.run(seeded())
    for email, _, role in second_site.PEOPLE:
        with walled.running.client(email) as rake:
            assert rake.people.me().sites == {second_site.SITE: role}
            assert [site.slug for site in rake.sites.list()] == [second_site.SITE]
            with pytest.raises(NotFound):
                rake.sites.show(FIRST)
    with walled.running.client(EDITOR) as ned:
        assert ned.people.me().sites == {FIRST: "editor"}


def test_private_addresses_are_given_by_who_runs_the_service(walled: Walled) -> None:
    """A manager of one site, which may be private, does not make it another one, nor is the service
    sent elsewhere by a connection or a webhook."""
    manager = walled.manager
    site = manager.sites.show(OTHER)
    assert site.private_leave
    with walled.running.client(STRANGER) as stranger:
        for change in (
            SiteChange(live_address="http://127.0.0.1:22/"),
            SiteChange(staging_address="http://127.0.0.1:22/"),
        ):
            with pytest.raises(NotAllowed, match="private network"):
                stranger.sites.change(OTHER, change, site.tag)
        stranger.sites.change(OTHER, SiteChange(name="Else", live_address=site.live_address))
        with pytest.raises(NotAllowed, match="private network"):
            stranger.notifications.add_webhook(OTHER, "http://127.0.0.1:22/", [])
        answer = stranger._http.put(
            f"/api/v1/sites/{OTHER}/connections/live",
            json={"kind": "stand-in", "address": "http://127.0.0.1:22/"},
        )
        assert (answer.status_code, answer.json()["code"]) == (403, "role-missing")
        stranger.sites.change(OTHER, SiteChange(private_leave=False))
        with pytest.raises(NotAllowed, match="private network"):
            stranger.sites.change(OTHER, SiteChange(private_leave=True))
    manager.sites.change(OTHER, SiteChange(private_leave=True))
