"""Assessing one page: every check that the policy asks for, run over the page model, its flags made
into findings."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from plumrake.core.blocks import FRAME
from plumrake.core.causes import shape_key
from plumrake.core.dom import Element
from plumrake.core.excerpt import excerpt_of, start_tag
from plumrake.core.findings import (
    LEFT_HERE,
    WEIGHTS,
    Finding,
    Flag,
    Needs,
    NotTested,
    Outcome,
    digest,
    path_of,
    signature,
)
from plumrake.core.left_here import LeftHere
from plumrake.core.overtaking import go_on
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.registry import Check, Options
from plumrake.core.scope import Scope
from plumrake.core.target import checks_of, needs_of

_SAYS = 4
"""From here on a signature holds what the element says and where it leads, before that what kind of
element it is."""

_OF_THE_FRAME = frozenset(
    f"page/{name}"
    for name in (
        "bad-language no-language no-main no-skip outside-regions refreshes several-main "
        "skip-broken zoom-locked"
    ).split()
)
"""Checks that find fault with a page as a whole for what its theme prints around every item."""


@dataclass(frozen=True, slots=True)
class Untested:
    """A check that had to be left out since the lens lacks the evidence ``needs``."""

    check: str
    needs: str


@dataclass(frozen=True, slots=True)
class Assessment:
    """What is known of one page: findings in document order (worst first within one place), and
    what was not tested.

    ``left_out`` counts what was found in what the policy leaves out.
    """

    findings: tuple[Finding, ...]
    untested: tuple[Untested, ...]
    left_out: int = 0


def assess(page: Page, policy: Policy | None = None) -> Assessment:
    """Return the findings of every check that ``policy`` (default: WCAG 2.2 AA, all checks) asks
    for. Raises ``Overtaken``."""
    policy = policy or Policy()
    flags, untested = flagged(page, policy)
    scope = Scope(page.document, policy.scope, policy.leave_out)
    wanted = [(check, flag) for check, flag in flags if scope.count(flag.element)]
    seen: Counter[str] = Counter()
    left = LeftHere(page.document)
    return Assessment(
        tuple(_finding(page, policy, check, flag, seen, left) for check, flag in wanted),
        tuple(untested),
        len(flags) - len(wanted),
    )


def flagged(page: Page, policy: Policy) -> tuple[list[tuple[Check, Flag]], list[Untested]]:
    """Return what the checks of a policy point at, in document order (worst first within one
    place), and what was not tested. Raises ``Overtaken``."""
    flags: list[tuple[Check, Flag]] = []
    untested: list[Untested] = []
    known = page.evidence.kinds
    for check in checks_of(policy.target):
        go_on()
        if not check.needs <= known:
            missing = next(need for need in Needs if need in check.needs and need not in known)
            untested.append(Untested(check.id, missing))
            continue
        doubtful = page.in_doubt(check.styles) if Needs.STYLE in check.needs else frozenset[int]()
        found, lacking = _looked(page, check, policy.options(check))
        flags.extend((check, flag) for flag in found if flag.element.index not in doubtful)
        if lacking is not None:
            untested.append(Untested(check.id, lacking.value))
        elif doubtful:
            untested.append(Untested(check.id, Needs.LAYOUT.value))
    flags.sort(
        key=lambda pair: (
            pair[1].element.index,
            WEIGHTS.index(pair[1].weight or pair[0].weight),
            pair[0].id,
        )
    )
    return flags, untested


def _looked(page: Page, check: Check, options: Options) -> tuple[list[Flag], Needs | None]:
    """Return what a check points at, and the evidence for want of which it went no further. It
    looks once at what is known of a page: views ask what an assessment asked."""
    known = page.looked.get(check.id)
    if known is not None and known[0] == options:
        return known[1], known[2]
    flags: list[Flag] = []
    lacking: Needs | None = None
    try:
        flags.extend(check.look(page, options))
    except NotTested as missing:
        lacking = missing.needs
    page.looked[check.id] = options, flags, lacking
    return flags, lacking


def checks_asked(policy: Policy) -> list[Check]:
    """Return the checks that a policy asks for."""
    return list(checks_of(policy.target))


def evidence_wanted(policy: Policy) -> frozenset[Needs]:
    """Return the evidence that the checks of a policy ask for together."""
    return needs_of(policy.target)


def _marks(page: Page, flag: Flag, element: Element) -> tuple[str, ...]:
    """Return what an element of a flag is known by."""
    is_all = element is page.root or element is page.body
    return signature(
        element,
        page.role_of(element),
        "" if is_all else page.raw_name_of(element),
        () if is_all and not flag.anywhere else flag.cause,
        anywhere=flag.anywhere,
    )


def _finding(
    page: Page, policy: Policy, check: Check, flag: Flag, seen: Counter[str], left: LeftHere
) -> Finding:
    go_on()
    element = flag.element
    about_page = element is page.root
    is_all = about_page or element is page.body
    marks = _marks(page, flag, element)
    build = page.structure.key_of(element)
    zone = page.structure.zone_of(element)
    if (
        zone == "content"
        and not build
        and flag.cause is None
        and not any(mark.strip() for mark in marks[_SAYS:])
    ):
        marks = (
            *marks,
            path_of(page.address),
        )  # empty things in running text have nothing in common but that they are empty
    is_printed = page.is_marked and check.id in _OF_THE_FRAME
    block = (FRAME if is_printed else "") if is_all else page.block_of(element)
    # what theme and system print says something else on each page, and is one thing to mend
    known_by = marks if flag.one_with is None else _marks(page, flag, flag.one_with)
    by = block if flag.one_with is None else page.block_of(flag.one_with)
    cause_key = digest(
        check.id, *(known_by[:_SAYS] if by == FRAME and not flag.anywhere else known_by)
    )
    own = digest(check.id, *marks, "" if is_all else element.text(200))
    seen[own] += 1
    position = page.document.position_of(element)
    reason = left.reason(check, element)
    visible = about_page or "layout" not in page.evidence.kinds or page.sight.sees(element)
    nearest = None if visible else page.sight.nearest_visible(element)
    return Finding(
        check=check.id,
        outcome=flag.outcome.value,
        weight=(flag.weight or check.weight).value,
        criteria=policy.within_target(check) if flag.criteria is None else flag.criteria,
        says=check.messages[flag.message].format(**flag.data),
        question=check.questions.get(flag.message) if flag.outcome is Outcome.CANT_TELL else None,
        message=flag.message,
        selector="html" if about_page else page.selector_of(element),
        line=position[0] if position is not None else None,
        column=position[1] if position is not None else None,
        box=element.box,
        visible=visible,
        nearest_visible=page.selector_of(nearest) if nearest is not None else None,
        nearest_box=nearest.box if nearest is not None else None,
        excerpt=excerpt_of(element) if not about_page else start_tag(element),
        facts=dict(flag.facts) | ({LEFT_HERE: reason} if reason else {}),
        mends=tuple(mend.as_dict() for mend in flag.mends),
        place_key=digest(path_of(page.address), own, str(seen[own])),
        cause_key=cause_key,
        zone=zone,
        structure=build,
        shape_key=shape_key(check.id, flag.message, build, flag.cause or ()),
        block=block,
    )
