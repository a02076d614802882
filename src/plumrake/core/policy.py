"""Policy: a site's rules, as plain data that is checked once when it comes in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from plumrake.core.criteria import LEVELS, STANDARDS, within
from plumrake.core.registry import Check, catalogue


class BadPolicy(ValueError):
    """A field of the policy is not what it may be; the message says which, where and what to write."""

    code = "bad-policy"


@dataclass(frozen=True, slots=True)
class Policy:
    """What is asked of a site's pages.

    ``only`` and ``without`` hold areas (``links``) or check ids; ``parameters`` a mapping per check id;
    ``words`` lists of phrases by list name (``vague-links`` …).
    """

    standard: str = "wcag22"
    level: str = "aa"
    only: tuple[str, ...] = ()
    without: tuple[str, ...] = ()
    parameters: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    words: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    wait_for: str | None = None

    def __post_init__(self) -> None:
        if self.standard not in STANDARDS:
            raise BadPolicy(f"standard: '{self.standard}' is not known; write one of {', '.join(STANDARDS)}")
        if self.level not in LEVELS:
            raise BadPolicy(f"level: '{self.level}' is not known; write one of {', '.join(LEVELS)}")
        for field_name in ("only", "without"):
            for item in getattr(self, field_name):
                if not _names_a_check(item):
                    raise BadPolicy(f"{field_name}: no check or area is called '{item}'; 'plumrake checks' lists them")
        for identifier, values in self.parameters.items():
            self._check_parameters(identifier, values)

    @staticmethod
    def _check_parameters(identifier: str, values: Mapping[str, Any]) -> None:
        if identifier not in catalogue():
            raise BadPolicy(f"parameters: no check is called '{identifier}'; 'plumrake checks' lists them")
        known = catalogue()[identifier].parameters
        for name, value in values.items():
            if name not in known:
                raise BadPolicy(f"parameters of {identifier}: no parameter is called '{name}'; there are: {', '.join(known) or 'none'}")
            if type(value) is not type(known[name]):
                raise BadPolicy(f"parameters of {identifier}: '{name}' has to be a {type(known[name]).__name__}, not {value!r}")

    def applies(self, check: Check) -> bool:
        """Tell whether the check is asked for: not switched off, and one of its criteria within standard and level."""
        if self.only and not any(_covers(item, check) for item in self.only):
            return False
        if any(_covers(item, check) for item in self.without):
            return False
        return bool(self.within_target(check)) or not check.criteria

    def within_target(self, check: Check) -> tuple[str, ...]:
        """Return those of the check's criteria that lie within the policy's standard and level."""
        return tuple(number for number in check.criteria if within(number, self.standard, self.level))

    def options(self, check: Check) -> dict[str, Any]:
        """Return the check's parameters, the site's values over the defaults, with the site's level and words."""
        return {**check.parameters, **self.parameters.get(check.id, {}), "level": self.level, "words": self.words}


def _covers(item: str, check: Check) -> bool:
    return item in (check.id, check.area)


def _names_a_check(item: str) -> bool:
    return any(_covers(item, check) for check in catalogue().values())
