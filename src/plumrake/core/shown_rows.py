"""Rows of what is shown to people beside a question."""

from __future__ import annotations

from typing import Any

_WHERE = frozenset(["selector", "box", "path"])
"""What says where a row is and not what it is: laid out anew, it is the same."""

Row = dict[str, Any]


def known(row: Row) -> Row:
    """Return what a row says, without where it is."""
    return {name: row[name] for name in row if name not in _WHERE}
