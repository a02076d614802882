"""Selectors (Selectors 4, CSS Nesting 1) as they are tested on elements."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from plumrake.core.dom import Element
from plumrake.core.style.cascade.answers import Answer, all_of, any_of
from plumrake.core.style.cascade.comparisons import Comparison
from plumrake.core.style.cascade.kin import Kin
from plumrake.core.style.cascade.pseudo_classes import Test

Specificity = tuple[int, int, int]


@dataclass(frozen=True, slots=True)
class Compound:
    """What one element has to be: its tag (``""`` any), ids, classes, and whatever else.

    ``among`` are keys (``#id``, ``.class``, ``tag``) of which an element has to have one, where the
    tests say so.
    """

    tag: str = ""
    ids: frozenset[str] = frozenset()
    classes: frozenset[str] = frozenset()
    tests: tuple[Test, ...] = ()
    among: frozenset[str] = frozenset()

    @property
    def keys(self) -> frozenset[str]:
        """The keys of which an element has to have one; empty where it may be any element."""
        for mark, names in (("#", self.ids), (".", self.classes)):
            if names:
                return frozenset([mark + min(names)])
        return frozenset([self.tag]) if self.tag else self.among

    def test(self, element: Element, kin: Kin) -> Answer:
        """Tell whether an element is this."""
        if self.tag and self.tag != element.tag and self.tag != element.tag.lower():
            return False
        if self.ids and not self._has_ids(element, kin):
            return False
        if self.classes and not self.classes <= kin.classes(element):
            return False
        return all_of(test(element, kin) for test in self.tests) if self.tests else True

    def _has_ids(self, element: Element, kin: Kin) -> bool:
        own = element.get("id")
        return self.ids == {own.lower() if kin.is_quirky else own}


def keys_around(compounds: Sequence[Compound], combinators: str) -> frozenset[str]:
    """Return a key for each compound that an ancestor of the selected element has to be."""
    found: set[str] = set()
    for compound, combinator in zip(compounds[1:], combinators, strict=True):
        if combinator in " >" and len(compound.keys) == 1 and not compound.among:
            found |= compound.keys
    return frozenset(found)


@dataclass(frozen=True, slots=True)
class Selector:
    """A complex selector: its compounds from right to left with the combinators between them, and
    the pseudo-element it ends in.

    ``attributes`` are the names of attributes, beside id and class, that it looks at, and the
    pseudo-classes (with their colon) that ask for a place among siblings; ``compared`` is what it
    compares their values with; ``is_lineal`` tells whether it depends on nothing but those of the
    element and its ancestors.
    """

    compounds: tuple[Compound, ...]
    combinators: str
    pseudo_element: str
    specificity: Specificity
    attributes: frozenset[str]
    compared: frozenset[Comparison]
    is_lineal: bool
    number: int
    around: frozenset[str] = frozenset()
    """Keys that ancestors of a selected element have."""

    def test(self, element: Element, kin: Kin) -> Answer:
        """Tell whether an element is selected (or has the pseudo-element that is)."""
        return self._from(0, element, kin)

    def _from(self, at: int, element: Element, kin: Kin) -> Answer:
        kin.spend()
        own = self.compounds[at].test(element, kin)
        if own is False or at == len(self.combinators):
            return own
        many = at > 0 and self.combinators[at] in " ~"
        if not many:
            return all_of((own, self._beyond(at, element, kin)))
        key = (self.number, at, element.index)
        if key not in kin.memo:
            kin.memo[key] = self._beyond(at, element, kin)
        return all_of((own, kin.memo[key]))

    def _beyond(self, at: int, element: Element, kin: Kin) -> Answer:
        combinator = self.combinators[at]
        if combinator == ">":
            above = element.parent
            return self._from(at + 1, above, kin) if above is not None else False
        if combinator == " ":
            return any_of(self._from(at + 1, one, kin) for one in element.ancestors())
        place, siblings = kin.place(element), kin.siblings(element)
        if combinator == "+":
            return self._from(at + 1, siblings[place - 1], kin) if place else False
        return any_of(self._from(at + 1, one, kin) for one in reversed(siblings[:place]))


def keys_of(selectors: Iterable[Selector]) -> frozenset[str]:
    """Return the keys of which an element has to have one to be selected; empty where it may be any
    element."""
    found: set[str] = set()
    for one in selectors:
        keys = one.compounds[0].keys
        if not keys:
            return frozenset()
        found |= keys
    return frozenset(found)


def any_selects(selectors: Iterable[Selector], element: Element, kin: Kin) -> Answer:
    """Tell whether one of the selectors selects an element."""
    return any_of(one.test(element, kin) for one in selectors)
