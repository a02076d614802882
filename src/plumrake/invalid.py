"""What is wrong with a value that Pydantic refused, in one sentence: where it stands and what may
stand there. For files, for the interface and for the command line alike; knows nothing of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

_HAS_TO_BE = {
    "string_type": "text",
    "int_type": "a whole number",
    "int_parsing": "a whole number",
    "bool_parsing": "true or false",
    "date_from_datetime_parsing": "a day, as 2027-01-31",
    "tuple_type": "a list",
    "list_type": "a list",
    "dict_type": "a table",
    "model_type": "a table",
    "model_attributes_type": "a table",
}
_MOST_SHOWN = 80


def sentence(error: Any) -> str:
    """Return one of a ``ValidationError``'s errors as where and what."""
    return where(error["loc"]) + what(error)


def where(steps: Sequence[int | str]) -> str:
    """Return the way to a value: ``gate.sections, number 2, pattern:``."""
    way, joint = "", ""
    for step in steps:
        if isinstance(step, int):
            way, joint = f"{way}, number {step + 1}", ", "
        else:
            way, joint = f"{way}{joint}{step}", joint or "."
    return f"{way}: " if way else ""


def what(error: Any) -> str:
    """Return what is wrong with the value itself."""
    given, facts = error["input"], error.get("ctx", {})
    shown = repr(given)[:_MOST_SHOWN]
    match error["type"]:
        case "value_error":
            return str(facts["error"])
        case "literal_error":
            return f"{shown} is not known; write {facts['expected']}"
        case "missing":
            return "has to be there"
        case "json_invalid":
            return f"is no JSON: {facts['error']}"
        case "extra_forbidden":
            return "is no field here"
        case "greater_than_equal":
            return f"has to be {facts['ge']} or more, not {shown}"
        case "less_than_equal":
            return f"has to be {facts['le']} or less, not {shown}"
        case "string_too_short" | "too_short":
            return f"has to have {_so_many(facts['min_length'], error['type'])} or more"
        case "string_too_long" | "too_long":
            return f"has to have {_so_many(facts['max_length'], error['type'])} or fewer"
    wanted = _HAS_TO_BE.get(error["type"])
    return f"has to be {wanted}, not {shown}" if wanted else str(error["msg"])


def _so_many(count: int, kind: str) -> str:
    one = "character" if kind.startswith("string") else "entry"
    several = "characters" if kind.startswith("string") else "entries"
    return f"{count} {one if count == 1 else several}"
