"""Fixes: handing out, moving by people, and proving by reading. Each move is kept with who, when
and why, or nothing changes."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from typing import Any

from plumrake.actions.notifying import FixNotification, tell
from plumrake.actions.ports import Enqueue
from plumrake.actions.sites import policy_of_site
from plumrake.actions.sweeps import SweepRequest, checks_made, policy_of, start_sweep
from plumrake.core.findings import weights_from
from plumrake.core.fixes import LIVE, FixState, Move, Mover, Seen, moved, open_moves, verdict
from plumrake.core.responsibilities import Responsibility, owner_of
from plumrake.net.problems import GONE
from plumrake.records import fixes, items, members, people, sites, sweeps
from plumrake.records.fixes import CausePagesRow, FixRow, Owner, ProofCountRow
from plumrake.records.members import MemberRow
from plumrake.records.queries import Connection
from plumrake.records.sweeps import SweepRow

_SAMPLE = 8
_MENTION = re.compile(r"(?<![\w@])@([\w.+-]+(?:@[\w.-]+\w)?)")
_MOST_LINKS = 20


class NoSuchFix(LookupError):
    """There is no such fix."""

    code = "no-such-fix"


class ChangedMeanwhile(ValueError):
    """Somebody moved the fix since it was looked at."""

    code = "changed-meanwhile"


class BadMove(ValueError):
    """What the move is to do does not hold together."""

    code = "not-valid"


@dataclass(frozen=True, slots=True)
class Actor:
    """Who moves a fix: a person by number and role, or ``reading`` or ``clock``."""

    id: int | None
    role: str


READING, CLOCK = Actor(None, "reading"), Actor(None, "clock")


@dataclass(frozen=True, slots=True)
class Wanted:
    """A move with what belongs to it: why, the owner and the day it is due (``assign``, ``due``), a
    proposed mend, links, other data."""

    move: Move
    why: str = ""
    owner: Owner | None = None
    due_on: date | None = None
    proposal: Mapping[str, Any] | None = None
    links: Sequence[str] | None = None
    data: Mapping[str, Any] = field(default_factory=dict)


async def hand_out(
    connection: Connection,
    sweep: SweepRow,
    causes: Sequence[str],
    by: Actor,
    *,
    owner: Owner | None = None,
    to_author: bool = False,
    due_on: date | None = None,
    why: str = "",
) -> list[FixRow]:
    """Make a fix of each cause of a sweep and hand it to ``owner``, or to who answers for its
    pages, or (``to_author``) to who wrote most of them; live ones are handed on.

    Causes that have a closed fix keep it: only a reading opens it again.
    """
    await _check_owner(connection, sweep.site_id, owner)
    pages = {one.key: one for one in await fixes.cause_pages(connection, sweep.id, causes)}
    missing = next((key for key in causes if key not in pages), None)
    if missing is not None:
        raise BadMove(f"causes: sweep {sweep.id} has no cause '{missing}'")
    known = await fixes.known_of_causes(connection, sweep.site_id, sweep.environment, causes)
    areas = await responsibilities_of(connection, sweep.site_id) if owner is None else None
    handed: list[int] = []
    for key in dict.fromkeys(causes):
        theirs = owner if areas is None else areas.owner_of(pages[key])
        if to_author and not pages[key].by_template:
            author = await items.author_of(
                connection, sweep.site_id, sweep.environment, pages[key].paths
            )
            theirs = Owner(author) if author is not None else theirs
        if key in known:
            handed.append(known[key].id)
            is_handed = owner is not None or to_author or due_on is not None
            if FixState(known[key].state) in LIVE and is_handed:
                wanted = Wanted(
                    Move.ASSIGN, why, theirs, due_on if due_on is not None else known[key].due_on
                )
                await move_fix(connection, known[key].id, wanted, by)
            continue
        made = await fixes.add_of_cause(connection, sweep.id, key, theirs or Owner(), due_on, by.id)
        if made is not None:
            await _begun(connection, made, by, why)
            handed.append(made)
    return await fixes.fixes_by_ids(connection, handed)


async def hand_out_place(
    connection: Connection,
    sweep_id: int,
    finding_id: int,
    by: Actor,
    *,
    owner: Owner | None,
    due_on: date | None,
    why: str,
    to_author: bool = False,
) -> FixRow:
    """Make a fix of one finding's place (``to_author``: for who wrote its page); one that it has
    already, of its own or of its cause, is given back as it is."""
    sweep = await sweeps.sweep_by_id(connection, sweep_id)
    assert sweep is not None
    await _check_owner(connection, sweep.site_id, owner)
    known = await fixes.fix_of_finding(connection, finding_id)
    if known is not None:
        return known
    if to_author:
        owner = await _author_of_finding(connection, finding_id)
    made = await fixes.add_of_finding(
        connection, sweep_id, finding_id, owner or Owner(), due_on, by.id
    )
    assert made is not None
    await _begun(connection, made, by, why)
    found = await fixes.fix_by_id(connection, made)
    assert found is not None
    return found


async def _author_of_finding(connection: Connection, finding_id: int) -> Owner:
    finding = await sweeps.finding_by_id(connection, finding_id)
    if finding is None:
        return Owner()
    site = await sites.site_by_slug(connection, finding.site)
    assert site is not None
    author = await items.author_of(connection, site.id, finding.environment, [finding.path])
    return Owner(author)


async def _check_owner(connection: Connection, site_id: int, owner: Owner | None) -> None:
    """Refuse an owner who could not mend anything of a site. Raises ``BadMove``."""
    if owner is None:
        return
    if owner.person_id is not None:
        there = await members.members_of(connection, site_id)
        person = next((one for one in there if one.id == owner.person_id), None)
        if person is None or not person.active or person.role == "reader":
            raise BadMove(
                f"owner: {person.name if person else f'person {owner.person_id}'} cannot "
                "mend; choose somebody of the site who may sign in and mend"
            )
    if owner.group_id is not None and all(
        group.id != owner.group_id for group in await people.groups(connection)
    ):
        raise BadMove(f"owner: there is no group {owner.group_id}")


async def _begun(connection: Connection, fix_id: int, by: Actor, why: str) -> None:
    fix = await fixes.fix_by_id(connection, fix_id)
    assert fix is not None
    data = _owner_data(fix)
    event = await fixes.add_event(
        connection,
        fix_id,
        "make",
        "",
        FixState.OPEN.value,
        by_id=by.id,
        actor=by.role,
        why=why,
        data=data,
    )
    await tell(connection, fix, FixNotification("handed_out", event, by.id))


def _owner_data(fix: FixRow) -> dict[str, Any]:
    return {
        "owner": fix.owner or fix.group_name,
        "due_on": fix.due_on.isoformat() if fix.due_on else None,
    }


@dataclass(frozen=True, slots=True)
class Responsibilities:
    """The areas of a site with the owners that stand behind their numbers."""

    areas: tuple[Responsibility, ...]
    owners: tuple[Owner, ...]

    def owner_of(self, cause: CausePagesRow) -> Owner:
        """Return who answers for a cause."""
        number = owner_of(cause.paths, self.areas, by_template=cause.by_template)
        return self.owners[number] if number is not None else Owner()


async def responsibilities_of(connection: Connection, site_id: int) -> Responsibilities:
    """Return who answers for which area of a site."""
    rows = await people.responsibilities_of(connection, site_id)
    owners = tuple(Owner(row.owner_id, row.group_id) for row in rows)
    return Responsibilities(
        tuple(Responsibility(row.pattern, number) for number, row in enumerate(rows)), owners
    )


async def move_fix(
    connection: Connection, fix_id: int, wanted: Wanted, by: Actor, *, version: int | None = None
) -> FixRow:
    """Make a move and keep it. Raises ``NoSuchFix``, ``ChangedMeanwhile`` (``version`` is not the
    one any more), ``MoveRefused``, ``BadMove``."""
    async with connection.transaction():
        fix = await fixes.lock_fix(connection, fix_id)
        if fix is None:
            raise NoSuchFix(f"there is no fix {fix_id}")
        if version is not None and version != fix.version:
            raise ChangedMeanwhile(
                f"somebody moved fix {fix_id} meanwhile; look at it again, then decide"
            )
        await _check_owner(connection, fix.site_id, wanted.owner)
        state = moved(FixState(fix.state), wanted.move, await _standing(connection, fix, by))
        data, links = dict(wanted.data), _checked_links(fix, wanted)
        owner, due_on = _promise_after(fix, wanted, by)
        proposal = wanted.proposal if wanted.proposal is not None else fix.proposal
        await fixes.change_fix(
            connection,
            fix,
            state=state.value,
            owner=owner,
            due_on=due_on,
            proposal=proposal,
            links=links,
        )
        after = await fixes.fix_by_id(connection, fix_id)
        assert after is not None
        if wanted.move in (Move.ASSIGN, Move.TAKE, Move.DUE):
            data |= _owner_data(after)
        mentioned = await _mentioned(connection, fix.site_id, wanted.why)
        if mentioned:
            data["mentions"] = [person.id for person in mentioned]
        event = await fixes.add_event(
            connection,
            fix_id,
            wanted.move.value,
            fix.state,
            state.value,
            by_id=by.id,
            actor=by.role,
            why=wanted.why.strip(),
            data=data,
        )
        await _announce(
            connection, after, wanted.move, event, by, [person.id for person in mentioned]
        )
    return after


def _checked_links(fix: FixRow, wanted: Wanted) -> list[str]:
    """Return a fix's links with those that a move adds. Raises ``BadMove`` where the move lacks
    what belongs to it."""
    if wanted.move is Move.NOTE and not wanted.why.strip():
        raise BadMove("why: a note needs its words")
    if wanted.move is Move.PROPOSE and wanted.proposal is None:
        raise BadMove("proposal: say what mend is proposed")
    links = [*dict.fromkeys([*fix.links, *(wanted.links or ())])]
    if len(links) > _MOST_LINKS:
        raise BadMove(f"links: a fix may have {_MOST_LINKS}, this would be {len(links)}")
    return links


def _promise_after(fix: FixRow, wanted: Wanted, by: Actor) -> tuple[Owner, date | None]:
    """Return who has a fix after a move, and by when it is to be mended."""
    if wanted.move is Move.ASSIGN:
        return wanted.owner or Owner(), wanted.due_on if wanted.due_on is not None else fix.due_on
    owner = Owner(by.id) if wanted.move is Move.TAKE else Owner(fix.owner_id, fix.group_id)
    return owner, wanted.due_on if wanted.move is Move.DUE else fix.due_on


async def _standing(connection: Connection, fix: FixRow, by: Actor) -> Mover:
    """Return how somebody stands to a fix."""
    if by.id is None:
        return Mover(by.role)
    owns = fix.owner_id == by.id or fix.group_id in await fixes.groups_of(connection, by.id)
    grants = by.role in policy_of_site(await sites.site_by_id(connection, fix.site_id)).waivers_by
    return Mover(
        by.role, owns, unowned=fix.owner_id is None and fix.group_id is None, grants=grants
    )


async def moves_for(connection: Connection, fix: FixRow, by: Actor) -> list[Move]:
    """Return the moves that somebody can make of a fix now."""
    return open_moves(FixState(fix.state), await _standing(connection, fix, by))


async def _mentioned(connection: Connection, site_id: int, text: str) -> list[MemberRow]:
    """Return the people of a site whose ``@name`` (what stands before the @ of their address, or
    all of it) is in a text."""
    words = {word.casefold().rstrip(".") for word in _MENTION.findall(text)}
    if not words:
        return []
    return [
        person
        for person in await members.members_of(connection, site_id)
        if person.email.casefold() in words or person.email.partition("@")[0].casefold() in words
    ]


async def _announce(
    connection: Connection, fix: FixRow, move: Move, event: int, by: Actor, mentioned: list[int]
) -> None:
    kinds = {
        Move.ASSIGN: "handed_out",
        Move.REOPEN: "reopened",
        Move.PROVE: "proven",
        Move.END_WAIVER: "waiver_ended",
        Move.PAGE_BACK: "reopened",
        Move.HAND_IN: "handed_in",
    }
    if mentioned:
        await tell(
            connection, fix, FixNotification("mentioned", event, by.id, only=tuple(mentioned))
        )
    if move in kinds:
        await tell(connection, fix, FixNotification(kinds[move], event, by.id))


async def hand_in(
    connection: Connection,
    enqueue: Enqueue,
    fix_id: int,
    by: Actor,
    *,
    version: int | None,
    why: str,
) -> FixRow:
    """Say that a fix is mended, and have its pages read at once: a few of them first, and all once
    those are clean."""
    async with connection.transaction():
        fix = await move_fix(connection, fix_id, Wanted(Move.HAND_IN, why), by, version=version)
        paths = await fixes.pages_of(connection, fix_id)
        if len(paths) > _SAMPLE:
            spread = paths[:: -(-len(paths) // _SAMPLE)]
            await _read_again(connection, enqueue, fix, spread, by.id, rest=True)
        else:
            await _read_again(connection, enqueue, fix, paths, by.id)
    found = await fixes.fix_by_id(connection, fix_id)
    assert found is not None
    return found


async def _read_again(
    connection: Connection,
    enqueue: Enqueue,
    fix: FixRow,
    paths: list[str],
    asked_by: int | None,
    *,
    sample: int | None = None,
    rest: bool = False,
) -> None:
    """Start a sweep of pages of a fix that is handed in, through the lens that found it, to prove
    it."""
    site = await sites.site_by_id(connection, fix.site_id)
    finding = (
        await sweeps.finding_by_id(connection, fix.finding_id)
        if fix.finding_id is not None
        else None
    )
    known = (
        finding.sweep_id
        if finding is not None
        else await sweeps.newest_done(connection, site.id, fix.environment)
    )
    found_by = await sweeps.sweep_by_id(connection, known) if known is not None else None
    asked = SweepRequest(
        environment=fix.environment,
        lens=found_by.lens if found_by is not None else "rendered",
        scope="given",
        paths=tuple(paths),
    )
    waiting = await sweeps.waiting_with(
        connection, site.id, asked.environment, asked.lens, asked.paths
    )
    sweep_id = (
        waiting
        if waiting is not None
        else await start_sweep(connection, site, enqueue, asked, asked_by)
    )
    await fixes.set_proof(connection, fix.id, sweep_id, sample=sample, rest=rest)


async def settle(connection: Connection, enqueue: Enqueue, sweep: SweepRow) -> None:
    """Let a finished sweep move the fixes of its environment: proven, reopened, page gone, open
    again; and hand out what policy says.

    A fix whose check the sweep did not make is left alone.
    """
    tested = checks_made(sweep)
    for sight in await fixes.sights(connection, sweep, gone_statuses=GONE):
        if sight.check in tested:
            await _settle_one(connection, enqueue, sweep, sight)
    await fixes.mark_places(connection, sweep, tested)
    if sweep.is_whole:
        await fixes.refresh(connection, sweep)
        await _by_policy(connection, sweep)


async def _settle_one(
    connection: Connection, enqueue: Enqueue, sweep: SweepRow, sight: ProofCountRow
) -> None:
    is_proof = sight.proof_sweep == sweep.id
    if sweep.scope == "given" and not is_proof and sight.lens not in (None, sweep.lens):
        return  # what another lens saw of a page in passing may be the same place by another key
    proves = sight.state == FixState.HANDED_IN and is_proof
    if proves and not sight.there and sight.proof_rest:
        fix = await fixes.fix_by_id(connection, sight.fix_id)
        assert fix is not None
        paths = await fixes.pages_of(connection, fix.id, sweep.id)
        await _read_again(connection, enqueue, fix, paths, sweep.asked_by, sample=sweep.id)
        return
    if proves and not sight.there and sight.proof_sample is not None:
        (sight,) = await fixes.sights(
            connection, sweep, fix_id=sight.fix_id, earlier=sight.proof_sample, gone_statuses=GONE
        )
    seen = Seen(sight.there, sight.read, sight.gone, sight.unread)
    move = verdict(FixState(sight.state), seen)
    data = {
        "sweep": sweep.id,
        "there": seen.there,
        "read": seen.read,
        "gone": seen.gone,
        "finding": sight.finding_id,
    }
    if move is not None:
        why = _told(move, seen, FixState(sight.state))
        if move is Move.PROVE:
            instead = await fixes.new_at_place(connection, sight.fix_id, sweep.id)
            if instead is not None:
                why += f"; but there is now, at the same place: {instead.says}"
                data["instead"] = instead.id
        await move_fix(connection, sight.fix_id, Wanted(move, why, data=data), READING)
    elif proves and seen.unread:
        says = (
            f"{seen.unread} of its pages could not be read, or not with all that its check "
            "needs; the next sweep tries again"
        )
        state = FixState.HANDED_IN.value
        await fixes.add_event(
            connection,
            sight.fix_id,
            "unproven",
            state,
            state,
            by_id=None,
            actor="reading",
            why=says,
            data=data,
        )


def _told(move: Move, seen: Seen, before: FixState) -> str:
    pages = f"{seen.read} page{'s' * (seen.read != 1)}"
    if move is Move.PROVE:
        return f"read again: gone from {pages}" + (
            f", {seen.gone} pages are no more" if seen.gone else ""
        )
    if move is Move.PAGE_GONE:
        return "its pages are no more"
    found = "still there" if before is FixState.HANDED_IN else "there again"
    return f"{found} in {seen.there} place{'s' * (seen.there != 1)}"


async def _by_policy(connection: Connection, sweep: SweepRow) -> None:
    """Make a fix of every new cause that the site's policy says to hand out automatically."""
    policy = policy_of(sweep)
    causes = await fixes.new_causes(connection, sweep.id, weights_from(policy.hand_out))
    if causes:
        due_on = (datetime.now(UTC) + timedelta(days=policy.due_days)).date()
        await hand_out(
            connection, sweep, causes, READING, due_on=due_on, why="by the site's policy"
        )
