"""The rules of the gate: what holds a publication, in which section of the site, from when on, and
who may overrule."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from plumrake.core.tables import (
    CheckName,
    Day,
    PathPattern,
    Several,
    Table,
    WholeNumber,
)
from plumrake.path_patterns import matches

Holds = Literal["barrier", "obstacle", "friction", "none"]
"""The least weight that holds something: a page from being ready, a publication."""
Counts = Literal["change", "everything"]
LeastReading = Literal["markup", "browser"]
DecidingRole = Literal["manager", "editor", "developer"]
"""The roles that a site may let decide; a reader never does."""
_MOST_MINUTES = 7 * 24 * 60


def _begins_with_slash(value: str) -> str:
    if not value.startswith("/"):
        raise ValueError(f"has to be a path that begins with /, not '{value}'")
    return value


class SectionRules(Table):
    """What is different for pages of a section; None is as everywhere."""

    pattern: PathPattern = Field(
        title="Pages", description="Paths of the section; * stands for anything."
    )
    holds: Holds | None = Field(
        None, title="Holds from", description="The least weight that holds there."
    )
    counts: Counts | None = Field(
        None, title="What counts", description="Whether what was there before holds there too."
    )


class GateRules(Table):
    """What holds a publication."""

    holds: Holds | None = Field(
        None,
        title="Holds from",
        description="The least weight that holds a publication. Empty: what keeps a page from "
        "being ready.",
    )
    counts: Counts = Field(
        "change",
        title="What counts",
        description="Only what the change brings, or everything: then what was there before "
        "holds too.",
    )
    begins: Day | None = Field(
        None,
        title="Holds from this day on",
        description="Until this day the gate answers, but nothing holds.",
    )
    old_from: Day | None = Field(
        None,
        title="What was there before, from",
        description="Where everything counts: until this day what was there before does not hold.",
    )
    least_reading: LeastReading = Field(
        "markup",
        title="Read at least",
        description="By its source, or in a browser: who asks may ask for more, not for less.",
    )
    tested: Several[CheckName] = Field(
        (),
        title="What has to be tested",
        description="Areas or checks that hold a page where they could not be tested on it.",
    )
    doubtful: Several[CheckName] = Field(
        (),
        title="Doubtful findings that hold",
        description="Areas or checks whose doubtful findings hold too.",
    )
    overruled_by: Several[DecidingRole] = Field(
        ("manager",),
        title="Who may overrule",
        description="The roles that may publish against the answer, with a reason that is kept "
        "and shown.",
    )
    valid_minutes: Annotated[WholeNumber, Field(ge=1, le=_MOST_MINUTES)] = Field(
        60,
        title="Good for, in minutes",
        description="How long a clearance may be used.",
    )
    frame: Annotated[str, AfterValidator(_begins_with_slash)] | None = Field(
        None,
        title="Page frame of fragments",
        description="The path of the page that fragments are set into.",
    )
    slot: str | None = Field(
        None,
        title="Its slot",
        description="The CSS selector of the element that holds fragments in that page.",
    )
    sections: Several[SectionRules] = Field(
        (),
        title="Sections",
        description="What is different for pages of a section; of several the narrowest counts.",
    )

    def at(self, path: str) -> GateRules:
        """Return the rules for a page: those of the narrowest section that it belongs to over the
        general ones."""
        fitting = [section for section in self.sections if matches(section.pattern, path)]
        if not fitting:
            return self
        own = max(
            fitting, key=lambda section: (len(section.pattern.replace("*", "")), section.pattern)
        )
        return self.model_copy(
            update={
                "holds": own.holds or self.holds,
                "counts": own.counts or self.counts,
                "sections": (),
            }
        )

    def missing(self, untested: Iterable[str], today: date) -> list[str]:
        """Return the checks, of those that could not be tested, that hold a page for it."""
        if not self.has_begun(today):
            return []
        wanted = set(self.tested)
        return [one for one in untested if {one, one.partition("/")[0]} & wanted]

    def has_begun(self, today: date) -> bool:
        """Tell whether anything holds yet."""
        return self.begins is None or today >= self.begins
