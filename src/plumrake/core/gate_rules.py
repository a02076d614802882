"""The rules of the gate: what holds a publication, in which part of the site, from when on, and who may overrule."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from datetime import date
from typing import Any

from plumrake.core.parts import matches

COUNTS: tuple[str, ...] = ("change", "everything")
"""``change``: only what the publication brings; ``everything``: what was there before holds too."""
ROLES: tuple[str, ...] = ("manager", "editor", "developer")
_HOLDS = ("barrier", "obstacle", "friction", "none")
_MOST_MINUTES = 7 * 24 * 60


class BadRules(ValueError):
    """A rule of the gate is not what it may be; the message says which, and what to write."""


@dataclass(frozen=True, slots=True)
class PartRules:
    """What is different for pages of a part; None is as everywhere. ``pattern`` is a path in which ``*`` stands for anything."""

    pattern: str
    holds: str | None = None
    counts: str | None = None


@dataclass(frozen=True, slots=True)
class GateRules:
    """What holds a publication.

    ``holds`` is the least weight (None: what keeps a page from being ready), ``counts`` one of ``COUNTS``. Until ``begins`` nothing
    holds; until ``old_from`` what was there before does not. ``doubtful`` are areas or checks whose doubtful findings hold too.
    ``overruled_by`` are the roles that may publish against the answer, with a reason. A clearance is good for ``valid_minutes``.
    ``frame`` is the path of the page that fragments are set into, ``slot`` the CSS of the element that holds them there.
    """

    holds: str | None = None
    counts: str = "change"
    begins: date | None = None
    old_from: date | None = None
    doubtful: tuple[str, ...] = ()
    overruled_by: tuple[str, ...] = ("manager",)
    valid_minutes: int = 60
    frame: str | None = None
    slot: str | None = None
    parts: tuple[PartRules, ...] = ()

    def at(self, path: str) -> GateRules:
        """Return the rules for a page: those of the narrowest part that it belongs to over the general ones."""
        fitting = [part for part in self.parts if matches(part.pattern, path)]
        if not fitting:
            return self
        own = max(fitting, key=lambda part: (len(part.pattern.replace("*", "")), part.pattern))
        return replace(self, holds=own.holds or self.holds, counts=own.counts or self.counts, parts=())


_WRITTEN = {"from": "begins"}


def rules_from(data: Mapping[str, Any]) -> GateRules:
    """Return the rules that a table (``[gate]`` of ``plumrake.toml``) describes. Raises ``BadRules``."""
    known = {field.name for field in fields(GateRules)}
    values: dict[str, Any] = {}
    for written, value in data.items():
        name = _WRITTEN.get(written, written.replace("-", "_"))
        if name not in known:
            raise BadRules(f"gate: '{written}' is no rule; there are: {', '.join(sorted(_as_written(one) for one in known))}")
        values[name] = _checked(written, name, value)
    return GateRules(**values)


def _as_written(name: str) -> str:
    return next((written for written, own in _WRITTEN.items() if own == name), name.replace("_", "-"))


def _checked(written: str, name: str, value: Any) -> Any:
    if name in ("begins", "old_from"):
        return _day(written, value)
    if name in ("frame", "slot"):
        return _one_text(written, value, "/" if name == "frame" else "")
    if name == "holds":
        return _one_of(written, value, _HOLDS)
    if name == "counts":
        return _one_of(written, value, COUNTS)
    if name == "valid_minutes":
        if not isinstance(value, int) or isinstance(value, bool) or not 0 < value <= _MOST_MINUTES:
            raise BadRules(f"gate {written}: has to be a whole number of minutes from 1 to {_MOST_MINUTES}, not {value!r}")
        return value
    if not isinstance(value, (list, tuple)):
        raise BadRules(f"gate {written}: has to be a list, not {value!r}")
    if name == "overruled_by":
        return tuple(_one_of(written, role, ROLES) for role in value)
    if name == "parts":
        return tuple(_part(number, part) for number, part in enumerate(value, start=1))
    return tuple(_text(written, one) for one in value)


def _part(number: int, data: Any) -> PartRules:
    where = f"parts, number {number}"
    if not isinstance(data, Mapping) or set(data) - {"pattern", "holds", "counts"} or not str(data.get("pattern", "")).startswith(("/", "*")):
        raise BadRules(f"gate {where}: has to be a table with 'pattern' (a path in which '*' stands for anything), and 'holds' or 'counts'")
    holds = _one_of(f"{where}, holds", data["holds"], _HOLDS) if "holds" in data else None
    return PartRules(str(data["pattern"]), holds, _one_of(f"{where}, counts", data["counts"], COUNTS) if "counts" in data else None)


def _one_of(written: str, value: Any, choices: tuple[str, ...]) -> str:
    if value not in choices:
        raise BadRules(f"gate {written}: '{value}' is not known; write one of {', '.join(choices)}")
    return str(value)


def _text(written: str, value: Any) -> str:
    if not isinstance(value, str):
        raise BadRules(f"gate {written}: has to be a list of texts, not {value!r}")
    return value


def _one_text(written: str, value: Any, begins: str) -> str:
    if not isinstance(value, str) or not value.strip() or not value.startswith(begins):
        raise BadRules(f"gate {written}: has to be {'a path that begins with /' if begins else 'a CSS selector'}, not {value!r}")
    return value


def _day(written: str, value: Any) -> date:
    if isinstance(value, date):
        return value
    try:
        return date.fromisoformat(value)
    except (TypeError, ValueError):
        raise BadRules(f"gate {written}: '{value}' is no day; write it as 2027-01-31") from None
