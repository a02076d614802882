"""Reviews: which questions are open to people, their answers, and what becomes of the faults that
they see."""

from __future__ import annotations

import asyncio
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Final, Literal

from plumrake.actions.picturing import picture_causes
from plumrake.actions.sites import policy_of_site
from plumrake.actions.sweeps import kept_finding
from plumrake.actions.verdicts import apply_to_newest
from plumrake.core.causes import gather
from plumrake.core.findings import Finding, Weight
from plumrake.core.policy import Policy
from plumrake.core.questions.question import Question, questions
from plumrake.core.questions.site_evidence import LinkOfSite, MenusOfPages, site_evidence_of
from plumrake.core.registry import PageFacts, SeenFault
from plumrake.core.reviews import (
    Answer,
    Changed,
    PageToReview,
    asked_of,
    is_too_old,
    sample_of,
    what_changed,
)
from plumrake.core.shown_rows import Row
from plumrake.core.sitewide import assess_site
from plumrake.core.statement import is_old
from plumrake.records import causes, reviews, sites, statements, sweeps
from plumrake.records.queries import Connection
from plumrake.records.reviews import AnswerRow, NewAnswer, SampledRow, SeenFaultRow
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import SweepRow

SEEN: Final = "review/seen-by-people"
"""The check that what people saw is a finding of."""
_HELD_SECONDS = 600
"""So long nobody else is asked what somebody is looking at."""

State = Literal["open", "answered", "lapsed"]


class NotAsked(ValueError):
    """The question is not asked there."""

    code = "not-asked"


class AnsweredMeanwhile(ValueError):
    """Somebody else answered, or what there is to see is not what was looked at."""

    code = "changed-meanwhile"


class BadAnswer(ValueError):
    """The answer lacks something."""

    code = "not-valid"


@dataclass(frozen=True, slots=True)
class Asked:
    """A question about a page, or about the site (without a page), how it stands, and what it is
    asked on; ``held_by`` is who else is looking at it."""

    question: Question
    page: SampledRow | None
    state: State
    shown: str | None
    shown_key: str
    answer: AnswerRow | None
    held_by: str | None

    @property
    def path(self) -> str | None:
        """The page's path; None for the site."""
        return self.page.path if self.page is not None else None


@dataclass(frozen=True, slots=True)
class Review:
    """What people are asked about an environment of a site: by which sweep, the pages (with those
    that were left out), and all questions in the order that they are put."""

    sweep: SweepRow
    pages: tuple[SampledRow, ...]
    asked: tuple[Asked, ...]


@dataclass(frozen=True, slots=True)
class ShownQuestion:
    """A question with what there is to see, and what changed since it was answered last."""

    asked: Asked
    rows: tuple[Row, ...]
    changed: Changed | None


@dataclass(frozen=True, slots=True)
class NewFault:
    """What is wrong: how heavy, in words, and the number of the row of evidence that shows it."""

    weight: Weight
    says: str
    row: int | None


@dataclass(frozen=True, slots=True)
class Given:
    """An answer as a person gives it: on which evidence (its key), and instead of which earlier
    answer, if there is one in force."""

    answer: Answer
    note: str
    faults: Sequence[NewFault]
    shown_key: str
    instead_of: int | None


async def review_of(
    connection: Connection, site: SiteRow, environment: str, person_id: int
) -> Review | None:
    """Return what people are asked; None before the first sweep of all pages is done."""
    sweep = await _newest_of_all(connection, site, environment)
    if sweep is None:
        return None
    pages = await reviews.sample(connection, site.id, environment, sweep.lens)
    given = {
        (one.page_id, one.question): one
        for one in await reviews.answers(connection, site.id, environment)
    }
    held = {
        (one.page_id, one.question): one.person
        for one in await reviews.held_by_others(connection, site.id, environment, person_id)
    }
    of_site = await reviews.site_shown(connection, sweep.id)
    now = datetime.now(UTC)

    def asked(question: Question, page: SampledRow | None, shown: str | None, key: str) -> Asked:
        of = (page.page_id if page is not None else None, question.key)
        answer = given.get(of)
        return Asked(
            question, page, _state(question, answer, now), shown, key, answer, held.get(of)
        )

    found = [
        asked(question, page, page.shown, (page.keys or {})[question.evidence])
        for page in pages
        if page.asked
        for question in asked_of(page.keys or {})
    ]
    found += [
        asked(question, None, of_site.shown, (of_site.keys or {}).get(question.evidence, ""))
        for question in questions().values()
        if question.about == "site" and of_site.shown is not None
    ]
    return Review(sweep, tuple(pages), tuple(found))


def _state(question: Question, answer: AnswerRow | None, now: datetime) -> State:
    if answer is None:
        return "open"
    lapsed = answer.lapsed_at is not None or is_too_old(question, answer.answered_at, now)
    return "lapsed" if lapsed else "answered"


async def next_question(
    connection: Connection,
    site: SiteRow,
    environment: str,
    person_id: int,
    *,
    path: str | None = None,
    question: str | None = None,
    behind: tuple[str | None, str] | None = None,
) -> ShownQuestion | None:
    """Return the next question that waits for an answer (of a page, or one question on all pages),
    and let nobody else have it meanwhile; ``behind`` is the path and question that is passed over.
    None where nothing is left."""
    review = await review_of(connection, site, environment, person_id)
    waiting = [
        one
        for one in (review.asked if review is not None else ())
        if (path is None or one.path == path) and question in (None, one.question.key)
    ]
    places = [(one.path, one.question.key) for one in waiting]
    if behind in places:
        at = places.index(behind) + 1
        waiting = waiting[at:] + waiting[: at - 1]
    for one in waiting:
        if one.state == "answered" or one.held_by is not None:
            continue
        if await _hold(connection, site, environment, one, person_id):
            return await _shown(connection, one)
    await reviews.let_go(connection, site.id, environment, person_id)
    return None


async def _hold(
    connection: Connection, site: SiteRow, environment: str, asked: Asked, person_id: int
) -> bool:
    page_id = asked.page.page_id if asked.page is not None else None
    return await reviews.hold(
        connection, site.id, environment, page_id, asked.question.key, person_id, _HELD_SECONDS
    )


async def one_question(
    connection: Connection,
    site: SiteRow,
    environment: str,
    person_id: int,
    path: str | None,
    question: str,
) -> ShownQuestion:
    """Return a question with what there is to see. Raises ``NotAsked``."""
    return await _shown(
        connection, await _asked(connection, site, environment, person_id, path, question)
    )


async def _asked(
    connection: Connection,
    site: SiteRow,
    environment: str,
    person_id: int,
    path: str | None,
    question: str,
) -> Asked:
    review = await review_of(connection, site, environment, person_id)
    found = next(
        (
            one
            for one in (review.asked if review is not None else ())
            if one.path == path and one.question.key == question
        ),
        None,
    )
    if found is None:
        where = f"about {path}" if path is not None else "about the site"
        raise NotAsked(
            f"question: '{question}' is not asked {where}; the page has to be in the sample and "
            "has to have something to show"
        )
    return found


async def _shown(connection: Connection, asked: Asked) -> ShownQuestion:
    kind = asked.question.evidence
    rows = (await reviews.shown_by(connection, asked.shown)).get(kind, [])
    changed = None
    if asked.answer is not None and asked.answer.lapsed_at is not None:
        before = (await reviews.shown_by(connection, asked.answer.shown)).get(kind, [])
        changed = what_changed(before, rows)
    return ShownQuestion(asked, tuple(rows), changed)


async def answer_question(
    connection: Connection,
    site: SiteRow,
    environment: str,
    path: str | None,
    question: str,
    given: Given,
    person_id: int,
) -> int:
    """Keep an answer; its faults are findings at once. Return its number. Raises ``NotAsked``,
    ``BadAnswer``, ``AnsweredMeanwhile``."""
    if bool(given.faults) != (given.answer == "fault"):
        raise BadAnswer(
            "faults: say what is wrong, one entry for each fault"
            if given.answer == "fault"
            else f"faults: the answer is '{given.answer}'; only 'fault' has any"
        )
    async with connection.transaction():
        asked = await _asked(connection, site, environment, person_id, path, question)
        page_id = asked.page.page_id if asked.page is not None else None
        await reviews.lock_question(connection, site.id, environment, page_id, question)
        asked = await _asked(connection, site, environment, person_id, path, question)
        _check_meanwhile(asked, given)
        faults = await _faults(connection, asked, given)
        if asked.answer is not None:
            await reviews.end_answer(connection, asked.answer.id, person_id)
        sweep = await _newest_of_all(connection, site, environment)
        assert sweep is not None
        answer_id = await reviews.add_answer(
            connection,
            NewAnswer(
                site_id=site.id,
                environment=environment,
                page_id=page_id,
                question=question,
                kind=asked.question.evidence,
                answer=given.answer,
                note=given.note,
                lens=sweep.lens,
                shown=asked.shown,
                shown_key=asked.shown_key,
                answered_by=person_id,
            ),
            faults,
        )
        await reviews.let_go(connection, site.id, environment, person_id)
        await show_seen(connection, sweep)
    return answer_id


def _check_meanwhile(asked: Asked, given: Given) -> None:
    if given.shown_key != asked.shown_key:
        raise AnsweredMeanwhile(
            "shown_key: the page was read anew and shows something else now; look again"
        )
    answer = asked.answer
    if answer is not None and asked.state == "answered" and given.instead_of != answer.id:
        raise AnsweredMeanwhile(
            f"instead_of: {answer.answered_by} answered meanwhile: {answer.answer}; to answer "
            f"instead, give {answer.id}"
        )


async def _faults(connection: Connection, asked: Asked, given: Given) -> list[Mapping[str, object]]:
    rows = (await reviews.shown_by(connection, asked.shown)).get(asked.question.evidence, [])
    faults: list[Mapping[str, object]] = []
    for fault in given.faults:
        if fault.row is not None and fault.row >= len(rows):
            raise BadAnswer(
                f"faults: there is no row {fault.row}; they go from 0 to {len(rows) - 1}"
            )
        place = rows[fault.row] if fault.row is not None else {}
        faults.append({"weight": fault.weight.value, "says": fault.says, "place": place})
    return faults


async def take_back(
    connection: Connection, site: SiteRow, environment: str, answer_id: int, person_id: int
) -> bool:
    """Take an answer back: the question is open again. False where it was over already."""
    async with connection.transaction():
        if not await reviews.end_answer(connection, answer_id, person_id):
            return False
        sweep = await _newest_of_all(connection, site, environment)
        if sweep is not None:
            await show_seen(connection, sweep)
    return True


async def _newest_of_all(
    connection: Connection, site: SiteRow, environment: str
) -> SweepRow | None:
    newest = await sweeps.newest_done(connection, site.id, environment)
    return await sweeps.sweep_by_id(connection, newest) if newest is not None else None


async def seen_on(connection: Connection, sweep: SweepRow) -> dict[str, tuple[SeenFault, ...]]:
    """Return what people saw on the pages of a sweep, by path, as far as their answers hold."""
    found: dict[str, list[SeenFault]] = {}
    for row in await reviews.seen_faults(connection, sweep.site_id, sweep.environment, sweep.id):
        question = questions().get(row.question)
        if question is not None:
            found.setdefault(row.path, []).append(_seen(row, question))
    return {path: tuple(faults) for path, faults in found.items()}


def _seen(row: SeenFaultRow, question: Question) -> SeenFault:
    return SeenFault(
        question.key, question.asks, question.criteria, Weight(row.weight), row.says, row.place
    )


async def show_seen(connection: Connection, sweep: SweepRow) -> None:
    """Bring the findings of what people saw in a finished sweep in line with their answers; of two
    who answer at once the second waits for the first."""
    await sweeps.lock_sweep(connection, sweep.id)
    seen = await seen_on(connection, sweep)
    policy = policy_of_site(await sites.site_by_id(connection, sweep.site_id))
    changed = False
    for row in await reviews.readings_with(connection, sweep.id, SEEN, list(seen)):
        facts = PageFacts(row.path, "", seen.get(row.path, ()))
        wanted = [one for one in assess_site([facts], policy).get(0, []) if one.check == SEEN]
        await reviews.forget_seen(connection, row.reading, SEEN, _keys(wanted))
        new = [kept_finding(one) for one in wanted if one.place_key not in row.keys]
        await sweeps.add_site_findings(connection, sweep.id, row.reading, new, held=False)
        changed = changed or bool(new) or not set(row.keys) <= set(_keys(wanted))
    if not changed:
        return
    gathered = gather(await causes.places(connection, sweep.id, SEEN), {})
    await causes.keep_causes(connection, sweep, gathered, SEEN)
    await picture_causes(connection, sweep.id, SEEN)
    await apply_to_newest(connection, sweep.site_id)


def _keys(findings: Sequence[Finding]) -> list[str]:
    return [one.place_key for one in findings]


async def note_review(connection: Connection, sweep: SweepRow) -> None:
    """Work out what a finished sweep changes for reviews: what the site has to show, which pages
    are proposed, and which answers lapse."""
    if sweep.is_whole:
        await _show_site(connection, sweep)
    await reviews.lapse(
        connection, sweep.site_id, sweep.environment, sweep.id, is_whole=sweep.is_whole
    )


async def _show_site(connection: Connection, sweep: SweepRow) -> None:
    links = [
        LinkOfSite(one.text, one.address, one.pages, one.first_path)
        for one in await reviews.links_of_site(connection, sweep.id)
    ]
    menus = []
    for one in await reviews.menus_of_site(connection, sweep.id):
        shown = (await reviews.shown_by(connection, one.shown)).get("repeated-parts", [])
        parts = tuple((row["name"], tuple(row["links"])) for row in shown)
        menus.append(MenusOfPages(parts, one.pages, one.first_path))
    pages = [
        PageToReview(one.page, one.path, frozenset(one.builds), frozenset(one.kinds))
        for one in await reviews.pages_to_review(connection, sweep.id)
    ]
    policy = policy_of_site(await sites.site_by_id(connection, sweep.site_id))
    evidence = await asyncio.to_thread(
        site_evidence_of,
        links,
        menus,
        [page.path for page in pages],
        await _old_statement(connection, sweep.site_id, policy),
    )
    await reviews.keep_site_shown(connection, sweep.id, evidence)
    proposed = await asyncio.to_thread(sample_of, pages, policy.review_pages)
    await reviews.propose(connection, sweep.site_id, sweep.environment, proposed)


async def _old_statement(connection: Connection, site_id: int, policy: Policy) -> str:
    published = await statements.published_on(connection, site_id)
    months = policy.statement_months
    if published is None or not is_old(published, months, datetime.now(UTC).date()):
        return ""
    return f"The statement of {published} is older than {months} months"
