"""Journeys as they are written: what they read, and one clear error for each mistake."""

import pytest

from plumrake.core.journeys import BadJourneys, is_state, parse_journeys, states_of
from plumrake.demo.site import journeys


def written(steps: str, name: str = "Hire a boat") -> str:
    return f"journeys:\n  - name: {name}\n    steps: {steps}\n"


def test_states_come_in_order_with_the_steps_before_them() -> None:
    """Each ``read`` is a state of its own: a path among the pages, the steps up to it without other
    reads, its scope."""
    first, second = states_of(journeys())
    assert (first.path, second.path) == (
        "/boating/day-boats/#~hire-a-day-boat/choosing",
        "/boating/day-boats/#~hire-a-day-boat/price",
    )
    assert [step.kind for step in first.steps] == ["click", "wait for"]
    assert [step.kind for step in second.steps] == [
        "click",
        "wait for",
        "write",
        "press",
        "wait for",
    ]
    assert second.steps[2].words == "Number of people"
    assert second.steps[2].text == "4"
    assert second.scope == "#booking"
    assert is_state(first.path)
    assert not is_state(first.begins_at)


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("journeys: [", "line 1: this is no YAML"),
        ("- go: /", "write 'journeys:' and below it a list"),
        (
            written("[{go: /}, {read: A, lens: markup}]"),
            "journey 1, step 2: 'lens' was unexpected; there are: go, click",
        ),
        (written("[{go: boating}, {read: A}]"), "'boating' is no path of the site"),
        (written("[{go: //elsewhere.example/}, {read: A}]"), "is no path of the site"),
        (
            written("[{click: Next}, {read: A}]"),
            "journey 'Hire a boat', step 1: has to be 'go: /path'",
        ),
        (written("[{go: /}, {click: Next}]"), "reads nothing"),
        (
            written("[{go: /}, {click: Next, press: Enter}, {read: A}]"),
            "step 2: has to be exactly one of",
        ),
        (written("[{go: /}, {write: Ned}, {read: A}]"), "step 2: add 'into: label'"),
        (written("[{go: /}, {choose: Large}, {read: A}]"), "step 2: add 'in: label'"),
        (
            written("[{go: /}, {write: Ned, in: Name}, {read: A}]"),
            "'in' goes with 'choose', not with 'write'",
        ),
        (written("[{go: /}, {click: Next, scope: main}, {read: A}]"), "'scope' goes with 'read'"),
        (written("[{go: /}, {press: Entr}, {read: A}]"), "'Entr' is no key"),
        (written("[{go: /}, {click: {at: 'a[['}}, {read: A}]"), "step 2: the selector 'a[['"),
        (written("[{go: /}, {read: A}, {read: a}]"), "two states are called the same"),
        (
            written("[{go: /}, {write: 4, into: Seats}, {read: A}]"),
            "has to be text in quotes, not 4",
        ),
    ],
)
def test_a_mistake_is_named(text: str, message: str) -> None:
    """The message says where it is and what may stand there."""
    with pytest.raises(BadJourneys) as caught:
        parse_journeys(text)
    assert message in str(caught.value)
