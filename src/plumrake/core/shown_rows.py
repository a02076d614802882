"""Rows of what is shown to people beside a question."""

from __future__ import annotations

from typing import Any

_WHERE = frozenset(["selector", "box", "path"])
"""What says where a row is and not what it is: laid out anew, it is the same."""

CALLED_BY = ("name", "text", "sentence", "words", "file", "abbreviation", "state", "address")
"""The members that a row may be called by, the first that it has; the console is told them."""

Row = dict[str, Any]


def known(row: Row) -> Row:
    """Return what a row says, without where it is."""
    return {name: row[name] for name in row if name not in _WHERE}


def called(row: Row) -> str:
    """Return what a row is called; ``""`` where it has no words of its own."""
    return next((str(row[name]) for name in CALLED_BY if row.get(name)), "")
