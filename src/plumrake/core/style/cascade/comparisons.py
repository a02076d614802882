"""Attributes compared with values (Selectors 4, 6)."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from plumrake.core.dom import Element
from plumrake.core.style.cascade.answers import Answer
from plumrake.core.style.cascade.kin import Kin

_CASELESS_VALUES = frozenset(
    "accept accept-charset align alink axis bgcolor charset checked clear codetype color compact "
    "declare defer dir direction disabled enctype face frame hreflang http-equiv lang language "
    "link media method multiple nohref noresize noshade nowrap readonly rel rev rules scope "
    "scrolling selected shape target text type valign valuetype vlink".split()
)
"""Attributes of HTML whose values selectors compare without regard to case (HTML, 4.16.1)."""
COMPARED: dict[str, Callable[[str, str], bool]] = {
    "=": lambda own, value: own == value,
    "~=": lambda own, value: value in own.split(),
    "|=": lambda own, value: own == value or own.startswith(f"{value}-"),
    "^=": lambda own, value: bool(value) and own.startswith(value),
    "$=": lambda own, value: bool(value) and own.endswith(value),
    "*=": lambda own, value: bool(value) and value in own,
}
_SPACE = re.compile(r"\s")


@dataclass(frozen=True, slots=True)
class Comparison:
    """The test that compares an attribute with a value."""

    name: str
    how: str
    value: str
    is_caseless: bool

    @classmethod
    def of(cls, name: str, how: str, value: str, flag: str) -> Comparison:
        """Return the comparison as it is written: its operator, and its ``i`` or ``s``."""
        is_caseless = flag == "i" or (flag == "" and name in _CASELESS_VALUES)
        return cls(name, how, value.lower() if is_caseless else value, is_caseless)

    def holds(self, own: str) -> bool:
        """Tell whether it holds for the attribute's value."""
        if self.how == "~=" and (not self.value or _SPACE.search(self.value)):
            return False
        return COMPARED[self.how](own.lower() if self.is_caseless else own, self.value)

    def __call__(self, element: Element, _kin: Kin) -> Answer:
        """Tell whether it holds for an element."""
        own = element.attributes.get(self.name)
        return own is not None and self.holds(own)
