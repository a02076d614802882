"""Findings as rows of a CSV (RFC 4180)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from plumrake.reports.as_csv import to_csv
from plumrake.reports.report import About, ReportedPage

COLUMNS = (
    "address title check outcome weight criteria says question selector line column visible "
    "excerpt mends waived new place_key cause_key"
).split()


def csv_pieces(pages: Iterable[ReportedPage], about: About) -> Iterator[str]:
    """Yield a row per finding, below a row of names; a page that was not read is a row with its
    problem in ``says``."""
    yield to_csv(COLUMNS, ())
    for reported in pages:
        rows = [*_rows(reported)]
        yield to_csv((), rows)[2:] if rows else ""


def _rows(reported: ReportedPage) -> Iterator[list[object]]:
    page = reported.page
    if page.problem is not None:
        code, says = page.problem
        row = [page.address, page.title, "", "unreadable", "", "", f"{says} ({code})"]
        yield [*row, *("" for _ in COLUMNS[len(row) :])]
    for one in page.findings:
        note = reported.note(one)
        yield [
            page.address,
            page.title,
            one.check,
            one.outcome,
            one.weight,
            " ".join(one.criteria),
            one.says,
            one.question,
            one.selector,
            one.line,
            one.column,
            "yes" if one.visible else "no",
            one.excerpt,
            " ".join(mend["says"] for mend in one.mends),
            note.waived,
            None if note.new is None else "yes" if note.new else "no",
            one.place_key,
            one.cause_key,
        ]
