"""Reading and assessing one page: what every way of asking (look, sweep, proof, gate) does with a page."""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable
from dataclasses import dataclass

from plumrake.core.assess import Assessment, assess
from plumrake.core.dom import Document
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.lenses.problems import Problem
from plumrake.lenses.reader import Obtained
from plumrake.lenses.rendered.lens import PictureIf

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


Read = Callable[[PictureIf | None], Awaitable[Obtained]]
"""Read the page, given what tells whether its picture is wanted."""


async def read_and_assess(read: Read, policy: Policy, *, pictures: bool = False) -> PageResult:
    """Return what the checks say about a page; with ``pictures``, one that has findings is shot while it is still open."""
    known: dict[int, tuple[Page, Assessment]] = {}

    async def judge(document: Document) -> tuple[Page, Assessment]:
        if id(document) not in known:
            page = await asyncio.to_thread(Page, document)
            known[id(document)] = (page, await asyncio.to_thread(assess, page, policy))
        return known[id(document)]

    async def has_findings(document: Document) -> bool:
        return bool((await judge(document))[1].findings)

    obtained = await read(has_findings if pictures else None)
    if obtained.document is None:
        return _result(obtained, "", "", _NOTHING, 0)
    page, assessment = await judge(obtained.document)
    return _result(obtained, page.title, page.language, assessment, len(page.elements))


def _result(obtained: Obtained, title: str, language: str, assessment: Assessment, elements: int) -> PageResult:
    return PageResult(
        obtained.address, obtained.lens, title, language, obtained.problem, obtained.content_hash, obtained.final_address,
        assessment, elements, obtained.picture, obtained.seconds,
    )  # fmt: skip
