"""Numbers in attributes, read as browsers read them (HTML Standard, 2.3.4)."""

from __future__ import annotations

import re

_INTEGER = re.compile(r"[\t\n\f\r ]*([+-]?)([0-9]{1,15})")
_DIMENSION = re.compile(r"[\t\n\f\r ]*([0-9]{1,15}(?:\.[0-9]{0,15})?)(%?)")


def integer(text: str) -> int | None:
    """Return the integer that a text begins with (2.3.4.1); white space before and anything after
    it does not count. None for none."""
    found = _INTEGER.match(text)
    return int(found[1] + found[2]) if found else None


def non_negative(text: str) -> int | None:
    """Return the same where it is not below 0 (2.3.4.2), else None."""
    number = integer(text)
    return number if number is not None and number >= 0 else None


def dimension(text: str) -> float | None:
    """Return a length in CSS px, as of ``width`` and ``height`` (2.3.4.4); None for none, and for a
    percentage."""
    found = _DIMENSION.match(text)
    return float(found[1]) if found and not found[2] else None
