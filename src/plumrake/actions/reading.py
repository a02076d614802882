"""Reading and assessing one page: what every way of asking (look, sweep, proof, gate) does with a
page."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any

from plumrake.core.assess import Assessment, checks_asked, evidence_wanted
from plumrake.core.evidence import Network
from plumrake.core.findings import Needs
from plumrake.core.inventory import Inventory, PageViews
from plumrake.core.journeys import JourneyState, states_of
from plumrake.core.policy import Policy
from plumrake.core.probes import PageLink
from plumrake.core.questions.evidence import Shown
from plumrake.core.questions.question import Evidence
from plumrake.core.registry import Check, catalogue
from plumrake.lenses.assessor import Assessor, SeenPlace
from plumrake.lenses.read_options import PictureDown, ReadOptions, StandFor
from plumrake.lenses.reader import Attempt, Obtained
from plumrake.lenses.runners import TOO_HARD, AssessorLost, Runner, Runners
from plumrake.net.problems import Unreadable

_NOTHING = Assessment((), ())
_SCREEN = 800
_TRIES = 2
_OF_THE_BROWSER = frozenset(
    [Needs.LAYOUT, Needs.PIXELS, Needs.KEYBOARD, Needs.RECOGNITION, Needs.SCRIPTS]
)
_BELOW = 300
"""So many CSS px are pictured below the lowest finding."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PageResult(Attempt):
    """One page, read and assessed, or unread with its problem."""

    assessment: Assessment = _NOTHING
    title: str = ""
    language: str = ""
    kind: str = ""
    elements: int = 0
    census: Mapping[str, int] = field(default_factory=dict)
    areas: frozenset[str] = frozenset()
    resources: tuple[str, ...] | None = None
    inventory: Inventory | None = None
    page_views: PageViews | None = None
    shown: Mapping[Evidence, Shown] | None = None
    place: SeenPlace | None = None


Read = Callable[[ReadOptions], Awaitable[Obtained]]
"""Read the page with these options."""


Follow = Callable[[Sequence[PageLink]], Awaitable[Network]]
"""Tell what a page's links lead to."""
Worth = Callable[[Assessment], bool]
"""Tells whether a page with these findings is worth a picture."""


@dataclass(frozen=True, slots=True)
class Aim:
    """A place that a reading is for: the line and column of its element in the source, and how far
    down (CSS px) the page is to be pictured for it at least."""

    line: int
    column: int
    down: int


async def read_and_assess(
    read: Read,
    policy: Policy,
    runners: Runners,
    *,
    state: JourneyState | None = None,
    worth: Worth | None = None,
    inventory: bool = False,
    follow: Follow | None = None,
    aim: Aim | None = None,
    stand_for: StandFor | None = None,
) -> PageResult:
    """Return what the checks say about a page, or about a ``state`` of it; one that is ``worth`` it
    is shot while it is still open.

    With an ``aim``, what is at that place comes with it; with ``inventory``, what the page holds
    and the views of it; with ``follow``, its links are followed; with ``stand_for``, other pages
    may stand for it where other layouts and Tab are tried. A page that costs two of the ``runners``
    is too hard.
    """
    if state is not None and state.scope is not None:
        policy = policy.changed(scope=(state.scope,))
    result = PageResult(address="", lens="")
    for _ in range(_TRIES):
        async with runners.lend() as runner:
            page = OpenPage(runner, policy, worth, follow, aim)
            down = page.picture_down if worth is not None else None
            options = replace(
                read_options_of(policy, down), state=state, runner=runner, stand_for=stand_for
            )
            result = await page.result(await read(options), in_full=inventory)
        if result.problem is None or result.problem.code != TOO_HARD:
            break
    return result


class OpenPage:
    """The page that a runner has open, while it is read and after."""

    def __init__(
        self,
        runner: Runner,
        policy: Policy,
        worth: Worth | None,
        follow: Follow | None,
        aim: Aim | None,
    ) -> None:
        self._runner = runner
        self._policy = policy
        self._worth = worth
        self._follow = follow
        self._aim = aim
        self._is_followed = False

    async def assess(self) -> Assessment:
        """Return what the checks say by now."""
        if self._follow is not None and not self._is_followed:
            await follow_links(self._runner, self._follow)
            self._is_followed = True
        return await self._runner.do(Assessor.assess, self._policy)

    async def picture_down(self) -> int | None:
        """Return how far down the page's picture is wanted."""
        assessment = await self.assess()
        is_worth = self._worth is not None and self._worth(assessment)
        if not is_worth:
            return None
        return max(_lowest(assessment) + _BELOW, self._aim.down if self._aim is not None else 0)

    async def result(self, obtained: Obtained, *, in_full: bool) -> PageResult:
        """Return what came of the reading."""
        if obtained.problem is not None:
            return PageResult(**obtained.attempt())
        try:
            assessment = await self.assess()
            told = await self._runner.do(Assessor.tell, in_full=in_full)
            place = (
                await self._runner.do(Assessor.place_at, self._aim.line, self._aim.column)
                if self._aim is not None
                else None
            )
        except AssessorLost as lost:
            return PageResult(**(obtained.attempt() | {"problem": lost.problem, "picture": None}))
        result = PageResult(
            **obtained.attempt(),
            assessment=assessment,
            title=told.title,
            language=told.language,
            kind=told.kind,
            elements=told.elements,
            census=told.census,
            areas=told.areas,
            place=place,
        )
        if not in_full:
            return result
        return replace(
            result,
            resources=told.resources,
            inventory=told.inventory,
            page_views=told.page_views,
            shown=told.shown,
        )


def state_at(journeys: Sequence[Mapping[str, Any]], path: str) -> JourneyState:
    """Return the state of a site's journeys at a path. Raises ``Unreadable`` where there is none
    any more."""
    state = next((one for one in states_of(journeys) if one.path == path), None)
    if state is None:
        raise Unreadable("file-missing", "the site has no such journey any more")
    return state


async def follow_links(runner: Runner, follow: Follow) -> None:
    """Let the page that a runner has open know what its links lead to."""
    await runner.do(Assessor.know_network, await follow(await runner.do(Assessor.links)))


def read_options_of(policy: Policy, picture_down: PictureDown | None = None) -> ReadOptions:
    """Return what a reading for this policy has to gather."""
    needs, asked = evidence_wanted(policy), checks_asked(policy)
    return ReadOptions(
        wait_for=policy.wait_for,
        picture_down=picture_down,
        pixels=Needs.PIXELS in needs,
        keyboard=Needs.KEYBOARD in needs or any(check.area == "page" for check in asked),
        zoom=any(check.area == "zoom" for check in asked),
        words=Needs.RECOGNITION in needs,
    )


def _lowest(assessment: Assessment) -> int:
    """Return how far down the page the lowest place of a finding reaches; what lies below need not
    be pictured."""
    of_places = (one for one in assessment.findings if one.selector not in ("html", "body"))
    boxes = [box for one in of_places if (box := one.box or one.nearest_box) is not None]
    return int(max((top + height for _, top, _, height in boxes), default=_SCREEN))


@cache
def tried_checks() -> frozenset[str]:
    """Return the checks that judge by other layouts or by pressing Tab."""
    of_trials = (
        one.id for one in catalogue().values() if _slow_part(one) in ("layouts", "keyboard")
    )
    return frozenset((*of_trials, "page/skip-broken"))


@cache
def browsers_checks() -> frozenset[str]:
    """Return the checks that only a browser can make."""
    return frozenset(
        one.id for one in catalogue().values() if not one.needs.isdisjoint(_OF_THE_BROWSER)
    )


def is_left_open(assessment: Assessment) -> bool:
    """Tell whether a check that goes by the source and its styles could not tell all of it."""
    return any(
        one.needs == Needs.LAYOUT.value and one.check not in browsers_checks()
        for one in assessment.untested
    )


def checks_that_may_wait(check: str) -> list[str]:
    """Return the checks that take long in the browser (keys, other layouts, words in pictures) and
    have nothing to do with a mend for ``check``: after each mend the page is read without them."""
    slow = _slow_part(catalogue()[check])
    return [one.id for one in catalogue().values() if _slow_part(one) and _slow_part(one) != slow]


def _slow_part(check: Check) -> str:
    """Return which of the slow parts of a reading a check needs, or ``""``."""
    if check.area == "zoom":
        return "layouts"
    slow = check.needs & {Needs.KEYBOARD, Needs.RECOGNITION}
    return next(iter(slow)).value if slow else ""
