"""A desk as an Atom feed (RFC 4287): an entry per fix, which changes when the fix moves."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from xml.etree import ElementTree

from plumrake.models.labels import state_label
from plumrake.reports.days import in_words

_NAMESPACE = "http://www.w3.org/2005/Atom"
_NO_XML = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""What may not stand in XML 1.0 (2.2), whatever it is written as."""


@dataclass(frozen=True, slots=True)
class Entry:
    """What an entry needs of a fix."""

    id: int
    says: str
    path: str
    pages: int
    environment: str
    weight: str
    state: str
    reopened_after: str | None
    due_on: date | None
    late: bool
    made_at: datetime
    changed_at: datetime


def to_atom(person_id: int, name: str, fixes: Sequence[Entry], address: str) -> str:
    """Return the feed of somebody's fixes; links lead to the console at ``address``."""
    ElementTree.register_namespace("", _NAMESPACE)
    feed = ElementTree.Element(f"{{{_NAMESPACE}}}feed")
    _text(feed, "id", f"{address}/desk#{person_id}")
    _text(feed, "title", f"Fixes of {name}")
    ElementTree.SubElement(feed, f"{{{_NAMESPACE}}}link", {"href": f"{address}/desk"})
    newest = max((fix.changed_at for fix in fixes), default=datetime(2000, 1, 1, tzinfo=UTC))
    _text(feed, "updated", newest.isoformat())
    _text(ElementTree.SubElement(feed, f"{{{_NAMESPACE}}}author"), "name", "Plum Rake")
    for fix in fixes:
        entry = ElementTree.SubElement(feed, f"{{{_NAMESPACE}}}entry")
        _text(entry, "id", f"{address}/fixes/{fix.id}")
        _text(
            entry, "title", f"{state_label(fix.state, fix.reopened_after).capitalize()}: {fix.says}"
        )
        ElementTree.SubElement(
            entry, f"{{{_NAMESPACE}}}link", {"href": f"{address}/fixes/{fix.id}"}
        )
        _text(entry, "updated", fix.changed_at.isoformat())
        _text(entry, "published", fix.made_at.isoformat())
        ElementTree.SubElement(entry, f"{{{_NAMESPACE}}}category", {"term": fix.weight})
        _text(entry, "summary", _summary(fix))
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(
        feed, encoding="unicode"
    )


def _summary(fix: Entry) -> str:
    where = (
        fix.path
        if fix.pages == 1
        else f"{fix.path} and {fix.pages - 1} other page{'s' * (fix.pages != 2)}"
    )
    due = (
        f" Due on {in_words(fix.due_on)}{', late' if fix.late else ''}."
        if fix.due_on is not None
        else ""
    )
    return f"On {where}, {fix.environment}.{due}"


def _text(parent: ElementTree.Element, name: str, text: str) -> None:
    ElementTree.SubElement(parent, f"{{{_NAMESPACE}}}{name}").text = _NO_XML.sub("\ufffd", text)
