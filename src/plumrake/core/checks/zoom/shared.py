"""What the checks of zoom share: texts that no longer fit."""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.evidence import Misfit, Trials
from plumrake.core.findings import Flag, Mend, Needs, NotTested, failed
from plumrake.core.page import Page
from plumrake.core.words import shortened


def trials_of(page: Page) -> Trials:
    """Return what was tried with the page's layout. Raises ``NotTested``."""
    if page.evidence.trials is None:
        raise NotTested(Needs.LAYOUT)
    return page.evidence.trials


def misfit_flags(page: Page, misfits: tuple[Misfit, ...] | None) -> Iterator[Flag]:
    """Yield a flag per text that is cut off (on what cuts it) or overlaps another (on the later of
    them). Raises ``NotTested``."""
    if misfits is None:
        raise NotTested(Needs.LAYOUT)
    for misfit in misfits:
        element = page.elements[misfit.element]
        text = page.seen_text_of(element)
        if misfit.kind == "cut":
            mends: tuple[Mend, ...] = (
                Mend("set-style", "Let it grow with its text.", property="height", value="auto"),
                Mend("set-style", "Let its lines wrap.", property="white-space", value="normal"),
                Mend(
                    "advice",
                    (
                        "Or give it a least height in em instead of a fixed one, and let long "
                        "lines wrap."
                    ),
                ),
            )
            yield failed(
                element,
                "cut",
                text=shortened(text, 60),
                pixels=misfit.pixels,
                facts={"text": text[:200], "pixels": misfit.pixels},
                mends=mends,
            )
        elif misfit.other is not None:
            other = page.elements[misfit.other]
            facts = {"text": text[:200], "others": [page.selector_of(other)]}
            mends = (
                Mend(
                    "advice", "Let both grow with their text instead of standing at fixed places."
                ),
            )
            yield failed(
                element,
                "overlap",
                text=shortened(text, 50),
                other=shortened(page.seen_text_of(other), 50),
                facts=facts,
                mends=mends,
            )
