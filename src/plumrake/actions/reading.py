"""Reading and assessing one page: what every way of asking (look, sweep, proof, gate) does with a page."""

from __future__ import annotations

import asyncio
from dataclasses import dataclass

from plumrake.core.assess import Assessment, assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.lenses.problems import Problem
from plumrake.lenses.reader import Obtained

_NOTHING = Assessment((), ())


@dataclass(frozen=True, slots=True)
class PageResult:
    """One page, read and assessed, or unread with its problem."""

    address: str
    lens: str
    title: str
    language: str
    problem: Problem | None
    content_hash: str | None
    final_address: str | None
    assessment: Assessment
    elements: int
    picture: bytes | None
    seconds: float

    @property
    def status(self) -> str:
        """``read`` or ``unreadable``."""
        return "read" if self.problem is None else "unreadable"


async def assessed(obtained: Obtained, policy: Policy) -> PageResult:
    """Return what the checks say about an obtained page; the work is done off the event loop."""
    if obtained.document is None:
        return _result(obtained, "", "", _NOTHING, 0)
    page = Page(obtained.document)
    assessment = await asyncio.to_thread(assess, page, policy)
    return _result(obtained, page.title, page.language, assessment, len(page.elements))


def _result(obtained: Obtained, title: str, language: str, assessment: Assessment, elements: int) -> PageResult:
    return PageResult(
        obtained.address, obtained.lens, title, language, obtained.problem, obtained.content_hash, obtained.final_address,
        assessment, elements, obtained.picture, obtained.seconds,
    )  # fmt: skip
