"""What the tables of a policy are made of: their kinds of values, and what is wrong with a table
said in one sentence."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Annotated, Any, Literal, TypeVar, get_args, get_origin

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Strict, ValidationError

from plumrake.core.colours import parse
from plumrake.core.registry import Check, catalogue
from plumrake.core.scope import compiled
from plumrake.invalid import what, where
from plumrake.path_patterns import what_is_wrong_with

_WRITTEN = {"begins": "from"}
"""Fields that cannot be called in Python what they are called in a file."""


def as_written(name: str) -> str:
    """Return a field's name as it is written in ``plumrake.toml``."""
    return _WRITTEN.get(name, name.replace("_", "-"))


def covers(item: str, check: Check) -> bool:
    """Tell whether an item of a list, an area or a check's id, means the check."""
    return item in (check.id, check.area)


def _names_a_check(item: str) -> str:
    if not any(covers(item, check) for check in catalogue().values()):
        raise ValueError(f"no check or area is called '{item}'; 'plumrake checks' lists them")
    return item


def _path_pattern(value: str) -> str:
    if (problem := what_is_wrong_with(value)) is not None:
        raise ValueError(problem)
    return value


def _selector(value: str) -> str:
    if not value.strip():
        raise ValueError("has to be a CSS selector, not ''")
    compiled((value,))
    return value


def _colour(value: str) -> str:
    parse(value)
    return value


def _day(value: Any) -> date:
    try:
        return value if isinstance(value, date) else date.fromisoformat(value)
    except (TypeError, ValueError):
        raise ValueError(f"'{value}' is no day; write it as 2027-01-31") from None


Value = TypeVar("Value")
Several = tuple[Value, ...]
WholeNumber = Annotated[int, Strict()]
CheckName = Annotated[str, AfterValidator(_names_a_check)]
CheckOrAll = Annotated[
    str, AfterValidator(lambda value: value if value == "*" else _names_a_check(value))
]
"""A check, an area, or ``*`` for all."""
PathPattern = Annotated[str, AfterValidator(_path_pattern)]
"""A path in which ``*`` stands for anything."""
Selector = Annotated[str, AfterValidator(_selector)]
"""A CSS selector (Selectors Level 4, as far as cssselect2 goes)."""
Colour = Annotated[str, AfterValidator(_colour)]
"""A colour as CSS writes it (CSS Color 4)."""
Day = Annotated[date, BeforeValidator(_day)]


class Table(BaseModel):
    """A table of ``plumrake.toml``: nothing in it that is not known. Fields may be written with
    hyphens or as in Python; ``title`` and ``description`` are what a person reads of each."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        alias_generator=as_written,
        validate_by_name=True,
        validate_by_alias=True,
    )


def problem_of(error: ValidationError, table: type[Table]) -> str:
    """Return the first thing that is wrong: where, what stands there and what may."""
    first = error.errors(include_url=False)[0]
    *above, last = first["loc"]
    if first["type"] == "extra_forbidden":
        owner = _table_at(table, above)
        known = ", ".join(map(as_written, owner.model_fields))
        return f"{where(above)}'{last}' is no field here; there are: {known}"
    return where(first["loc"] if last != "[key]" else above[:-1]) + what(first)


def _table_at(table: type[Table], steps: list[int | str]) -> type[Table]:
    """Return the kind of table that the steps lead to."""
    for step in steps:
        if isinstance(step, int):
            continue
        field = next(
            field for name, field in table.model_fields.items() if step in (name, as_written(name))
        )
        table = next(one for one in kinds_in(field.annotation) if is_table(one))
    return table


def is_table(kind: Any) -> bool:
    """Tell whether an annotation is a kind of table."""
    return isinstance(kind, type) and issubclass(kind, Table)


def kinds_in(annotation: Any) -> Iterator[Any]:
    """Yield an annotation, what it is a kind of, and all that it is made of, to the innermost."""
    yield annotation
    yield get_origin(annotation)
    if get_origin(annotation) is not Literal:
        for part in get_args(annotation):
            yield from kinds_in(part)
