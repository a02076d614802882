"""The result of a look for a person at a terminal: by page, worst first, with the place, the fact
and the mend."""

from __future__ import annotations

import textwrap
from collections.abc import Iterator, Mapping, Sequence

from plumrake.core.findings import WEIGHTS, Finding, Needs, Outcome
from plumrake.core.policy import Policy
from plumrake.reports.pages import Reported, summary_dict

_INDENT = " " * 13
_PLACES_SHOWN = 3


def to_text(
    pages: Sequence[Reported], *, hold: str, width: int = 100, policy: Policy | None = None
) -> str:
    """Return the report, lines at most ``width`` characters where words allow; beside ours stands
    the help of the ``policy``'s own."""
    blocks = [
        _page(page, width, policy) for page in pages if page.findings or page.problem is not None
    ]
    return "\n\n".join([*blocks, _summary(pages, hold)]) + "\n"


def _page(page: Reported, width: int, policy: Policy | None) -> str:
    title = f" — {page.title}" if page.title else ""
    lines = [f"{page.address}{title}"]
    if page.problem is not None:
        return "\n".join([*lines, f"  not read   {page.problem[1]} ({page.problem[0]})"])
    for group in _by_cause(page.findings):
        lines.append("")
        lines.extend(_group(group, width, policy))
    return "\n".join(lines)


def _by_cause(findings: Sequence[Finding]) -> list[list[Finding]]:
    """Return the findings grouped by cause, the worst group first, doubtful ones after those that
    are sure."""
    groups: dict[tuple[str, str], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.check, finding.cause_key), []).append(finding)
    order = [weight.value for weight in WEIGHTS]
    return sorted(
        groups.values(),
        key=lambda group: (group[0].outcome == Outcome.CANT_TELL, order.index(group[0].weight)),
    )


def _group(group: list[Finding], width: int, policy: Policy | None) -> Iterator[str]:
    first = group[0]
    label = "look at" if first.outcome == Outcome.CANT_TELL else first.weight
    yield (
        f"  {label:<11}{first.says}"
        if len(first.says) + 13 <= width
        else _wrapped(f"  {label:<11}", first.says, width)
    )
    yield f"{_INDENT}{_place(first)}   ({first.check})"
    for other in group[1:_PLACES_SHOWN]:
        yield f"{_INDENT}{_place(other)}"
    if len(group) > _PLACES_SHOWN:
        yield f"{_INDENT}and {len(group) - _PLACES_SHOWN} more places on this page"
    if not first.visible:
        near = (
            f"; the nearest thing to see is {first.nearest_visible}"
            if first.nearest_visible
            else ""
        )
        yield f"{_INDENT}not to be seen on the page{near}"
    if first.question:
        yield _wrapped(f"{_INDENT}? ", first.question, width)
    for mend in first.mends[:2]:
        yield _wrapped(f"{_INDENT}→ ", _said(mend), width)
    own = policy.help_for(first.check) if policy is not None else None
    if own is not None:
        more = f" {own.link}" if own.link and own.link != own.says else ""
        yield _wrapped(f"{_INDENT}→ ", f"{own.says}{more}", width)


def _said(mend: Mapping[str, str]) -> str:
    """Return what a mend says, with the value that it proposes where the sentence does not name
    it."""
    value = mend.get("value")
    if mend["kind"] not in ("set-attribute", "replace-text") or not value or value in mend["says"]:
        return mend["says"]
    return (
        f'{mend["says"].rstrip(".")}: {mend["attribute"]}="{value}"'
        if "attribute" in mend
        else f"{mend['says'].rstrip('.')}: {value}"
    )


def _place(finding: Finding) -> str:
    where = f"line {finding.line}, " if finding.line is not None else ""
    return f"{where}{finding.selector}"


def _wrapped(opening: str, text: str, width: int) -> str:
    return textwrap.fill(
        text,
        width=max(width, 40),
        initial_indent=opening,
        subsequent_indent=" " * len(opening),
        break_long_words=False,
    )


def _count(number: int, one: str, many: str) -> str:
    return f"{number:,} {one if number == 1 else many}"


def _summary(pages: Sequence[Reported], hold: str) -> str:
    figures = summary_dict(pages, hold)
    read = figures["pages"] - figures["unreadable"]
    lines = [f"{_count(read, 'page', 'pages')} read, {figures['ready']:,} ready to publish."]
    if figures["unreadable"]:
        lines.append(f"{_count(figures['unreadable'], 'page', 'pages')} could not be read.")
    if not read:
        return "\n".join(lines)
    weights = figures["by_weight"]
    plural = {"barrier": "barriers", "obstacle": "obstacles", "friction": "frictions"}
    found = [_count(number, weight, plural[weight]) for weight, number in weights.items() if number]
    lines.append("Found: " + (", ".join(found) if found else "no fault") + ".")
    if figures["cantTell"]:
        lines.append(f"A person has to look at {_count(figures['cantTell'], 'place', 'places')}.")
    untested = _untested(pages)
    if of_pages := sorted(check for check, needs in untested if needs == Needs.PAGE):
        lines.append(f"Not asked of parts of pages: {', '.join(of_pages)}.")
    if lacking := {pair for pair in untested if pair[1] != Needs.PAGE}:
        lines.append(
            "Not tested, since the lens gives no "
            f"{' and '.join(sorted({needs for _, needs in lacking}))}: "
            f"{', '.join(sorted({check for check, _ in lacking}))}."
        )
    lines.append(
        "Checks by machine find only part of the barriers; the rest needs people's eyes and ears."
    )
    return "\n".join(lines)


def _untested(pages: Sequence[Reported]) -> set[tuple[str, str]]:
    return {pair for page in pages for pair in page.untested}
