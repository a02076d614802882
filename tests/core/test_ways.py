"""The way through the work on a new site: what is left of each step, nothing once it is done."""

from __future__ import annotations

from dataclasses import replace

import pytest

from plumrake.core.ways import STEPS, WayFacts, steps_of

DONE = WayFacts(
    is_read=True, asked=9, answered=9, statement="public", gate_holds=True, times_asked=3
)


def left(facts: WayFacts) -> dict[str, str]:
    return {step.name: step.left for step in steps_of(facts) if not step.is_done}


def test_a_new_site_has_everything_before_it() -> None:
    steps = steps_of(WayFacts(is_read=False, gate_holds=True))
    assert tuple(step.name for step in steps) == STEPS
    assert [step.name for step in steps if step.is_done] == ["register"]
    assert left(WayFacts(is_read=False))["mend"] == "after the first reading"


def test_all_done() -> None:
    assert left(DONE) == {}


@pytest.mark.parametrize(
    ("facts", "step", "says"),
    [
        (replace(DONE, widest_left=1), "hand-out", "1 cause with nobody"),
        (replace(DONE, widest_left=4), "hand-out", "4 causes with nobody"),
        (replace(DONE, templates_left=1), "tell-templates", "1 fault of a template with nobody"),
        (replace(DONE, templates_left=2), "tell-templates", "2 faults of templates with nobody"),
        (replace(DONE, pages_held=1200), "mend", "1,200 pages held"),
        (replace(DONE, answered=2), "answer", "7 questions open"),
        (replace(DONE, asked=0, answered=0), "answer", "no question is asked yet"),
        (replace(DONE, statement="none"), "publish-statement", "none is published"),
        (replace(DONE, statement="old"), "publish-statement", "it is too old"),
        (replace(DONE, gate_holds=False), "switch-gate-on", "by the policy nothing holds"),
        (replace(DONE, times_asked=0), "switch-gate-on", "nobody has asked it yet"),
    ],
)
def test_what_is_left_is_said(facts: WayFacts, step: str, says: str) -> None:
    assert left(facts) == {step: says}
