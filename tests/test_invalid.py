"""What is wrong with a value, in one sentence: where it stands, and what may stand there."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import pytest
from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    StringConstraints,
    ValidationError,
    field_validator,
)

from plumrake.invalid import sentence


class Step(BaseModel):
    name: Annotated[str, StringConstraints(min_length=3, max_length=4)] = "abc"


class Plan(BaseModel):
    """A model with a field for each kind of refusal."""

    model_config = ConfigDict(extra="forbid")
    kind: Literal["live", "staging"] = "live"
    number: Annotated[int, Field(ge=1, le=32)] = 1
    steps: Annotated[list[Step], Field(max_length=2)] = Field(default_factory=list)
    words: Annotated[list[str], Field(min_length=1)] = Field(default=["a"])
    on: bool = True

    @field_validator("words")
    @classmethod
    def no_boats(cls, words: list[str]) -> list[str]:
        if "boat" in words:
            raise ValueError("'boat' is no word; write 'ship'")
        return words


@pytest.mark.parametrize(
    ("given", "says"),
    [
        ({"kind": "test"}, "kind: 'test' is not known; write 'live' or 'staging'"),
        ({"number": 0}, "number: has to be 1 or more, not 0"),
        ({"number": 99}, "number: has to be 32 or less, not 99"),
        ({"number": "many"}, "number: has to be a whole number, not 'many'"),
        ({"on": "perhaps"}, "on: has to be true or false, not 'perhaps'"),
        (
            {"steps": [{}, {"name": "ab"}]},
            "steps, number 2, name: has to have 3 characters or more",
        ),
        (
            {"steps": [{"name": "abcde"}]},
            "steps, number 1, name: has to have 4 characters or fewer",
        ),
        ({"steps": [{}, {}, {}]}, "steps: has to have 2 entries or fewer"),
        ({"words": []}, "words: has to have 1 entry or more"),
        ({"words": "a"}, "words: has to be a list, not 'a'"),
        ({"words": ["boat"]}, "words: 'boat' is no word; write 'ship'"),
        ({"colour": "red"}, "colour: is no field here"),
        ({"steps": ["x"]}, "steps, number 1: has to be a table, not 'x'"),
    ],
)
def test_a_refused_value_is_said_in_one_sentence(given: dict[str, Any], says: str) -> None:
    """Numbers of places count from one; long values are cut."""
    with pytest.raises(ValidationError) as refused:
        Plan(**given)
    assert sentence(refused.value.errors()[0]) == says


def test_long_values_are_cut() -> None:
    """A value of any length makes a line that can be read."""
    with pytest.raises(ValidationError) as refused:
        Plan(number="9" * 9000 + "x")  # type: ignore[arg-type]
    assert len(sentence(refused.value.errors()[0])) < 200
