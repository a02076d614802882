"""A baseline: the findings that are known, one line each, so that a pipeline fails only for what is
new. It is sorted by place key, so that two people's changes of it merge."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from plumrake.reports.pages import Reported
from plumrake.reports.report import Gone

_HEAD = "# What Plum Rake knows of: place key, check, page. Written by look --keep-baseline.\n"
_LEAST_PARTS = 3


class BadBaseline(ValueError):
    """A file is no baseline; the message says which line and why."""


@dataclass(frozen=True, slots=True)
class Baseline:
    """What is known, by place key: check and page."""

    known: Mapping[str, tuple[str, str]]

    def is_new(self, place_key: str) -> bool:
        """Tell whether a finding is not known."""
        return place_key not in self.known

    def gone(self, pages: Iterable[Reported]) -> list[Gone]:
        """Return what is known of pages that were read, and is not there any more."""
        read: dict[str, set[str]] = {}
        for page in pages:
            if page.problem is None:
                read.setdefault(page.address, set()).update(one.place_key for one in page.findings)
        return [
            Gone(key, check, address)
            for key, (check, address) in sorted(self.known.items())
            if address in read and key not in read[address]
        ]


def parse_baseline(text: str) -> Baseline:
    """Return a baseline from its text. Raises ``BadBaseline``."""
    known: dict[str, tuple[str, str]] = {}
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip() or line.startswith("#"):
            continue
        parts = line.split(" ", 2)
        if len(parts) < _LEAST_PARTS or "/" not in parts[1]:
            raise BadBaseline(
                f"line {number} is none of a baseline's: place key, check and page, with a space "
                "between; solve a merge's conflicts by keeping both sides"
            )
        known[parts[0]] = parts[1], parts[2]
    return Baseline(known)


def written_baseline(pages: Iterable[Reported], before: Baseline | None = None) -> str:
    """Return the text of a baseline of what is found on pages; what was known ``before`` of other
    pages stays in it."""
    pages = list(pages)
    read = {page.address for page in pages if page.problem is None}
    known = {
        key: (check, address)
        for key, (check, address) in (before.known.items() if before is not None else ())
        if address not in read
    }
    for page in pages:
        known |= {one.place_key: (one.check, page.address) for one in page.findings}
    return _HEAD + "".join(
        f"{key} {check} {address}\n" for key, (check, address) in sorted(known.items())
    )
