"""The gate: whether a content may be published, and why. Pure: what is read, decided by people and ruled comes in, the answer goes out.

A page that could not be read is never clear. Doubtful findings hold only where the rules name their check. What was there before
is told by place keys, so a changed element is the change's own.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Any

from plumrake.core.findings import Finding, Outcome, weights_from
from plumrake.core.gate_rules import GateRules
from plumrake.core.parts import matches


class Decision(StrEnum):
    """The answer of the gate."""

    CLEAR = "clear"
    WITH_WAIVERS = "clear with waivers"
    HELD = "held"


class Origin(StrEnum):
    """Whether the publication brings a finding, or the live page has it already."""

    BROUGHT = "brought"
    BEFORE = "before"


class Standing(StrEnum):
    """What becomes of a finding at the gate; only ``HOLDS`` keeps the content from being published."""

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
    """A waiver as the gate needs it: how far it reaches (``place``, ``page``, ``cause``, ``check``), and its last day."""

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
class Known:
    """A finding of the live page: its place key, what it says, its markup and facts, and a person's answer (``fault`` or ``fine``), if any."""

    check: str
    place_key: str
    says: str = ""
    excerpt: str = ""
    facts: Mapping[str, Any] | None = None
    answer: str | None = None


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked of the gate: the page's path, its findings as it would be (None: it could not be read), those of the live page.

    ``live`` is None where there is no live page, or where it could not be read.
    """

    path: str
    findings: Sequence[Finding] | None
    live: Sequence[Known] | None = None
    waivers: Sequence[WaiverInForce] = ()


@dataclass(frozen=True, slots=True)
class Judged:
    """A finding with where it comes from and what becomes of it; ``waiver`` is the number of what covers it."""

    finding: Finding
    origin: Origin
    standing: Standing
    waiver: int | None = None


@dataclass(frozen=True, slots=True)
class Answer:
    """The decision with every finding judged; ``reason`` is one sentence for a person."""

    decision: Decision
    judged: tuple[Judged, ...]
    reason: str

    @property
    def holding(self) -> tuple[Judged, ...]:
        """The findings that hold."""
        return tuple(one for one in self.judged if one.standing is Standing.HOLDS)


def decide(asked: Asked, rules: GateRules, hold: str, today: date) -> Answer:
    """Return the answer for one page; ``hold`` is the least weight that counts where the rules name none."""
    if asked.findings is None:
        return Answer(Decision.HELD, (), "The page could not be read, so nobody can say what is on it.")
    own = rules.at(asked.path)
    weights = weights_from(own.holds or hold)
    before = Counter(one.place_key for one in asked.live or ())
    known = {one.place_key: one for one in asked.live or ()}
    judged: list[Judged] = []
    for finding in asked.findings:
        origin = Origin.BEFORE if before[finding.place_key] > 0 else Origin.BROUGHT
        before[finding.place_key] -= 1
        judged.append(_judged(asked, own, finding, origin, known.get(finding.place_key), weights, today))
    return _answer(tuple(judged), own, today)


def _judged(
    asked: Asked, rules: GateRules, finding: Finding, origin: Origin, known: Known | None, weights: Sequence[str], today: date
) -> Judged:
    answer = known.answer if known is not None and _is_same(finding, known) else None
    if finding.outcome == Outcome.CANT_TELL and answer != "fault":
        if origin is Origin.BEFORE and rules.counts == "change":
            return Judged(finding, origin, Standing.WAS_THERE)
        if answer == "fine":
            return Judged(finding, origin, Standing.JUDGED_FINE)
        if not any(name in (finding.check, finding.check.partition("/")[0]) for name in rules.doubtful):
            return Judged(finding, origin, Standing.DOUBTFUL)
    elif finding.weight not in weights:
        return Judged(finding, origin, Standing.TOO_LIGHT)
    if origin is Origin.BEFORE and rules.counts == "change":
        return Judged(finding, origin, Standing.WAS_THERE)
    if rules.begins is not None and today < rules.begins:
        return Judged(finding, origin, Standing.NOT_BEGUN)
    if origin is Origin.BEFORE and rules.old_from is not None and today < rules.old_from:
        return Judged(finding, origin, Standing.IN_GRACE)
    waiver = next((one for one in asked.waivers if one.covers(finding, asked.path, today)), None)
    if waiver is not None:
        return Judged(finding, origin, Standing.WAIVED, waiver.id)
    return Judged(finding, origin, Standing.HOLDS)


def _is_same(finding: Finding, known: Known) -> bool:
    """Tell whether a place is as it was when somebody judged it; a judgement lapses with it."""
    return (finding.check, finding.says, finding.excerpt) == (known.check, known.says, known.excerpt)


def _answer(judged: tuple[Judged, ...], rules: GateRules, today: date) -> Answer:
    holding = [one for one in judged if one.standing is Standing.HOLDS]
    if holding:
        brought = sum(one.origin is Origin.BROUGHT for one in holding)
        parts = [f"{brought} that the change brings"] * bool(brought) + [f"{len(holding) - brought} that the page has already"] * (brought < len(holding))
        return Answer(Decision.HELD, judged, f"{len(holding)} {'finding holds' if len(holding) == 1 else 'findings hold'} the page: {' and '.join(parts)}.")
    waived = sum(one.standing is Standing.WAIVED for one in judged)
    if waived:
        return Answer(Decision.WITH_WAIVERS, judged, f"Nothing holds; {waived} {'finding is' if waived == 1 else 'findings are'} waived.")
    if rules.begins is not None and today < rules.begins and any(one.standing is Standing.NOT_BEGUN for one in judged):
        return Answer(Decision.CLEAR, judged, f"The gate begins on {rules.begins:%Y-%m-%d}; until then nothing holds.")
    return Answer(Decision.CLEAR, judged, "Nothing holds.")


@dataclass(frozen=True, slots=True)
class Tally:
    """What publishing pages comes to: pages held and waiting, findings brought, gone, and those that were there before."""

    decision: Decision | None
    pages: int
    held: int
    waiting: int
    brought: int
    mended: int
    before: int


def tally(decision: Decision | None, origins: Sequence[Origin], live: int) -> Tally:
    """Return what publishing one page comes to, from where its findings are from and how many the live page has; it waits with None."""
    before = sum(one is Origin.BEFORE for one in origins)
    return Tally(decision, 1, int(decision is Decision.HELD), int(decision is None), len(origins) - before, max(0, live - before), before)


def together(tallies: Sequence[Tally]) -> Tally:
    """Return what publishing pages together comes to. One held page holds all; there is no decision while any other waits."""
    held, waiting = (sum(getattr(one, name) for one in tallies) for name in ("held", "waiting"))
    with_waivers = any(one.decision is Decision.WITH_WAIVERS for one in tallies)
    decision = Decision.HELD if held else None if waiting else Decision.WITH_WAIVERS if with_waivers else Decision.CLEAR
    pages, brought, mended, before = (sum(getattr(one, name) for one in tallies) for name in ("pages", "brought", "mended", "before"))
    return Tally(decision, pages, held, waiting, brought, mended, before)


@dataclass(frozen=True, slots=True)
class Told:
    """A finding as an earlier answer kept it: what is needed to answer again by other rules."""

    check: str
    weight: str
    outcome: str
    origin: Origin
    standing: Standing


def would_hold(told: Sequence[Told], path: str, rules: GateRules, hold: str, day: date) -> bool:
    """Tell whether an earlier content would be held by other rules; waivers and judgements count as they did then."""
    own = rules.at(path)
    if own.begins is not None and day < own.begins:
        return False
    return any(_would_hold(one, own, weights_from(own.holds or hold), day) for one in told)


def _would_hold(one: Told, rules: GateRules, weights: Sequence[str], day: date) -> bool:
    if one.standing in (Standing.WAIVED, Standing.JUDGED_FINE):
        return False
    old = one.origin is Origin.BEFORE
    if old and (rules.counts == "change" or (rules.old_from is not None and day < rules.old_from)):
        return False
    if one.outcome == Outcome.CANT_TELL and one.standing is not Standing.HOLDS:
        return any(name in (one.check, one.check.partition("/")[0]) for name in rules.doubtful)
    return one.weight in weights
