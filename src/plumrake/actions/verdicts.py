"""Waivers and judgements: granting, ending, answering, and what they change at once in the newest
sweeps."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from plumrake.actions.fixes import CLOCK, Actor, BadMove, Wanted, move_fix
from plumrake.actions.ports import Connect
from plumrake.actions.sites import policy_of_site
from plumrake.actions.sweeps import checks_made
from plumrake.core.findings import weights_from
from plumrake.core.fixes import LIVE, FixState, Move
from plumrake.core.registry import catalogue
from plumrake.path_patterns import as_like
from plumrake.records import sites, sweeps, verdicts
from plumrake.records.queries import Connection
from plumrake.records.sites import NewSite, SiteRow
from plumrake.records.sweeps import FindingInFullRow, SweepRow
from plumrake.records.verdicts import NewWaiver


class NotYours(ValueError):
    """The person may not decide this."""

    code = "role-missing"


@dataclass(frozen=True, slots=True)
class Grant:
    """A waiver to grant for a finding: how far it reaches, why, its last day; ``pattern`` is the
    area of a waived check."""

    scope: str
    reason: str
    ends_on: date
    pattern: str | None = None


async def grant_waiver(
    connection: Connection,
    site: SiteRow,
    finding: FindingInFullRow,
    grant: Grant,
    by: Actor,
    today: date,
) -> int:
    """Accept a finding, or all like it, until a day; fixes of what is covered are waived too.
    Raises ``NotYours``, ``BadMove``."""
    may = policy_of_site(site).waivers_by
    if by.role not in may:
        raise NotYours(
            f"waivers are granted by {' or '.join(may)} here; you have the role '{by.role}'"
        )
    if grant.ends_on < today:
        raise BadMove(
            f"ends_on: {grant.ends_on:%Y-%m-%d} is over; a waiver's last day is today or later"
        )
    assert by.id is not None
    pattern = (grant.pattern or "*") if grant.scope == "check" else None
    async with connection.transaction():
        waiver_id = await verdicts.add_waiver(
            connection,
            NewWaiver(
                site_id=site.id,
                scope=grant.scope,
                check=finding.check,
                says=finding.says,
                reason=grant.reason,
                ends_on=grant.ends_on,
                granted_by=by.id,
                page_id=finding.page_id if grant.scope in ("place", "page") else None,
                place_key=finding.place_key if grant.scope == "place" else None,
                cause=finding.cause if grant.scope == "cause" else None,
                pattern=pattern,
                path_like=as_like(pattern) if pattern is not None else None,
            ),
        )
        why = f"waived until {grant.ends_on:%Y-%m-%d}: {grant.reason}"
        for fix_id in await verdicts.fixes_of_waiver(
            connection, waiver_id, [state.value for state in LIVE]
        ):
            await move_fix(
                connection, fix_id, Wanted(Move.WAIVE, why, data={"waiver": waiver_id}), by
            )
        await apply_to_newest(connection, site.id)
    return waiver_id


async def end_waiver(
    connection: Connection, site_id: int, waiver_id: int, by: Actor, why: str
) -> bool:
    """End a waiver: what it covered counts again, and its fixes are open again. False where it was
    over already."""
    async with connection.transaction():
        waived = await verdicts.fixes_of_waiver(connection, waiver_id, [FixState.WAIVED.value])
        if not await verdicts.end_waiver(connection, waiver_id, by.id):
            return False
        for fix_id in waived:
            await move_fix(
                connection, fix_id, Wanted(Move.END_WAIVER, why, data={"waiver": waiver_id}), by
            )
        await apply_to_newest(connection, site_id)
    return True


async def end_due_waivers(connect: Connect, today: date) -> int:
    """End the waivers whose last day is over; return how many."""
    async with connect() as connection, connection.transaction():
        due = await verdicts.due_waivers(connection, today)
        for waiver in due:
            await end_waiver(
                connection, waiver.site_id, waiver.id, CLOCK, "the waiver's last day is over"
            )
    return len(due)


async def judge(
    connection: Connection,
    site_id: int,
    finding: FindingInFullRow,
    answer: str,
    note: str,
    by: Actor,
) -> int:
    """Answer what no program can decide: ``fault`` or ``fine``. Raises ``BadMove`` where a program
    did decide."""
    if finding.outcome != "cantTell":
        raise BadMove(
            "only a doubtful finding is judged; this one is a sure fault, which may be waived"
        )
    assert by.id is not None
    async with connection.transaction():
        judgement_id = await verdicts.judge(connection, finding.id, answer, note, by.id)
        await apply_to_newest(connection, site_id)
    return judgement_id


async def end_judgement(connection: Connection, site_id: int, judgement_id: int) -> bool:
    """Take a judgement back: its finding is doubtful again. False where it was over already."""
    async with connection.transaction():
        ended = await verdicts.end_judgement(connection, judgement_id)
        await apply_to_newest(connection, site_id)
    return ended


async def apply_to_newest(connection: Connection, site_id: int) -> None:
    """Bring the newest sweep of each environment in line with what was decided."""
    for sweep_id in await verdicts.newest_sweeps(connection, site_id):
        await apply_to_sweep(connection, site_id, sweep_id)


async def apply_to_sweep(connection: Connection, site_id: int, sweep_id: int) -> None:
    """Bring a sweep's findings, and which of its pages are ready, in line with what was decided.

    The policy is the one that the site has now: a check that is switched off leaves its findings
    out, and a new least weight makes other pages ready, without reading them again.
    """
    sweep = await sweeps.sweep_by_id(connection, sweep_id)
    assert sweep is not None
    policy = policy_of_site(await sites.site_by_id(connection, site_id))
    await verdicts.apply_all(
        connection,
        sweep,
        off=[check.id for check in catalogue().values() if not policy.applies(check)],
        left_out_pages=[as_like(pattern) for pattern in policy.leave_out_pages],
        left_out_kinds=policy.leave_out_kinds,
        holding=weights_from(policy.hold),
    )
    await sweeps.count_ready(connection, sweep_id)


async def note_mended(connection: Connection, later: SweepRow) -> None:
    """Let the newest sweep of all pages know what a later sweep of some of them no longer shows, so
    that figures and lists change at once and not with the next sweep of all."""
    whole = await sweeps.newest_done(connection, later.site_id, later.environment)
    if whole is None or whole > later.id:
        return
    read_by = await sweeps.sweep_by_id(connection, whole)
    if read_by is None or read_by.lens != later.lens:
        return  # what another lens no longer shows may be the same place by another key
    tested = [one for one in checks_made(later) if not catalogue()[one].wants_all_pages]
    if await verdicts.mark_mended(connection, whole, later.id, tested):
        await apply_to_sweep(connection, later.site_id, whole)


async def change_site(connection: Connection, site: SiteRow, new: NewSite) -> SiteRow | None:
    """Change a site's settings; a changed policy is applied to its newest sweeps at once.

    Returns the site as it is now, None where somebody else changed it meanwhile.
    """
    async with connection.transaction():
        changed = await sites.change_site(connection, site, new)
        if changed is not None and changed.policy != site.policy:
            await apply_to_newest(connection, site.id)
    return changed
