"""Journeys: states of a page that show only after steps (opened, filled in, sent), each of which is
read like a page of its own.

A journey is written in YAML::

    journeys:
      - name: Hire a day boat
        steps:
          - go: /boating/day-boats/
          - click: Choose a day            # what a control is called, or {at: CSS selector}
          - write: "4"
            into: Number of people       # the field's label, or {at: CSS selector}
          - choose: A whole day
            in: How long                 # a list, or a group of radio buttons
          - press: Enter
          - wait for: Your booking         # words on the page, or {at: CSS selector}
          - read: Summary                  # the name of this state
            scope: "#booking"             # report only what lies in here; may be left out
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import TYPE_CHECKING, Any, Literal, get_args

from plumrake.core.scope import BadSelector, compiled

if TYPE_CHECKING:
    from jsonschema import Draft202012Validator

MARK = "#~"
"""What stands between the path of the page that a journey begins on and the name of the state."""
Kind = Literal["go", "click", "write", "choose", "press", "wait for", "read"]
_KINDS: tuple[Kind, ...] = get_args(Kind)
_BESIDE: dict[str, Kind] = {"into": "write", "in": "choose", "scope": "read"}
"""What goes with which kind of step."""
_FIELD: dict[Kind, str] = {"write": "into", "choose": "in"}
"""Where a step that gives a field a value names the field."""


class BadJourneys(ValueError):
    """Something in the journeys is not what it may be; the message says where and what to write."""

    code = "bad-journeys"


@dataclass(frozen=True, slots=True)
class Step:
    """One step, with its number in the journey (from 1): a path to go to, words or a CSS selector,
    a key, a name; ``text`` is what a field is given."""

    number: int
    kind: Kind
    words: str = ""
    selector: str = ""
    text: str = ""

    def __str__(self) -> str:
        return f"step {self.number} ({self.kind} {self.selector or f'“{self.words}”'})"


@dataclass(frozen=True, slots=True)
class JourneyState:
    """A state to read: its path among the site's pages, the page it begins on, the steps that lead
    to it, the part to report."""

    path: str
    begins_at: str
    steps: tuple[Step, ...]
    scope: str | None


def is_state(path: str) -> bool:
    """Tell whether a path stands for a state of a journey and not for a page."""
    return MARK in path


def state_path(begins_at: str, *names: str) -> str:
    """Return the path of a state among a site's pages: that of the page that it begins on, with
    the names of the journey and of the state."""
    return f"{begins_at}{MARK}{'/'.join(_slug(name) for name in names)}"


def parse_journeys(text: str) -> list[dict[str, Any]]:
    """Return the journeys of a YAML text, checked. Raises ``BadJourneys``."""
    import yaml  # only where there are journeys

    try:
        data = yaml.safe_load(text)
    except yaml.YAMLError as error:
        mark = getattr(error, "problem_mark", None)
        where = f"line {mark.line + 1}: " if mark is not None else ""
        raise BadJourneys(f"{where}this is no YAML: {getattr(error, 'problem', error)}") from None
    if not isinstance(data, dict) or not isinstance(data.get("journeys"), list):
        raise BadJourneys(
            "write 'journeys:' and below it a list of journeys, each with 'name' and 'steps'"
        )
    states_of(data["journeys"])
    journeys: list[dict[str, Any]] = data["journeys"]
    return journeys


def states_of(journeys: Sequence[Mapping[str, Any]]) -> list[JourneyState]:
    """Return every state that journeys read, in their order. Raises ``BadJourneys``."""
    from jsonschema.exceptions import best_match  # only for whom there are journeys

    problem = best_match(_schema().iter_errors({"journeys": list(journeys)}))
    if problem is not None:
        raise BadJourneys(f"{_place(problem.absolute_path)}{_plain(problem)}")
    states = [state for journey in journeys for state in _states(journey)]
    twice = {
        state.path for state in states if sum(other.path == state.path for other in states) > 1
    }
    if twice:
        raise BadJourneys(
            f"two states are called the same ({min(twice)}); give each journey, and each "
            "'read' in it, a name of its own"
        )
    return states


def _states(journey: Mapping[str, Any]) -> list[JourneyState]:
    steps = [
        _step(journey["name"], number, given) for number, given in enumerate(journey["steps"], 1)
    ]
    if steps[0].kind != "go":
        raise BadJourneys(
            f"journey '{journey['name']}', step 1: has to be 'go: /path', the page that it "
            "begins on"
        )
    reads = [step for step in steps if step.kind == "read"]
    if not reads:
        raise BadJourneys(
            f"journey '{journey['name']}': reads nothing; add a step 'read: name of the state'"
        )
    begins_at = steps[0].words
    return [
        JourneyState(
            path=state_path(begins_at, journey["name"], read.words),
            begins_at=begins_at,
            steps=tuple(step for step in steps[1 : read.number] if step.kind != "read"),
            scope=read.selector or None,
        )
        for read in reads
    ]


def _step(journey: str, number: int, given: Mapping[str, Any]) -> Step:
    where = f"journey '{journey}', step {number}"
    kinds = [kind for kind in _KINDS if kind in given]
    if len(kinds) != 1:
        raise BadJourneys(f"{where}: has to be exactly one of {', '.join(_KINDS)}")
    kind = kinds[0]
    for name, belongs_to in _BESIDE.items():
        if name in given and kind != belongs_to:
            raise BadJourneys(f"{where}: '{name}' goes with '{belongs_to}', not with '{kind}'")
    field = _FIELD.get(kind)
    if field is not None and field not in given:
        raise BadJourneys(f"{where}: add '{field}: label', the field that the value is for")
    target = given[field or kind]
    selector = target["at"] if isinstance(target, Mapping) else given.get("scope", "")
    if selector:
        try:
            compiled((selector,))
        except BadSelector as error:
            raise BadJourneys(f"{where}: {error}") from None
    return Step(
        number,
        kind,
        "" if isinstance(target, Mapping) else target,
        selector,
        given[kind] if field else "",
    )


def _slug(name: str) -> str:
    return re.sub(r"[^\w]+", "-", name.lower()).strip("-") or "state"


@cache
def _schema() -> Draft202012Validator:
    from jsonschema import Draft202012Validator

    return Draft202012Validator(
        json.loads(
            files("plumrake.core").joinpath("journeys.schema.json").read_text(encoding="utf-8")
        )
    )


def _place(path: Sequence[Any]) -> str:
    words = {"journeys": "journey", "steps": "step"}
    parts = list(path)
    told = [
        f"{words[parts[at - 1]]} {part + 1}" if isinstance(part, int) else f"'{part}'"
        for at, part in enumerate(parts)
    ]
    shown = [text for text in told if text not in ("'journeys'", "'steps'")]
    return f"{', '.join(shown)}: " if shown else ""


def _plain(problem: Any) -> str:
    """Return a schema's problem in words for the person who wrote the YAML."""
    if problem.validator == "additionalProperties":
        known = ", ".join(problem.schema["properties"])
        return f"{problem.message.partition('(')[2].rstrip(')')}; there are: {known}"
    if problem.validator == "pattern" and "go" in problem.absolute_path:
        return f"'{problem.instance}' is no path of the site; write one such as /boating/hire/"
    if problem.validator == "pattern":
        return (
            f"'{problem.instance}' is no key; write for example Enter, Escape, Tab, Space, "
            "ArrowDown or Shift+Tab"
        )
    if problem.validator == "type" and problem.validator_value == "string":
        return f"has to be text in quotes, not {problem.instance!r}"
    return str(problem.message)
