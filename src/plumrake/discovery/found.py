"""What discovery gives: addresses of pages with how each was found."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class Found:
    """A page: its path with query, the way it was found, the page that links to it, and when its
    sitemap says it changed."""

    path: str
    found_by: str
    linked_from: str | None = None
    changed_on: datetime | None = None


class NoPages(RuntimeError):
    """Nothing was found to read; the message says where it was looked for and what to do."""

    code = "no-pages"
