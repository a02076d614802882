"""How far a site is on the way from registering it to the gate."""

from __future__ import annotations

from datetime import UTC, datetime

from plumrake.actions.reviews import review_of
from plumrake.actions.sites import policy_of_site
from plumrake.core.findings import weights_from
from plumrake.core.statement import is_old
from plumrake.core.ways import StatementState, Step, WayFacts, steps_of
from plumrake.records import causes, sites, statements, sweeps, ways
from plumrake.records.causes import CauseFilters
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow

_WIDEST = 10
_MOST = 1_000


async def way_of(connection: Connection, site: SiteRow) -> list[Step]:
    """Return the steps of a site's way, by the environment that was read last."""
    policy = policy_of_site(site)
    newest = await sweeps.newest_done(connection, site.id)
    sweep = await sweeps.sweep_by_id(connection, newest) if newest is not None else None
    gate_holds = (policy.gate.holds or policy.hold) != "none"
    if sweep is None:
        return steps_of(WayFacts(is_read=False, gate_holds=gate_holds))
    holding = list(weights_from(policy.hold))
    widest = await causes.causes_of(
        connection, sweep.id, CauseFilters(counting=holding, outcome="failed"), limit=_WIDEST
    )
    printed = await causes.causes_of(
        connection,
        sweep.id,
        CauseFilters(counting=holding, outcome="failed", by_template=True),
        limit=_MOST,
    )
    [figures] = [
        one
        for one in await sites.figures(connection, site.id)
        if one.environment == sweep.environment
    ]
    review = await review_of(connection, site, sweep.environment, 0)
    asked = review.asked if review is not None else ()
    published = await statements.published_on(connection, site.id)
    today = datetime.now(UTC).date()
    statement: StatementState = (
        "none"
        if published is None
        else "old"
        if is_old(published, policy.statement_months, today)
        else "public"
    )
    return steps_of(
        WayFacts(
            is_read=True,
            widest_left=sum(one.fix_id is None for one in widest),
            templates_left=sum(one.fix_owner is None for one in printed),
            pages_held=figures.pages - figures.ready,
            asked=len(asked),
            answered=sum(one.state == "answered" for one in asked),
            statement=statement,
            gate_holds=gate_holds,
            times_asked=await ways.times_asked(connection, site.id),
        )
    )
