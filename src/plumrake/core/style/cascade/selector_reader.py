"""Reading selectors from tokens (Selectors 4, CSS Nesting 1).

What a browser knows and this module does not is answered by None, never by a guess.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from tinycss2 import parse_component_value_list
from tinycss2.nth import parse_nth

from plumrake.core.dom import Element
from plumrake.core.style.cascade.answers import Answer, opposite
from plumrake.core.style.cascade.comparisons import COMPARED, Comparison
from plumrake.core.style.cascade.kin import Kin
from plumrake.core.style.cascade.pseudo_classes import (
    AMONG_SIBLINGS,
    ATTRIBUTES_OF,
    BEYOND_ANCESTORS,
    PSEUDO_CLASSES,
    Test,
)
from plumrake.core.style.cascade.selector_tests import (
    NTH,
    Tokens,
    direction,
    has,
    lang,
    nth_test,
)
from plumrake.core.style.cascade.selectors import (
    Compound,
    Selector,
    Specificity,
    any_selects,
    keys_around,
    keys_of,
)

MOST_PARTS, MOST_DEPTH = 60, 12
"""A selector with more compounds, or nested deeper, is not read."""
_ONE_COLON = frozenset(["before", "after", "first-line", "first-letter"])
_KNOWN_ELEMENTS = frozenset(
    "before after first-line first-letter marker selection backdrop placeholder cue "
    "file-selector-button target-text spelling-error grammar-error details-content view-transition "
    "view-transition-group view-transition-image-pair view-transition-old view-transition-new part "
    "slotted highlight scroll-marker scroll-marker-group scroll-button column checkmark picker "
    "picker-icon search-text".split()
)


class BadSelector(ValueError):
    """The selector is none that a browser would take."""


@dataclass(slots=True)
class _Reading:
    """What was met so far in a complex selector."""

    ids: int = 0
    classes: int = 0
    tags: int = 0
    is_lineal: bool = True
    among: frozenset[str] = frozenset()

    def add(self, specificity: Specificity) -> None:
        self.ids += specificity[0]
        self.classes += specificity[1]
        self.tags += specificity[2]


_numbers = iter(range(1, 1 << 62))


def parse_selectors(
    given: str | Tokens, nested_in: Sequence[Selector] | None = None, *, is_quirky: bool = False
) -> list[Selector]:
    """Return the selectors of a list. Raises ``BadSelector`` for a list that a browser drops.

    Within a style rule (``nested_in``), ``&`` stands for the rule's own selectors.
    """
    tokens = parse_component_value_list(given) if isinstance(given, str) else given
    reader = _Reader(nested_in, is_quirky=is_quirky)
    return [reader.complex(part) for part in _comma_parts(tokens)]


def _comma_parts(tokens: Iterable[Any]) -> list[list[Any]]:
    parts: list[list[Any]] = [[]]
    for token in tokens:
        if token.type == "literal" and token.value == ",":
            parts.append([])
        elif token.type != "comment":
            parts[-1].append(token)
    return parts


def _trimmed(tokens: list[Any]) -> list[Any]:
    start, end = 0, len(tokens)
    while start < end and tokens[start].type == "whitespace":
        start += 1
    while end > start and tokens[end - 1].type == "whitespace":
        end -= 1
    return tokens[start:end]


class _Reader:
    """Reads one list of selectors, and what is nested in it."""

    def __init__(
        self, nested_in: Sequence[Selector] | None, *, is_quirky: bool, depth: int = 0
    ) -> None:
        if depth > MOST_DEPTH:
            raise BadSelector("nested too deep")
        self._parents = nested_in
        self._is_quirky = is_quirky
        self._depth = depth
        self._attributes: set[str] = set()
        self._compared: set[Comparison] = set()

    def complex(self, given: list[Any], *, relative: bool = False) -> Selector:
        tokens = _trimmed(given)
        if not tokens:
            raise BadSelector("an empty selector")
        self._attributes, self._compared = set(), set()
        reading = _Reading()
        compounds: list[Compound] = []
        combinators: list[str] = []
        pseudo = ""
        begins = tokens[0].type == "literal" and tokens[0].value in ">+~"
        if begins and not relative and self._parents is None:
            raise BadSelector("it begins with a combinator")
        if relative or (self._parents is not None and (begins or not _has_and(tokens))):
            compounds.append(Compound() if relative else self._parent(reading))
            combinators.append(tokens[0].value if begins else " ")
            tokens = _trimmed(tokens[1:]) if begins else tokens
        at = 0
        while True:
            compound, pseudo, at = self._compound(tokens, at, reading)
            compounds.append(compound)
            combinator, at = _combinator(tokens, at)
            if not combinator:
                break
            if pseudo:
                raise BadSelector("something follows a pseudo-element")
            combinators.append(combinator)
        if len(compounds) > MOST_PARTS:
            raise BadSelector("too long a selector")
        leftwards, between = self._told_by_places(compounds[::-1], combinators[::-1], relative)
        return Selector(
            leftwards,
            between,
            pseudo,
            (reading.ids, reading.classes, reading.tags + bool(pseudo)),
            frozenset(self._attributes),
            frozenset(self._compared),
            reading.is_lineal and not any(one in "+~" for one in between),
            next(_numbers),
            keys_around(leftwards, between),
        )

    def _told_by_places(
        self, compounds: list[Compound], combinators: list[str], relative: bool
    ) -> tuple[tuple[Compound, ...], str]:
        """Return compounds, leftwards, and what is between them. What stands after any element at
        all (``* + …``) is told by its place, so that it needs no siblings."""
        at = 0
        while at < len(combinators) - relative:
            beyond = combinators[at + 1] if at + 1 < len(combinators) else " "
            if combinators[at] in "+~" and compounds[at + 1] == Compound() and beyond in " >":
                own = compounds[at]
                compounds[at] = replace(own, tests=(*own.tests, _is_not_first))
                self._attributes.add(":first-child")
                del compounds[at + 1], combinators[at]
            else:
                at += 1
        return tuple(compounds), "".join(combinators)

    def _compound(
        self, tokens: list[Any], start: int, reading: _Reading
    ) -> tuple[Compound, str, int]:
        tag, ids, classes, tests, pseudo = "", set[str](), set[str](), list[Test](), ""
        reading.among = frozenset()
        at = start
        while at < len(tokens) and not pseudo:
            token = tokens[at]
            following = tokens[at + 1] if at + 1 < len(tokens) else None
            if token.type == "ident" and at == start:
                tag, reading.tags = token.value.lower(), reading.tags + 1
                if _is_bar(following):
                    raise BadSelector("a namespace")
            elif token.type == "literal" and token.value == "*" and at == start:
                at += 2 * _is_bar(following)
                if at > start and tokens[at : at + 1] and tokens[at].type == "ident":
                    tag, reading.tags = tokens[at].value.lower(), reading.tags + 1
            elif token.type == "hash" and token.is_identifier:
                ids.add(token.value.lower() if self._is_quirky else token.value)
                reading.ids += 1
            elif _is_literal(token, ".") and following is not None and following.type == "ident":
                name = following.value
                classes.add(name.lower() if self._is_quirky else name)
                reading.classes += 1
                at += 1
            elif token.type == "[] block":
                tests.append(self._attribute(token.content))
                reading.classes += 1
            elif _is_literal(token, "&"):
                parent = self._parent(reading)
                tests.extend(parent.tests)
                reading.among = parent.among
            elif _is_literal(token, ":"):
                at, pseudo = self._pseudo(tokens, at + 1, tests, reading)
            else:
                break
            at += 1
        if at == start:
            raise BadSelector("something that is no selector")
        found = Compound(tag, frozenset(ids), frozenset(classes), tuple(tests), reading.among)
        return found, pseudo, at

    def _pseudo(
        self, tokens: list[Any], at: int, tests: list[Test], reading: _Reading
    ) -> tuple[int, str]:
        """Read what follows a colon; return where it ends and the pseudo-element's name, if it is
        one."""
        doubled = at < len(tokens) and _is_literal(tokens[at], ":")
        at += doubled
        token = tokens[at] if at < len(tokens) else None
        if token is None or token.type not in ("ident", "function"):
            raise BadSelector("a lone colon")
        name = token.lower_value if token.type == "ident" else token.lower_name
        if doubled or name in _ONE_COLON:
            if name not in _KNOWN_ELEMENTS and not name.startswith("-webkit-"):
                raise BadSelector(f"an unknown pseudo-element {name}")
            while (
                at + 2 < len(tokens)
                and _is_literal(tokens[at + 1], ":")
                and tokens[at + 2].type in ("ident", "function")
            ):
                at, name = at + 2, "other"  # a state of the pseudo-element: not as it stands
            return at, name
        if token.type == "ident":
            if name not in PSEUDO_CLASSES:
                raise BadSelector(f"an unknown pseudo-class {name}")
            tests.append(PSEUDO_CLASSES[name])
            self._attributes.update(ATTRIBUTES_OF.get(name, ()))
            if name in AMONG_SIBLINGS:
                self._attributes.add(f":{name}")
            reading.is_lineal &= name not in BEYOND_ANCESTORS
            reading.classes += 1
        else:
            tests.append(self._functional(name, token.arguments, reading))
        return at, ""

    def _functional(self, name: str, arguments: Tokens, reading: _Reading) -> Test:
        if name in ("is", "where", "matches", "-webkit-any", "not"):
            inner = self._inner(arguments, forgiving=name != "not")
            if name != "where":
                reading.add(max((one.specificity for one in inner), default=(0, 0, 0)))
            reading.is_lineal &= all(one.is_lineal for one in inner)
            reading.among = reading.among if name == "not" else keys_of(inner)
            if name == "not":
                return lambda element, kin: opposite(any_selects(inner, element, kin))
            return lambda element, kin: any_selects(inner, element, kin)
        reading.is_lineal = False
        if name == "has":
            inner = self._inner(arguments, forgiving=False, relative=True)
            reading.add(max(one.specificity for one in inner))
            return lambda element, kin: has(inner, element, kin)
        reading.classes += 1
        if name in ("lang", "dir"):
            return lang(arguments) if name == "lang" else direction(arguments)
        if name.startswith("nth-"):
            return self._nth(name, arguments, reading)
        if name in ("host", "host-context", "state", "active-view-transition-type"):
            return lambda _element, _kin: False
        raise BadSelector(f"an unknown pseudo-class {name}()")

    def _inner(
        self, tokens: Tokens, *, forgiving: bool, relative: bool = False
    ) -> tuple[Selector, ...]:
        found: list[Selector] = []
        # '&' means the rule's own selectors here as well, but nothing is implied
        inner = _Reader(self._parents, is_quirky=self._is_quirky, depth=self._depth + 1)
        for part in _comma_parts(tokens):
            try:
                inner._parents = self._parents if _has_and(part) else None
                one = inner.complex(part, relative=relative)
                if not one.pseudo_element:
                    found.append(one)
                elif not forgiving:
                    raise BadSelector("a pseudo-element")
            except BadSelector:
                if not forgiving:
                    raise
            self._attributes |= inner._attributes
            self._compared |= inner._compared
        return tuple(found)

    def _nth(self, name: str, arguments: Tokens, reading: _Reading) -> Test:
        tokens = list(arguments)
        of = next(
            (
                at
                for at, one in enumerate(tokens)
                if one.type == "ident" and one.lower_value == "of"
            ),
            len(tokens),
        )
        steps = parse_nth(tokens[:of])
        if steps is None or name not in NTH:
            raise BadSelector(f"{name}() without its numbers")
        among = self._inner(tokens[of + 1 :], forgiving=False) if of < len(tokens) else ()
        if among:
            reading.add(max(one.specificity for one in among))
        backwards, of_type = NTH[name]
        return nth_test(steps, among, backwards=backwards, of_type=of_type)

    def _parent(self, reading: _Reading) -> Compound:
        parents = self._parents
        if parents is None:
            return Compound(tests=(PSEUDO_CLASSES["root"],))
        reading.add(max((one.specificity for one in parents), default=(0, 0, 0)))
        reading.is_lineal &= all(one.is_lineal for one in parents)
        self._attributes.update(*(one.attributes for one in parents))
        self._compared.update(*(one.compared for one in parents))
        kept = tuple(one for one in parents if not one.pseudo_element)
        return Compound(
            tests=(lambda element, kin: any_selects(kept, element, kin),), among=keys_of(kept)
        )

    def _attribute(self, content: Tokens) -> Test:
        tokens = [one for one in content if one.type not in ("whitespace", "comment")]
        while len(tokens) > 1 and (tokens[0].type != "ident" or _is_bar(tokens[1])):
            tokens = tokens[1:]  # a namespace: attributes of HTML have none
            if tokens and tokens[0].type == "ident" and not _is_bar(tokens[1:2] and tokens[1]):
                break
        if not tokens or tokens[0].type != "ident":
            raise BadSelector("an attribute without its name")
        name = tokens[0].lower_value
        self._attributes.add(name)
        if len(tokens) == 1:
            return lambda element, _kin: name in element.attributes
        if len(tokens) not in (3, 4) or tokens[2].type not in ("ident", "string"):
            raise BadSelector("an attribute that is compared with nothing")
        flag = tokens[3].lower_value if len(tokens) == 4 and tokens[3].type == "ident" else ""
        if tokens[1].value not in COMPARED or (len(tokens) == 4 and flag not in ("i", "s")):
            raise BadSelector("an attribute that is compared in no known way")
        compared = Comparison.of(name, tokens[1].value, tokens[2].value, flag)
        self._compared.add(compared)
        return compared


def _is_not_first(element: Element, kin: Kin) -> Answer:
    return opposite(PSEUDO_CLASSES["first-child"](element, kin))


def _combinator(tokens: list[Any], at: int) -> tuple[str, int]:
    """Return the combinator that begins here, ``""`` at the end, and where what it leads to
    begins."""
    found = ""
    while at < len(tokens):
        token = tokens[at]
        if token.type == "whitespace":
            found = found or " "
        elif token.type == "literal" and token.value in ">+~" and found in ("", " "):
            found = token.value
        else:
            break
        at += 1
    if at == len(tokens):
        if found.strip():
            raise BadSelector("it ends with a combinator")
        return "", at
    if not found:
        raise BadSelector("something that is no selector")
    return found, at


def _is_literal(token: Any, value: str) -> bool:
    return bool(token.type == "literal" and token.value == value)


def _is_bar(token: Any) -> bool:
    return bool(token) and _is_literal(token, "|")


def _has_and(tokens: Iterable[Any]) -> bool:
    """Tell whether ``&`` stands in it, functions and all."""
    stack = list(tokens)
    while stack:
        token = stack.pop()
        if _is_literal(token, "&"):
            return True
        stack.extend(getattr(token, "arguments", None) or ())
    return False
