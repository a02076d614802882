"""What an accessibility statement says of a site: how far it conforms, by the facts alone, and
where it does not. The contents are those of the model statement of the European Union (Implementing
Decision (EU) 2018/1523) and of WAI's guidance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

Conformance = Literal["full", "partial", "none"]
StatementLanguage = Literal["en", "de"]


@dataclass(frozen=True, slots=True)
class Gap:
    """A criterion that is not met somewhere: on how many pages, what the faults are (in English),
    and the day until which all of it is to be mended, where there is one."""

    number: str
    pages: int
    faults: tuple[str, ...]
    until: date | None


@dataclass(frozen=True, slots=True)
class StatementFacts:
    """What a statement is made from."""

    organisation: str
    site: str
    address: str
    feedback: str
    enforcement: str
    standard: str
    level: str
    pages: int
    pages_with_barriers: int
    gaps: tuple[Gap, ...]
    asked: int
    answered: int
    untested: Sequence[str]
    read_on: date
    made_on: date

    @property
    def conformance(self) -> Conformance:
        """How far the site conforms. ``full`` takes more than that nothing was found: everything
        was asked, and answered, and something tells about every criterion."""
        if self.gaps:
            return "none" if 2 * self.pages_with_barriers > self.pages else "partial"
        is_evaluated = self.asked > 0 and self.answered == self.asked and not self.untested
        return "full" if is_evaluated else "partial"


def is_old(published_on: date, months: int, today: date) -> bool:
    """Tell whether a statement is older than so many months."""
    passed = (today.year - published_on.year) * 12 + today.month - published_on.month
    return passed > months or (passed == months and today.day > published_on.day)
