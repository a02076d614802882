"""A sweep as a report in an open format: as a stream, whatever it holds."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from plumrake.actions.sweeps import policy_of
from plumrake.core.assess import checks_asked
from plumrake.core.decisions import Standing
from plumrake.core.findings import Finding
from plumrake.records.exports import ExportedPageRow, gone_since, pages_of_sweep
from plumrake.records.sweeps import SweepRow
from plumrake.report_forms import ReportForm
from plumrake.reports.pages import Reported
from plumrake.reports.report import About, Gone, Note, ReportedPage, written

_SHOWN = (Standing.COUNTS, Standing.DOUBTFUL)
_LET_ALONE = (Standing.WAIVED, Standing.JUDGED_FINE)
_MOST_GONE = 50_000
_UNKNOWN_AREAS = frozenset(("tables", "forms", "media"))
"""Of these a sweep does not keep whether a page has any."""


def exported(
    database: str, person_id: int, sweep: SweepRow, name: str, form: ReportForm
) -> Iterator[str]:
    """Yield a sweep as a report for somebody, what was waived told apart, and, where there is a
    sweep before it, what is new and what is gone. To be read in a thread."""
    policy = policy_of(sweep)
    gone: list[Gone] = []
    if sweep.base_id is not None and form in ("sarif", "json", "html"):
        rows = gone_since(database, person_id, sweep.id, sweep.base_id, _SHOWN, _MOST_GONE)
        gone = [Gone(row.place_key, row.check, row.address) for row in rows]
    about = About(
        f"{name}, {sweep.environment}, sweep {sweep.id}",
        policy,
        sweep.created_at.isoformat(timespec="seconds"),
        [check.id for check in checks_asked(policy)],
        None,
        gone,
    )
    rows_of_pages = pages_of_sweep(
        database, person_id, sweep.id, sweep.base_id, (*_SHOWN, *_LET_ALONE)
    )
    return written(form, map(_page, rows_of_pages), about)


def _page(row: ExportedPageRow) -> ReportedPage:
    problem = (row.problem_code, row.problem_says or "") if row.problem_code is not None else None
    page = Reported(
        row.address,
        row.lens,
        row.title,
        row.language,
        problem,
        row.content_hash,
        tuple(_finding(one) for one in row.findings),
        tuple((one["check"], one.get("tried_at", one["needs"])) for one in row.untested),
    )
    areas = None
    if row.has_pictures is not None and row.has_links is not None:
        areas = _UNKNOWN_AREAS | {
            area for area, has in (("pictures", row.has_pictures), ("links", row.has_links)) if has
        }
    return ReportedPage(page, {one["place_key"]: _note(one) for one in row.findings}, areas)


def _note(one: dict[str, Any]) -> Note:
    waived = one["reason"] if one["standing"] == Standing.WAIVED else ""
    if one["standing"] == Standing.JUDGED_FINE:
        waived = "judged to be fine"
    return Note(one["cause"], waived, one["is_new"])


def _finding(one: dict[str, Any]) -> Finding:
    return Finding(
        check=one["check_id"],
        outcome=one["outcome"],
        weight=one["weight"],
        criteria=tuple(one["criteria"]),
        says=one["says"],
        question=one["question"],
        message="",
        selector=one["selector"],
        line=one["line"],
        column=one["column"],
        box=_box(one["box"]),
        visible=one["visible"],
        nearest_visible=one["nearest_visible"],
        nearest_box=_box(one["nearest_box"]),
        excerpt=one["excerpt"],
        facts=one["facts"],
        mends=tuple(one["mends"]),
        place_key=one["place_key"],
        cause_key=one["cause_key"],
        zone=one["zone"],
        block=one["block"],
    )


def _box(given: list[float] | None) -> tuple[float, float, float, float] | None:
    return (given[0], given[1], given[2], given[3]) if given is not None else None
