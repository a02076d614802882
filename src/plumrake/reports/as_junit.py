"""Findings as JUnit XML: a suite per page, a test case per check."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from xml.sax.saxutils import escape, quoteattr

from plumrake.core.decisions import finding_holds
from plumrake.core.findings import Finding
from plumrake.core.registry import catalogue
from plumrake.reports.pages import why_untested
from plumrake.reports.report import About, ReportedPage

_NOT_XML = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""What XML 1.0 has no place for (production 2)."""


def junit_pieces(pages: Iterable[ReportedPage], about: About) -> Iterator[str]:
    """Yield the suites. A check fails where a finding holds the page; what only wants looking at is
    told beside it, a check that was not made is skipped, a page that was not read is an error."""
    yield '<?xml version="1.0" encoding="UTF-8"?>\n'
    yield f"<testsuites name={_quoted(about.name)}>\n"
    for reported in pages:
        yield from _suite(reported, about)
    yield "</testsuites>\n"


def _suite(reported: ReportedPage, about: About) -> Iterator[str]:
    page = reported.page
    name, at = _quoted(page.address), _quoted(about.started)
    if page.problem is not None:
        code, says = page.problem
        yield f'<testsuite name={name} timestamp={at} tests="1" failures="0" errors="1" '
        yield 'skipped="0">\n'
        yield f'<testcase classname={name} name="read" time="0"><error type={_quoted(code)} '
        yield f"message={_quoted(says)}/></testcase>\n</testsuite>\n"
        return
    found: dict[str, list[Finding]] = defaultdict(list)
    for one in page.findings:
        found[one.check].append(one)
    untested = dict(page.untested)
    failing = {one.check for one in reported.counted.findings if finding_holds(one, about.hold)}
    yield (
        f'<testsuite name={name} timestamp={at} tests="{len(about.checks)}" '
        f'failures="{len(failing)}" errors="0" skipped="{len(untested)}">\n'
    )
    for check in about.checks:
        yield _case(reported, check, found[check], untested.get(check), fails=check in failing)
    yield "</testsuite>\n"


def _case(
    reported: ReportedPage,
    check: str,
    found: Sequence[Finding],
    lacking: str | None,
    *,
    fails: bool,
) -> str:
    opening = f'<testcase classname={_quoted(reported.page.address)} name={_quoted(check)} time="0"'
    if lacking is not None:
        says = f"not tested: {why_untested(lacking)}"
        return f"{opening}><skipped message={_quoted(says)}/></testcase>\n"
    if not found:
        return f"{opening}/>\n"
    keys = "".join(f'<property name="place_key" value={_quoted(one.place_key)}/>' for one in found)
    text = "\n".join(_told(reported, one) for one in found)
    inner = f"<system-out>{_text(text)}</system-out>"
    if fails:
        title = catalogue()[check].title
        opens = f"<failure type={_quoted(found[0].weight)} message={_quoted(title)}>"
        inner = f"{opens}{_text(text)}</failure>"
    return f"{opening}><properties>{keys}</properties>{inner}</testcase>\n"


def _told(reported: ReportedPage, finding: Finding) -> str:
    where = f"line {finding.line}, " if finding.line is not None else ""
    note = reported.note(finding)
    lines = [f"{finding.weight}: {finding.says}", f"  at {where}{finding.selector}"]
    if finding.question:
        lines.append(f"  ? {finding.question}")
    if note.waived:
        lines.append(f"  waived: {note.waived}")
    lines += [f"  → {mend['says']}" for mend in finding.mends[:2]]
    return "\n".join(lines)


def _text(text: str) -> str:
    return escape(_NOT_XML.sub("\ufffd", text))


def _quoted(text: str) -> str:
    return quoteattr(_NOT_XML.sub("\ufffd", text))
