"""Gathering what a site's account is made of."""

from __future__ import annotations

from collections import Counter
from datetime import date

from plumrake.actions.reviews import Review, review_of
from plumrake.actions.sites import policy_of_site
from plumrake.core.coverage import coverage
from plumrake.core.policy import Policy
from plumrake.models.labels import STATE_LABELS
from plumrake.records import causes, fixes, sweeps, verdicts, views
from plumrake.records.causes import CauseFilters, CauseRow
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.reports.account import (
    Account,
    Counted,
    Excused,
    OfSection,
    OpenCause,
    Sampled,
    TestedCriterion,
    WithOwner,
)

_MOST_CAUSES = 60
_MOST_SWEEPS = 12
_MOST_LOOKED_AT = 60
_ALL_WEIGHTS = ["barrier", "obstacle", "friction"]


async def account_of(
    connection: Connection, site: SiteRow, environment: str, today: date
) -> Account:
    """Return the account of an environment of a site, by its newest sweep of all pages."""
    policy = policy_of_site(site)
    review = await review_of(connection, site, environment, 0)
    address = site.staging_address if environment == "staging" else site.live_address
    counted: list[Counted] = []
    found: list[CauseRow] = []
    total = 0
    sections: list[OfSection] = []
    if review is not None:
        counted = await _over_time(connection, site, environment)
        filters = CauseFilters(counting=_ALL_WEIGHTS)
        found = await causes.causes_of(
            connection, review.sweep.id, filters, sort="reach", limit=10_000
        )
        total = len(found)
        sections = [
            OfSection(one.path, one.pages, one.ready, one.barriers, one.obstacles, one.frictions)
            for one in await views.sections(connection, review.sweep.id, "/")
        ]
    owners = [
        WithOwner(
            one.owner, one.open + one.in_hand + one.reopened, one.handed_in, one.proven, one.late
        )
        for one in await fixes.load_of(connection, site.id)
    ]
    waivers = [
        Excused(one.says, one.reason, one.ends_on, one.granted_by)
        for one in await verdicts.waivers(connection, site.id, in_force=True)
    ]
    shown = [_cause(one) for one in found[:_MOST_CAUSES]]
    shown += [_cause(one) for one in found[_MOST_CAUSES:] if one.weight == "barrier"]
    return Account(
        site.name,
        address or "",
        environment,
        today,
        policy.standard,
        policy.level,
        tuple(counted),
        tuple(shown),
        total - len(shown),
        tuple(owners),
        tuple(sections),
        tuple(_criteria(policy, found, review)),
        tuple(waivers),
        tuple(_sample(review)),
    )


async def _over_time(connection: Connection, site: SiteRow, environment: str) -> list[Counted]:
    done = await sweeps.counted_over_time(connection, site.id, environment, _MOST_SWEEPS)
    return [
        Counted(
            one.finished_at.date(),
            one.lens,
            one.pages,
            one.ready,
            one.barriers,
            one.obstacles,
            one.frictions,
        )
        for one in reversed(done)
    ]


def _cause(row: CauseRow) -> OpenCause:
    state = STATE_LABELS[row.fix_state] if row.fix_state is not None else ""
    return OpenCause(
        row.says,
        row.check,
        row.weight,
        tuple(row.criteria),
        row.pages,
        row.first_seen_at.date(),
        row.fix_owner or "",
        state,
    )


def _criteria(
    policy: Policy, found: list[CauseRow], review: Review | None
) -> list[TestedCriterion]:
    by_criterion = Counter(number for cause in found for number in cause.criteria)
    asked: Counter[str] = Counter()
    answered: Counter[str] = Counter()
    faults: Counter[str] = Counter()
    for one in review.asked if review is not None else ():
        for number in one.question.criteria:
            asked[number] += 1
            if one.state == "answered" and one.answer is not None:
                answered[number] += 1
                faults[number] += len(one.answer.faults)
    return [
        TestedCriterion(
            one.criterion.number,
            one.criterion.name,
            one.criterion.level,
            sum(policy.applies(check) for check in one.checks),
            by_criterion[one.criterion.number],
            asked[one.criterion.number],
            answered[one.criterion.number],
            faults[one.criterion.number],
        )
        for one in coverage(policy.standard, policy.level)
    ]


def _sample(review: Review | None) -> list[Sampled]:
    pages = review.pages if review is not None else ()
    return [
        Sampled(page.path, "; ".join(page.because) or "taken in") for page in pages if page.asked
    ][:_MOST_LOOKED_AT]
