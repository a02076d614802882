"""What people decide about findings, and what becomes of each: worked out here and nowhere else.

A finding's standing is kept with it. Lists, figures, exports, proofs and the gate read it; none of
them looks at waivers, answers or policies itself.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from itertools import product

from plumrake.core.findings import Finding, Outcome, weights_from, why_left


class Answer(StrEnum):
    """A person's answer to a finding that no program can decide."""

    FAULT = "fault"
    FINE = "fine"


class Standing(StrEnum):
    """Whether a finding counts, and if not, why."""

    COUNTS = "counts"
    DOUBTFUL = "doubtful"
    JUDGED_FINE = "judged fine"
    WAIVED = "waived"
    LEFT_OUT = "left out"
    MENDED = "mended"


def standing(
    outcome: str,
    answer: str | None = None,
    *,
    waived: bool = False,
    left_out: bool = False,
    mended: bool = False,
) -> Standing:
    """Return what becomes of a finding.

    ``left_out`` says that the site's policy does not ask for its check (any more), ``mended`` that
    a later reading of its page no longer shows it. A waiver covers sure and doubtful findings
    alike; an answer counts where no waiver does.
    """
    if left_out:
        return Standing.LEFT_OUT
    if mended:
        return Standing.MENDED
    if waived:
        return Standing.WAIVED
    if answer == Answer.FINE:
        return Standing.JUDGED_FINE
    if outcome == Outcome.FAILED or answer == Answer.FAULT:
        return Standing.COUNTS
    return Standing.DOUBTFUL


def holds(stands: Standing, weight: str, least: str) -> bool:
    """Tell whether a finding keeps its page from being ready: it counts, and weighs at least so."""
    return stands is Standing.COUNTS and weight in weights_from(least)


def finding_holds(finding: Finding, least: str) -> bool:
    """Tell whether a finding that nobody but its page's author has decided about keeps its page
    from being ready."""
    return holds(standing(finding.outcome, waived=bool(why_left(finding))), finding.weight, least)


@dataclass(frozen=True, slots=True)
class DecidedFinding:
    """What a finding's standing is worked out from, as kept: for trying another policy on it."""

    check: str
    weight: str
    outcome: str
    answer: str | None = None
    waived: bool = False
    mended: bool = False

    def holds(self, least: str, *, left_out: bool = False) -> bool:
        """Tell whether it keeps its page from being ready."""
        stands = standing(
            self.outcome,
            self.answer,
            waived=self.waived,
            left_out=left_out,
            mended=self.mended,
        )
        return holds(stands, self.weight, least)


def every_standing() -> Iterator[tuple[str, str, bool, bool, bool, Standing]]:
    """Yield outcome, answer (empty for none), waived, left out and mended with the standing they
    make.

    The database keeps these rows as a table, so that a query can settle a million findings by the
    one rule.
    """
    answers = ("", *Answer)
    for outcome, answer, waived, left_out, mended in product(
        (Outcome.FAILED, Outcome.CANT_TELL), answers, *[(False, True)] * 3
    ):
        stands = standing(outcome, answer or None, waived=waived, left_out=left_out, mended=mended)
        yield str(outcome), str(answer), waived, left_out, mended, stands
