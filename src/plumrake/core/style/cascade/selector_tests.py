"""The tests of selectors that have an argument: ``:has()``, ``:nth-…()``, ``:lang()``, ``:dir()``
(Selectors 4)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from plumrake.core.dom import Element
from plumrake.core.style.cascade.answers import Answer, all_of, any_of
from plumrake.core.style.cascade.kin import Kin
from plumrake.core.style.cascade.pseudo_classes import Test
from plumrake.core.style.cascade.selectors import Selector, any_selects

Tokens = Sequence[Any]


def has(selectors: tuple[Selector, ...], element: Element, kin: Kin) -> Answer:
    """Tell whether ``:has()`` holds."""
    return any_of(_has_one(one, element, kin) for one in selectors)


def _has_one(selector: Selector, element: Element, kin: Kin) -> Answer:
    """Tell whether something is selected from an element on: the leftmost compound is itself."""
    first = selector.combinators[-1]
    if first in " >":
        found: Iterable[Element] = element.descendants()
    else:
        following = kin.siblings(element)[kin.place(element) + 1 :]
        found = (inner for one in following for inner in (one, *one.descendants()))
    return any_of(_leads(selector, 0, one, element, kin) for one in found)


def _leads(selector: Selector, at: int, here: Element, home: Element, kin: Kin) -> Answer:
    kin.spend()
    if at == len(selector.combinators):
        return here is home
    own = selector.compounds[at].test(here, kin)
    if own is False:
        return False
    combinator = selector.combinators[at]
    if combinator == ">":
        steps = [here.parent] if here.parent is not None else []
    elif combinator == " ":
        steps = list(here.ancestors())
    else:
        place, siblings = kin.place(here), kin.siblings(here)
        steps = siblings[place - 1 : place] if combinator == "+" and place else siblings[:place]
        steps = steps if combinator == "~" or place else []
    return all_of((own, any_of(_leads(selector, at + 1, one, home, kin) for one in steps)))


NTH = {
    "nth-child": (False, False),
    "nth-last-child": (True, False),
    "nth-of-type": (False, True),
    "nth-last-of-type": (True, True),
}


def nth_test(
    steps: tuple[int, int], among: tuple[Selector, ...], *, backwards: bool, of_type: bool
) -> Test:
    """Return the test of ``:nth-…()``: every so many from an offset on, among siblings, those of
    one tag, or those that are selected."""
    every, offset = steps

    def test(element: Element, kin: Kin) -> Answer:
        siblings, place = kin.siblings(element), kin.place(element)
        count = len(siblings) - place if backwards else place + 1
        before: list[Element] = []
        if of_type or among:
            kin.spend(count)
            before = siblings[place + 1 :] if backwards else siblings[:place]
        if of_type:
            count = sum(one.tag == element.tag for one in before) + 1
        elif among:
            answers = [any_selects(among, one, kin) for one in (element, *before)]
            if None in answers:
                return None
            if not answers[0]:
                return False
            count = sum(bool(answer) for answer in answers)
        if every == 0:
            return count == offset
        return (count - offset) % every == 0 and (count - offset) // every >= 0

    return test


def lang(arguments: Tokens) -> Test:
    """Return the test of ``:lang()``."""
    wanted = [
        token.value.lower().removeprefix("*-")
        for token in arguments
        if token.type in ("ident", "string")
    ]

    def test(element: Element, _kin: Kin) -> Answer:
        for one in (element, *element.ancestors()):
            for name in ("lang", "xml:lang"):
                if one.has(name):
                    said = one.get(name).lower()
                    return any(said == tag or said.startswith(f"{tag}-") for tag in wanted)
        return False

    return test


def direction(arguments: Tokens) -> Test:
    """Return the test of ``:dir()``; what the text itself decides cannot be told."""
    wanted = "".join(token.lower_value for token in arguments if token.type == "ident")

    def test(element: Element, _kin: Kin) -> Answer:
        for one in (element, *element.ancestors()):
            said = one.get("dir").strip().lower()
            if said in ("ltr", "rtl"):
                return said == wanted
            if said == "auto" or one.tag == "bdi":
                return None
        return wanted == "ltr"

    return test
