"""Findings: what a check says about one element, with the facts, the place, the mends and the keys
that know it again."""

from __future__ import annotations

import builtins
import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any, Final
from urllib.parse import urlsplit

from plumrake.core.dom import Element
from plumrake.core.geometry import Box, whole
from plumrake.core.selectors import looks_hand_made, stable_classes
from plumrake.core.vocabulary import LANDMARKS


class Outcome(StrEnum):
    """EARL 1.0's outcome values."""

    PASSED = "passed"
    FAILED = "failed"
    CANT_TELL = "cantTell"
    INAPPLICABLE = "inapplicable"
    UNTESTED = "untested"


class Weight(StrEnum):
    """What a finding does to a visitor."""

    BARRIER = "barrier"
    OBSTACLE = "obstacle"
    FRICTION = "friction"


WEIGHTS: tuple[Weight, ...] = (Weight.BARRIER, Weight.OBSTACLE, Weight.FRICTION)
"""From worst to least."""


def weights_from(least: str) -> tuple[str, ...]:
    """Return the weights from the worst down to ``least``; none for ``none``."""
    return (
        ()
        if least == "none"
        else tuple(weight.value for weight in WEIGHTS[: WEIGHTS.index(Weight(least)) + 1])
    )


class Needs(StrEnum):
    """Evidence that a check wants from the lens."""

    TREE = "tree"
    STYLE = "style"
    LAYOUT = "layout"
    PIXELS = "pixels"
    NETWORK = "network"
    KEYBOARD = "keyboard"
    RECOGNITION = "recognition"
    DICTIONARY = "dictionary"
    LANGUAGES = "languages"
    SCRIPTS = "scripts"
    """What the page's scripts add to it: the lens runs them."""
    PAGE = "page"
    """The whole page: a fragment (a text to be set into a page) is none."""


class NotTested(Exception):
    """Raised by a check that finds its evidence lacking on this page although the lens gives it as
    a rule."""

    def __init__(self, needs: Needs) -> None:
        super().__init__(f"not tested: {needs.value} could not be had")
        self.needs = needs


@dataclass(frozen=True, slots=True)
class Mend:
    """A concrete change of the markup. Which of the optional fields are set hangs on ``kind``
    (``value`` None: a person has to write it):

    ``set-attribute`` attribute, value · ``remove-attribute`` attribute · ``own-id`` value ·
    ``rename-element`` to · ``replace-text`` value · ``replace-word`` to (the word), value, and
    attribute where it stands in one · ``wrap`` to · ``wrap-strays`` to · ``unwrap`` ·
    ``remove-element`` · ``insert`` to, value, where (first, last, before, after) · ``set-style``
    property, value · ``set-colours`` value (of the text), to (of what is behind it) ·
    ``add-rule`` to (what is added to the element's selector), property, value · ``head-table`` to
    (row, column, both) · ``set-scopes`` · ``make-list`` to · ``group-choices`` value ·
    ``link-past-menus`` value, to (own: the element is the link) · ``mark-decorative`` ·
    ``say-with-text`` value · ``move-section`` to (a level) · ``merge-links`` · ``merge`` ·
    ``unlink-picture`` · ``unhide`` · ``paint`` value ·
    ``name-as-picture`` value · ``rewrite`` value (the element's markup) · ``advice`` none.

    ``target`` is what it is about where that is not the finding's element: a tag of the page (the
    first one counts), ``heading 3`` (the third of the page, from 1), or ``picture``, the only one
    inside. ``sure`` tells that it needs no
    judgement.
    """

    kind: str
    says: str
    attribute: str | None = None
    value: str | None = None
    to: str | None = None
    property: str | None = None
    where: str | None = None
    target: str | None = None
    sure: bool = False

    @builtins.property
    def asks(self) -> bool:
        """Whether a person has to write what stands there."""
        return self.kind in WRITTEN_KINDS and self.value is None

    @builtins.property
    def can_be_carried_out(self) -> bool:
        """Whether it changes the source; an advice only says what to do."""
        return self.kind != "advice"

    @classmethod
    def of(cls, given: Mapping[str, str]) -> Mend:
        """Return the mend that ``as_dict`` gave the fields of."""
        fields = {name: given.get(name) for name in _FIELDS}
        return cls(kind=given["kind"], says=given.get("says", ""), sure="sure" in given, **fields)

    def as_dict(self) -> dict[str, str]:
        """Return the fields that are set."""
        pairs = {name: getattr(self, name) for name in ("kind", "says", *_FIELDS)}
        given = {name: value for name, value in pairs.items() if value is not None}
        return given | ({"sure": "yes"} if self.sure else {})


_FIELDS = ("attribute", "value", "to", "property", "where", "target")
WRITTEN_KINDS = frozenset(
    (
        "set-attribute replace-text replace-word insert group-choices link-past-menus "
        "say-with-text name-as-picture rewrite"
    ).split()
)
"""The kinds of mends whose ``value`` a person writes where the check does not know it."""


@dataclass(frozen=True, slots=True)
class Flag:
    """What a check yields: an element, a message id, the message's data, and what else the finding
    has to carry.

    ``cause`` is what makes this fault the same fault elsewhere, where the element's own text does
    not (a pair of colours); ``anywhere`` says that it alone does so, whatever kind of element it
    stands on (a word). ``one_with`` is the first of the elements at fault together: they are
    one cause, known by that one. ``criteria`` are those of this fault where they are not the
    check's.
    """

    outcome: Outcome
    element: Element
    message: str
    data: Mapping[str, Any] = field(default_factory=dict)
    facts: Mapping[str, Any] = field(default_factory=dict)
    mends: tuple[Mend, ...] = ()
    weight: Weight | None = None
    cause: tuple[str, ...] | None = None
    anywhere: bool = False
    one_with: Element | None = None
    criteria: tuple[str, ...] | None = None


def failed(element: Element, message: str, *, mends: tuple[Mend, ...] = (), **rest: Any) -> Flag:
    """Return a flag for a fault that needs no person to decide."""
    return _flag(Outcome.FAILED, element, message, mends, rest)


def cant_tell(element: Element, message: str, *, mends: tuple[Mend, ...] = (), **rest: Any) -> Flag:
    """Return a flag for what a person has to answer."""
    return _flag(Outcome.CANT_TELL, element, message, mends, rest)


_OF_FLAGS = ("facts", "weight", "cause", "anywhere", "one_with", "criteria")


def _flag(
    outcome: Outcome, element: Element, message: str, mends: tuple[Mend, ...], rest: dict[str, Any]
) -> Flag:
    own = {name: rest.pop(name) for name in _OF_FLAGS if name in rest}
    return Flag(outcome, element, message, data=rest, mends=mends, **own)


@dataclass(frozen=True, slots=True)
class Finding:
    """A finding as it is kept, shown and exported; the fields are those of ``look --as json``."""

    check: str
    outcome: str
    weight: str
    criteria: tuple[str, ...]
    says: str
    question: str | None
    message: str
    selector: str
    line: int | None
    column: int | None
    box: Box | None
    visible: bool
    nearest_visible: str | None
    nearest_box: Box | None
    excerpt: str
    facts: dict[str, Any]
    mends: tuple[dict[str, str], ...]
    place_key: str
    cause_key: str
    zone: str = "page"
    structure: str = ""
    shape_key: str = ""
    block: str = ""
    """What made the place, where its system says so: the path and name of a block of its item's
    content, or ``frame``."""


def digest(*parts: str) -> str:
    """Return 20 hex digits that stand for the parts together."""
    return hashlib.sha256("\x1f".join(parts).encode("utf-8", "surrogatepass")).hexdigest()[:20]


def signature(
    element: Element, role: str, name: str, cause: tuple[str, ...] | None, *, anywhere: bool = False
) -> tuple[str, ...]:
    """Return what an element is known by when it is met again: tag, role, classes, name or text,
    target path, ancestor.

    Where a check gives ``cause``, that stands for name and target, and ``anywhere`` for all else
    too.
    """
    if anywhere:
        return cause or ()
    kind = (element.tag, role, " ".join(sorted(stable_classes(element))), _named_ancestor(element))
    if cause is not None:
        return (*kind, *cause)
    return (
        *kind,
        (name or element.text())[:120].casefold(),
        *(_path(element.get(attribute)) for attribute in ("src", "href", "data")),
    )


def path_of(address: str) -> str:
    """Return an address without scheme and host, so that a page is the same page in staging and
    live."""
    scheme, separator, rest = address.partition("://")
    if not separator or "/" in scheme:
        return address
    return "/" + rest.partition("/")[2]


def _path(address: str) -> str:
    if not address or address.startswith("data:"):
        return digest(address) if address else ""
    try:
        parts = urlsplit(address)
    except ValueError:
        return address
    return (
        parts.path.rsplit("/", 1)[-1] if parts.scheme not in ("", "http", "https") else parts.path
    )


def _named_ancestor(element: Element) -> str:
    """Return the nearest ancestor that has a name of its own: an id, an ``aria-label``, or a
    landmark's tag."""
    for ancestor in element.ancestors():
        if ancestor.tag == "main":
            return "main"  # there is one, and scripts like to give it an id
        identifier = ancestor.get("id")
        if identifier and looks_hand_made(identifier):
            return f"#{identifier}"
        if label := ancestor.get("aria-label").strip():
            return f"{ancestor.tag}[{label.casefold()}]"
        if (
            ancestor.tag in ("header", "footer", "main", "nav", "aside")
            or ancestor.get("role") in LANDMARKS
        ):
            return ancestor.get("role") or ancestor.tag
    return ""


LEFT_HERE: Final = "left_here"
"""The fact of a finding that says why its page's author left the place out (``left_here.py``)."""


def why_left(finding: Finding) -> str:
    """Return why the author of a finding's page left its place out, or ``""``."""
    return str(finding.facts.get(LEFT_HERE, ""))


def as_dict(finding: Finding) -> dict[str, Any]:
    """Return a finding with the fields and their order of ``look --as json``; boxes are whole CSS
    px."""
    return {
        "check": finding.check,
        "outcome": finding.outcome,
        "weight": finding.weight,
        "criteria": list(finding.criteria),
        "says": finding.says,
        "question": finding.question,
        "selector": finding.selector,
        "line": finding.line,
        "column": finding.column,
        "box": whole(finding.box),
        "visible": finding.visible,
        "nearest_visible": finding.nearest_visible,
        "nearest_box": whole(finding.nearest_box),
        "excerpt": finding.excerpt,
        "facts": finding.facts,
        "mends": [dict(mend) for mend in finding.mends],
        "place_key": finding.place_key,
        "cause_key": finding.cause_key,
        "zone": finding.zone,
        **({"block": finding.block} if finding.block else {}),
    }
