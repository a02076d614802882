"""What all models share: kinds of texts, the bases, listings and problems."""

from __future__ import annotations

import re
from typing import Annotated, Any, Generic, Literal, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

from plumrake.path_patterns import MOST_LETTERS, MOST_STARS

Role = Literal["manager", "editor", "developer", "reader"]
Environment = Literal["live", "staging"]
Lens = Literal["rendered", "markup"]
WeightName = Literal["barrier", "obstacle", "friction"]
CauseSort = Literal["reach", "weight", "newest"]
FindingSort = Literal["weight", "page"]
PageSort = Literal["path", "weight"]
LinkStateName = Literal["works", "only-in-staging", "dead", "no-part", "unknown"]
OutcomeName = Literal["failed", "cantTell"]
StandingName = Literal["counts", "doubtful", "judged fine", "waived", "left out", "mended"]
ZoneName = Literal["header", "menu", "content", "card", "search", "aside", "footer", "page"]
WordsChoice = Literal["apart", "with", "only"]
Scope = Literal["read", "write", "gate"]
FixState = Literal["open", "in_hand", "handed_in", "proven", "reopened", "waived", "page_gone"]
Line = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]


def must(pattern: str, says: str) -> AfterValidator:
    """Return a validator that refuses with a plain sentence what does not match ``pattern``."""

    def check(value: str) -> str:
        if not re.fullmatch(pattern, value):
            raise ValueError(f"'{value[:80]}' {says}")
        return value

    return AfterValidator(check)


ChosenPassword = Annotated[str, StringConstraints(min_length=1, max_length=500)]
"""Whether it may be one, the service says."""
Short = StringConstraints(strip_whitespace=True, max_length=500)
Address = Annotated[
    str,
    Short,
    must(
        r"https?://[^\s/?#]+(/[^\s?#]*)?",
        "is no web address; write it as https://host/ without '?' and '#'",
    ),
]
Link = Annotated[
    str,
    StringConstraints(strip_whitespace=True, max_length=2000),
    must(r"https?://\S+", "is no web address; begin it with https://"),
]
Path = Annotated[
    str, StringConstraints(max_length=2000), must(r"/[^\s#]*", "is no path; begin it with '/'")
]
StatePath = Annotated[
    str,
    StringConstraints(max_length=2000),
    must(
        r"/[^\s#]*(#~[a-z0-9-]+(/[a-z0-9-]+)*)?",
        "is no path; write '/path', for a state '/path#~journey/state' in small letters",
    ),
]
Slug = Annotated[
    str, must(r"[a-z0-9][a-z0-9-]{0,60}", "is no short name; use small letters, digits and hyphens")
]
TABLE_KIND = "x-table"
PolicyTable = Annotated[dict[str, Any], Field(json_schema_extra={TABLE_KIND: "Policy"})]
"""The fields of a ``plumrake.toml``. The service checks them, its OpenAPI document names them."""
GateTable = Annotated[dict[str, Any], Field(json_schema_extra={TABLE_KIND: "GateRules"})]
"""The fields of its ``[gate]``."""
Item = TypeVar("Item")


class Model(BaseModel):
    """The base of all: unknown fields are refused, rows of records are taken as they are."""

    model_config = ConfigDict(extra="forbid", from_attributes=True)


class Answer(BaseModel):
    """The base of what the service answers: a client of an older version ignores what it does not
    know."""

    model_config = ConfigDict(from_attributes=True)


class Listing(Answer, Generic[Item]):
    """One page of a listing; ``next`` is the address of the following one. ``total`` where it is
    cheap to count."""

    items: list[Item]
    next: str | None = None
    total: int | None = None


class ProblemDetails(Answer):
    """An error (RFC 9457) with a stable ``code``."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str
    instance: str | None = None
    errors: list[dict[str, str]] | None = None


Reason = Annotated[str, StringConstraints(strip_whitespace=True, max_length=4000)]
_PATHS = rf"\*|/[^\s#*]*(\*[^\s#*]*){{0,{MOST_STARS}}}"
Area = Annotated[
    str,
    StringConstraints(max_length=MOST_LETTERS),
    must(
        _PATHS,
        f"is no area of a site; write a path in which '*' stands for anything ({MOST_STARS} times "
        "at most), as /boating/*",
    ),
]
Pattern = Annotated[
    str,
    StringConstraints(max_length=MOST_LETTERS),
    must(
        f"template|{_PATHS}",
        f"is no area of a site; write a path in which '*' stands for anything ({MOST_STARS} times "
        "at most), or 'template'",
    ),
]


class OwnerChoice(Model):
    """Who is to answer: a person, a group, the ``author`` of what makes the page, or (none of them)
    nobody."""

    person_id: int | None = None
    group_id: int | None = None
    author: bool = False
