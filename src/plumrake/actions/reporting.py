"""What a look found, as reports take it: gathered into causes, with the edits that mend it, held
against a baseline."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from plumrake.actions.reading import PageResult
from plumrake.core.causes import Place, gather
from plumrake.core.findings import Finding, Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.source_page import CannotMend
from plumrake.lenses.markup import TooManyElements, decoded
from plumrake.lenses.reader import is_markdown
from plumrake.reports.baseline import Baseline
from plumrake.reports.pages import Reported
from plumrake.reports.report import Note, ReportedEdit, ReportedPage, waived_by_author

if TYPE_CHECKING:
    from plumrake.lenses.sources import Source

_MOST_WITH_EDITS = 5_000_000
"""So many bytes a file may have whose findings get edits."""


def reported(result: PageResult) -> Reported:
    """Return a page's result in the shape that reports take."""
    return Reported(
        result.address,
        result.lens,
        result.title,
        result.language,
        (result.problem.code, result.problem.says) if result.problem is not None else None,
        result.content_hash,
        result.assessment.findings,
        tuple((item.check, item.needs) for item in result.assessment.untested),
    )


def reported_pages(
    results: Sequence[PageResult],
    *,
    baseline: Baseline | None = None,
    files: Mapping[str, Path] | None = None,
) -> list[ReportedPage]:
    """Return the pages of a look with what is noted of their findings; those of ``files`` (by what
    their pages are shown as) with the edits that mend them."""
    causes = _causes(results)
    pages: list[ReportedPage] = []
    for at, result in enumerate(results):
        edits = _edits(files[result.address], result) if files and result.address in files else {}
        notes: dict[str, Note] = {}
        for number, one in enumerate(result.assessment.findings):
            mend, own = edits.get(one.place_key, ("", ()))
            new = baseline.is_new(one.place_key) if baseline is not None else None
            waived = waived_by_author(one)
            notes[one.place_key] = Note(causes.get((at, number), ""), waived, new, mend, own)
        pages.append(ReportedPage(reported(result), notes, result.areas))
    return pages


def _causes(results: Sequence[PageResult]) -> dict[tuple[int, int], str]:
    """Return the causes of findings by the numbers of page and finding, gathered as a sweep
    does."""
    census: Counter[str] = Counter()
    places: list[Place] = []
    at: list[tuple[int, int]] = []
    for number, result in enumerate(results):
        census.update(result.census)
        for own, one in enumerate(result.assessment.findings):
            places.append(_place(len(at), number, one))
            at.append((number, own))
    return {at[place]: cause.key for cause in gather(places, census) for place in cause.places}


def _place(number: int, page: int, one: Finding) -> Place:
    return Place(
        number,
        page,
        one.check,
        one.weight,
        one.zone,
        one.structure,
        one.shape_key,
        one.cause_key,
        one.visible,
        pictured=False,
    )


def _edits(file: Path, result: PageResult) -> dict[str, tuple[str, tuple[ReportedEdit, ...]]]:
    """Return the first mend of each finding of a file that needs nobody's judgement, with its
    edits."""
    from plumrake.lenses.sources import open_source  # only where edits are wanted

    in_text = is_markdown(file)
    try:
        if file.stat().st_size > _MOST_WITH_EDITS:
            return {}
        text = decoded(file.read_bytes(), None).text
        source = open_source(text, "", is_markdown=in_text)
    except (OSError, TooManyElements):
        return {}
    lines = Lines(source.text)
    found: dict[str, tuple[str, tuple[ReportedEdit, ...]]] = {}
    for one in result.assessment.findings:
        planned = _first_mend(source, one, lines, in_text=in_text)
        if planned is not None:
            found[one.place_key] = planned
    return found


def _first_mend(
    source: Source, finding: Finding, lines: Lines, *, in_text: bool
) -> tuple[str, tuple[ReportedEdit, ...]] | None:
    for mend in map(Mend.of, finding.mends):
        if not mend.sure:
            continue
        try:
            element = source.element_of(finding, in_text=in_text)
            edits = source.edits_of(element, mend)
        except CannotMend:
            continue
        if edits:
            return mend.says, tuple(
                ReportedEdit(lines.of(edit.start), lines.of(edit.end), edit.text) for edit in edits
            )
    return None
