"""The accessibility statement of a site: proposed from the facts."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from plumrake.actions.reviews import review_of
from plumrake.actions.sites import policy_of_site
from plumrake.core.coverage import coverage
from plumrake.core.criteria import CRITERIA, within
from plumrake.core.registry import catalogue
from plumrake.core.statement import Gap, StatementFacts
from plumrake.records import statements, sweeps
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import CriterionPagesRow

_LIVE = "live"
_MOST_SAID = 8


class NothingRead(ValueError):
    """There are no facts yet."""

    code = "nothing-swept"


async def facts_of(connection: Connection, site: SiteRow, today: date) -> StatementFacts:
    """Return what a statement on the live pages is made from. Raises ``NothingRead``."""
    review = await review_of(connection, site, _LIVE, 0)
    if review is None:
        raise NothingRead("the site has no finished sweep of its live pages; start one first")
    policy = policy_of_site(site)
    [last] = await sweeps.counted_over_time(connection, site.id, _LIVE, 1)
    against = [
        one
        for one in await sweeps.pages_by_criterion(connection, review.sweep.id)
        if within(one.number, policy.standard, policy.level)
    ]
    causes = [cause for one in against for cause in one.causes]
    due = await statements.plans(connection, site.id, _LIVE, causes)
    order = list(CRITERIA)
    told = {
        number
        for one in review.asked
        if one.state == "answered"
        for number in one.question.criteria
    }
    return StatementFacts(
        policy.organisation,
        site.name,
        site.live_address or "",
        policy.feedback,
        policy.enforcement,
        policy.standard,
        policy.level,
        last.pages,
        await sweeps.pages_with_barriers(connection, review.sweep.id),
        tuple(_gap(one, due) for one in sorted(against, key=lambda one: order.index(one.number))),
        len(review.asked),
        sum(one.state == "answered" for one in review.asked),
        [
            one.criterion.number
            for one in coverage(policy.standard, policy.level)
            if one.criterion.number not in told
            and not any(policy.applies(check) for check in one.checks)
        ],
        last.finished_at.date(),
        today,
    )


def _gap(row: CriterionPagesRow, due: Mapping[str, date | None]) -> Gap:
    days = [due.get(cause) for cause in row.causes]
    known = [day for day in days if day is not None]
    known_checks = [catalogue()[check] for check in row.checks if check in catalogue()]
    titles = sorted({check.title.replace("`", "") for check in known_checks})
    until = max(known) if known and len(known) == len(days) else None
    return Gap(row.number, row.pages, tuple(f"{title}." for title in titles[:_MOST_SAID]), until)
