"""Checks over all pages of a site together, and the findings that come of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from plumrake.core.findings import Finding, Outcome, digest, path_of
from plumrake.core.policy import Policy
from plumrake.core.registry import Check, PageFacts, SiteFlag, catalogue


def assess_site(pages: Sequence[PageFacts], policy: Policy) -> dict[int, list[Finding]]:
    """Return the findings of the site-wide checks by the number of the page in ``pages``."""
    found: dict[int, list[Finding]] = {}
    for check in catalogue().values():
        if check.across is not None and policy.applies(check):
            for flag in check.across(pages):
                finding = _finding(pages[flag.page], policy, check, flag)
                found.setdefault(flag.page, []).append(finding)
    return found


def _finding(page: PageFacts, policy: Policy, check: Check, flag: SiteFlag) -> Finding:
    return replace(
        about_page(check, check.messages[flag.message].format(**flag.data)),
        weight=(flag.weight or check.weight).value,
        criteria=policy.within_target(check) if flag.criteria is None else flag.criteria,
        message=flag.message,
        selector=flag.selector,
        box=flag.box,
        excerpt=flag.excerpt or f"<title>{page.title}</title>",
        facts=dict(flag.facts),
        mends=tuple(mend.as_dict() for mend in flag.mends),
        place_key=digest(path_of(page.address), check.id, *flag.place),
        cause_key=digest(check.id, *flag.cause),
    )


def about_page(check: Check, says: str) -> Finding:
    """Return a sure finding about a page as a whole, with nothing but what it says."""
    return Finding(
        check=check.id,
        outcome=Outcome.FAILED.value,
        weight=check.weight.value,
        criteria=(),
        says=says,
        question=None,
        message="",
        selector="html",
        line=None,
        column=None,
        box=None,
        visible=True,
        nearest_visible=None,
        nearest_box=None,
        excerpt="<html>",
        facts={},
        mends=(),
        place_key="",
        cause_key="",
    )
