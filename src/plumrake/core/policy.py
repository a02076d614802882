"""Policy: a site's rules, as plain data that is checked once when it comes in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from plumrake.core.criteria import LEVELS, STANDARDS, within
from plumrake.core.gate_rules import BadRules, GateRules, rules_from
from plumrake.core.regions import BadSelector, compiled
from plumrake.core.registry import Check, catalogue
from plumrake.core.style.colours import NotAColour, parse

WORD_LISTS: tuple[str, ...] = ("vague-links", "stock-texts", "picture-openings", "new-window", "vague-titles", "own-words")
"""The phrase lists that a policy may add to; ``own-words`` are words that are spelt right whatever dictionaries say."""
FOLLOWS: tuple[str, ...] = ("on-demand", "in-sweeps")
"""When links are followed: by the gate and when somebody asks for it, or in every sweep too."""
HOLDS: tuple[str, ...] = ("barrier", "obstacle", "friction", "none")


class BadPolicy(ValueError):
    """A field of the policy is not what it may be; the message says which, where and what to write."""

    code = "bad-policy"


@dataclass(frozen=True, slots=True)
class Policy:
    """What is asked of a site's pages.

    ``only`` and ``without`` hold areas (``links``) or check ids; ``parameters`` a mapping per check id;
    ``words`` lists of phrases by list name (``vague-links`` …). ``regions`` and ``leave_out`` are CSS selectors: only
    what lies in the first and not in the second is reported. ``wait_for`` is what the rendered lens waits for, ``hold``
    the least weight that keeps a page from being ready. ``palette`` is the site's colours, from which contrast proposals
    choose a pair too; ``logotypes`` are CSS selectors of texts that are logos, which no contrast is asked of (1.4.3).
    ``follow_links`` says whether sweeps follow the pages' links.

    ``hand_out`` is the least weight of which every new cause becomes a fix of its owner by itself, due in ``due_days``;
    ``waivers_by`` are the roles that may grant waivers. ``gate`` says what holds a publication.
    """

    standard: str = "wcag22"
    level: str = "aa"
    only: tuple[str, ...] = ()
    without: tuple[str, ...] = ()
    parameters: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    words: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    regions: tuple[str, ...] = ()
    leave_out: tuple[str, ...] = ()
    wait_for: str | None = None
    follow_links: str = "on-demand"
    hold: str = "obstacle"
    palette: tuple[str, ...] = ()
    logotypes: tuple[str, ...] = ()
    hand_out: str = "none"
    due_days: int = 14
    waivers_by: tuple[str, ...] = ("manager",)
    gate: GateRules = field(default_factory=GateRules)

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
        for name in self.words:
            if name not in WORD_LISTS:
                raise BadPolicy(f"words: there is no list '{name}'; there are: {', '.join(WORD_LISTS)}")
        if self.follow_links not in FOLLOWS:
            raise BadPolicy(f"follow-links: '{self.follow_links}' is not known; write one of {', '.join(FOLLOWS)}")
        if self.hold not in HOLDS:
            raise BadPolicy(f"hold: '{self.hold}' is not known; write one of {', '.join(HOLDS)}")
        if self.hand_out not in HOLDS:
            raise BadPolicy(f"hand-out: '{self.hand_out}' is not known; write one of {', '.join(HOLDS)}")
        if not 0 < self.due_days <= 3650:
            raise BadPolicy(f"due-days: has to be between 1 and 3650, not {self.due_days}")
        for item in self.gate.doubtful:
            if not _names_a_check(item):
                raise BadPolicy(f"gate doubtful: no check or area is called '{item}'; 'plumrake checks' lists them")
        for role in self.waivers_by:
            if role not in ("manager", "editor", "developer"):
                raise BadPolicy(f"waivers-by: '{role}' is not known; write manager, editor or developer")
        for colour in self.palette:
            try:
                parse(colour)
            except NotAColour as error:
                raise BadPolicy(f"palette: {error}") from None
        for field_name in ("regions", "leave_out", "logotypes"):
            try:
                compiled(getattr(self, field_name))
            except BadSelector as error:
                raise BadPolicy(f"{_as_written(field_name)}: {error}") from None

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

    @property
    def sweeps_follow_links(self) -> bool:
        """Tell whether sweeps ask where links lead."""
        return self.follow_links == "in-sweeps"

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
        """Return the check's parameters, the site's values over the defaults, with the site's level, words, palette and logotypes."""
        of_site = {"level": self.level, "words": self.words, "palette": self.palette, "logotypes": self.logotypes}
        return {**check.parameters, **self.parameters.get(check.id, {}), **of_site}


def policy_from(data: Mapping[str, Any]) -> Policy:
    """Return the policy that a mapping (a ``plumrake.toml``, a site's policy) describes. Raises ``BadPolicy``."""
    kinds = {
        "standard": str,
        "level": str,
        "wait_for": str,
        "follow_links": str,
        "hold": str,
        "hand_out": str,
        "due_days": int,
        "parameters": dict,
        "words": dict,
        "gate": dict,
    }
    values: dict[str, Any] = {}
    for written, value in data.items():
        name = written.replace("-", "_")
        if name not in Policy.__dataclass_fields__:
            known = ", ".join(map(_as_written, Policy.__dataclass_fields__))
            raise BadPolicy(f"'{written}' is no field of a policy; there are: {known}")
        kind = kinds.get(name, list)
        if not isinstance(value, (kind, tuple) if kind is list else kind):
            raise BadPolicy(f"{written}: has to be a {'list of texts' if kind is list else _KIND_NAMES[kind]}, not {value!r}")
        values[name] = _texts(written, value) if kind is list else value
    if "gate" in values:
        try:
            values["gate"] = rules_from(values["gate"])
        except BadRules as error:
            raise BadPolicy(str(error)) from None
    if "words" in values:
        values["words"] = {name: _texts(f"words.{name}", phrases) for name, phrases in values["words"].items()}
    for identifier, parameters in values.get("parameters", {}).items():
        if not isinstance(parameters, dict):
            raise BadPolicy(f"parameters of {identifier}: has to be a table of names and values, not {parameters!r}")
    return Policy(**values)


_KIND_NAMES = {str: "text", dict: "table", int: "whole number"}
BESIDE_READING: tuple[str, ...] = ("hand_out", "due_days", "waivers_by", "gate")
"""The fields that say what happens with findings, and not what is found."""


def _texts(written: str, value: Any) -> tuple[str, ...]:
    if not isinstance(value, (list, tuple)) or not all(isinstance(item, str) for item in value):
        raise BadPolicy(f"{written}: has to be a list of texts, not {value!r}")
    return tuple(value)


def _as_written(name: str) -> str:
    return name.replace("_", "-")


def _covers(item: str, check: Check) -> bool:
    return item in (check.id, check.area)


def _names_a_check(item: str) -> bool:
    return any(_covers(item, check) for check in catalogue().values())
