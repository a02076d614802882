"""Which findings of a template stand, whatever is filled in."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from plumrake.core.dom import Element
from plumrake.core.findings import Finding
from plumrake.core.templates.marks import Span, Template, is_unknown

_BESIDE_THE_POINT = frozenset(["file", "files", "target", "source", "trace", "sentence", "others"])
"""Facts that say where something leads, how it was found and what is around it: nothing is judged
by them."""
_ASKS_THE_REST = frozenset(
    "controls/reference-dangling forms/label-dangling links/dead-anchor page/outside-regions "
    "page/skip-broken headings/none-on-long-page tables/headers-dangling".split()
)
"""Checks that ask what else is on the page; a template is a part of it."""
_COMPARES = frozenset(
    "headings/level-jump headings/nothing-under headings/same-opening headings/same-text "
    "headings/several-level-1 links/same-text-different-places links/twins page/regions-alike "
    "page/same-id page/several-main pictures/one-text-for-many pictures/repeats-nearby".split()
)
"""Checks that compare places, of which one may be printed instead of the other."""
_ASKS_FOR_PARTS = frozenset(
    "controls/child-missing forms/group-untitled lists/odd-child "
    "media/no-captions tables/empty-header tables/header-scope tables/layout-suspect "
    "tables/layout-with-data-parts tables/no-caption tables/no-headers".split()
)
"""Checks that ask for the parts of a table, a list or a group."""
_OF_THE_ROOT = frozenset(["page/no-language", "page/bad-language", "page/zoom-locked"])
"""Of the checks of whole pages those that hold for the template that begins one."""


def standing(
    finding: Finding, element: Element, whole: Span | None, template: Template
) -> Finding | None:
    """Return a finding of what a template shows as it is said of the template; None where it hangs
    on what is filled in. ``whole`` is where its element is written."""
    if _is_page_wide(finding) and finding.check not in _OF_THE_ROOT:
        return None
    if finding.check in _ASKS_THE_REST or any(is_unknown(name) for name in element.attributes):
        return None
    if finding.check in _COMPARES and template.has_alternatives:
        return None
    if finding.check in _ASKS_FOR_PARTS and _may_have_more(element, whole, template):
        return None
    if _judges_unknown(finding):
        return None
    return replace(
        finding,
        says=template.said(finding.says),
        excerpt=template.said(finding.excerpt),
        facts=_said(finding.facts, template),
    )


def _is_page_wide(finding: Finding) -> bool:
    return finding.selector == "html"


def _may_have_more(element: Element, whole: Span | None, template: Template) -> bool:
    if whole is not None and any(whole[0] < gap[0] < whole[1] for gap in template.gaps):
        return True
    return is_unknown(element.text(2_000))


def _judges_unknown(finding: Finding) -> bool:
    """Tell whether what is unknown was judged: it stands in what the finding says, other than as
    the place where something leads."""
    says = finding.says
    for name, value in finding.facts.items():
        if name not in _BESIDE_THE_POINT:
            if is_unknown(json.dumps(value, ensure_ascii=False)):
                return True
            continue
        for one in value if isinstance(value, list) else [value]:
            says = says.replace(str(one), "")
    return is_unknown(says)


def _said(facts: Mapping[str, Any], template: Template) -> dict[str, Any]:
    return {name: _said_value(value, template) for name, value in facts.items()}


def _said_value(value: Any, template: Template) -> Any:
    if isinstance(value, str):
        return template.said(value)
    if isinstance(value, list):
        return [_said_value(one, template) for one in value]
    return value
