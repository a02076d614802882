"""What the interface calls a thing is what the core calls it: no name stands on one side alone."""

from enum import StrEnum
from typing import Any, get_args

import pytest

from plumrake import models
from plumrake.core.decisions import Answer, Standing
from plumrake.core.findings import Outcome, Weight
from plumrake.core.fixes import FixState, Move
from plumrake.core.gate import Decision, GateStanding, Origin
from plumrake.core.structure import Zone
from plumrake.lenses.read_options import DrawnAs
from plumrake.models.fixes import FixMoveName
from plumrake.models.gate import DecisionName, GateStandingName, OriginName


@pytest.mark.parametrize(
    ("names", "enum"),
    [
        (models.StandingName, Standing),
        (models.WeightName, Weight),
        (models.FixState, FixState),
        (models.ZoneName, Zone),
        (DecisionName, Decision),
        (OriginName, Origin),
        (GateStandingName, GateStanding),
        (models.NewJudgement.model_fields["answer"].annotation, Answer),
    ],
)
def test_names_of_the_interface_are_those_of_the_core(names: Any, enum: type[StrEnum]) -> None:
    """A value that one side learns and the other does not is told here."""
    assert set(get_args(names)) == {one.value for one in enum}


def test_a_page_is_drawn_as_the_browser_can() -> None:
    assert get_args(models.PagePictureKind) == get_args(DrawnAs)


def test_names_that_are_a_choice_of_the_cores() -> None:
    """Findings are sure or doubtful only; waiving and what readings do are no moves to be asked
    for."""
    assert set(get_args(models.OutcomeName)) == {Outcome.FAILED, Outcome.CANT_TELL}
    by_others = {Move.WAIVE, Move.END_WAIVER, Move.PROVE, Move.REOPEN}
    asked_for = set(get_args(FixMoveName))
    assert asked_for < {one.value for one in Move}
    assert not asked_for & by_others
