"""What members of single areas of a site may change. A change counts things of the whole site anew,
so its transaction meets all of it; what it names has to be in their areas, and is looked at before.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any, Literal

from fastapi import Request

from plumrake.core.addresses import normalised
from plumrake.records import members
from plumrake.records.members import Named
from plumrake.records.queries import Connection
from plumrake.service.problems import Refusal, not_found


@dataclass(frozen=True, slots=True)
class _Change:
    """A change that members of areas may make: which field of its body, or of its address, names
    what (``names``), of which one at least has to be there (``one_of``), and which values alone
    some fields may have (``only``). What the address names beside it was looked at already."""

    names: Mapping[str, Named | Literal["section"]] = field(default_factory=dict)
    one_of: Sequence[str] = ()
    only: Mapping[str, Sequence[Any]] = field(default_factory=dict)


_OF_ITS_ADDRESS = _Change()
_CHANGES: Mapping[str, _Change] = MappingProxyType(
    {
        "moveFixes": _Change({"ids": "fix"}),
        "moveFix": _OF_ITS_ADDRESS,
        "grantWaiver": _Change(only={"scope": ("place", "page")}),
        "endWaiver": _Change({"waiver_id": "waiver"}),
        "decideCauses": _Change({"causes": "cause"}, ["causes"]),
        "judge": _OF_ITS_ADDRESS,
        "endJudgement": _Change({"judgement_id": "judgement"}),
        "answerQuestion": _Change({"path": "page"}, ["path"]),
        "takeBackAnswer": _Change({"answer_id": "review_answer"}),
        "draftCorrection": _Change({"finding": "finding"}, only={"everywhere": (None, False)}),
        "writeCorrections": _Change(
            {"ids": "correction", "path": "page", "cause": "cause"}, ["ids", "path", "cause"]
        ),
        "moveCorrection": _OF_ITS_ADDRESS,
        "tryMarkup": _OF_ITS_ADDRESS,
        "writeLibraryText": _OF_ITS_ADDRESS,
        "takeBackLibraryText": _OF_ITS_ADDRESS,
        "describePicture": _OF_ITS_ADDRESS,
        "askGate": _Change({"path": "page"}, ["path"]),
        "overruleGate": _OF_ITS_ADDRESS,
        "useClearance": _OF_ITS_ADDRESS,
        "tellPublished": _Change({"path": "page"}, ["path"]),
        "askRelease": _Change({"paths": "page", "section": "section"}, ["paths", "section"]),
        "saveFilter": _OF_ITS_ADDRESS,
        "dropFilter": _OF_ITS_ADDRESS,
    }
)
_ANY = "~what-ever-stands-behind-it~"
"""What begins any path of a section that has further letters."""
_HOST = "http://host"
_WITHIN = frozenset(("nextQuestion",))
"""These change nothing that is counted: they meet the areas alone, like what only reads."""


async def may_work(request: Request, connection: Connection, site_id: int) -> bool:
    """Tell whether a change is one of the whole site's counts, whose transaction is to meet all of
    it. Raises a problem where it reaches beyond the areas of who asks."""
    operation = request.scope["route"].operation_id
    if operation in _WITHIN:
        return False
    change = _CHANGES.get(operation)
    if change is None:
        raise _beyond("this is of the whole site")
    address = {name: int(key) for name, key in request.path_params.items() if key.isdecimal()}
    given = {**await _body(request), **address}
    for name, values in change.only.items():
        if given.get(name) not in values:
            raise _beyond(f"{name}: this reaches further")
    named = {name: _listed(given.get(name)) for name in change.names}
    if change.one_of and not any(named[name] for name in change.one_of):
        raise _beyond(f"name what of it: {' or '.join(change.one_of)}")
    for name, kind in change.names.items():
        keys = named[name]
        if kind == "section":
            await _look(connection, site_id, "page", [*keys, *(f"{key}{_ANY}" for key in keys)])
        else:
            await _look(connection, site_id, kind, keys)
    return True


async def _look(
    connection: Connection, site_id: int, kind: Named, keys: Sequence[int | str]
) -> None:
    wanted = str if kind in ("page", "cause") else int
    if not all(type(key) is wanted for key in keys):
        raise not_found(kind.replace("_", " "), keys[0])
    if kind == "page" and any(normalised(f"{_HOST}{key}") != f"{_HOST}{key}" for key in keys):
        raise _beyond("write paths without '.' and '..'")
    if keys and not await members.names_what_is_seen(connection, site_id, kind, keys):
        if kind == "cause":
            raise _beyond("this cause shows on other pages too")
        raise not_found(kind.replace("_", " "), keys[0])


def _beyond(says: str) -> Refusal:
    return Refusal(
        403,
        "beyond-areas",
        f"{says}; you are here for single areas of the site: ask who manages it",
    )


async def _body(request: Request) -> Mapping[str, Any]:
    try:
        body = json.loads(await request.body() or b"{}")
    except ValueError:
        return {}  # the route refuses it
    return body if isinstance(body, dict) else {}


def _listed(given: object) -> list[Any]:
    if given is None:
        return []
    return given if isinstance(given, list) else [given]
