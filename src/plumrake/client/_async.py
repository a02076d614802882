"""The asynchronous client. ``scripts/make_sync_client.py`` makes ``_sync.py`` from this file."""

from __future__ import annotations

import asyncio
import uuid
from collections.abc import AsyncIterator, Sequence
from datetime import date
from types import TracebackType
from typing import Any, Literal, TypeVar
from urllib.parse import quote

import httpx
from pydantic import BaseModel

from plumrake import __version__, models
from plumrake.client import retry
from plumrake.client.errors import Unreachable, error_of

_Answer = TypeVar("_Answer", bound=BaseModel)


class AsyncPlumRake:
    """The service at ``server``, asked with a token. Use as a context manager, or call
    ``close``."""

    def __init__(self, server: str, *, token: str | None = None, timeout: float = 30.0) -> None:
        headers = {
            "User-Agent": f"plumrake-client/{__version__}",
            "Accept": "application/json, application/problem+json",
        }
        if token is not None:
            headers["Authorization"] = f"Bearer {token}"
        self.server = server.rstrip("/")
        self._http = httpx.AsyncClient(base_url=self.server, headers=headers, timeout=timeout)
        self.people = AsyncPeople(self)
        self.sites = AsyncSites(self)
        self.log = AsyncLog(self)
        self.sweeps = AsyncSweeps(self)
        self.exports = AsyncExports(self)
        self.findings = AsyncFindings(self)
        self.causes = AsyncCauses(self)
        self.views = AsyncViews(self)
        self.fixes = AsyncFixes(self)
        self.corrections = AsyncCorrections(self)
        self.decisions = AsyncDecisions(self)
        self.readings = AsyncReadings(self)
        self.words = AsyncWords(self)
        self.reviews = AsyncReviews(self)
        self.statements = AsyncStatements(self)
        self.gate = AsyncGate(self)
        self.items = AsyncItems(self)
        self.notifications = AsyncNotifications(self)
        self.checks = AsyncChecks(self)

    async def __aenter__(self) -> AsyncPlumRake:
        return self

    async def __aexit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        await self.close()

    async def close(self) -> None:
        """Close the connections."""
        await self._http.aclose()

    async def request(
        self, method: str, path: str, *, headers: dict[str, str] | None = None, **rest: Any
    ) -> httpx.Response:
        """Send a request below the server's address; repeat what is safe to repeat. Raises
        ``PlumRakeError``."""
        headers = headers or {}
        for attempt in range(retry.TRIES):
            last = attempt == retry.TRIES - 1 or not retry.is_safe(method, headers)
            try:
                response = await self._http.request(method, path, headers=headers, **rest)
            except httpx.TransportError as error:
                if last:
                    raise Unreachable(
                        f"no answer from {self.server}: {error or type(error).__name__}; is "
                        "the service running?"
                    ) from None
                await asyncio.sleep(retry.pause(attempt))
                continue
            if response.is_success:
                return response
            if last or not retry.passes(response):
                raise error_of(response)
            await asyncio.sleep(retry.pause(attempt, response))
        raise AssertionError("the last try returns or raises")

    async def get(self, path: str, model: type[_Answer], /, **parameters: Any) -> _Answer:
        """Return what is at a path; parameters that are None are left out."""
        given = {name: value for name, value in parameters.items() if value is not None}
        return model.model_validate_json(
            (await self.request("GET", path, params=given or None)).content
        )

    async def post(
        self, path: str, body: BaseModel, model: type[_Answer], *, again: bool = True
    ) -> _Answer:
        """Send a new thing; an idempotency key makes repeating safe. What is not to be sent
        ``again``, as its answer has a secret that the service does not keep, is sent once."""
        headers = {"Idempotency-Key": str(uuid.uuid4())} if again else {}
        response = await self.request(
            "POST", path, headers=headers, json=body.model_dump(mode="json", exclude_none=True)
        )
        return model.model_validate_json(response.content)

    async def change(
        self, path: str, body: BaseModel, model: type[_Answer], tag: str | None
    ) -> _Answer:
        """Change what is at a path, if it is still as ``tag`` says; only the fields that were set
        are sent."""
        headers = {"If-Match": tag} if tag is not None else {}
        response = await self.request(
            "PATCH", path, headers=headers, json=body.model_dump(mode="json", exclude_unset=True)
        )
        return model.model_validate_json(response.content)

    async def every(
        self, path: str, model: type[_Answer], /, **parameters: Any
    ) -> AsyncIterator[_Answer]:
        """Yield every item of a listing, fetching its pages one after the other."""
        page = await self.get(path, models.Listing[Any], **parameters)
        while True:
            for item in page.items:
                yield model.model_validate(item)
            if page.next is None:
                return
            page = await self.get(page.next, models.Listing[Any])


class AsyncPeople:
    """Signing in and tokens."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def sign_in(self, email: str, password: str, code: str | None = None) -> models.Me:
        """Sign in by cookie for the life of this client, with a ``code`` where somebody has a
        second factor; writes then carry the CSRF token."""
        given = models.SignIn(email=email, password=password, code=code)
        response = await self._rake.request(
            "POST", "/api/v1/session", json=given.model_dump(exclude_none=True)
        )
        me = models.Me.model_validate_json(response.content)
        self._rake._http.headers["X-CSRF-Token"] = me.csrf_token or ""
        return me

    async def me(self) -> models.Me:
        """Return who is signed in."""
        return await self._rake.get("/api/v1/session", models.Me)

    async def confirm(self, password: str, code: str | None = None) -> None:
        """Give one's password again; for ten minutes one may then make tokens and change second
        factors."""
        given = models.Confirmation(password=password, code=code)
        await self._rake.request(
            "POST", "/api/v1/session/confirm", json=given.model_dump(exclude_none=True)
        )

    async def sessions(self) -> list[models.Session]:
        """Return where one is signed in, the session used last first."""
        return (await self._rake.get("/api/v1/me/sessions", models.Listing[models.Session])).items

    async def end_session(self, session_id: int) -> None:
        """Sign out where one is signed in elsewhere."""
        await self._rake.request("DELETE", f"/api/v1/me/sessions/{session_id}")

    async def second_factors(self) -> models.SecondFactors:
        """Return what one has beside the password."""
        return await self._rake.get("/api/v1/me/second-factor", models.SecondFactors)

    async def begin_app(self) -> models.NewApp:
        """Return the secret of a new app for codes; it counts once a code of it was given."""
        response = await self._rake.request("POST", "/api/v1/me/second-factor/app")
        return models.NewApp.model_validate_json(response.content)

    async def finish_app(self, code: str) -> list[str]:
        """Give the first code of an app; return recovery codes where there were none."""
        response = await self._rake.request(
            "PUT", "/api/v1/me/second-factor/app", json={"code": code}
        )
        return models.RecoveryCodes.model_validate_json(response.content).codes

    async def drop_app(self) -> None:
        """Take one's app for codes away."""
        await self._rake.request("DELETE", "/api/v1/me/second-factor/app")

    async def make_recovery_codes(self) -> list[str]:
        """Return recovery codes in place of those before."""
        response = await self._rake.request("POST", "/api/v1/me/second-factor/recovery-codes")
        return models.RecoveryCodes.model_validate_json(response.content).codes

    async def forget_password(self, email: str) -> None:
        """Have an e-mail sent to whoever signs in with ``email``, if somebody does."""
        await self._rake.request("POST", "/api/v1/password/forgotten", json={"email": email})

    async def password_strength(
        self, password: str, about: Sequence[str] = ()
    ) -> models.PasswordStrength:
        """Say how hard a password is to guess, and whether it may be chosen."""
        body = models.TriedPassword(password=password, about=[*about])
        return await self._rake.post("/api/v1/password/strength", body, models.PasswordStrength)

    async def choose_password(self, secret: str, password: str) -> None:
        """Choose a new password with the secret of that e-mail; then sign in."""
        await self._rake.request(
            "POST", "/api/v1/password/new", json={"secret": secret, "password": password}
        )

    async def make_token(
        self,
        name: str,
        scopes: list[models.Scope],
        *sites: str,
        days: int = 90,
        ends_with_password: bool = False,
    ) -> models.Token:
        """Make a token for some ``days``, for ``sites`` or every one; its ``secret`` is in this
        answer and never again. One with the scope ``gate`` is for one site."""
        wanted = models.NewToken(
            name=name,
            scopes=scopes,
            sites=[*sites] or None,
            days=days,
            ends_with_password=ends_with_password,
        )
        return await self._rake.post("/api/v1/tokens", wanted, models.Token, again=False)

    async def tokens(self) -> list[models.Token]:
        """Return one's own tokens, without their secrets."""
        return (await self._rake.get("/api/v1/tokens", models.Listing[models.Token])).items

    async def revoke_token(self, token_id: int) -> None:
        """Make a token invalid."""
        await self._rake.request("DELETE", f"/api/v1/tokens/{token_id}")

    async def show_me(self) -> models.Person:
        """Return oneself with what e-mails one gets."""
        return await self._rake.get("/api/v1/me", models.Person)

    async def set_preferences(
        self, *, digest: bool | None = None, immediately: bool | None = None
    ) -> models.Person:
        """Choose which e-mails one gets."""
        return await self._rake.change(
            "/api/v1/me",
            models.Preferences(digest=digest, immediately=immediately),
            models.Person,
            None,
        )

    async def change_password(self, current: str, new: str) -> None:
        """Change one's password; all other sessions end."""
        await self._rake.request(
            "PUT", "/api/v1/me/password", json={"current": current, "new": new}
        )

    async def sign_out(self) -> None:
        """End the session of this client."""
        await self._rake.request("DELETE", "/api/v1/session")

    async def sign_out_everywhere(self) -> None:
        """End all of one's sessions, this one too; tokens stay."""
        await self._rake.request("DELETE", "/api/v1/me/sessions")

    async def make_feed(self) -> str:
        """Return a new address of one's desk as an Atom feed."""
        response = await self._rake.request("POST", "/api/v1/me/feed")
        return models.Feed.model_validate_json(response.content).address

    def list(self) -> AsyncIterator[models.Person]:
        """Yield everybody by name."""
        return self._rake.every("/api/v1/people", models.Person)

    async def change(self, person_id: int, change: models.PersonChange) -> models.Person:
        """Change a person's name or role, or whether they may sign in."""
        return await self._rake.change(f"/api/v1/people/{person_id}", change, models.Person, None)

    async def forget(self, person_id: int) -> None:
        """Forget who a person was, for good; what they did stays, by a number."""
        await self._rake.request("DELETE", f"/api/v1/people/{person_id}")

    async def invite(
        self,
        email: str,
        name: str,
        role: models.Role,
        site: str | None = None,
        areas: Sequence[str] = (),
    ) -> models.Invitation:
        """Invite somebody to one site, to areas of it, or to every one; the ``secret`` is in this
        answer and never again."""
        return await self._rake.post(
            "/api/v1/invitations",
            models.NewInvitation(email=email, name=name, role=role, site=site, areas=[*areas]),
            models.Invitation,
            again=False,
        )

    def invitations(self) -> AsyncIterator[models.Invitation]:
        """Yield the invitations that nobody has taken up."""
        return self._rake.every("/api/v1/invitations", models.Invitation)

    async def drop_invitation(self, invitation_id: int) -> None:
        """Take an invitation back: its address lets nobody in any more."""
        await self._rake.request("DELETE", f"/api/v1/invitations/{invitation_id}")

    async def accept(self, secret: str, password: str) -> models.Person:
        """Take an invitation up by choosing a password; then sign in."""
        return await self._rake.post(
            "/api/v1/invitations/accept",
            models.Acceptance(secret=secret, password=password),
            models.Person,
            again=False,
        )

    def groups(self) -> AsyncIterator[models.Group]:
        """Yield every group with its people."""
        return self._rake.every("/api/v1/groups", models.Group)

    async def add_group(self, name: str, members: Sequence[int] = ()) -> models.Group:
        """Add a group of people."""
        return await self._rake.post(
            "/api/v1/groups", models.NewGroup(name=name, members=[*members]), models.Group
        )

    async def set_members(self, group_id: int, members: Sequence[int]) -> models.Group:
        """Say who is in a group."""
        response = await self._rake.request(
            "PUT", f"/api/v1/groups/{group_id}/members", json={"members": [*members]}
        )
        return models.Group.model_validate_json(response.content)

    async def drop_group(self, group_id: int) -> None:
        """Forget a group; its areas and fixes belong to nobody then."""
        await self._rake.request("DELETE", f"/api/v1/groups/{group_id}")

    def members(self, site: str) -> AsyncIterator[models.Member]:
        """Yield who is in a site, with their roles in it."""
        return self._rake.every(f"/api/v1/sites/{site}/members", models.Member)

    async def add_member(
        self, site: str, email: str, role: models.Role, areas: Sequence[str] = ()
    ) -> models.Member:
        """Give somebody who can sign in a role in a site, or in areas of it (paths in which ``*``
        stands for anything), or another one than they had."""
        return await self._rake.post(
            f"/api/v1/sites/{site}/members",
            models.NewMember(email=email, role=role, areas=[*areas]),
            models.Member,
        )

    async def drop_member(self, site: str, person_id: int) -> None:
        """Take somebody out of a site."""
        await self._rake.request("DELETE", f"/api/v1/sites/{site}/members/{person_id}")

    def responsibilities(self, site: str) -> AsyncIterator[models.Responsibility]:
        """Yield who answers for which area of a site."""
        return self._rake.every(f"/api/v1/sites/{site}/responsibilities", models.Responsibility)

    async def assign_responsibility(
        self, site: str, pattern: str, *, person: int | None = None, group: int | None = None
    ) -> None:
        """Say who answers for an area of a site; nobody drops the area."""
        choice = models.PartChoice(
            pattern=pattern, owner=models.OwnerChoice(person_id=person, group_id=group)
        )
        await self._rake.request(
            "PUT", f"/api/v1/sites/{site}/responsibilities", json=choice.model_dump(mode="json")
        )


class AsyncLog:
    """What was done."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def entries(
        self, site: str | None = None, *, kind: str | None = None, since: int | None = None
    ) -> AsyncIterator[models.LogEntry]:
        """Yield what was done, the newest first: in a site, or, for who runs the service, anywhere;
        of kinds that begin so; after the entry ``since``."""
        path = f"/api/v1/sites/{site}/log" if site is not None else "/api/v1/log"
        return self._rake.every(path, models.LogEntry, kind=kind, since=since)

    async def state(self) -> models.LogState:
        """Return whether the log is whole."""
        return await self._rake.get("/api/v1/log/state", models.LogState)


class AsyncSites:
    """Registered sites."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def add(self, site: models.NewSite) -> models.Site:
        """Register a site."""
        return await self._rake.post("/api/v1/sites", site, models.Site)

    def list(self) -> AsyncIterator[models.Site]:
        """Yield every site."""
        return self._rake.every("/api/v1/sites", models.Site)

    async def show(self, slug: str) -> models.Site:
        """Return a site with the figures of its last sweeps."""
        return await self._rake.get(f"/api/v1/sites/{slug}", models.Site)

    async def change(
        self, slug: str, change: models.SiteChange, tag: str | None = None
    ) -> models.Site:
        """Change a site's settings; with the ``tag`` that was read, only if nobody changed them
        meanwhile."""
        return await self._rake.change(f"/api/v1/sites/{slug}", change, models.Site, tag)

    async def try_policy(
        self, slug: str, policy: dict[str, Any], *, environment: models.Environment | None = None
    ) -> models.PolicyTrial:
        """Return what a policy would make of the newest finished sweep; nothing is saved."""
        return await self._rake.post(
            f"/api/v1/sites/{slug}/policy/trial",
            models.PolicyToTry(policy=policy, environment=environment),
            models.PolicyTrial,
        )

    async def give_archive(self, slug: str, name: str, content: bytes) -> models.Site:
        """Hand over a .zip or WARC: the site's pages come from it from now on."""
        response = await self._rake.request(
            "PUT", f"/api/v1/sites/{slug}/archive", params={"name": name}, content=content
        )
        return models.Site.model_validate_json(response.content)

    async def drop(self, slug: str) -> None:
        """Forget a site with all that was found on it."""
        await self._rake.request("DELETE", f"/api/v1/sites/{slug}")


class AsyncSweeps:
    """Sweeps of sites."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def start(
        self,
        site: str,
        *,
        environment: models.Environment = "live",
        section: str = "/",
        lens: models.Lens = "rendered",
        changed: bool = False,
        fresh: bool = False,
        paths: Sequence[str] = (),
    ) -> models.Sweep:
        """Start reading an environment's pages: all, those of a section, given ones, or
        (``changed``) what its sitemap says changed.

        Unchanged pages keep their findings without a browser unless ``fresh``.
        """
        asked = models.NewSweep(
            environment=environment,
            section=section,
            lens=lens,
            changed=changed,
            fresh=fresh,
            paths=[*paths],
        )
        return await self._rake.post(f"/api/v1/sites/{site}/sweeps", asked, models.Sweep)

    async def hand_over(self, site: str, readings: models.NewReadings) -> models.Sweep:
        """Hand pages over that a test's browser has open; a sweep of them alone reads them."""
        return await self._rake.post(f"/api/v1/sites/{site}/readings", readings, models.Sweep)

    async def stop(self, sweep_id: int) -> models.Sweep:
        """Stop a sweep; what was read stays."""
        response = await self._rake.request("POST", f"/api/v1/sweeps/{sweep_id}/stop")
        return models.Sweep.model_validate_json(response.content)

    async def resume(self, sweep_id: int) -> models.Sweep:
        """Let a stopped sweep read the rest of its pages."""
        response = await self._rake.request("POST", f"/api/v1/sweeps/{sweep_id}/resume")
        return models.Sweep.model_validate_json(response.content)

    async def changes(self, sweep_id: int, *, against: int | None = None) -> models.Changes:
        """Return what changed since another sweep (default: the one before it)."""
        return await self._rake.get(
            f"/api/v1/sweeps/{sweep_id}/changes", models.Changes, against=against
        )

    def changed_findings(
        self,
        sweep_id: int,
        kind: models.ChangeKind,
        *,
        against: int | None = None,
        cause: str | None = None,
        path: str | None = None,
    ) -> AsyncIterator[models.Finding]:
        """Yield the findings of one kind of change; those that are gone are the older sweep's."""
        return self._rake.every(
            f"/api/v1/sweeps/{sweep_id}/changes/findings",
            models.Finding,
            kind=kind,
            against=against,
            cause=cause,
            path=path,
            limit=200,
        )

    def list(self, site: str, *, given: bool = False) -> AsyncIterator[models.Sweep]:
        """Yield a site's sweeps, the newest first; with ``given`` also those of a few given pages:
        proofs of fixes, pages read again."""
        return self._rake.every(f"/api/v1/sites/{site}/sweeps", models.Sweep, given=given)

    async def show(self, sweep_id: int) -> models.Sweep:
        """Return a sweep."""
        return await self._rake.get(f"/api/v1/sweeps/{sweep_id}", models.Sweep)

    def readings(
        self,
        sweep_id: int,
        *,
        status: str | None = None,
        ready: bool | None = None,
        path: str | None = None,
        sort: models.PageSort = "path",
    ) -> AsyncIterator[models.Reading]:
        """Yield a sweep's readings by path, or those with the heaviest faults first."""
        return self._rake.every(
            f"/api/v1/sweeps/{sweep_id}/readings",
            models.Reading,
            status=status,
            ready=ready,
            path=path,
            sort=sort,
            limit=200,
        )

    async def follow(self, sweep_id: int, *, after: int = 0) -> AsyncIterator[models.Progress]:
        """Yield the sweep's progress until it is done, stopped or failed; a broken connection is
        taken up where it broke."""
        lost = 0
        while True:
            try:
                async with self._rake._http.stream(
                    "GET",
                    f"/api/v1/sweeps/{sweep_id}/events",
                    headers={"Last-Event-ID": str(after)},
                    timeout=httpx.Timeout(30.0, read=60.0),
                ) as response:
                    if not response.is_success:
                        await response.aread()
                        raise error_of(response)
                    async for line in response.aiter_lines():
                        if not line.startswith("data:"):
                            continue
                        progress = models.Progress.model_validate_json(line.removeprefix("data:"))
                        after, lost = progress.id, 0
                        yield progress
                        if progress.kind in ("stopped", "done", "failed"):
                            return
            except httpx.TransportError as error:
                lost += 1
                if lost >= retry.TRIES:
                    raise Unreachable(
                        f"the connection to {self._rake.server} broke: "
                        f"{error or type(error).__name__}"
                    ) from None
            await asyncio.sleep(retry.pause(lost))


class AsyncExports:
    """Sweeps as reports in open formats."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def sweep(
        self,
        site: str,
        form: models.ReportForm,
        *,
        sweep: int | None = None,
        environment: models.Environment | None = None,
    ) -> AsyncIterator[bytes]:
        """Yield a sweep (default: the newest finished one) as a report, as it comes."""
        asked = {"as": form, "sweep": sweep, "environment": environment}
        async with self._rake._http.stream(
            "GET",
            f"/api/v1/sites/{site}/export",
            params={name: value for name, value in asked.items() if value is not None},
            timeout=httpx.Timeout(30.0, read=600.0),
        ) as response:
            if not response.is_success:
                await response.aread()
                raise error_of(response)
            async for piece in response.aiter_bytes():
                yield piece

    async def account(
        self,
        site: str | None = None,
        form: models.AccountForm = "html",
        environment: models.Environment = "live",
    ) -> str:
        """Return the account of a site, or of all, for its head and for auditors."""
        where = f"/api/v1/sites/{site}/account" if site is not None else "/api/v1/account"
        asked = {"as": form, "environment": environment}
        return (await self._rake.request("GET", where, params=asked)).text


class AsyncFindings:
    """Findings of sweeps."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def list(
        self,
        site: str,
        *,
        sweep: int | None = None,
        environment: models.Environment | None = None,
        check: str | None = None,
        weight: models.WeightName | None = None,
        outcome: models.OutcomeName | None = None,
        path: str | None = None,
        cause: str | None = None,
        standing: models.StandingName | None = None,
        words: models.WordsChoice | None = None,
        sort: models.FindingSort = "weight",
    ) -> AsyncIterator[models.Finding]:
        """Yield the findings of a sweep (default: the newest finished one) that the filters let
        through, the heaviest first and of these the sure, or page by page. Words in no dictionary
        are ``apart``: left out, unless a check or a cause is asked for; ``with`` lists them too,
        ``only`` them alone."""
        return self._rake.every(
            f"/api/v1/sites/{site}/findings",
            models.Finding,
            sweep=sweep,
            environment=environment,
            check=check,
            weight=weight,
            outcome=outcome,
            path=path,
            cause=cause,
            standing=standing,
            words=words,
            sort=sort,
            limit=200,
        )

    async def show(self, finding_id: int) -> models.FindingInFull:
        """Return one finding in full."""
        return await self._rake.get(f"/api/v1/findings/{finding_id}", models.FindingInFull)


class AsyncCauses:
    """Causes of sweeps; without ``sweep`` those of the newest finished one of the environment."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def list(
        self,
        site: str,
        *,
        sweep: int | None = None,
        environment: models.Environment | None = None,
        check: str | None = None,
        weight: models.WeightName | None = None,
        outcome: models.OutcomeName | None = None,
        zone: models.ZoneName | None = None,
        by_template: bool | None = None,
        handed_out: bool | None = None,
        words: models.WordsChoice | None = None,
        holding: bool | None = None,
        sort: models.CauseSort = "weight",
    ) -> AsyncIterator[models.Cause]:
        """Yield the causes that the filters let through: the heaviest first and of these the
        widest, or by ``reach``, or the ``newest`` first. Words in no dictionary are ``apart``:
        left out, unless a check is asked for; ``with`` lists them too, ``only`` them alone.
        ``holding`` leaves what keeps pages from being ready, by the site's policy."""
        return self._rake.every(
            f"/api/v1/sites/{site}/causes",
            models.Cause,
            sweep=sweep,
            environment=environment,
            check=check,
            weight=weight,
            outcome=outcome,
            zone=zone,
            by_template=by_template,
            handed_out=handed_out,
            words=words,
            holding=holding,
            sort=sort,
            limit=200,
        )

    async def show(
        self,
        site: str,
        key: str,
        *,
        sweep: int | None = None,
        environment: models.Environment | None = None,
    ) -> models.Cause:
        """Return one cause."""
        return await self._rake.get(
            f"/api/v1/sites/{site}/causes/{key}", models.Cause, sweep=sweep, environment=environment
        )


class AsyncViews:
    """Views over all pages of a sweep (default: the newest finished one of the environment)."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def sections(
        self,
        site: str,
        *,
        under: str = "/",
        sweep: int | None = None,
        environment: models.Environment | None = None,
    ) -> AsyncIterator[models.Section]:
        """Yield the sections and pages directly below a path that ends with '/'."""
        return self._rake.every(
            f"/api/v1/sites/{site}/sections",
            models.Section,
            under=under,
            sweep=sweep,
            environment=environment,
        )

    def pictures(
        self,
        site: str,
        *,
        contradictory: bool = False,
        without_text: bool = False,
        sweep: int | None = None,
        environment: models.Environment | None = None,
    ) -> AsyncIterator[models.PictureFile]:
        """Yield the pictures by file, the most used first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/pictures",
            models.PictureFile,
            contradictory=contradictory,
            without_text=without_text,
            sweep=sweep,
            environment=environment,
            limit=200,
        )

    def picture_uses(
        self,
        site: str,
        key: str,
        *,
        sweep: int | None = None,
        environment: models.Environment | None = None,
    ) -> AsyncIterator[models.PictureUse]:
        """Yield where one picture is used."""
        return self._rake.every(
            f"/api/v1/sites/{site}/picture-uses",
            models.PictureUse,
            key=key,
            sweep=sweep,
            environment=environment,
        )

    def colours(
        self, site: str, *, sweep: int | None = None, environment: models.Environment | None = None
    ) -> AsyncIterator[models.ColourPair]:
        """Yield the pairs of text and background colour, those that fail first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/colours", models.ColourPair, sweep=sweep, environment=environment
        )

    def links(
        self,
        site: str,
        *,
        text: str | None = None,
        target: str | None = None,
        state: models.LinkStateName | None = None,
        faulty: bool | None = None,
        sweep: int | None = None,
        environment: models.Environment | None = None,
    ) -> AsyncIterator[models.LinkText]:
        """Yield the links by text and address, the most used first; ``faulty`` ones do not lead
        where they should, or that cannot be told."""
        given = {
            "text": text,
            "target": target,
            "state": state,
            "faulty": faulty,
            "sweep": sweep,
            "environment": environment,
        }
        return self._rake.every(f"/api/v1/sites/{site}/links", models.LinkText, **given, limit=200)

    async def follow_links(
        self, site: str, *, environment: models.Environment | None = None
    ) -> models.LinkCheck:
        """Have every address that the newest sweep's pages lead to asked; ``link_check`` says how
        far that is."""
        query = f"?environment={environment}" if environment is not None else ""
        response = await self._rake.request("POST", f"/api/v1/sites/{site}/links/check{query}")
        return models.LinkCheck.model_validate_json(response.content)

    async def link_check(self, site: str) -> models.LinkCheck | None:
        """Return when a site's links were followed last and how far that is, or None."""
        response = await self._rake.request("GET", f"/api/v1/sites/{site}/links/check")
        return (
            models.LinkCheck.model_validate_json(response.content)
            if response.content != b"null"
            else None
        )

    def titles(
        self, site: str, *, sweep: int | None = None, environment: models.Environment | None = None
    ) -> AsyncIterator[models.TitleShared]:
        """Yield the titles, the most shared first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/titles",
            models.TitleShared,
            sweep=sweep,
            environment=environment,
            limit=200,
        )


class AsyncFixes:
    """Fixes: promises to mend, with an owner, closed by a reading."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def list(
        self,
        site: str,
        *,
        state: Sequence[models.FixState] | None = None,
        environment: models.Environment | None = None,
        mine: bool | None = None,
        owner: int | None = None,
        group: int | None = None,
        unowned: bool | None = None,
        check: str | None = None,
        weight: models.WeightName | None = None,
        cause: str | None = None,
        path: str | None = None,
        late: bool | None = None,
        sort: str = "reach",
    ) -> AsyncIterator[models.Fix]:
        """Yield a site's fixes that the filters let through, sorted by ``reach``, ``due`` or
        ``change``."""
        return self._rake.every(
            f"/api/v1/sites/{site}/fixes",
            models.Fix,
            state=[*state] if state else None,
            environment=environment,
            mine=mine,
            owner=owner,
            group=group,
            unowned=unowned,
            check=check,
            weight=weight,
            cause=cause,
            path=path,
            late=late,
            sort=sort,
            limit=200,
        )

    async def show(self, fix_id: int) -> models.FixInFull:
        """Return a fix with its history and what one can do with it now."""
        return await self._rake.get(f"/api/v1/fixes/{fix_id}", models.FixInFull)

    def places(self, fix_id: int) -> AsyncIterator[models.FixPlace]:
        """Yield a fix's places by page."""
        return self._rake.every(f"/api/v1/fixes/{fix_id}/places", models.FixPlace, limit=200)

    async def hand_out(
        self,
        site: str,
        *,
        causes: Sequence[str] = (),
        findings: Sequence[int] = (),
        environment: models.Environment | None = None,
        sweep: int | None = None,
        owner: models.OwnerChoice | None = None,
        due_on: date | None = None,
        why: str = "",
    ) -> Sequence[models.Fix]:
        """Make fixes of causes of a sweep (default: the newest finished one), or of single
        findings, and hand them out.

        Without ``owner`` each goes to whoever answers for its pages.
        """
        asked = models.NewFixes(
            causes=[*causes],
            findings=[*findings],
            environment=environment,
            sweep=sweep,
            owner=owner,
            due_on=due_on,
            why=why,
        )
        made = await self._rake.post(
            f"/api/v1/sites/{site}/fixes", asked, models.Listing[models.Fix]
        )
        return made.items

    async def move(
        self, fix: models.Fix, move: models.FixMoveName, *, why: str = "", **rest: Any
    ) -> models.FixInFull:
        """Move a fix, if it is still as it was read: ``take``, ``hand_in`` …; ``owner``,
        ``due_on``, ``proposal``, ``links`` where they belong."""
        body = models.FixMove(move=move, why=why, **rest).model_dump(
            mode="json", exclude_unset=True
        )
        headers = {"If-Match": fix.tag, "Idempotency-Key": str(uuid.uuid4())}
        response = await self._rake.request(
            "POST", f"/api/v1/fixes/{fix.id}/moves", headers=headers, json=body
        )
        return models.FixInFull.model_validate_json(response.content)

    async def move_all(
        self, site: str, ids: Sequence[int], move: models.FixMoveName, *, why: str = "", **rest: Any
    ) -> Sequence[models.MoveResult]:
        """Make the same move of several fixes, however they are now; each is moved or refused on
        its own."""
        body = models.FixMoves(ids=[*ids], move=move, why=why, **rest).model_dump(
            mode="json", exclude_unset=True
        )
        response = await self._rake.request("POST", f"/api/v1/sites/{site}/fixes/moves", json=body)
        return models.Listing[models.MoveResult].model_validate_json(response.content).items

    async def figures(self, site: str) -> models.FixFigures:
        """Return a site's fixes by state and by owner."""
        return await self._rake.get(f"/api/v1/sites/{site}/fixes/figures", models.FixFigures)

    async def desk(self, *, site: str | None = None, person: int | None = None) -> models.Desk:
        """Return what one (or, for managers, another) has to mend, page by page."""
        return await self._rake.get("/api/v1/desk", models.Desk, site=site, person=person)

    def history(
        self,
        site: str,
        *,
        cause: str | None = None,
        path: str | None = None,
        person: int | None = None,
    ) -> AsyncIterator[models.SiteEvent]:
        """Yield what happened to a site's fixes, the newest first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/history",
            models.SiteEvent,
            cause=cause,
            path=path,
            person=person,
            limit=200,
        )


class AsyncCorrections:
    """Corrections of the sources that pages are made from, and where those are."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def draft(
        self,
        site: str,
        finding: int,
        mend: dict[str, str],
        *,
        why: str = "",
        everywhere: bool = False,
        but: Sequence[int] = (),
        insist: bool = False,
        as_references: bool = False,
        description: int | None = None,
        wait: float = 20,
    ) -> models.CorrectionsMade:
        """Draft a mend of a finding, or (``everywhere``) of all places that have its cause; wait up
        to ``wait`` seconds for the first draft. ``description``: the describer's answer that its
        text was taken from."""
        asked = models.NewCorrection(
            finding=finding,
            mend=models.MendChoice(**mend),
            why=why,
            everywhere=everywhere,
            but=[*but],
            insist=insist,
            as_references=as_references,
            description=description,
            wait=wait,
        )
        path = f"/api/v1/sites/{site}/corrections"
        body = asked.model_dump(mode="json", exclude_none=True)
        response = await self._rake.request("POST", path, json=body)
        return models.CorrectionsMade.model_validate_json(response.content)

    def list(
        self,
        site: str,
        *,
        state: Sequence[models.CorrectionState] | None = None,
        environment: models.Environment | None = None,
        mine: bool | None = None,
        path: str | None = None,
        cause: str | None = None,
    ) -> AsyncIterator[models.Correction]:
        """Yield a site's corrections, the newest first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/corrections",
            models.Correction,
            state=list(state) if state else None,
            environment=environment,
            mine=mine,
            path=path,
            cause=cause,
            limit=200,
        )

    async def show(self, correction_id: int) -> models.CorrectionInFull:
        """Return a correction with its diff, its history and what one can do with it now."""
        return await self._rake.get(f"/api/v1/corrections/{correction_id}", models.CorrectionInFull)

    async def move(
        self,
        correction_id: int,
        move: models.CorrectionMoveName,
        *,
        why: str = "",
        insist: bool | None = None,
        as_references: bool | None = None,
    ) -> models.CorrectionInFull:
        """Take a correction back, or draft it again."""
        asked = models.CorrectionMove(
            move=move, why=why, insist=insist, as_references=as_references
        )
        response = await self._rake.request(
            "POST",
            f"/api/v1/corrections/{correction_id}/moves",
            json=asked.model_dump(mode="json", exclude_none=True),
        )
        return models.CorrectionInFull.model_validate_json(response.content)

    async def write(self, site: str, wanted: models.WriteCorrections) -> Sequence[int]:
        """Have drafts written into the site's sources; return their numbers."""
        response = await self._rake.request(
            "POST",
            f"/api/v1/sites/{site}/corrections/writing",
            json=wanted.model_dump(mode="json", exclude_none=True),
        )
        return models.CorrectionsToWrite.model_validate_json(response.content).ids

    async def diff(
        self,
        site: str,
        *,
        path: str | None = None,
        environment: models.Environment | None = None,
        mine: bool = False,
    ) -> str:
        """Return what drafts change as a unified diff."""
        return (await self._changes(site, "changes.diff", path, environment, mine=mine)).text

    async def archive(
        self,
        site: str,
        *,
        path: str | None = None,
        environment: models.Environment | None = None,
        mine: bool = False,
    ) -> bytes:
        """Return the pages with their drafts as a ZIP."""
        return (await self._changes(site, "changes.zip", path, environment, mine=mine)).content

    async def page(
        self, site: str, path: str, *, environment: models.Environment | None = None
    ) -> bytes:
        """Return a page's source with its drafts."""
        return (await self._changes(site, "page", path, environment, mine=False)).content

    async def _changes(
        self,
        site: str,
        name: str,
        path: str | None,
        environment: models.Environment | None,
        *,
        mine: bool,
    ) -> httpx.Response:
        given = {"path": path, "environment": environment, "mine": mine or None}
        wanted = {key: value for key, value in given.items() if value is not None}
        return await self._rake.request(
            "GET", f"/api/v1/sites/{site}/corrections/{name}", params=wanted
        )

    def alike(self, finding: int) -> AsyncIterator[models.PlaceAlike]:
        """Yield the places that have the same cause as a finding."""
        return self._rake.every(f"/api/v1/findings/{finding}/alike", models.PlaceAlike)

    async def markup(self, finding: int) -> str:
        """Return how the element of a finding is written in its page's source."""
        found = await self._rake.get(f"/api/v1/findings/{finding}/markup", models.Markup)
        return found.markup

    async def try_markup(self, finding: int, markup: str) -> models.TriedMarkup:
        """Return how the element of a finding is met with other markup; nothing is kept."""
        response = await self._rake.request(
            "POST", f"/api/v1/findings/{finding}/try", json={"markup": markup}
        )
        return models.TriedMarkup.model_validate_json(response.content)

    async def try_mend(self, finding: int, mend: dict[str, str]) -> models.TriedMarkup:
        """Return how the element of a finding is met with a mend carried out; nothing is kept."""
        response = await self._rake.request(
            "POST", f"/api/v1/findings/{finding}/try", json={"mend": mend}
        )
        return models.TriedMarkup.model_validate_json(response.content)

    async def texts(self, finding: int, *, wait: float = 15) -> models.ProposedTexts:
        """Return texts that the picture of a finding might get."""
        return await self._rake.get(
            f"/api/v1/findings/{finding}/texts", models.ProposedTexts, wait=wait
        )

    async def write_library_text(self, finding: int, text: str) -> models.LibraryText:
        """Write a text for the picture of a finding into the media library."""
        response = await self._rake.request(
            "POST", f"/api/v1/findings/{finding}/library-text", json={"text": text}
        )
        return models.LibraryText.model_validate_json(response.content)

    async def take_back_library_text(self, number: int) -> models.LibraryText:
        """Write the text that a picture of the media library had before."""
        response = await self._rake.request("POST", f"/api/v1/library-texts/{number}/take-back")
        return models.LibraryText.model_validate_json(response.content)

    def library_texts(self, site: str) -> AsyncIterator[models.LibraryText]:
        """Yield the texts that were written into a site's media library, the newest first."""
        return self._rake.every(f"/api/v1/sites/{site}/library-texts", models.LibraryText)

    async def describe(self, finding: int, *, wait: float = 20) -> models.Description:
        """Have the picture of a finding described by the organisation's describer."""
        response = await self._rake.request(
            "POST", f"/api/v1/findings/{finding}/descriptions", params={"wait": wait}
        )
        return models.Description.model_validate_json(response.content)

    def descriptions(self, site: str) -> AsyncIterator[models.Description]:
        """Yield what the describer was sent of a site's pictures, the newest first."""
        return self._rake.every(f"/api/v1/sites/{site}/descriptions", models.Description)

    def connections(self, site: str) -> AsyncIterator[models.SourceConnection]:
        """Yield where a site's sources are."""
        return self._rake.every(f"/api/v1/sites/{site}/connections", models.SourceConnection)

    async def connect(
        self, site: str, environment: models.Environment, connection: models.NewConnection
    ) -> models.SourceConnection:
        """Say where the sources of an environment of a site are; it is tried first."""
        response = await self._rake.request(
            "PUT",
            f"/api/v1/sites/{site}/connections/{environment}",
            json=connection.model_dump(mode="json", exclude_none=True),
        )
        return models.SourceConnection.model_validate_json(response.content)

    async def check_connection(
        self, site: str, environment: models.Environment
    ) -> models.SourceConnection:
        """Try a connection, and return what works and what does not."""
        response = await self._rake.request(
            "POST", f"/api/v1/sites/{site}/connections/{environment}/check"
        )
        return models.SourceConnection.model_validate_json(response.content)

    async def disconnect(self, site: str, environment: models.Environment) -> None:
        """Forget where the sources of an environment of a site are."""
        await self._rake.request("DELETE", f"/api/v1/sites/{site}/connections/{environment}")


class AsyncDecisions:
    """Waivers and judgements."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def waive(
        self, finding_id: int, *, scope: str, reason: str, ends_on: date, pattern: str | None = None
    ) -> models.Waiver:
        """Accept a finding, or all like it (``place``, ``page``, ``cause``, ``check`` on an area),
        until a day."""
        body = models.NewWaiver.model_validate(
            {"scope": scope, "reason": reason, "ends_on": ends_on, "pattern": pattern}
        )
        return await self._rake.post(f"/api/v1/findings/{finding_id}/waiver", body, models.Waiver)

    def waivers(self, site: str, *, in_force: bool | None = None) -> AsyncIterator[models.Waiver]:
        """Yield a site's waivers, the newest first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/waivers", models.Waiver, in_force=in_force, limit=200
        )

    async def waivers_as_csv(self, site: str) -> str:
        """Return all of a site's waivers as CSV."""
        return (await self._rake.request("GET", f"/api/v1/sites/{site}/waivers.csv")).text

    async def end_waiver(self, site: str, waiver_id: int) -> None:
        """End a waiver before its day."""
        await self._rake.request("DELETE", f"/api/v1/sites/{site}/waivers/{waiver_id}")

    async def decide_causes(
        self,
        site: str,
        causes: Sequence[str],
        sweep: int,
        reason: str,
        *,
        ends_on: date | None = None,
        answer: Literal["fault", "fine"] | None = None,
    ) -> models.Decided:
        """Waive causes of a sweep until a day, or answer all their doubtful places; all or none."""
        body = models.NewDecisions(
            causes=[*causes], sweep=sweep, reason=reason, ends_on=ends_on, answer=answer
        )
        return await self._rake.post(f"/api/v1/sites/{site}/decisions", body, models.Decided)

    async def judge(self, finding_id: int, answer: str, note: str) -> models.Judgement:
        """Answer a doubtful finding: ``fault`` or ``fine``."""
        body = models.NewJudgement.model_validate({"answer": answer, "note": note})
        return await self._rake.post(
            f"/api/v1/findings/{finding_id}/judgement", body, models.Judgement
        )

    def judgements(
        self, site: str, *, lapsed: bool | None = None
    ) -> AsyncIterator[models.Judgement]:
        """Yield a site's judgements, the newest first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/judgements", models.Judgement, lapsed=lapsed, limit=200
        )

    async def end_judgement(self, site: str, judgement_id: int) -> None:
        """Take a judgement back."""
        await self._rake.request("DELETE", f"/api/v1/sites/{site}/judgements/{judgement_id}")


class AsyncReadings:
    """Single pages over time, and the views of them; finding anything by its words."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def of_page(
        self, site: str, path: str, *, environment: models.Environment | None = None
    ) -> AsyncIterator[models.ReadingInFull]:
        """Yield a page's readings, the newest first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/readings",
            models.ReadingInFull,
            path=path,
            environment=environment,
        )

    async def show(self, reading_id: int) -> models.ReadingInFull:
        """Return one reading."""
        return await self._rake.get(f"/api/v1/readings/{reading_id}", models.ReadingInFull)

    async def view(
        self, reading_id: int, name: models.PageViewName, *, selector: str | None = None
    ) -> models.PageView:
        """Return one view of the page of a reading (of one element alone, where ``selector`` is
        given)."""
        return await self._rake.get(
            f"/api/v1/readings/{reading_id}/views/{name}", models.PageView, selector=selector
        )

    async def picture(
        self, reading_id: int, kind: models.PagePictureKind, *, wait: float = 20
    ) -> models.PagePicture:
        """Return a picture of a reading's page, drawn as is wanted; it is waited for at most
        ``wait`` seconds."""
        return await self._rake.get(
            f"/api/v1/readings/{reading_id}/pictures/{kind}", models.PagePicture, wait=wait
        )

    async def find(self, site: str, words: str) -> Sequence[models.FoundThing]:
        """Return pages, causes, fixes, checks and people that the words are found in, a few of
        each."""
        return (
            await self._rake.get(
                f"/api/v1/sites/{site}/find", models.Listing[models.FoundThing], words=words
            )
        ).items


class AsyncWords:
    """Words in no dictionary, and those that are right on a site all the same."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def doubtful(
        self,
        site: str,
        *,
        path: str | None = None,
        sweep: int | None = None,
        environment: models.Environment | None = None,
    ) -> AsyncIterator[models.DoubtfulWord]:
        """Yield the words of a sweep, or of one page of it, that are in no dictionary: those on
        most pages first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/doubtful-words",
            models.DoubtfulWord,
            path=path,
            sweep=sweep,
            environment=environment,
            limit=200,
        )

    def list(self, site: str) -> AsyncIterator[models.SiteWord]:
        """Yield a site's own words in the order of the alphabet."""
        return self._rake.every(f"/api/v1/sites/{site}/words", models.SiteWord, limit=200)

    async def add(self, site: str, words: Sequence[str]) -> int:
        """Make words a site's own; return how many are new."""
        return (
            await self._rake.post(
                f"/api/v1/sites/{site}/words", models.NewWords(words=[*words]), models.WordsAdded
            )
        ).added

    async def drop(self, site: str, word: str) -> None:
        """Let a word be doubtful again."""
        await self._rake.request("DELETE", f"/api/v1/sites/{site}/words/{quote(word, safe='')}")

    async def suggest(self, word: str, language: str = "en") -> Sequence[str]:
        """Return what may have been meant by a word, the likeliest first."""
        return (
            await self._rake.get(
                "/api/v1/suggestions", models.Suggestions, word=word, language=language
            )
        ).suggestions


class AsyncReviews:
    """Questions that only people can answer: where they are asked, and the answers."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def questions(self) -> list[models.QuestionHelp]:
        """Return the questions, with what a fault is."""
        found = await self._rake.get("/api/v1/questions", models.Listing[models.QuestionHelp])
        return found.items

    async def show(self, site: str, environment: models.Environment = "live") -> models.Review:
        """Return how far the review of a site is: its pages, and its questions."""
        return await self._rake.get(
            f"/api/v1/sites/{site}/review", models.Review, environment=environment
        )

    async def question(
        self,
        site: str,
        question: str,
        *,
        path: str | None = None,
        environment: models.Environment = "live",
    ) -> models.AskedQuestion:
        """Return one question about a page, or about the site, with what there is to see."""
        return await self._rake.get(
            f"/api/v1/sites/{site}/review/question",
            models.AskedQuestion,
            question=question,
            path=path,
            environment=environment,
        )

    async def next(
        self, site: str, wanted: models.WantedQuestion | None = None
    ) -> models.NextQuestion:
        """Return the next question that waits for an answer; for ten minutes nobody else is given
        it."""
        return await self._rake.post(
            f"/api/v1/sites/{site}/review/next",
            wanted or models.WantedQuestion(),
            models.NextQuestion,
        )

    async def answer(self, site: str, answer: models.NewReviewAnswer) -> models.ReviewAnswer:
        """Answer a question; its faults are findings at once."""
        return await self._rake.post(
            f"/api/v1/sites/{site}/review/answers", answer, models.ReviewAnswer
        )

    def answers(
        self, site: str, *, environment: models.Environment = "live", in_force: bool = False
    ) -> AsyncIterator[models.ReviewAnswer]:
        """Yield what people answered, the newest first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/review/answers",
            models.ReviewAnswer,
            environment=environment,
            in_force=in_force,
        )

    async def take_back(
        self, site: str, answer: int, environment: models.Environment = "live"
    ) -> None:
        """Take an answer back: the question is open again."""
        await self._rake.request(
            "DELETE",
            f"/api/v1/sites/{site}/review/answers/{answer}?environment={environment}",
        )

    async def way(self, site: str) -> models.Way:
        """Return how far a site is on the way from registering it to the gate."""
        return await self._rake.get(f"/api/v1/sites/{site}/way", models.Way)

    async def put_way_away(self, site: str, *, away: bool = True) -> None:
        """Put the way away, or let it be seen again."""
        await self._rake.request("PUT", f"/api/v1/sites/{site}/way", json={"put_away": away})

    async def choose(self, site: str, page: models.ChosenPage) -> None:
        """Take a page into the review, leave it out, or leave it as it is proposed."""
        await self._rake.request(
            "PUT", f"/api/v1/sites/{site}/review/pages", json=page.model_dump(mode="json")
        )


class AsyncStatements:
    """Accessibility statements: proposed from the facts, written, published."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def propose(
        self, site: str, language: models.StatementLanguage = "en"
    ) -> models.ProposedStatement:
        """Return a statement as the facts give it, to be edited."""
        return await self._rake.get(
            f"/api/v1/sites/{site}/statement/proposal", models.ProposedStatement, language=language
        )

    async def list(self, site: str) -> list[models.Statement]:
        """Return the versions, the newest first."""
        found = await self._rake.get(
            f"/api/v1/sites/{site}/statements", models.Listing[models.Statement]
        )
        return found.items

    async def write(self, site: str, statement: models.NewStatement) -> models.Statement:
        """Keep a version; it is not public yet."""
        return await self._rake.post(
            f"/api/v1/sites/{site}/statements", statement, models.Statement
        )

    async def publish(self, site: str, statement: int) -> models.Statement:
        """Let a version be the public one."""
        where = f"/api/v1/sites/{site}/statements/{statement}/publish"
        answered = await self._rake.request("POST", where)
        return models.Statement.model_validate_json(answered.content)

    async def text(self, site: str, statement: int, form: models.StatementForm = "html") -> str:
        """Return a version as a page, or as Markdown."""
        where = f"/api/v1/sites/{site}/statements/{statement}"
        return (await self._rake.request("GET", where, params={"as": form})).text


class AsyncItems:
    """Items of content systems: what is going out, and who its authors are here."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def going_out(self, site: str, *, mine: bool = False) -> list[models.GoingOut]:
        """Return what is not public yet, with the newest answer about it."""
        found = await self._rake.get(
            f"/api/v1/sites/{site}/going-out", models.Listing[models.GoingOut], mine=mine
        )
        return found.items

    async def sync(self, site: str) -> None:
        """Have the items listed anew now."""
        await self._rake.request("POST", f"/api/v1/sites/{site}/going-out/list")

    async def changed(self, site: str, item: str) -> None:
        """Say that an item was changed: it is read as it would go out."""
        body = models.ItemChanged(item=item).model_dump(mode="json")
        await self._rake.request("POST", f"/api/v1/sites/{site}/items/changed", json=body)

    async def found(
        self, site: str, path: str, *, environment: models.Environment = "live"
    ) -> models.PageFound:
        """Return what counts or is doubtful on a page of the live site."""
        return await self._rake.get(
            f"/api/v1/sites/{site}/found", models.PageFound, path=path, environment=environment
        )

    async def authors(self, site: str) -> list[models.ItemAuthor]:
        """Return the authors of a site's items, and who they are here."""
        found = await self._rake.get(
            f"/api/v1/sites/{site}/authors", models.Listing[models.ItemAuthor]
        )
        return found.items

    async def set_author(self, site: str, email: str, person_id: int | None) -> None:
        """Say who an author is here; None: whoever has the e-mail address."""
        body = models.AuthorChoice(email=email, person_id=person_id).model_dump(mode="json")
        await self._rake.request("PUT", f"/api/v1/sites/{site}/authors", json=body)


class AsyncGate:
    """Asking before a publication, and publishing on the answer."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    async def ask(
        self,
        site: str,
        path: str,
        *,
        document: str | None = None,
        fragment: str | None = None,
        frame: str | None = None,
        slot: str | None = None,
        address: str | None = None,
        lens: models.Lens = "rendered",
        wait: float = 20,
    ) -> models.Clearance:
        """Return the answer about a content: a whole document, a fragment in its page frame, a
        preview address, or the page as it stands in staging.

        An answer that takes longer than ``wait`` seconds comes as ``waiting``; ``show`` has it
        later.
        """
        asked = models.NewQuestion(
            path=path,
            lens=lens,
            document=document,
            fragment=fragment,
            frame=frame,
            slot=slot,
            address=address,
            wait=wait,
        )
        response = await self._rake.request(
            "POST",
            f"/api/v1/sites/{site}/gate",
            json=asked.model_dump(mode="json", exclude_none=True),
            timeout=wait + 30,
        )
        return models.Clearance.model_validate_json(response.content)

    async def show(self, clearance_id: int) -> models.Clearance:
        """Return a clearance, with its seal where one may publish on it."""
        return await self._rake.get(f"/api/v1/clearances/{clearance_id}", models.Clearance)

    def list(
        self,
        site: str,
        *,
        decision: models.DecisionName | None = None,
        path: str | None = None,
        overruled: bool | None = None,
    ) -> AsyncIterator[models.Clearance]:
        """Yield a site's clearances, the newest first."""
        return self._rake.every(
            f"/api/v1/sites/{site}/clearances",
            models.Clearance,
            decision=decision,
            path=path,
            overruled=overruled,
        )

    async def overrule(self, clearance_id: int, why: str) -> models.Clearance:
        """Let a held content be published all the same."""
        return await self._rake.post(
            f"/api/v1/clearances/{clearance_id}/overruling",
            models.Overruling(why=why),
            models.Clearance,
        )

    async def use(self, clearance: models.Clearance, content_hash: str) -> models.Clearance:
        """Use a clearance for the content of this hash, once, just before it is published."""
        body = models.ClearanceUse(
            path=clearance.path, content_hash=content_hash, seal=clearance.seal or "none"
        )
        response = await self._rake.request(
            "POST", f"/api/v1/clearances/{clearance.id}/use", json=body.model_dump(mode="json")
        )
        return models.Clearance.model_validate_json(response.content)

    async def published(self, site: str, path: str) -> models.Sweep:
        """Say that a page was published; it is read again, which proves its fixes."""
        return await self._rake.post(
            f"/api/v1/sites/{site}/published", models.Published(path=path), models.Sweep
        )

    async def ask_release(
        self,
        site: str,
        name: str,
        *,
        paths: Sequence[str] = (),
        section: str | None = None,
        lens: models.Lens = "rendered",
    ) -> models.Release:
        """Ask what publishing pages of staging together would bring and mend."""
        asked = models.NewRelease(name=name, paths=[*paths], section=section, lens=lens)
        return await self._rake.post(f"/api/v1/sites/{site}/releases", asked, models.Release)

    async def show_release(self, release_id: int) -> models.Release:
        """Return a release with the answers that are there."""
        return await self._rake.get(f"/api/v1/releases/{release_id}", models.Release)

    async def try_rules(self, site: str, gate: dict[str, Any], days: int = 30) -> models.GateTrial:
        """Return what other rules would have answered in the last days."""
        return await self._rake.post(
            f"/api/v1/sites/{site}/gate/trial",
            models.GateToTry(gate=gate, days=days),
            models.GateTrial,
        )


class AsyncNotifications:
    """Notifications, webhooks, and the e-mails that the demo catches."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def notifications(self, *, unread: bool | None = None) -> AsyncIterator[models.Notification]:
        """Yield what one was told, the newest first."""
        return self._rake.every(
            "/api/v1/notifications", models.Notification, unread=unread, limit=200
        )

    async def seen(self, notification_id: int) -> None:
        """Say that one has seen one's notifications up to one."""
        await self._rake.request("POST", "/api/v1/notifications/seen", json={"id": notification_id})

    def webhooks(self, site: str) -> AsyncIterator[models.Webhook]:
        """Yield a site's webhooks."""
        return self._rake.every(f"/api/v1/sites/{site}/webhooks", models.Webhook)

    async def add_webhook(
        self, site: str, address: str, kinds: Sequence[str] = ()
    ) -> models.Webhook:
        """Add a webhook; the ``secret`` is in this answer and never again."""
        return await self._rake.post(
            f"/api/v1/sites/{site}/webhooks",
            models.NewWebhook(address=address, kinds=[*kinds]),
            models.Webhook,
            again=False,
        )

    async def end_webhook(self, site: str, webhook_id: int) -> None:
        """End a webhook."""
        await self._rake.request("DELETE", f"/api/v1/sites/{site}/webhooks/{webhook_id}")

    def deliveries(self, site: str) -> AsyncIterator[models.Delivery]:
        """Yield what was sent to a site's webhooks, the newest first."""
        return self._rake.every(f"/api/v1/sites/{site}/deliveries", models.Delivery, limit=200)

    async def send_again(self, site: str, delivery_id: int) -> None:
        """Try a delivery again at once."""
        await self._rake.request("POST", f"/api/v1/sites/{site}/deliveries/{delivery_id}/again")

    def emails(self) -> AsyncIterator[models.CaughtEmail]:
        """Yield the e-mails that were caught, the newest first."""
        return self._rake.every("/api/v1/emails", models.CaughtEmail)


class AsyncChecks:
    """The catalogue of checks."""

    def __init__(self, rake: AsyncPlumRake) -> None:
        self._rake = rake

    def list(self) -> AsyncIterator[models.CheckHelp]:
        """Yield every check."""
        return self._rake.every("/api/v1/checks", models.CheckHelp)

    async def show(self, identifier: str) -> models.CheckHelp:
        """Return one check's help page."""
        return await self._rake.get(f"/api/v1/checks/{identifier}", models.CheckHelp)
