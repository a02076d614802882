"""The way through the work on a new site: from registering it to the gate, each step with what is
left of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

StepName = Literal[
    "register",
    "read",
    "hand-out",
    "tell-templates",
    "mend",
    "answer",
    "publish-statement",
    "switch-gate-on",
]
STEPS: tuple[StepName, ...] = get_args(StepName)
StatementState = Literal["none", "old", "public"]


@dataclass(frozen=True, slots=True)
class WayFacts:
    """What is known of a site: whether it was read; of its widest causes how many nobody has, of
    those of templates how many; pages that are held; questions; its statement; its gate."""

    is_read: bool
    widest_left: int = 0
    templates_left: int = 0
    pages_held: int = 0
    asked: int = 0
    answered: int = 0
    statement: StatementState = "none"
    gate_holds: bool = False
    times_asked: int = 0


@dataclass(frozen=True, slots=True)
class Step:
    """A step: its name, what is to be done, whether it is done, and what is left of it."""

    name: StepName
    says: str
    is_done: bool
    left: str


def steps_of(facts: WayFacts) -> list[Step]:
    """Return the steps in their order. Before a site is read all behind it are open."""
    waits = "" if facts.is_read else "after the first reading"
    return [
        Step("register", "Register the site", is_done=True, left=""),
        Step("read", "Read all its pages once", facts.is_read, "" if facts.is_read else "not yet"),
        _step(
            "hand-out",
            "Hand the widest causes out",
            waits or _counted(facts.widest_left, "cause", "with nobody"),
        ),
        _step(
            "tell-templates",
            "Tell whoever keeps the templates",
            waits or _counted(facts.templates_left, "fault of a template", "with nobody"),
        ),
        _step(
            "mend",
            "Mend the pages that are held",
            waits or _counted(facts.pages_held, "page", "held"),
        ),
        _step(
            "answer",
            "Answer what only people can see",
            waits
            or _counted(facts.asked - facts.answered, "question", "open")
            or ("" if facts.asked else "no question is asked yet"),
        ),
        _step("publish-statement", "Publish the accessibility statement", _statement(facts)),
        _step("switch-gate-on", "Let the gate hold what is not ready", _gate(facts)),
    ]


def _step(name: StepName, says: str, left: str) -> Step:
    return Step(name, says, not left, left)


def _counted(count: int, one: str, rest: str) -> str:
    if not count:
        return ""
    many = one.replace("fault of a template", "faults of templates") if " " in one else f"{one}s"
    return f"{count:,} {one if count == 1 else many} {rest}"


def _statement(facts: WayFacts) -> str:
    return {"none": "none is published", "old": "it is too old", "public": ""}[facts.statement]


def _gate(facts: WayFacts) -> str:
    if not facts.gate_holds:
        return "by the policy nothing holds"
    return "" if facts.times_asked else "nobody has asked it yet"
