"""Rows as CSV (RFC 4180)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def to_csv(names: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """Return rows below a line of names; what a spreadsheet would take for a formula is kept from
    being one."""
    written = io.StringIO()
    writer = csv.writer(written, lineterminator="\r\n")
    writer.writerow(names)
    for row in rows:
        writer.writerow(["" if value is None else _safe(str(value)) for value in row])
    return written.getvalue()


def _safe(text: str) -> str:
    return f"'{text}" if text.startswith(_FORMULA) else text
