"""Every field of a policy explained for the person who sets it, and what a changed policy would do to the last sweep."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from plumrake.core.criteria import LEVELS, STANDARDS
from plumrake.core.findings import weights_from
from plumrake.core.policy import BESIDE_READING, FOLLOWS, HOLDS, WORD_LISTS, Policy
from plumrake.core.registry import Check, catalogue

_FROM_FINDINGS = ("hold", "only", "without", "standard", "level", *BESIDE_READING)
"""The fields whose effect can be told from what was found; all others need the pages read again."""


@dataclass(frozen=True, slots=True)
class FieldHelp:
    """A field of a policy: its name as written, a title, what it does, and its kind.

    ``kind`` is ``choice`` (one of ``choices``), ``choices`` (several of them), ``texts``, ``text``, ``number``, ``words`` (lists of phrases
    by name) or ``parameters`` (values by check).
    """

    name: str
    title: str
    says: str
    kind: str
    choices: tuple[str, ...] = ()


FIELDS: tuple[FieldHelp, ...] = (
    FieldHelp("standard", "Standard", "The version of WCAG that pages are held to. Checks whose criteria came later are off.", "choice", tuple(STANDARDS)),
    FieldHelp("level", "Level", "The conformance level. At AAA text needs a contrast of 7:1, at A contrast is not asked for.", "choice", LEVELS),
    FieldHelp("hold", "What holds a page", "The least weight that keeps a page from being ready to publish. With none, nothing holds.", "choice", HOLDS),
    FieldHelp("only", "Only these checks", "Areas (links) or checks (links/vague). Empty: all of them.", "texts"),
    FieldHelp("without", "Without these checks", "Areas or checks that are off for this site. Say why in the site's own records; reports name them.", "texts"),
    FieldHelp("leave-out", "Left-out regions", "CSS selectors of parts that somebody else answers for, such as an embedded chat. What is found there is counted apart.", "texts"),
    FieldHelp("regions", "Only these regions", "CSS selectors: only what lies in one of them is reported. Empty: the whole page.", "texts"),
    FieldHelp("logotypes", "Logotypes", "CSS selectors of texts that are logos: no contrast is asked of them (WCAG 1.4.3).", "texts"),
    FieldHelp("palette", "Palette", "The site's colours. Contrast proposals choose the nearest pair of them too.", "texts"),
    FieldHelp("wait-for", "Wait for", "A CSS selector that has to be there before a page is read in the browser.", "text"),
    FieldHelp("follow-links", "When links are followed", "At the gate and on demand alone, or in every sweep too: then dead links are findings with causes and fixes.", "choice", FOLLOWS),
    FieldHelp("words", "Word lists", f"Phrases added to the lists of the checks: {', '.join(WORD_LISTS)}.", "words", WORD_LISTS),
    FieldHelp("parameters", "Parameters of checks", "Values in place of a check's own, by check; its help page lists them.", "parameters"),
    FieldHelp("hand-out", "Hand out by itself", "New causes of this weight or worse become fixes of whoever answers for their pages.", "choice", HOLDS),
    FieldHelp("due-days", "Days until due", "How many days a fix that policy hands out has.", "number"),
    FieldHelp("waivers-by", "Who grants waivers", "The roles that may accept a finding until a day.", "choices", ("manager", "editor", "developer")),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class PageCounts:
    """What of a page counts in a sweep: whether it was read, whether it was ready, and pairs of check and weight."""

    path: str
    read: bool
    ready: bool
    counts: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Trial:
    """What a policy would make of a sweep: how many pages were and would be ready, which, and the fields that only a new sweep can tell."""

    pages: int
    ready_before: int
    ready_after: int
    held: tuple[str, ...]
    freed: tuple[str, ...]
    needs_sweep: tuple[str, ...]


def try_policy(pages: Iterable[PageCounts], before: Policy, after: Policy) -> Trial:
    """Return what ``after`` would make of the pages of a sweep that was read with ``before``."""
    weights = weights_from(after.hold)
    known, asked = catalogue(), {name: after.applies(check) for name, check in catalogue().items()}
    total = was = now = 0
    held: list[str] = []
    freed: list[str] = []
    for page in pages:
        total += 1
        ready = page.read and not any(weight in weights and name in known and asked[name] for name, weight in page.counts)
        was, now = was + page.ready, now + ready
        if ready != page.ready:
            (freed if ready else held).append(page.path)
    return Trial(total, was, now, tuple(held), tuple(freed), tuple(_untold(before, after, known.values())))


def _untold(before: Policy, after: Policy, checks: Iterable[Check]) -> list[str]:
    """Return the fields whose effect needs the pages to be read again."""
    names = [field.name.replace("-", "_") for field in FIELDS]
    untold = [name for name in names if name not in _FROM_FINDINGS and getattr(before, name) != getattr(after, name)]
    added = [check.id for check in checks if after.applies(check) and not before.applies(check)]
    stricter = LEVELS.index(after.level) > LEVELS.index(before.level)
    if added or stricter:
        untold += [name for name in ("standard", "level", "only", "without") if getattr(before, name) != getattr(after, name)]
    return [name.replace("_", "-") for name in names if name in untold]
