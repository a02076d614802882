"""Listings in parts: the address of the part that follows."""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import urlencode


def following(path: str, given: Mapping[str, object], *, more: bool) -> str | None:
    """Return the address of a listing's next part below ``/api/v1``, None where there is none; values that are None are left out."""
    query = {name: str(value).lower() if isinstance(value, bool) else value for name, value in given.items() if value is not None}
    return f"/api/v1{path}?{urlencode(query, doseq=True)}" if more else None
