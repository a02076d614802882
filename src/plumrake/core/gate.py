"""The gate: whether a content may be published, and why. Pure: what is read, decided by people and
ruled comes in, the answer goes out.

A page that could not be read is never clear. Doubtful findings hold only where the rules name their
check. What was there before is told by place keys, so a changed element is the change's own.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Any

from plumrake.core.blocks import FRAME
from plumrake.core.decisions import Standing, standing
from plumrake.core.findings import Finding, weights_from
from plumrake.core.gate_rules import GateRules
from plumrake.path_patterns import matches


class Decision(StrEnum):
    """The answer of the gate."""

    CLEAR = "clear"
    WITH_WAIVERS = "clear with waivers"
    HELD = "held"


class Origin(StrEnum):
    """Whether the publication brings a finding, or the live page has it already."""

    BROUGHT = "brought"
    BEFORE = "before"


class GateStanding(StrEnum):
    """What becomes of a finding at the gate; only ``HOLDS`` keeps the content from being
    published."""

    HOLDS = "holds"
    TOO_LIGHT = "too light"
    WAS_THERE = "was there before"
    WAIVED = "waived"
    DOUBTFUL = "doubtful"
    JUDGED_FINE = "judged fine"
    IN_GRACE = "in grace"
    NOT_BEGUN = "not begun"


@dataclass(frozen=True, slots=True)
class WaiverInForce:
    """A waiver as the gate needs it: how far it reaches (``place``, ``page``, ``cause``,
    ``check``), and its last day."""

    id: int
    scope: str
    check: str
    ends_on: date
    path: str | None = None
    place_key: str | None = None
    cause: str | None = None
    pattern: str | None = None

    def covers(self, finding: Finding, path: str, today: date) -> bool:
        """Tell whether a finding on a page is covered today."""
        if self.check != finding.check or self.ends_on < today:
            return False
        if self.scope == "place":
            return self.path == path and self.place_key == finding.place_key
        if self.scope == "page":
            return self.path == path
        if self.scope == "cause":
            return self.cause in (finding.cause_key, finding.shape_key)
        return matches(self.pattern or "*", path)


@dataclass(frozen=True, slots=True)
class LiveFinding:
    """A finding of the live page: its place key, what it says, its markup and facts, and a person's
    answer (``fault`` or ``fine``), if any."""

    check: str
    place_key: str
    says: str = ""
    excerpt: str = ""
    facts: Mapping[str, Any] | None = None
    answer: str | None = None


@dataclass(frozen=True, slots=True)
class Publication:
    """What is asked of the gate: the page's path, its findings as it would be (None: it could not
    be read), those of the live page.

    ``live`` is None where there is no live page, or where it could not be read. What templates are
    known to print (``template_causes``), or stands outside of an item's content, no page brings.
    ``untested`` are the checks that could not be tested on it.
    """

    path: str
    findings: Sequence[Finding] | None
    live: Sequence[LiveFinding] | None = None
    waivers: Sequence[WaiverInForce] = ()
    template_causes: Collection[str] = ()
    untested: Sequence[str] = ()


@dataclass(frozen=True, slots=True)
class GateFacts:
    """What the gate decides about a finding by: all that is kept with an answer, so that other
    rules can be tried on it later.

    ``answer`` is a person's, while the place is as it was; ``waiver`` the number of what covers it.
    """

    check: str
    weight: str
    outcome: str
    origin: Origin
    answer: str | None = None
    waiver: int | None = None


@dataclass(frozen=True, slots=True)
class Judged:
    """A finding with what it was decided by, and what becomes of it."""

    finding: Finding
    facts: GateFacts
    standing: GateStanding

    @property
    def origin(self) -> Origin:
        """Whether the publication brings it."""
        return self.facts.origin


@dataclass(frozen=True, slots=True)
class Answer:
    """The decision with every finding judged; ``reason`` is one sentence for a person."""

    decision: Decision
    judged: tuple[Judged, ...]
    reason: str

    @property
    def holding(self) -> tuple[Judged, ...]:
        """The findings that hold."""
        return tuple(one for one in self.judged if one.standing is GateStanding.HOLDS)


def decide(asked: Publication, rules: GateRules, hold: str, today: date) -> Answer:
    """Return the answer for one page; ``hold`` is the least weight that counts where the rules name
    none."""
    if asked.findings is None:
        return Answer(
            Decision.HELD, (), "The page could not be read, so nobody can say what is on it."
        )
    before = Counter(one.place_key for one in asked.live or ())
    known = {one.place_key: one for one in asked.live or ()}
    judged: list[Judged] = []
    for finding in asked.findings:
        is_printed = finding.block == FRAME or finding.cause_key in asked.template_causes
        is_old = before[finding.place_key] > 0 or is_printed
        origin = Origin.BEFORE if is_old else Origin.BROUGHT
        before[finding.place_key] -= 1
        facts = _facts(asked, finding, origin, known.get(finding.place_key), today)
        judged.append(Judged(finding, facts, at_gate(facts, asked.path, rules, hold, today)))
    answer = _answer(tuple(judged), rules.at(asked.path), today)
    missing = rules.missing(asked.untested, today)
    if missing and answer.decision is not Decision.HELD:
        were = "check has" if len(missing) == 1 else "checks have"
        says = f"{len(missing)} {were} to be tested and could not be: {', '.join(missing[:5])}."
        return Answer(Decision.HELD, answer.judged, says)
    return answer


def _facts(
    asked: Publication,
    finding: Finding,
    origin: Origin,
    known: LiveFinding | None,
    today: date,
) -> GateFacts:
    answer = known.answer if known is not None and _is_same(finding, known) else None
    waiver = next((one for one in asked.waivers if one.covers(finding, asked.path, today)), None)
    return GateFacts(
        finding.check,
        finding.weight,
        finding.outcome,
        origin,
        answer,
        waiver.id if waiver is not None else None,
    )


def at_gate(facts: GateFacts, path: str, rules: GateRules, hold: str, day: date) -> GateStanding:
    """Return what becomes of a finding at the gate: the one rule of decisions and of trials.

    What the change does not bring, and whoever it is too light for, is told before waivers, so
    that a waiver is said to be needed only where it is.
    """
    own = rules.at(path)
    old = facts.origin is Origin.BEFORE
    passed_over = old and own.counts == "change"
    stands = standing(facts.outcome, facts.answer)
    if stands is Standing.COUNTS:
        if facts.weight not in weights_from(own.holds or hold):
            return GateStanding.TOO_LIGHT
    elif not passed_over:
        if stands is Standing.JUDGED_FINE:
            return GateStanding.JUDGED_FINE
        if not {facts.check, facts.check.partition("/")[0]} & set(own.doubtful):
            return GateStanding.DOUBTFUL
    if passed_over:
        return GateStanding.WAS_THERE
    if not own.has_begun(day):
        return GateStanding.NOT_BEGUN
    if old and own.old_from is not None and day < own.old_from:
        return GateStanding.IN_GRACE
    return GateStanding.WAIVED if facts.waiver is not None else GateStanding.HOLDS


def _is_same(finding: Finding, known: LiveFinding) -> bool:
    """Tell whether a place is as it was when somebody judged it; a judgement lapses with it."""
    return (finding.check, finding.says, finding.excerpt) == (
        known.check,
        known.says,
        known.excerpt,
    )


def _answer(judged: tuple[Judged, ...], rules: GateRules, today: date) -> Answer:
    holding = [one for one in judged if one.standing is GateStanding.HOLDS]
    if holding:
        brought = sum(one.origin is Origin.BROUGHT for one in holding)
        parts = [f"{brought} that the change brings"] * bool(brought) + [
            f"{len(holding) - brought} that the page has already"
        ] * (brought < len(holding))
        return Answer(
            Decision.HELD,
            judged,
            (
                f"{len(holding)} {'finding holds' if len(holding) == 1 else 'findings hold'} the "
                f"page: {' and '.join(parts)}."
            ),
        )
    waived = sum(one.standing is GateStanding.WAIVED for one in judged)
    if waived:
        return Answer(
            Decision.WITH_WAIVERS,
            judged,
            f"Nothing holds; {waived} {'finding is' if waived == 1 else 'findings are'} waived.",
        )
    if rules.begins is not None and any(one.standing is GateStanding.NOT_BEGUN for one in judged):
        return Answer(
            Decision.CLEAR,
            judged,
            f"The gate begins on {rules.begins:%Y-%m-%d}; until then nothing holds.",
        )
    return Answer(Decision.CLEAR, judged, "Nothing holds.")


@dataclass(frozen=True, slots=True)
class Tally:
    """What publishing pages comes to: pages held and waiting, findings brought, gone, and those
    that were there before."""

    decision: Decision | None
    pages: int
    held: int
    waiting: int
    brought: int
    mended: int
    before: int


def tally(decision: Decision | None, origins: Sequence[Origin], live: int) -> Tally:
    """Return what publishing one page comes to, from where its findings are from and how many the
    live page has; it waits with None."""
    before = sum(one is Origin.BEFORE for one in origins)
    return Tally(
        decision,
        1,
        int(decision is Decision.HELD),
        int(decision is None),
        len(origins) - before,
        max(0, live - before),
        before,
    )


def together(tallies: Sequence[Tally]) -> Tally:
    """Return what publishing pages together comes to. One held page holds all; there is no decision
    while any other waits."""
    held, waiting = (sum(getattr(one, name) for one in tallies) for name in ("held", "waiting"))
    with_waivers = any(one.decision is Decision.WITH_WAIVERS for one in tallies)
    decision = (
        Decision.HELD
        if held
        else None
        if waiting
        else Decision.WITH_WAIVERS
        if with_waivers
        else Decision.CLEAR
    )
    pages, brought, mended, before = (
        sum(getattr(one, name) for one in tallies)
        for name in ("pages", "brought", "mended", "before")
    )
    return Tally(decision, pages, held, waiting, brought, mended, before)


def would_hold(
    stored: Sequence[GateFacts],
    untested: Sequence[str],
    path: str,
    rules: GateRules,
    hold: str,
    day: date,
) -> bool:
    """Tell whether an earlier content would be held by other rules; waivers and judgements count as
    they did then, and what could not be tested then."""
    if rules.missing(untested, day):
        return True
    return any(at_gate(one, path, rules, hold, day) is GateStanding.HOLDS for one in stored)
