"""Write ``docs/coverage.md`` from the checks' and the questions' own data; ``--check`` only tells
whether it is as it should be."""

from __future__ import annotations

import sys
from pathlib import Path

from plumrake.core.coverage import Covered, coverage
from plumrake.core.questions.question import questions

FILE = Path(__file__).resolve().parent.parent / "docs" / "coverage.md"
_HEAD = (
    "# What is tested by machine, what by people, and what by neither\n\n"
    "Each criterion of WCAG 2.2 at the levels A and AA, with the checks that find some of its "
    "faults and the questions for people (`plumrake questions`) that tell about it. A check never "
    "shows that a criterion is met: it finds faults that a program can be sure of, and places that "
    "somebody has to look at. Made from the data by `scripts/make_coverage_page.py`.\n\n"
    "| criterion | level | checks | questions |\n|---|---|---|---|\n"
)


def text() -> str:
    """Return the page."""
    rows = [*coverage()]
    neither = [one for one in rows if not one.checks and not one.questions]
    lines = [_HEAD, *(_row(one) for one in rows)]
    named = ", ".join(f"{one.criterion.number} {one.criterion.name}" for one in neither)
    lines.append(f"\nTold about by neither: {named or 'none'}.\n")
    beside = [one for one in questions().values() if not one.criteria]
    lines.append("\nAsked although no criterion at these levels wants it:\n\n")
    lines += [f"* {one.asks} (`{one.key}`)\n" for one in beside]
    return "".join(lines)


def _row(one: Covered) -> str:
    checks = ", ".join(f"`{check.id}`" for check in one.checks) or "–"
    asked = ", ".join(f"`{question.key}`" for question in one.questions) or "–"
    name = f"{one.criterion.number} {one.criterion.name}"
    return f"| {name} | {one.criterion.level} | {checks} | {asked} |\n"


def main() -> None:
    """Write the page, or check it."""
    if "--check" not in sys.argv:
        FILE.write_text(text(), encoding="utf-8")
    elif not FILE.is_file() or FILE.read_text(encoding="utf-8") != text():
        sys.exit("docs/coverage.md is not made from the data: scripts/make_coverage_page.py")


if __name__ == "__main__":
    main()
