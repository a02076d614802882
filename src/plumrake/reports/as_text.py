"""The result of a look for a person at a terminal: by page, worst first, with the place, the fact
and the mend."""

from __future__ import annotations

import textwrap
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from plumrake.core.findings import WEIGHTS, Finding, Needs, Outcome, why_left
from plumrake.core.policy import Policy
from plumrake.reports.pages import Reported, is_in_part, summary_dict

_INDENT = " " * 13
_PLACES_SHOWN = 3
_LEFT_SHOWN = 5
_SEVERAL_PAGES = 3
"""From so many pages on a cause is told once for all of them."""


def to_text(
    pages: Sequence[Reported],
    *,
    hold: str,
    width: int = 100,
    policy: Policy | None = None,
    causes: Mapping[str, str] | None = None,
) -> str:
    """Return the report, lines at most ``width`` characters where words allow; beside ours stands
    the help of the ``policy``'s own. What one of the ``causes`` (by place key) has on several pages
    is said once, before them."""
    left = [(page.address, one) for page in pages for one in page.findings if why_left(one)]
    pages = [_without_left(page) for page in pages]
    several = _on_several_pages(pages, causes or {})
    told = {one.place_key for group in several for _, one in group}
    blocks = [_several(several, width, policy)] if several else []
    for page in pages:
        own = replace(
            page, findings=tuple(one for one in page.findings if one.place_key not in told)
        )
        if own.findings or own.problem is not None:
            blocks.append(_page(own, width, policy))
    return "\n\n".join([*blocks, _told_in_the_end(_summary(pages, hold, left), width)]) + "\n"


def _told_in_the_end(lines: Sequence[str], width: int) -> str:
    """Return the last lines, those that are too long broken between words: ids stay whole."""
    return "\n".join(
        textwrap.fill(line, max(width, 40), break_long_words=False, break_on_hyphens=False)
        if len(line) > width
        else line
        for line in lines
    )


def _without_left(page: Reported) -> Reported:
    """Return a page without what its author left."""
    return replace(page, findings=tuple(one for one in page.findings if not why_left(one)))


def _left(left: Sequence[tuple[str, Finding]]) -> Iterator[str]:
    """Yield what authors left, with their reasons."""
    if left:
        yield f"Left by their authors: {_count(len(left), 'place', 'places')}."
    for address, one in left[:_LEFT_SHOWN]:
        yield f"  {address}, {_place(one)}: {one.check}, since {why_left(one)}"
    if len(left) > _LEFT_SHOWN:
        yield f"  and {len(left) - _LEFT_SHOWN} more"


def _on_several_pages(
    pages: Sequence[Reported], causes: Mapping[str, str]
) -> list[list[tuple[str, Finding]]]:
    """Return the findings of each cause that is on several pages with their pages, the worst
    first."""
    groups: dict[str, list[tuple[str, Finding]]] = {}
    for page in pages:
        for one in page.findings:
            if one.place_key in causes:
                groups.setdefault(causes[one.place_key], []).append((page.address, one))
    several = [group for group in groups.values() if len({at for at, _ in group}) >= _SEVERAL_PAGES]
    return sorted(several, key=lambda group: (*_order(group[0][1]), -len(group)))


def _several(groups: Sequence[list[tuple[str, Finding]]], width: int, policy: Policy | None) -> str:
    lines = ["On several pages"]
    for group in groups:
        pages = list(dict.fromkeys(at for at, _ in group))
        first = group[0][1]
        lines += ["", *_said_of(first, width)]
        more = f" and {len(pages) - _PLACES_SHOWN} more" * (len(pages) > _PLACES_SHOWN)
        shown = f"on {len(pages)} pages: {', '.join(pages[:_PLACES_SHOWN])}{more}"
        lines.append(_wrapped(_INDENT, shown, width))
        lines.append(f"{_INDENT}there {_place(first)}   ({first.check})")
        lines += _to_do(first, width, policy)
    return "\n".join(lines)


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
    return sorted(groups.values(), key=lambda group: _order(group[0]))


def _order(finding: Finding) -> tuple[bool, int]:
    """Return what findings are sorted by: what is sure before what is not, the worst first."""
    weights = [weight.value for weight in WEIGHTS]
    return finding.outcome == Outcome.CANT_TELL, weights.index(finding.weight)


def _group(group: list[Finding], width: int, policy: Policy | None) -> Iterator[str]:
    first = group[0]
    yield from _said_of(first, width)
    yield f"{_INDENT}{_place(first)}   ({first.check})"
    for other in group[1:_PLACES_SHOWN]:
        yield f"{_INDENT}{_place(other)}"
    if len(group) > _PLACES_SHOWN:
        yield f"{_INDENT}and {len(group) - _PLACES_SHOWN} more places on this page"
    yield from _to_do(first, width, policy)


def _said_of(first: Finding, width: int) -> Iterator[str]:
    label = "look at" if first.outcome == Outcome.CANT_TELL else first.weight
    yield (
        f"  {label:<11}{first.says}"
        if len(first.says) + 13 <= width
        else _wrapped(f"  {label:<11}", first.says, width)
    )


def _to_do(first: Finding, width: int, policy: Policy | None) -> Iterator[str]:
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


def _summary(
    pages: Sequence[Reported], hold: str, left: Sequence[tuple[str, Finding]]
) -> list[str]:
    figures = summary_dict(pages, hold)
    read = figures["pages"] - figures["unreadable"]
    lines = [f"{_count(read, 'page', 'pages')} read, {figures['ready']:,} ready to publish."]
    if figures["unreadable"]:
        lines.append(f"{_count(figures['unreadable'], 'page', 'pages')} could not be read.")
    if not read:
        return lines
    weights = figures["by_weight"]
    plural = {"barrier": "barriers", "obstacle": "obstacles", "friction": "frictions"}
    found = [_count(number, weight, plural[weight]) for weight, number in weights.items() if number]
    lines.append("Found: " + (", ".join(found) if found else "no fault") + ".")
    if figures["cantTell"]:
        lines.append(f"A person has to look at {_count(figures['cantTell'], 'place', 'places')}.")
    lines += _left(left)
    untested = _untested(pages)
    if of_pages := sorted(check for check, needs in untested if needs == Needs.PAGE):
        lines.append(f"Not asked of parts of pages: {', '.join(of_pages)}.")
    if in_part := sorted({check for check, needs in untested if is_in_part(check, needs)}):
        lines.append(f"Tested in part, since some places hang on the layout: {', '.join(in_part)}.")
    untested = {pair for pair in untested if pair[0] not in in_part}
    if lacking := {pair for pair in untested if pair[1] != Needs.PAGE}:
        lines.append(
            "Not tested, since the lens gives no "
            f"{' and '.join(sorted({needs for _, needs in lacking}))}: "
            f"{', '.join(sorted({check for check, _ in lacking}))}."
        )
    lines.append(
        "Checks by machine find only part of the barriers; the rest needs people's eyes and ears."
    )
    return lines


def _untested(pages: Sequence[Reported]) -> set[tuple[str, str]]:
    return {pair for page in pages for pair in page.untested}
