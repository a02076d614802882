"""Reading and assessing one page: what every way of asking (look, sweep, proof, gate) does with a
page."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Awaitable, Callable
from dataclasses import dataclass, replace

from plumrake.core.assess import Assessment, assess
from plumrake.core.dom import Document
from plumrake.core.evidence import Network
from plumrake.core.findings import Needs
from plumrake.core.inventory import Inventory, PageViews, inventory_of, page_views_of
from plumrake.core.journeys import JourneyState
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.registry import Check, catalogue
from plumrake.lenses.read_options import PictureDown, ReadOptions
from plumrake.lenses.reader import Attempt, Obtained
from plumrake.spelling.dictionaries import DictionaryUnreadable, TooManyWords, installed, spell
from plumrake.spelling.tongues import tongues

_NOTHING = Assessment((), ())
_SCREEN = 800
_BELOW = 300
"""So many CSS px are pictured below the lowest finding."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PageResult(Attempt):
    """One page, read and assessed, or unread with its problem."""

    assessment: Assessment = _NOTHING
    title: str = ""
    language: str = ""
    elements: int = 0
    resources: tuple[str, ...] | None = None
    inventory: Inventory | None = None
    page_views: PageViews | None = None


Read = Callable[[ReadOptions], Awaitable[Obtained]]
"""Read the page with these options."""


Follow = Callable[[Page], Awaitable[Network]]
"""Tell what a page's links lead to."""
Worth = Callable[[Assessment], bool]
"""Tells whether a page with these findings is worth a picture."""


async def read_and_assess(
    read: Read,
    policy: Policy,
    *,
    state: JourneyState | None = None,
    worth: Worth | None = None,
    inventory: bool = False,
    follow: Follow | None = None,
) -> PageResult:
    """Return what the checks say about a page, or about a ``state`` of it; one that is ``worth`` it
    is shot while it is still open.

    With ``inventory``, what the page holds and the views of it come with it; with ``follow``, its
    links are followed.
    """
    if state is not None and state.scope is not None:
        policy = policy.changed(scope=(state.scope,))
    judged: dict[Document, tuple[Page, Assessment]] = {}
    needs = _needs(policy)

    async def judge(page: Page) -> tuple[Page, Assessment]:
        if page.document not in judged:
            if follow is not None:
                page = await with_links(page, follow)
            if Needs.LANGUAGES in needs:
                page = await asyncio.to_thread(with_languages, page)
            if Needs.DICTIONARY in needs:
                page = await asyncio.to_thread(with_dictionaries, page)
            judged[page.document] = page, await asyncio.to_thread(assess, page, policy)
        return judged[page.document]

    async def picture_down(page: Page) -> int | None:
        _, assessment = await judge(page)
        return _lowest(assessment) + _BELOW if worth is not None and worth(assessment) else None

    obtained = await read(
        replace(read_options_of(policy, picture_down if worth is not None else None), state=state)
    )
    if obtained.page is None:
        return PageResult(**obtained.attempt())
    page, assessment = await judge(obtained.page)
    result = PageResult(
        **obtained.attempt(),
        assessment=assessment,
        title=page.title,
        language=page.language,
        elements=len(page.elements),
    )
    if not inventory:
        return result
    held, page_views = await asyncio.to_thread(lambda: (inventory_of(page), page_views_of(page)))
    return replace(result, resources=page.document.resources, inventory=held, page_views=page_views)


async def with_links(page: Page, follow: Follow) -> Page:
    """Return the page with what its links lead to."""
    return page.knowing(Needs.NETWORK, network=await follow(page))


def with_dictionaries(page: Page) -> Page:
    """Return the page with what dictionaries know of its words, if there are dictionaries and it
    can be done in time."""
    if installed():
        with contextlib.suppress(TooManyWords, DictionaryUnreadable):
            return page.knowing(Needs.DICTIONARY, spelled=spell(page))
    return page


def with_languages(page: Page) -> Page:
    """Return the page with the language of its long passages, told from their letters."""
    return page.knowing(Needs.LANGUAGES, tongues=tongues(page))


def read_options_of(policy: Policy, picture_down: PictureDown | None = None) -> ReadOptions:
    """Return what a reading for this policy has to gather."""
    needs, asked = _needs(policy), _asked(policy)
    return ReadOptions(
        wait_for=policy.wait_for,
        picture_down=picture_down,
        pixels=Needs.PIXELS in needs,
        keyboard=Needs.KEYBOARD in needs or any(check.area == "page" for check in asked),
        zoom=any(check.area == "zoom" for check in asked),
        words=Needs.RECOGNITION in needs,
    )


def _asked(policy: Policy) -> list[Check]:
    return [check for check in catalogue().values() if policy.applies(check)]


def _needs(policy: Policy) -> frozenset[Needs]:
    """Return the evidence that the checks of a policy ask for together."""
    return frozenset(need for check in _asked(policy) for need in check.needs)


def _lowest(assessment: Assessment) -> int:
    """Return how far down the page the lowest place of a finding reaches; what lies below need not
    be pictured."""
    of_places = (one for one in assessment.findings if one.selector not in ("html", "body"))
    boxes = [box for one in of_places if (box := one.box or one.nearest_box) is not None]
    return int(max((top + height for _, top, _, height in boxes), default=_SCREEN))
