"""Policy: a site's rules, as plain data that is checked once when it comes in."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal, TypeVar, get_args

from pydantic import AfterValidator, Field, StringConstraints, ValidationError

from plumrake.core.criteria import LevelName, StandardName
from plumrake.core.gate_rules import DecidingRole, GateRules, Holds
from plumrake.core.page_kinds import PageKind
from plumrake.core.registry import Check, catalogue
from plumrake.core.tables import (
    CheckName,
    CheckOrAll,
    Colour,
    PathPattern,
    Selector,
    Several,
    Table,
    WholeNumber,
    problem_of,
)
from plumrake.core.target import Target
from plumrake.path_patterns import matches

Kind = TypeVar("Kind", bound=Table)
WordList = Literal[
    "vague-links",
    "filler-texts",
    "picture-openings",
    "new-window",
    "vague-titles",
    "own-words",
]
"""The phrase lists that a policy may add to; ``own-words`` are words that are spelt right whatever
dictionaries say."""
Follows = Literal["on-demand", "in-sweeps"]
ReadingIs = Literal["both", "browser", "markup"]
DescriberIs = Literal["off", "on-request"]
CorrectionsAre = Literal["drafted", "write"]
HOLDS: tuple[str, ...] = get_args(Holds)


_ANY = "*"
_ADDRESS = re.compile(r"https?://[^\s<>\"]+[^\s<>\".,;:!?)]")
HelpLine = Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=500)]
"""A sentence of the organisation's own, with at most one web address that is of interest."""


@dataclass(frozen=True, slots=True)
class OwnHelp:
    """The organisation's own help for a check: what it says, and where there is more to read."""

    says: str
    link: str | None = None


def own_help_of(line: str) -> OwnHelp:
    """Return a line of help with the web address that it names; one that ends the line is taken out
    of it."""
    found = _ADDRESS.search(line)
    if found is None:
        return OwnHelp(line)
    is_last = not line[found.end() :].strip(" .!)")
    says = line[: found.start()].rstrip(" ,;:(–-") if is_last else line
    return OwnHelp(says or found.group(), found.group())


class BadPolicy(ValueError):
    """A field of the policy is not what it may be; the message says which, where and what to
    write."""

    code = "bad-policy"


def _known_parameters(values: dict[str, dict[str, Any]]) -> dict[str, dict[str, Any]]:
    """Refuse checks and parameters that there are not, and values of another kind than a check's
    own."""
    for identifier, given in values.items():
        if identifier not in catalogue():
            raise ValueError(f"no check is called '{identifier}'; 'plumrake checks' lists them")
        known = catalogue()[identifier].parameters
        for name, value in given.items():
            if name not in known:
                raise ValueError(
                    f"{identifier} has no parameter '{name}'; there are: "
                    f"{', '.join(known) or 'none'}"
                )
            if type(value) is not type(known[name]):
                raise ValueError(
                    f"'{name}' of {identifier} has to be {_KIND_NAMES[type(known[name])]}, "
                    f"not {value!r}"
                )
    return values


_KIND_NAMES: dict[type, str] = {
    int: "a whole number",
    float: "a number with a point",
    bool: "true or false",
    str: "text",
    list: "a list",
    tuple: "a list",
}


class Policy(Table):
    """What is asked of a site's pages. Each field's ``description`` says what it does."""

    standard: StandardName = Field(
        "wcag22",
        title="Standard",
        description="The version of WCAG that pages are held to. Checks whose criteria came later "
        "are off.",
    )
    level: LevelName = Field(
        "aa",
        title="Level",
        description="The conformance level. At AAA text needs a contrast of 7:1, at A contrast is "
        "not asked for.",
    )
    hold: Holds = Field(
        "obstacle",
        title="What holds a page",
        description="The least weight that keeps a page from being ready to publish. With none, "
        "nothing holds.",
    )
    only: Several[CheckName] = Field(
        (),
        title="Only these checks",
        description="Areas (links) or checks (links/vague). Empty: all of them.",
    )
    without: Several[CheckName] = Field(
        (),
        title="Without these checks",
        description="Areas or checks that are off for this site. Say why in the site's own "
        "records; reports name them.",
    )
    leave_out: Several[Selector] = Field(
        (),
        title="Left-out parts of the page",
        description="CSS selectors of what somebody else answers for, such as an embedded chat. "
        "What is found there is counted apart.",
    )
    leave_out_pages: Several[PathPattern] = Field(
        (),
        title="Left-out pages",
        description="Patterns of paths, such as /author/*: archives, search results, feeds. These "
        "pages are read, but they are not counted among the ready, and nothing that is found "
        "there counts.",
    )
    leave_out_kinds: Several[PageKind] = Field(
        (),
        title="Left-out kinds of pages",
        description="Kinds of pages that only list others, where the content system tells them "
        "apart, as WordPress does. They are left out like the pages above.",
    )
    review_pages: Several[PathPattern] = Field(
        (),
        title="Pages that people look at first",
        description="Patterns of paths, such as / or /visit/*: the most visited pages. Questions "
        "that only people can answer are asked about them, beside one page of each template, all "
        "journeys, and pages with films, forms and tables.",
    )
    scope: Several[Selector] = Field(
        (),
        title="Only these parts of the page",
        description="CSS selectors: only what lies in one of them is reported. Empty: the whole "
        "page.",
    )
    logotypes: Several[Selector] = Field(
        (),
        title="Logotypes",
        description="CSS selectors of texts that are logos: no contrast is asked of them (WCAG "
        "1.4.3).",
    )
    palette: Several[Colour] = Field(
        (),
        title="Palette",
        description="The site's colours. Contrast proposals choose the nearest pair of them too.",
    )
    wait_for: str | None = Field(
        None,
        title="Wait for",
        description="A CSS selector that has to be there before a page is read in the browser.",
    )
    follow_links: Follows = Field(
        "on-demand",
        title="When links are followed",
        description="At the gate and on demand alone, or in every sweep too: then dead links are "
        "findings with causes and fixes.",
    )
    words: dict[WordList, Several[str]] = Field(
        default={},
        title="Word lists",
        description="Phrases added to the lists of the checks. Own words are spelt right whatever "
        "dictionaries say.",
    )
    parameters: Annotated[dict[str, dict[str, Any]], AfterValidator(_known_parameters)] = Field(
        default={},
        title="Parameters of checks",
        description="Values in place of a check's own, by check; its help page lists them.",
    )
    hand_out: Holds = Field(
        "none",
        title="Hand out automatically",
        description="New causes of this weight or worse become fixes of whoever answers for their "
        "pages.",
    )
    due_days: Annotated[WholeNumber, Field(ge=1, le=3650)] = Field(
        14,
        title="Days until due",
        description="How many days a fix that policy hands out has.",
    )
    waivers_by: Several[DecidingRole] = Field(
        ("manager",),
        title="Who grants waivers",
        description="The roles that may accept a finding until a day.",
    )
    corrections: CorrectionsAre = Field(
        "drafted",
        title="Corrections",
        description="What people may do with the corrections that they make here: drafted, they "
        "are downloaded; with write, the service also writes them into the site's sources, where "
        "those are connected.",
    )
    describer: DescriberIs = Field(
        "off",
        title="Describer",
        description="Whether a person may have a picture described by the program that whoever "
        "runs the service has set up for that: the picture and the text around it are sent there. "
        "What it says is only ever a proposal.",
    )
    own_help: dict[CheckOrAll, HelpLine] = Field(
        default={},
        title="The organisation's own help",
        description="By check or area, or * for all: one sentence of your own, with a web address "
        "in it where there is more to read. It stands beside our help wherever a finding does: "
        "here, in the content system, in e-mails and reports.",
    )
    tried_anyway: Annotated[WholeNumber, Field(ge=1, le=1000)] = Field(
        10,
        title="Pages tried all the same",
        description="Sweeps lay a page out narrow and enlarged, and press Tab through it, where it "
        "is made of something that was not tried yet. Of the other pages one in so many is tried "
        "all the same, another each time, and of a large site about a hundred of a sweep; 1 tries "
        "every page, and what is below 10 knows no such bound.",
    )
    reading: ReadingIs = Field(
        "both",
        title="How pages are read",
        description="both: a sweep reads a page in the browser, unless the page is made of nothing "
        "but what the browser has shown on other pages just as their sources and style sheets "
        "say; then by those, many times as fast. browser: every page in the browser. markup: "
        "every page by its source and style sheets alone.",
    )
    organisation: str = Field(
        "",
        title="Organisation",
        description="Who the site is of, as the accessibility statement names them.",
    )
    feedback: str = Field(
        "",
        title="Feedback",
        description="Where people write or call when something is in their way: an e-mail address, "
        "a telephone number. It stands in the accessibility statement.",
    )
    enforcement: str = Field(
        "",
        title="Whom people turn to next",
        description="The body that answers when the organisation does not, with its address, as "
        "the accessibility statement names it.",
    )
    statement_months: Annotated[WholeNumber, Field(ge=1, le=60)] = Field(
        12,
        title="Months that a statement holds",
        description="An accessibility statement that was published longer ago is asked about "
        "again.",
    )
    gate: GateRules = Field(
        default_factory=GateRules,
        title="Gate",
        description="What holds a publication, where, and from when on.",
    )

    def changed(self, **fields: Any) -> Policy:
        """Return the policy with other values of some fields. Raises ``BadPolicy``."""
        return policy_from({**dict(self), **fields})

    @property
    def sweeps_follow_links(self) -> bool:
        """Tell whether sweeps ask where links lead."""
        return self.follow_links == "in-sweeps"

    @property
    def target(self) -> Target:
        """The fields that say which checks are asked for, by which criteria."""
        return Target(self.standard, self.level, self.only, self.without)

    def applies(self, check: Check) -> bool:
        """Tell whether the check is asked for: not switched off, and one of its criteria within
        standard and level."""
        return self.target.applies(check)

    def help_for(self, check: str) -> OwnHelp | None:
        """Return the organisation's own help for a check: its own line, its area's, or that for
        all."""
        names = (check, check.partition("/")[0], _ANY)
        line = next((self.own_help[name] for name in names if name in self.own_help), None)
        return own_help_of(line) if line is not None else None

    def leaves_out(self, path: str, kind: str = "") -> bool:
        """Tell whether a page of a kind is read, but counted neither among the ready nor the
        others."""
        return kind in self.leave_out_kinds or any(
            matches(pattern, path) for pattern in self.leave_out_pages
        )

    def within_target(self, check: Check) -> tuple[str, ...]:
        """Return those of the check's criteria that lie within the policy's standard and level."""
        return self.target.criteria_of(check)

    def options(self, check: Check) -> dict[str, Any]:
        """Return the check's parameters, the site's values over the defaults, with the site's
        level, words, palette and logotypes."""
        of_site = {
            "level": self.level,
            "words": self.words,
            "palette": self.palette,
            "logotypes": self.logotypes,
        }
        return {**check.parameters, **self.parameters.get(check.id, {}), **of_site}


BESIDE_READING: tuple[str, ...] = (
    "leave_out_pages",
    "leave_out_kinds",
    "review_pages",
    "hand_out",
    "due_days",
    "waivers_by",
    "corrections",
    "describer",
    "own_help",
    "organisation",
    "feedback",
    "enforcement",
    "statement_months",
    "gate",
)
"""The fields that say what happens with findings, and not what is found."""


def policy_from(data: Mapping[str, Any]) -> Policy:
    """Return the policy that a mapping (a ``plumrake.toml``, a site's policy) describes. Raises
    ``BadPolicy``."""
    return _checked(Policy, data)


def gate_rules_from(data: Mapping[str, Any]) -> GateRules:
    """Return the rules that a table (``[gate]`` of ``plumrake.toml``) describes. Raises
    ``BadPolicy``."""
    return _checked(GateRules, data)


def _checked(table: type[Kind], data: Mapping[str, Any]) -> Kind:
    try:
        return table.model_validate(dict(data))
    except ValidationError as error:
        raise BadPolicy(problem_of(error, table)) from None
