"""The catalogue: checks are files in ``core/checks``, found by themselves, refused when
incomplete."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
import re
import textwrap
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from types import MappingProxyType
from typing import Any

from plumrake.core.criteria import CRITERIA
from plumrake.core.findings import Flag, Mend, Needs, Weight
from plumrake.core.geometry import Box
from plumrake.core.page import Page

HEADINGS: tuple[str, ...] = (
    "Who is hindered",
    "What an editor does",
    "What a template developer does",
    "Wrong",
    "Right",
    "Left alone",
)
"""The sections of every help page, in this order."""

Options = Mapping[str, Any]


class BadCheck(TypeError):
    """A check's file breaks the catalogue's rules; the message says which and how."""

    code = "bad-check"


@dataclass(frozen=True, slots=True)
class Help:
    """A check's help page: its title, the paragraphs before the first section, and the sections by
    heading."""

    title: str
    summary: str
    sections: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class SeenFault:
    """A fault that a person saw: the key of the question that it answers, what the question asks,
    the criteria it is about, how heavy it is, what is wrong, and the row of evidence that shows
    it (empty: the page as a whole)."""

    question: str
    asks: str
    criteria: tuple[str, ...]
    weight: Weight
    says: str
    place: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class PageFacts:
    """What site-wide checks know of a page."""

    address: str
    title: str
    seen: tuple[SeenFault, ...] = ()


@dataclass(frozen=True, slots=True)
class SiteFlag:
    """What a site-wide check yields: the number of the page, a message id, its data, and what else
    the finding carries. Without a selector it is about the page; weight and criteria are the
    check's where they are not given."""

    page: int
    message: str
    data: Mapping[str, Any]
    facts: Mapping[str, Any]
    mends: tuple[Mend, ...]
    cause: tuple[str, ...]
    place: tuple[str, ...] = ()
    selector: str = "html"
    box: Box | None = None
    excerpt: str = ""
    weight: Weight | None = None
    criteria: tuple[str, ...] | None = None


Across = Callable[[Sequence[PageFacts]], Iterable[SiteFlag]]


@dataclass(frozen=True, slots=True)
class Check:
    """One check: what it looks for and the function that looks, at one page or ``across`` all pages
    of a site (``page_by_page``: though at each for itself). ``only_people`` says why only a person
    can mend what it finds, else ``""``; ``styles`` are the fields of ``Style`` that it goes by
    (none: any)."""

    id: str
    weight: Weight
    criteria: tuple[str, ...]
    needs: frozenset[Needs]
    messages: Mapping[str, str]
    questions: Mapping[str, str]
    parameters: Mapping[str, Any]
    act_rule: str | None
    only_people: str
    help: Help
    look: Callable[[Page, Options], Iterable[Flag]] = field(repr=False)
    across: Across | None = field(default=None, repr=False)
    page_by_page: bool = False
    styles: frozenset[str] = frozenset()

    @property
    def area(self) -> str:
        """The part of the id before the slash."""
        return self.id.partition("/")[0]

    @property
    def title(self) -> str:
        """The help page's first line."""
        return self.help.title

    @property
    def wants_all_pages(self) -> bool:
        """Whether what it finds on a page hangs on all the others."""
        return self.across is not None and not self.page_by_page


_CHECKS: dict[str, Check] = {}


def check(
    *,
    id: str,
    weight: Weight,
    criteria: tuple[str, ...],
    needs: Needs | tuple[Needs, ...],
    messages: Mapping[str, str],
    questions: Mapping[str, str] | None = None,
    parameters: Mapping[str, Any] | None = None,
    act_rule: str | None = None,
    only_people: str = "",
    across: bool = False,
    page_by_page: bool = False,
    styles: str = "",
) -> Callable[[Callable[..., Iterable[Any]]], Callable[..., Iterable[Any]]]:
    """Enter the decorated function in the catalogue. Its module's docstring is the help page.
    Raises ``BadCheck``."""

    def enter(function: Callable[..., Iterable[Any]]) -> Callable[..., Iterable[Any]]:
        module = inspect.getmodule(function)
        wanted = "/".join(function.__module__.split(".")[-2:]).replace("_", "-")
        if id != wanted:
            raise BadCheck(
                f"{function.__module__}: the id is '{id}', its file says '{wanted}'; make "
                "them agree"
            )
        if id in _CHECKS:
            raise BadCheck(f"{id}: entered twice")
        if unknown := [number for number in criteria if number not in CRITERIA]:
            raise BadCheck(f"{id}: no such success criterion: {', '.join(unknown)}")
        evidence = frozenset((needs,) if isinstance(needs, Needs) else needs)
        takes_options = len(inspect.signature(function).parameters) > 1
        look = function if takes_options else (lambda page, options: function(page))
        _CHECKS[id] = Check(
            id,
            weight,
            criteria,
            evidence,
            MappingProxyType(dict(messages)),
            MappingProxyType(dict(questions or {})),
            MappingProxyType(dict(parameters or {})),
            act_rule,
            only_people,
            parse_help(id, (module.__doc__ if module else None) or ""),
            (lambda page, options: ()) if across else look,
            function if across else None,
            page_by_page,
            frozenset(styles.split()),
        )
        return function

    return enter


def parse_help(identifier: str, docstring: str) -> Help:
    """Return the help page that a module docstring is. Raises ``BadCheck`` where a section is
    missing or out of order."""
    first, _, rest = inspect.cleandoc(docstring).partition("\n")
    if not first.endswith("."):
        raise BadCheck(
            f"{identifier}: the docstring's first line is the title and ends with a full stop"
        )
    summary, *parts = re.split(r"^## (.+)\n", rest, flags=re.MULTILINE)
    found = tuple(parts[::2])
    if found != HEADINGS:
        raise BadCheck(
            f"{identifier}: the help page's sections are {found}, they have to be {HEADINGS}"
        )
    sections = {heading: body.strip("\n") for heading, body in zip(found, parts[1::2], strict=True)}
    return Help(first.rstrip("."), summary.strip(), MappingProxyType(sections))


def example(check: Check, heading: str) -> str:
    """Return the HTML of a help page's ``Wrong`` or ``Right`` section."""
    return textwrap.dedent(check.help.sections[heading])


@cache
def catalogue() -> Mapping[str, Check]:
    """Return every check by id, in the order of their ids."""
    package = importlib.import_module("plumrake.core.checks")
    for module in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
        if not module.ispkg:
            importlib.import_module(module.name)
    return MappingProxyType(dict(sorted(_CHECKS.items())))
