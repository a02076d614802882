"""What a process that reads strangers' pages answers is taken in as data, whatever it is."""

from __future__ import annotations

import operator
import os
import pickle
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

import pytest

from plumrake.core.assess import Assessment
from plumrake.core.findings import Needs
from plumrake.core.mending import edits
from plumrake.core.patterns import Part
from plumrake.lenses.answers import UnknownKind, loads
from plumrake.lenses.runners import AssessorLost, ProcessRunners


@dataclass
class Called:
    """Something that is done on being unpickled."""

    function: Callable[..., Any]
    given: tuple[Any, ...]

    def __reduce__(self) -> tuple[Any, ...]:
        return self.function, self.given


@pytest.mark.parametrize(
    "answer",
    [
        None,
        (True, {"a": [1, 2.5, "x", b"y"], "s": {1}, "f": frozenset("ab")}),
        Assessment((), ()),
        Needs.STYLE,
        [Part(0), Part.TEXT, Part.TEXT | Part.KEYBOARD, Part.NARROW | Part.TEXT | Part.KEYBOARD],
        Counter("aab"),
        date(2027, 1, 31),
    ],
)
def test_data_comes_as_it_was(answer: object) -> None:
    """Plain values, records and enumerations of ours."""
    assert loads(pickle.dumps(answer, pickle.HIGHEST_PROTOCOL)) == answer


def test_members_come_as_older_pythons_write_them() -> None:
    """Before 3.11.4 a member is got from its class by name, and so it is taken in: of enumerations
    alone."""
    assert loads(pickle.dumps(Called(getattr, (Needs, "STYLE")))) is Needs.STYLE
    both = Called(operator.or_, (Part.TEXT, Part.KEYBOARD))
    assert loads(pickle.dumps(both)) == Part.TEXT | Part.KEYBOARD
    for strange in (
        Called(getattr, (Assessment, "__init__")),
        Called(getattr, ("", "format")),
        Called(getattr, (Needs, "__init__")),
        Called(operator.or_, ({1}, {2})),
    ):
        with pytest.raises(UnknownKind):
            loads(pickle.dumps(strange))


def test_nothing_is_called(tmp_path: Path) -> None:
    """Neither a function of Python, nor one of ours, nor one that a module of ours only uses."""
    mark = tmp_path / "called"
    for answer in (
        Called(os.mkdir, (str(mark),)),
        Called(Path(str(mark)).mkdir, ()),
        Called(edits.applied, ("", ())),
        {"deep": [Called(eval, (f"__import__('os').mkdir({str(mark)!r})",))]},
    ):
        with pytest.raises(UnknownKind):
            loads(pickle.dumps(answer))
    with pytest.raises(UnknownKind):
        loads(b"cplumrake.lenses.runners\nos.mkdir\n(S'/x'\ntR.")
    assert not mark.exists()


@pytest.mark.parametrize("answer", [b"", b"\x80", b"no pickle", pickle.dumps("cut off")[:-3]])
def test_what_is_broken_is_no_answer(answer: bytes) -> None:
    """It is said with one kind of error."""
    with pytest.raises(UnknownKind):
        loads(answer)


async def test_who_answers_so_is_lost() -> None:
    """The page is given up with whoever computed for it, as where it went past its limits."""
    lent = ProcessRunners()
    async with lent.lend() as runner:
        with pytest.raises(AssessorLost, match="posix"):
            await runner.run(Called, os.getcwd, ())
        with pytest.raises(AssessorLost):
            await runner.run(len, "abc")
    async with lent.lend() as another:
        assert await another.run(len, "abc") == 3
    lent.close()
