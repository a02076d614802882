"""The gate: a content is asked for, read by a worker, compared with the live page, and answered; a
clearance is overruled, and used once.

A clearance is sealed: number, site, page, hash, decision, last
moment, lens, policy and core together with a key of the
service's own. Whoever publishes shows the seal with the hash of what is about to go out, so nothing
else goes out on it.
"""

from __future__ import annotations

import asyncio
import hashlib
import hmac
import json
import secrets
import time
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime
from typing import Any

from plumrake import __version__
from plumrake.actions.drafted_sources import DraftedSource
from plumrake.actions.fixes import Actor
from plumrake.actions.notifying import tell_clearance, tell_release
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.reading import PageResult, follow_links, read_and_assess
from plumrake.actions.reading_by_source import read_by_source_first
from plumrake.actions.secret_hashes import same_secret
from plumrake.actions.site_sources import SourceSettings, reading_headers
from plumrake.actions.sites import (
    ground_of,
    origin_of_environment,
    policy_of_site,
    private_origins,
    with_own_words,
)
from plumrake.actions.sweeps import SweepRequest, start_sweep
from plumrake.actions.swept_links import environments_of
from plumrake.core.assess import Assessment
from plumrake.core.blocks import FRAME, block_says
from plumrake.core.content_hash import hash_of
from plumrake.core.editor_words import in_editor
from plumrake.core.evidence import Network
from plumrake.core.findings import Finding, Needs, as_dict
from plumrake.core.gate import (
    Answer,
    Decision,
    GateFacts,
    GateStanding,
    Judged,
    LiveFinding,
    Origin,
    Publication,
    Tally,
    decide,
    tally,
    together,
)
from plumrake.core.policy import Policy
from plumrake.core.probes import PageLink
from plumrake.core.registry import catalogue
from plumrake.lenses.assessor import Assessor
from plumrake.lenses.frame import set_into_frame
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import Obtained, PageReader, open_markup
from plumrake.lenses.runners import AssessorLost
from plumrake.net.fetch import Fetched
from plumrake.net.problems import Problem, Unreadable
from plumrake.records import connections, evidence, gate, items, sites, sweeps
from plumrake.records.gate import ClearanceRow, NewAnswer, NewClearance
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow

MOST_WAITING, _MOST_OF_ONE = 60, 40
_AHEAD, _PART_OF_A_RELEASE = -500, -1_000
"""The priorities of what is read ahead and of pages that are asked for together: whoever asks for
one page goes first, and of these who has the fewest waiting."""
_SECONDS_EACH = 1.0
_LONGEST_SECONDS = 40.0
_LINK_SECONDS = 4.0
_MOST_JUDGED = 2_000
_MOST_PAGES = 2_000
_SEAL = "clearances"


class GateBusy(RuntimeError):
    """So many wait already that an answer would take too long; ``seconds`` says when to ask
    again."""

    code = "gate-busy"

    def __init__(self, seconds: int, *, of_one: bool) -> None:
        whose = "from you" if of_one else "to read"
        super().__init__(
            f"the gate has more {whose} than it can answer in time; ask again in {seconds} s"
        )
        self.seconds = seconds


class BadQuestion(ValueError):
    """What is asked does not hold together."""

    code = "not-valid"


class ClearanceRefused(ValueError):
    """A clearance is not good for what it is shown for: ``code`` says why."""

    def __init__(self, code: str, says: str) -> None:
        super().__init__(says)
        self.code = code


@dataclass(frozen=True, slots=True)
class Acted:
    """Who a program acts for, as its own system knows them."""

    name: str
    email: str


@dataclass(frozen=True, slots=True)
class Question:
    """A page to be published: its path, and one of a whole ``document``, a ``fragment`` (for
    ``slot`` of the page ``frame``), or a preview ``address``.

    None of them: the page as it stands in staging. A content system names its ``item`` and the
    ``version`` of it, which is not read twice, and who it acts for. ``is_ahead``: nobody publishes
    it yet.
    """

    path: str
    lens: str = "rendered"
    document: str | None = None
    fragment: str | None = None
    frame: str | None = None
    slot: str | None = None
    address: str | None = None
    version: str | None = None
    item: str | None = None
    asked_for: Acted | None = None
    is_ahead: bool = False


async def ask(
    connection: Connection,
    enqueue: Enqueue,
    site: SiteRow,
    question: Question,
    by: Actor,
    release_id: int | None = None,
) -> int:
    """Keep a question and put it into the queue; return the clearance's number. Raises
    ``GateBusy``, ``BadQuestion``, ``NoEnvironment``."""
    assert by.id is not None
    acted = question.asked_for
    priority = _PART_OF_A_RELEASE
    if release_id is None:
        own, waiting = await gate.count_waiting(
            connection,
            by.id,
            acted.name if acted is not None else None,
            is_ahead=question.is_ahead,
        )
        if waiting >= MOST_WAITING or own >= _MOST_OF_ONE:
            left = own if own >= _MOST_OF_ONE else waiting
            raise GateBusy(max(1, round(left * _SECONDS_EACH / 2)), of_one=own >= _MOST_OF_ONE)
        priority = _AHEAD if question.is_ahead else -own
    for_id = await items.person_for(connection, site.id, acted.email) if acted is not None else None
    new = replace(
        _new(site, question, by.id, release_id),
        version=question.version,
        item=question.item,
        asked_for=acted.name if acted is not None else None,
        asked_for_id=for_id,
        is_ahead=question.is_ahead,
    )
    async with connection.transaction():
        if new.item is not None and new.version is not None:
            known = await gate.known_clearance(connection, site.id, new.item, new.version, new.lens)
            if known is not None:
                if not new.is_ahead:
                    await gate.take_over(connection, known, by.id, new.asked_for, for_id)
                return known
        clearance_id = await gate.add_clearance(connection, new)
        given = {"clearance_id": clearance_id}
        await enqueue(connection, "answer_gate", given, priority=priority)
    return clearance_id


def _new(site: SiteRow, question: Question, asked_by: int, release_id: int | None) -> NewClearance:
    given = [
        name for name in ("document", "fragment", "address") if getattr(question, name) is not None
    ]
    if len(given) > 1:
        raise BadQuestion(
            f"{given[1]}: give one of a document, a fragment or an address, not several"
        )
    given_as = given[0] if given else "staging"
    rules = policy_of_site(site).gate
    frame, slot = question.frame or rules.frame, question.slot or rules.slot
    if given_as == "fragment" and (frame is None or slot is None):
        raise BadQuestion(
            "frame: a fragment needs the path of a page of the site as its frame, and the "
            "CSS of its slot; here or in the policy"
        )
    if given_as == "address":
        address = question.address or ""
        _check_preview(site, address)
    else:
        address = (
            origin_of_environment(site, "staging" if given_as == "staging" else "live")
            + question.path
        )
    text = (
        question.document
        if given_as == "document"
        else question.fragment
        if given_as == "fragment"
        else None
    )
    content = text.encode("utf-8", "replace") if text is not None else None
    return NewClearance(
        site.id,
        question.path,
        given_as,
        address,
        "rendered" if rules.least_reading == "browser" else question.lens,
        asked_by,
        content,
        hash_of(content) if content is not None else None,
        frame if given_as == "fragment" else None,
        slot if given_as == "fragment" else None,
        release_id,
    )


def _check_preview(site: SiteRow, address: str) -> None:
    """Refuse preview addresses of other hosts than the site's own: the service fetches nothing just
    because somebody names it."""
    own = {
        origin_of_environment(site, "live"),
        *([origin_of_environment(site, "staging")] if site.staging_address else []),
    }
    if "/".join(address.split("/", 3)[:3]) not in own:
        raise BadQuestion(
            f"address: '{address}' is at none of the site's own addresses, "
            f"{' and '.join(sorted(own))}"
        )


async def ask_release(
    connection: Connection,
    enqueue: Enqueue,
    site: SiteRow,
    name: str,
    paths: Sequence[str],
    section: str | None,
    lens: str,
    by: Actor,
) -> int:
    """Ask for pages of staging that are published together: given ones, or all below a section.
    Return the release's number.

    Raises ``BadQuestion``, ``NoEnvironment``.
    """
    assert by.id is not None
    wanted = list(dict.fromkeys(paths))
    if section is not None:
        newest = await sweeps.newest_done(connection, site.id, "staging")
        known = (
            await sweeps.readings(
                connection, newest, sort="path", after=None, limit=_MOST_PAGES + 1, path=section
            )
            if newest is not None
            else []
        )
        wanted += [one.path for one in known if one.path not in wanted and "#~" not in one.path]
    if not wanted:
        raise BadQuestion("paths: name at least one page, or a section of staging that was swept")
    if len(wanted) > _MOST_PAGES:
        raise BadQuestion(
            f"paths: a release may have {_MOST_PAGES:,} pages; part this one of {len(wanted):,}"
        )
    async with connection.transaction():
        release_id = await gate.add_release(connection, site.id, name, by.id)
        for path in wanted:
            await ask(connection, enqueue, site, Question(path, lens), by, release_id)
    return release_id


async def answer(
    connect: Connect,
    readers: ReaderFor,
    clearance_id: int,
    sources: SourceSettings | None = None,
) -> None:
    """Read what a clearance waits with, and the live page, and keep the answer. Whatever goes wrong
    is an answer too: held."""
    start = time.monotonic()
    async with connect() as connection:
        clearance = await gate.clearance_by_id(connection, clearance_id)
        if clearance is None or clearance.state != "waiting":
            return
        site = await sites.site_by_id(connection, clearance.site_id)
        content = await gate.content_of(connection, clearance_id)
        policy = await with_own_words(connection, site.id, policy_of_site(site))
        row = await connections.connection_of(connection, site.id, "live")
    headers = await reading_headers(site, "live", row, sources or SourceSettings())
    async with readers(clearance.lens, tuple(private_origins(site))) as reader:
        desk = _Desk(connect, reader, site, policy, clearance, content, headers)
        try:
            result, live = await asyncio.wait_for(desk.read(), _LONGEST_SECONDS)
        except TimeoutError:
            result, live = (
                desk.unread(
                    Problem("timed-out", f"reading the page took over {_LONGEST_SECONDS:.0f} s")
                ),
                None,
            )
        except Unreadable as problem:
            result, live = desk.unread(problem.problem), None
    async with connect() as connection, connection.transaction():
        findings = result.assessment.findings if result.problem is None else None
        untested = [one.check for one in result.assessment.untested]
        answered = await _decided(connection, clearance, policy, findings, live, untested)
        picture = None
        if result.picture is not None:
            picture = hash_of(result.picture)
            await evidence.keep(connection, picture, "image/jpeg", result.picture)
        kept = await gate.keep_answer(
            connection,
            clearance_id,
            _shaped(
                answered,
                result,
                live,
                clearance,
                policy,
                picture,
                time.monotonic() - start,
                _version_of(site.policy),
            ),
        )
        if kept and not clearance.is_ahead:
            await _tell(connection, clearance_id)


async def _decided(
    connection: Connection,
    clearance: ClearanceRow,
    policy: Policy,
    findings: Sequence[Finding] | None,
    live: Sequence[LiveFinding] | None,
    untested: Sequence[str],
) -> Answer:
    """Return the answer to a question, of which the draft's and the live page's findings are known,
    and what could not be tested."""
    asked = Publication(
        clearance.path,
        findings,
        live,
        await gate.waivers_in_force(connection, clearance.site_id),
        await gate.template_causes(connection, clearance.site_id),
        untested,
    )
    return decide(asked, policy.gate, policy.hold, datetime.now(UTC).date())


async def _tell(connection: Connection, clearance_id: int) -> None:
    clearance = await gate.clearance_by_id(connection, clearance_id)
    assert clearance is not None
    await tell_clearance(connection, clearance)
    if clearance.release_id is not None and await gate.end_release(
        connection, clearance.release_id
    ):
        release = await gate.release_by_id(connection, clearance.release_id)
        assert release is not None
        pages = await gate.of_release(connection, release.id)
        await tell_release(connection, release, pages, together([tally_of(one) for one in pages]))


def tally_of(clearance: ClearanceRow) -> Tally:
    """Return what publishing the page of a clearance comes to."""
    decision = Decision(clearance.decision) if clearance.decision is not None else None
    unread = clearance.problem_code is not None
    return tally(
        decision,
        [Origin(one["origin"]) for one in clearance.judged],
        0 if unread else clearance.live_count,
    )


def _shaped(
    answered: Answer,
    result: PageResult,
    live: Sequence[LiveFinding] | None,
    clearance: ClearanceRow,
    policy: Policy,
    picture: str | None,
    seconds: float,
    policy_version: str,
) -> NewAnswer:
    problem = result.problem
    return NewAnswer(
        decision=answered.decision.value,
        reason=f"{answered.reason} {problem.says[0].upper()}{problem.says[1:]}."
        if problem is not None
        else answered.reason,
        title=result.title,
        problem_code=problem.code if problem is not None else None,
        judged=[_kept(one, policy) for one in answered.judged[:_MOST_JUDGED]],
        live_count=len(live or ()),
        untested=[{"check": one.check, "needs": one.needs} for one in result.assessment.untested],
        picture=picture,
        seconds=seconds,
        content_hash=None if clearance.content_hash is not None else result.content_hash,
        minutes=policy.gate.valid_minutes,
        policy_version=policy_version,
        core_version=__version__,
    )


def _kept(one: Judged, policy: Policy) -> dict[str, Any]:
    own = policy.help_for(one.finding.check)
    return {
        **as_dict(one.finding),
        "where": block_says(one.finding.block),
        "in_editor": in_editor(one.finding.block, one.finding.check),
        "origin": one.origin.value,
        "standing": one.standing.value,
        "waiver": one.facts.waiver,
        "answer": one.facts.answer,
        **({"own_help": asdict(own)} if own is not None else {}),
    }


def stored_facts(item: Mapping[str, Any]) -> GateFacts:
    """Return what a kept answer's finding was decided by, for trying other rules on it."""
    answer = item.get("answer")
    if answer is None and item["standing"] == GateStanding.JUDGED_FINE:
        answer = "fine"  # an answer kept before answers were kept by themselves
    return GateFacts(
        item["check"],
        item["weight"],
        item["outcome"],
        Origin(item["origin"]),
        answer,
        item.get("waiver"),
    )


def _known(one: Finding) -> LiveFinding:
    return LiveFinding(one.check, one.place_key, one.says, one.excerpt)


class _Desk:
    """Reads the two sides of one question: the page as it would be, and the live page."""

    def __init__(
        self,
        connect: Connect,
        reader: PageReader,
        site: SiteRow,
        policy: Policy,
        clearance: ClearanceRow,
        content: bytes | None,
        headers: Mapping[str, str],
    ) -> None:
        self._headers = headers
        self._connect = connect
        self._reader = reader
        self._site = site
        self._policy = policy
        self._asked = clearance
        self._content = content
        self._live_address = origin_of_environment(site, "live") + clearance.path
        self._first_line = 0
        self._environments = environments_of(site)

    async def _follow(self, found: Sequence[PageLink]) -> Network:
        return await self._reader.links.look(found, self._environments, _LINK_SECONDS)

    async def read(self) -> tuple[PageResult, list[LiveFinding] | None]:
        """Return the page as it would be, and what the live page has; None where there is none that
        could be read."""
        live = asyncio.ensure_future(self._live())
        return await asyncio.gather(self._draft(live), live)

    def unread(self, problem: Problem) -> PageResult:
        """Return the reading of a page that could not be read."""
        return PageResult(address=self._live_address, lens=self._asked.lens, problem=problem)

    async def _draft(self, live: asyncio.Future[list[LiveFinding] | None]) -> PageResult:
        fetched = await self._fetched()

        async def obtain(options: ReadOptions) -> Obtained:
            return await self._reader.read_fetched(fetched, self._live_address, options)

        def worth(assessment: Assessment) -> bool:
            return bool(assessment.findings)

        policy, runners = self._policy, self._reader.runners
        by_source = (
            policy.reading == "both"
            and policy.wait_for is None
            and policy.gate.least_reading != "browser"
        )
        if self._asked.lens == "rendered" and by_source:

            async def is_held(assessment: Assessment) -> bool:
                found, before = self._as_asked(assessment.findings), await live
                untested = [one.check for one in assessment.untested]
                async with self._connect() as connection:
                    answer = await _decided(
                        connection, self._asked, policy, found, before, untested
                    )
                return answer.decision is Decision.HELD

            source = DraftedSource(self._connect, self._site.id, is_held)
            result = await read_by_source_first(
                obtain, policy, runners, source, worth=worth, follow=self._follow, inventory=False
            )
        else:
            result = await read_and_assess(
                obtain, policy, runners, worth=worth, follow=self._follow
            )
        return replace(
            result,
            assessment=replace(
                result.assessment, findings=self._as_asked(result.assessment.findings)
            ),
        )

    async def _fetched(self) -> Fetched:
        """Return the content that is asked for, as it would come from the page's live address."""
        asked = self._asked
        if asked.given_as in ("address", "staging"):
            return replace(await self._reader.fetch(asked.address), address=self._live_address)
        assert self._content is not None
        if asked.given_as == "document":
            return Fetched(
                self._live_address, 200, {"content-type": "text/html; charset=utf-8"}, self._content
            )
        assert asked.frame is not None
        assert asked.slot is not None
        frame = await self._frame()
        async with self._reader.runners.lend() as runner:
            set_in = await runner.run(
                set_into_frame, frame.body, frame.charset, asked.slot, self._content
            )
        if isinstance(set_in, Problem):
            raise Unreadable(set_in.code, set_in.says)
        whole, self._first_line = set_in
        return Fetched(
            self._live_address,
            200,
            {"content-type": "text/html; charset=utf-8"},
            whole,
        )

    async def _frame(self) -> Fetched:
        """Return the page that the content is set into, as if it stood at the page's own
        address."""
        assert self._asked.frame is not None
        origin = origin_of_environment(self._site, "live")
        frame = await self._reader.fetch(origin + self._asked.frame)
        return replace(frame, address=self._live_address)

    def _as_asked(self, findings: Sequence[Finding]) -> tuple[Finding, ...]:
        """Return findings whose lines are those of the fragment, where one is asked for."""
        first, lines = self._first_line, (self._content or b"").count(b"\n") + 1

        def moved(finding: Finding) -> Finding:
            line = finding.line - first if finding.line is not None else None
            if line is not None and 0 < line <= lines:
                return replace(finding, line=line)
            block = finding.block if finding.selector == "html" else FRAME
            return replace(finding, line=None, column=None, block=block)

        return tuple(map(moved, findings) if first else findings)

    async def _live(self) -> list[LiveFinding] | None:
        """Return what the live page has: as it was read before where it is unchanged, else read
        now."""
        try:
            fetched = await self._reader.fetch(self._live_address, None, self._headers)
        except Unreadable:
            if self._asked.frame is None:
                return None
            fetched = await self._frame()  # a new page: what its frame has, it does not bring
        linked = await self._linked(fetched)
        elsewhere = {
            check.id
            for check in catalogue().values()
            if check.across or Needs.NETWORK in check.needs
        }
        async with self._connect() as connection:
            known = await gate.live_reading(
                connection, self._site.id, self._asked.path, ground_of(self._site, self._asked.lens)
            )
            if known is not None and known.content_hash == hash_of(fetched.body):
                return [
                    *linked,
                    *(
                        one
                        for one in await gate.live_findings(connection, known.id)
                        if one.check not in elsewhere
                    ),
                ]
            answers = {
                replace(one, answer=None): one.answer
                for one in await gate.answers_at(connection, self._site.id, self._asked.path)
            }

        async def obtain(options: ReadOptions) -> Obtained:
            return await self._reader.read_fetched(fetched, self._live_address, options)

        result = await read_and_assess(obtain, self._policy, self._reader.runners)
        if result.problem is not None:
            return None
        return [
            *linked,
            *(
                replace(known, answer=answers.get(known))
                for known in map(_known, result.assessment.findings)
            ),
        ]

    async def _linked(self, fetched: Fetched) -> list[LiveFinding]:
        """Return what the checks of links find on the live page now: what its last reading knew of
        that may be old, or nothing."""
        following = [
            check.id
            for check in catalogue().values()
            if Needs.NETWORK in check.needs and self._policy.applies(check)
        ]
        if not following:
            return []
        try:
            async with self._reader.runners.lend() as runner:
                await open_markup(runner, fetched, self._live_address, self._reader.limits)
                await follow_links(runner, self._follow)
                only = self._policy.changed(only=tuple(following))
                found = await runner.do(Assessor.assess, only)
        except (Unreadable, AssessorLost):
            return []
        return [_known(one) for one in found.findings]


def _version_of(policy: Mapping[str, Any]) -> str:
    """Return what a policy is told from others by."""
    written = json.dumps(policy, sort_keys=True, ensure_ascii=False)
    return hashlib.sha256(written.encode()).hexdigest()[:16]


async def seal_of(connection: Connection, clearance: ClearanceRow) -> str | None:
    """Return the seal of a clearance that may be published on; None for one that waits, or that
    holds and was not overruled."""
    if clearance.state != "answered" or (
        clearance.decision == "held" and clearance.overruled_at is None
    ):
        return None
    key = await gate.secret(connection, _SEAL, secrets.token_bytes(32))
    parts = (
        clearance.id,
        clearance.site,
        clearance.path,
        clearance.content_hash,
        clearance.decision,
        clearance.overruled_at,
        clearance.valid_until,
        clearance.lens,
        clearance.policy_version,
        clearance.core_version,
    )
    return hmac.new(
        key, "\x1f".join(str(part) for part in parts).encode(), hashlib.sha256
    ).hexdigest()


async def overrule(
    connection: Connection, site: SiteRow, clearance: ClearanceRow, why: str, by: Actor
) -> None:
    """Let a held content be published all the same, with a reason that is kept and shown. Raises
    ``ClearanceRefused``."""
    assert by.id is not None
    may = policy_of_site(site).gate.overruled_by
    if by.role not in may:
        raise ClearanceRefused(
            "role-missing",
            (
                f"the gate is overruled by {' or '.join(may) or 'nobody'} here; you have the "
                f"role '{by.role}'"
            ),
        )
    if not await gate.overrule(connection, clearance.id, by.id, why):
        raise ClearanceRefused(
            "nothing-to-overrule",
            f"clearance {clearance.id} does not hold, or was overruled already",
        )


async def use(
    connection: Connection, clearance: ClearanceRow, path: str, content_hash: str, seal: str
) -> None:
    """Use a clearance for the very content that is about to be published, once. Raises
    ``ClearanceRefused``."""
    right = await seal_of(connection, clearance)
    if right is None:
        says = "it waits for its answer" if clearance.state == "waiting" else "it holds the page"
        raise ClearanceRefused(
            "not-cleared", f"clearance {clearance.id} is not good for publishing: {says}"
        )
    if not same_secret(seal, right):
        raise ClearanceRefused(
            "bad-seal", f"the seal is not that of clearance {clearance.id}; ask the gate again"
        )
    if path != clearance.path:
        raise ClearanceRefused(
            "other-page", f"clearance {clearance.id} is for {clearance.path}, not for {path}"
        )
    if content_hash != clearance.content_hash:
        raise ClearanceRefused(
            "other-content",
            (
                f"the content is not the one that clearance {clearance.id} was given for; ask "
                "the gate again"
            ),
        )
    if clearance.valid_until is not None and clearance.valid_until <= datetime.now(UTC):
        raise ClearanceRefused(
            "clearance-expired",
            (
                f"clearance {clearance.id} was good until {clearance.valid_until:%Y-%m-%d %H:%M} "
                "UTC; ask the gate again"
            ),
        )
    if not await gate.use(connection, clearance.id):
        raise ClearanceRefused(
            "clearance-used",
            f"clearance {clearance.id} was used already; each is good for one publication",
        )


async def published(
    connection: Connection, enqueue: Enqueue, site: SiteRow, path: str, by: Actor
) -> int:
    """Read a page of the live site again since it was published: its fixes are proven by that.
    Return the sweep's number."""
    return await start_sweep(
        connection,
        site,
        enqueue,
        SweepRequest(environment="live", scope="given", paths=(path,), fresh=True),
        by.id,
    )
