"""Days as people write them in English."""

from __future__ import annotations

from datetime import date


def in_words(day: date) -> str:
    """Return a day as ``5 December 2026``."""
    return f"{day.day} {day:%B %Y}"
