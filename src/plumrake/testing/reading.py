"""Reading a page that a test has brought to some state, and what it says."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from plumrake.core.assess import Assessment
from plumrake.core.decisions import finding_holds
from plumrake.core.findings import WEIGHTS, Finding, Mend
from plumrake.core.journeys import state_path
from plumrake.core.policy import Policy
from plumrake.lenses.assessor import Assessor
from plumrake.lenses.rendered.scripts import NO_TEXT, collecting, script
from plumrake.net.problems import Problem
from plumrake.reports.baseline import Baseline
from plumrake.reports.pages import Reported
from plumrake.reports.report import Note, ReportedPage, waived_by_author
from plumrake.testing.pages import (
    Ask,
    Asking,
    AsyncPage,
    CannotRead,
    Page,
    asked,
    asked_async,
    can_picture,
    evaluated,
    pictured,
)
from plumrake.testing.settings import Settings

_MOST_ELEMENTS = 40_000
_MOST_SAID = 10
_APPEARS = """async ([selector, milliseconds]) => {
  const end = Date.now() + milliseconds;
  while (!document.querySelector(selector)) {
    if (Date.now() > end) return false;
    await new Promise((done) => setTimeout(done, 50));
  }
  return true;
}"""
_WIDTH = "(_) => innerWidth"


@dataclass(frozen=True, slots=True)
class HandedOver:
    """A page as it was handed over: its HTML, and what the collector told of it."""

    source: str
    answer: str


@dataclass(frozen=True, slots=True)
class Reading:
    """What was found on a page in the state that it was handed over in. ``page`` has all findings,
    ``known`` the place keys of those that a baseline knows, ``without`` the checks that were off,
    with the reasons."""

    page: Reported
    policy: Policy
    areas: frozenset[str] = frozenset()
    known: frozenset[str] = frozenset()
    without: Mapping[str, str] = field(default_factory=dict)
    handed_over: HandedOver | None = None
    """What was handed over, where it is to be sent to a service."""

    @property
    def findings(self) -> tuple[Finding, ...]:
        """All that was found, in the order of the document."""
        return self.page.findings

    @property
    def holding(self) -> tuple[Finding, ...]:
        """What keeps the page from being ready, the worst first; not what is known."""
        weights = [weight.value for weight in WEIGHTS]
        held = (
            one
            for one in self.page.findings
            if finding_holds(one, self.policy.hold) and one.place_key not in self.known
        )
        return tuple(sorted(held, key=lambda one: weights.index(one.weight)))

    @property
    def is_ready(self) -> bool:
        """Whether nothing new on the page holds it (policy ``hold``)."""
        return not self.holding

    @property
    def untested(self) -> tuple[tuple[str, str], ...]:
        """The checks that could not be asked, each with the evidence that was missing."""
        return self.page.untested

    @property
    def says(self) -> str:
        """What holds the page, for people: place, fact and mend of at most ten, then how many
        more."""
        held = self.holding
        if not held:
            return f"{self.page.address} is ready."
        places = "1 place holds" if len(held) == 1 else f"{len(held)} places hold"
        lines = [f"{self.page.address}: {places} it."]
        for one in held[:_MOST_SAID]:
            lines += ["", f"{one.weight}: {one.says} ({one.check})", f"  at {one.selector}"]
            lines += [f"  → {says}" for says in _mends(one)]
        if len(held) > _MOST_SAID:
            lines += ["", f"and {len(held) - _MOST_SAID} more"]
        return "\n".join(lines)

    def reported(self) -> ReportedPage:
        """Return the reading as reports take it."""
        notes = {
            one.place_key: Note(
                waived=waived_by_author(one),
                new=one.place_key not in self.known if self.known else None,
            )
            for one in self.page.findings
        }
        return ReportedPage(self.page, notes, self.areas)

    def __repr__(self) -> str:
        held = len(self.holding)
        return f"<Reading of {self.page.address}: {'ready' if not held else f'held by {held}'}>"


def _mends(finding: Finding) -> list[str]:
    return [Mend.of(one).says for one in finding.mends[:2]]


class Reader:
    """Reads pages by a policy with settings over it. ``baseline`` holds what is known; ``notice``
    is told of each reading; what ``keeps`` keeps what was handed over with it."""

    def __init__(
        self,
        policy: Policy | None = None,
        settings: Settings | None = None,
        *,
        baseline: Baseline | None = None,
        notice: Callable[[Reading], None] | None = None,
        keeps: bool = False,
    ) -> None:
        self._policy, self._settings = policy or Policy(), settings or Settings()
        self._baseline, self._notice, self._keeps = baseline, notice, keeps

    def prepare(self, context: Any) -> None:
        """Have the scripts of a Playwright context, or of a page, watched from now on, so that
        what only they make work with the mouse is found too; of async ones await what this
        returns."""
        return context.add_init_script(script("listeners.js"))  # type: ignore[no-any-return]

    def read(self, page: Page, name: str = "", **said: Any) -> Reading:
        """Return what is found on a page as it is now. ``name`` is the state's name, which tells
        it from others of the same page; ``said`` are settings for this reading. Raises
        ``CannotRead``, ``BadPolicy``, ``TypeError``."""
        settings = self._settings.over(**said)
        policy = settings.policy(self._policy)
        asking = _gathering(page, policy, settings, name)
        return self._done(asked(page, asking), policy, settings)

    async def read_async(self, page: AsyncPage, name: str = "", **said: Any) -> Reading:
        """Return what is found on a page whose methods are to be awaited, as ``read`` does."""
        settings = self._settings.over(**said)
        policy = settings.policy(self._policy)
        asking = _gathering(page, policy, settings, name)
        return self._done(await asked_async(page, asking), policy, settings)

    def _done(self, gathered: _Gathered, policy: Policy, settings: Settings) -> Reading:
        known: frozenset[str] = frozenset()
        if self._baseline is not None:
            known = frozenset(
                one.place_key
                for one in gathered.page.findings
                if not self._baseline.is_new(one.place_key)
            )
        handed_over = gathered.handed_over if self._keeps else None
        reading = Reading(
            gathered.page, policy, gathered.areas, known, dict(settings.without), handed_over
        )
        if self._notice is not None:
            self._notice(reading)
        return reading


@dataclass(frozen=True, slots=True)
class _Gathered:
    page: Reported
    areas: frozenset[str]
    handed_over: HandedOver


def _gathering(
    page: Page | AsyncPage, policy: Policy, settings: Settings, name: str
) -> Asking[_Gathered]:
    """Gather what the page is, and what the checks say of it."""
    wait_for = settings.wait_for or policy.wait_for
    if wait_for is not None:
        there = yield evaluated(_APPEARS, [wait_for, settings.seconds * 1000])
        if not there:
            raise CannotRead(f"'{wait_for}' did not appear within {settings.seconds:g} s")
    assessor = Assessor()
    source = yield Ask("content")
    assessor.take_source(str(source).encode("utf-8", "replace"), "utf-8")
    address = page.url
    if name:
        address = state_path(address.partition("#")[0], *name.split("/"))
    answer = yield evaluated(*collecting(_MOST_ELEMENTS))
    opened = assessor.open_rendered(str(answer), address, _MOST_ELEMENTS)
    if isinstance(opened, Problem):
        raise CannotRead(opened.says)
    if can_picture(page):
        yield from _pixels(assessor)
    assessment = assessor.assess(policy)
    told = assessor.tell(in_full=False)
    reported = _reported(address, told.title, told.language, assessment)
    return _Gathered(reported, told.areas, HandedOver(str(source), str(answer)))


def _pixels(assessor: Assessor) -> Asking[None]:
    """Learn the pixels behind texts that only they can tell."""
    doubt = assessor.texts_in_doubt()
    if doubt is None:
        assessor.know_pixels(None, 0, [])
        return
    width = yield evaluated(_WIDTH, None)
    yield evaluated(script("no_text.js"), ["on", NO_TEXT])
    shot = yield pictured(doubt.strip(int(width)))
    owners = [index for index, _, _ in doubt.owners]
    places = yield evaluated(script("places.js"), owners)
    yield evaluated(script("no_text.js"), ["off", ""])
    assessor.know_pixels(
        bytes(shot), doubt.top, [(one[0], one[1]) if one is not None else None for one in places]
    )


def _reported(address: str, title: str, language: str, assessment: Assessment) -> Reported:
    untested = tuple((one.check, one.needs) for one in assessment.untested)
    return Reported(address, "rendered", title, language, None, None, assessment.findings, untested)
