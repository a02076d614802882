"""Every field of a policy explained for the person who sets it, and what a changed policy would do
to the last sweep."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal, get_args, get_origin

from plumrake.core.criteria import LEVELS
from plumrake.core.decisions import DecidedFinding
from plumrake.core.gate_rules import GateRules
from plumrake.core.policy import BESIDE_READING, Policy
from plumrake.core.registry import Check, catalogue
from plumrake.core.tables import Table, as_written, is_table, kinds_in

_FROM_FINDINGS = ("hold", "only", "without", "standard", "level", *BESIDE_READING)
"""The fields whose effect can be told from what was found; all others need the pages read again."""


Kind = Literal[
    "choice", "choices", "texts", "text", "number", "day", "words", "parameters", "by-check"
]


@dataclass(frozen=True, slots=True)
class FieldHelp:
    """A field of a policy: its name as written, a title, what it does, its kind and its default.

    ``kind`` is ``choice`` (one of ``choices``), ``choices`` (several of them), ``texts``, ``text``,
    ``number``, ``day``, ``words`` (lists of phrases by name), ``parameters`` (values by check) or
    ``by-check`` (a text by check).
    """

    name: str
    title: str
    says: str
    kind: Kind
    choices: tuple[str, ...]
    default: Any


def explained(table: type[Table]) -> tuple[FieldHelp, ...]:
    """Return the fields of a table of a policy, but for the tables in it, in their order."""
    fields = []
    for name, field in table.model_fields.items():
        kinds = tuple(kinds_in(field.annotation))
        if any(map(is_table, kinds)):
            continue
        choices = next((get_args(one) for one in kinds if get_origin(one) is Literal), ())
        fields.append(
            FieldHelp(
                as_written(name),
                field.title or "",
                field.description or "",
                _kind_of(kinds, bool(choices)),
                choices,
                field.get_default(call_default_factory=True),
            )
        )
    return tuple(fields)


def _kind_of(kinds: tuple[Any, ...], has_choices: bool) -> Kind:
    if dict in kinds:
        return "words" if has_choices else "parameters" if kinds.count(dict) > 1 else "by-check"
    if tuple in kinds:
        return "choices" if has_choices else "texts"
    if has_choices:
        return "choice"
    return "number" if int in kinds else "day" if date in kinds else "text"


FIELDS = explained(Policy)
GATE_FIELDS = explained(GateRules)


@dataclass(frozen=True, slots=True)
class PageCounts:
    """A page of a sweep: whether it was read, whether it was ready, and its findings with what was
    decided about them (each kind once)."""

    path: str
    kind: str
    read: bool
    ready: bool
    findings: tuple[DecidedFinding, ...]


@dataclass(frozen=True, slots=True)
class Trial:
    """What a policy would make of a sweep: how many pages were and would be ready, which, and the
    fields that only a new sweep can tell."""

    pages: int
    ready_before: int
    ready_after: int
    held: tuple[str, ...]
    freed: tuple[str, ...]
    needs_sweep: tuple[str, ...]


def try_policy(pages: Iterable[PageCounts], before: Policy, after: Policy) -> Trial:
    """Return what ``after`` would make of the pages of a sweep that was read with ``before``; pages
    that either leaves out are not counted on its side."""
    known = catalogue()
    asked = {name for name, check in known.items() if after.applies(check)}
    total = was = now = 0
    held: list[str] = []
    freed: list[str] = []
    for page in pages:
        was += page.ready and not before.leaves_out(page.path, page.kind)
        if after.leaves_out(page.path, page.kind):
            continue
        ready = page.read and not any(
            one.holds(after.hold, left_out=one.check not in asked) for one in page.findings
        )
        total, now = total + 1, now + ready
        if ready != page.ready:
            (freed if ready else held).append(page.path)
    return Trial(
        total, was, now, tuple(held), tuple(freed), tuple(_untold(before, after, known.values()))
    )


def _untold(before: Policy, after: Policy, checks: Iterable[Check]) -> list[str]:
    """Return the fields whose effect needs the pages to be read again."""
    names = [field.name.replace("-", "_") for field in FIELDS]
    untold = [
        name
        for name in names
        if name not in _FROM_FINDINGS and getattr(before, name) != getattr(after, name)
    ]
    added = [check.id for check in checks if after.applies(check) and not before.applies(check)]
    stricter = LEVELS.index(after.level) > LEVELS.index(before.level)
    if added or stricter:
        untold += [
            name
            for name in ("standard", "level", "only", "without")
            if getattr(before, name) != getattr(after, name)
        ]
    return [name.replace("_", "-") for name in names if name in untold]
