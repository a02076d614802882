"""What a policy asks for: which checks, and by which success criteria. Worked out once for each
target, since it is asked for every check of every page."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from plumrake.core.criteria import within
from plumrake.core.findings import Needs
from plumrake.core.registry import Check, catalogue
from plumrake.core.tables import covers

_TARGETS = 64


class Target(NamedTuple):
    """The fields of a policy that say what is asked for, as ``Policy`` has them."""

    standard: str
    level: str
    only: tuple[str, ...] = ()
    without: tuple[str, ...] = ()

    def applies(self, check: Check) -> bool:
        """Tell whether the check is asked for: not switched off, and one of its criteria within
        standard and level."""
        if self.only and not any(covers(item, check) for item in self.only):
            return False
        if any(covers(item, check) for item in self.without):
            return False
        return bool(self.criteria_of(check)) or not check.criteria

    def criteria_of(self, check: Check) -> tuple[str, ...]:
        """Return those of the check's criteria that lie within standard and level."""
        return _within(check.criteria, self.standard, self.level)


@lru_cache(1_024)
def _within(criteria: tuple[str, ...], standard: str, level: str) -> tuple[str, ...]:
    return tuple(number for number in criteria if within(number, standard, level))


@lru_cache(_TARGETS)
def checks_of(target: Target) -> tuple[Check, ...]:
    """Return the checks that are asked for, in the order of the catalogue."""
    return tuple(check for check in catalogue().values() if target.applies(check))


@lru_cache(_TARGETS)
def needs_of(target: Target) -> frozenset[Needs]:
    """Return the evidence that the checks that are asked for need together."""
    return frozenset(need for check in checks_of(target) for need in check.needs)
