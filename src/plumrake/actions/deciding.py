"""Decisions about several causes at once, and one text offered to every place of a picture."""

from __future__ import annotations

from datetime import date

from plumrake.actions.fixes import Actor, BadMove, Wanted, hand_out, move_fix
from plumrake.actions.verdicts import Grant, grant_waiver, judge
from plumrake.core.fixes import CLOSED, FixState, Move
from plumrake.records import causes, sweeps, views
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import FindingFilters, FindingInFullRow, SweepRow

_MOST_JUDGED = 1000


async def _best_of(connection: Connection, sweep: SweepRow, key: str) -> FindingInFullRow:
    cause = await causes.cause_by_key(connection, sweep.id, key)
    if cause is None:
        raise BadMove(f"causes: sweep {sweep.id} has no cause '{key}'")
    finding = await sweeps.finding_by_id(connection, cause.best)
    assert finding is not None
    return finding


async def waive_causes(
    connection: Connection,
    site: SiteRow,
    sweep: SweepRow,
    keys: list[str],
    grant: Grant,
    by: Actor,
    today: date,
) -> list[int]:
    """Accept causes of a sweep wherever they occur; return the waivers' numbers. All or none.
    Raises as ``grant_waiver`` does."""
    async with connection.transaction():
        return [
            await grant_waiver(
                connection, site, await _best_of(connection, sweep, key), grant, by, today
            )
            for key in dict.fromkeys(keys)
        ]


async def judge_causes(
    connection: Connection,
    site: SiteRow,
    sweep: SweepRow,
    keys: list[str],
    answer: str,
    note: str,
    by: Actor,
) -> list[int]:
    """Answer all doubtful places of causes of a sweep; return the judgements' numbers. All or none.
    Raises ``BadMove``."""
    made: list[int] = []
    async with connection.transaction():
        for key in dict.fromkeys(keys):
            await _best_of(connection, sweep, key)
            doubtful = FindingFilters(outcome="cantTell", cause=key)
            found = await sweeps.findings(
                connection, sweep.id, doubtful, sort="page", after=None, limit=_MOST_JUDGED
            )
            if not found:
                raise BadMove(
                    f"causes: '{key}' has no doubtful place; a sure fault may be waived, not judged"
                )
            if len(made) + len(found) > _MOST_JUDGED:
                raise BadMove(
                    f"causes: these have more than {_MOST_JUDGED:,} doubtful places "
                    "together; choose fewer"
                )
            for row in found:
                whole = await sweeps.finding_by_id(connection, row.id)
                assert whole is not None
                made.append(await judge(connection, site.id, whole, answer, note, by))
    return made


async def offer_text(
    connection: Connection, sweep: SweepRow, key: str, text: str, by: Actor
) -> tuple[list[int], int]:
    """Make a text the proposal of every fix of a fault of one picture (empty: mark it as
    decorative).

    Causes without a fix are handed out to whoever answers for their pages. Return the fixes and the
    number of the picture's places.
    """
    proposal = {"kind": "set-attribute", "attribute": "alt", "value": text}
    async with connection.transaction():
        uses = await views.picture_uses(connection, sweep.id, key)
        if not uses:
            raise BadMove(
                "key: the sweep has no such picture; take the key from the list of pictures"
            )
        keys = await views.picture_causes(connection, sweep.id, key)
        offered: list[int] = []
        for fix in await hand_out(connection, sweep, keys, by) if keys else []:
            if FixState(fix.state) not in CLOSED and fix.state != FixState.HANDED_IN:
                await move_fix(
                    connection,
                    fix.id,
                    Wanted(
                        Move.PROPOSE, "one text for every place of this picture", proposal=proposal
                    ),
                    by,
                )
                offered.append(fix.id)
    return offered, len(uses)
