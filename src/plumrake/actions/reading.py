"""Reading and assessing one page: what every way of asking (look, sweep, proof, gate) does with a page."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Awaitable, Callable
from dataclasses import dataclass, replace

from plumrake.core.assess import Assessment, assess
from plumrake.core.evidence import Network
from plumrake.core.findings import Needs
from plumrake.core.inventory import Inventory, Ways, inventory_of, ways_of
from plumrake.core.journeys import State
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.registry import catalogue
from plumrake.lenses.dictionaries import DictionaryUnreadable, TooManyWords, installed, spell
from plumrake.lenses.problems import Problem
from plumrake.lenses.reader import Obtained
from plumrake.lenses.wish import PictureDown, Wish

_NOTHING = Assessment((), ())
_SCREEN = 800
_BELOW = 300
"""So many CSS px are pictured below the lowest finding."""


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
    etag: str | None = None
    last_modified: str | None = None
    resources: tuple[str, ...] | None = None
    inventory: Inventory | None = None
    ways: Ways | None = None

    @property
    def status(self) -> str:
        """``read`` or ``unreadable``."""
        return "read" if self.problem is None else "unreadable"


Read = Callable[[Wish], Awaitable[Obtained]]
"""Read the page as wished."""


Follow = Callable[[Page], Awaitable[Network]]
"""Tell what a page's links lead to."""
Worth = Callable[[Assessment], bool]
"""Tells whether a page with these findings is worth a picture."""


async def read_and_assess(
    read: Read, policy: Policy, *, state: State | None = None, worth: Worth | None = None, inventory: bool = False, follow: Follow | None = None
) -> PageResult:
    """Return what the checks say about a page, or about a ``state`` of it; one that is ``worth`` it is shot while it is still open.

    With ``inventory``, what the page holds and the ways to look at it come with it; with ``follow``, its links are followed.
    """
    if state is not None and state.region is not None:
        policy = replace(policy, regions=(state.region,))
    known: dict[int, Assessment] = {}
    spells = any(Needs.DICTIONARY in check.needs and policy.applies(check) for check in catalogue().values())

    async def judge(page: Page) -> Assessment:
        if id(page) not in known:
            if follow is not None:
                await with_links(page, follow)
            if spells:
                await asyncio.to_thread(with_dictionaries, page)
            known[id(page)] = await asyncio.to_thread(assess, page, policy)
        return known[id(page)]

    async def picture_down(page: Page) -> int | None:
        assessment = await judge(page)
        return _lowest(assessment) + _BELOW if worth is not None and worth(assessment) else None

    obtained = await read(replace(wish_of(policy, picture_down if worth is not None else None), state=state))
    page = obtained.page
    if page is None:
        return _result(obtained, "", "", _NOTHING, 0)
    result = _result(obtained, page.title, page.language, await judge(page), len(page.elements))
    if not inventory:
        return result
    held, ways = await asyncio.to_thread(lambda: (inventory_of(page), ways_of(page)))
    return replace(result, resources=page.document.resources, inventory=held, ways=ways)


async def with_links(page: Page, follow: Follow) -> None:
    """Let a page's links be followed and the answers be its evidence."""
    page.document.network = await follow(page)
    page.document.evidence |= {Needs.NETWORK.value}


def with_dictionaries(page: Page) -> None:
    """Let a page's words be looked up and the answers be its evidence, if there is a dictionary and it can be done in time."""
    if installed():
        with contextlib.suppress(TooManyWords, DictionaryUnreadable):
            page.document.spelled = spell(page)
            page.document.evidence |= {Needs.DICTIONARY.value}


def wish_of(policy: Policy, picture_down: PictureDown | None = None) -> Wish:
    """Return what a reading for this policy has to gather."""
    asked = [check for check in catalogue().values() if policy.applies(check)]
    needs = frozenset().union(*(check.needs for check in asked)) if asked else frozenset()
    return Wish(
        wait_for=policy.wait_for,
        picture_down=picture_down,
        pixels=Needs.PIXELS in needs,
        keyboard=Needs.KEYBOARD in needs or any(check.area == "page" for check in asked),
        zoom=any(check.area == "zoom" for check in asked),
        words=Needs.RECOGNITION in needs,
    )


def _lowest(assessment: Assessment) -> int:
    """Return how far down the page the lowest place of a finding reaches; what lies below need not be pictured."""
    of_places = (one for one in assessment.findings if one.selector not in ("html", "body"))
    boxes = [box for one in of_places if (box := one.box or one.nearest_box) is not None]
    return int(max((top + height for _, top, _, height in boxes), default=_SCREEN))


def _result(obtained: Obtained, title: str, language: str, assessment: Assessment, elements: int) -> PageResult:
    return PageResult(
        obtained.address, obtained.lens, title, language, obtained.problem, obtained.content_hash, obtained.final_address,
        assessment, elements, obtained.picture, obtained.seconds, obtained.etag, obtained.last_modified,
    )  # fmt: skip
