"""Where elements stand among their siblings, and how much may be asked about one document."""

from __future__ import annotations

from plumrake.core.dom import Document, Element, Text
from plumrake.core.overtaking import go_on
from plumrake.core.style.cascade.answers import Answer

MOST_TESTS = 1_000_000
"""More tests of elements against parts of selectors than this and a page's styles are given up."""
_BREATH = 20_000


class TooMuchStyle(ValueError):
    """The page's style sheets take more than they may; the message says what of."""

    code = "too-much-style"


class Kin:
    """The siblings of one document's elements, each parent gone through once, and its tests
    counted."""

    def __init__(
        self, document: Document, *, is_quirky: bool, most_tests: int = MOST_TESTS
    ) -> None:
        self.document = document
        self.is_quirky = is_quirky
        self.memo: dict[tuple[int, int, int], Answer] = {}
        """What was answered for a selector's part at an element, where ways back are many."""
        self._children: dict[int, list[Element]] = {}
        self._places: dict[int, int] = {}
        self._classes: dict[int, frozenset[str]] = {}
        self._ends: dict[int, tuple[frozenset[int], frozenset[int]]] = {}
        self._left = most_tests
        self._breath = _BREATH

    def spend(self, tests: int = 1) -> None:
        """Count tests. Raises ``TooMuchStyle``, and ``Overtaken`` where the work is not wanted any
        more."""
        self._left -= tests
        if self._left < 0:
            raise TooMuchStyle("the page's selectors ask for too many tests of its elements")
        self._breath -= tests
        if self._breath < 0:
            self._breath = _BREATH
            go_on()

    def classes(self, element: Element) -> frozenset[str]:
        """Return an element's classes; in quirks mode in small letters."""
        found = self._classes.get(element.index)
        if found is None:
            written = element.get("class")
            found = frozenset((written.lower() if self.is_quirky else written).split())
            self._classes[element.index] = found
        return found

    def siblings(self, element: Element) -> list[Element]:
        """Return the element children of an element's parent, itself among them."""
        parent = element.parent
        if parent is None:
            return [element]
        found = self._children.get(parent.index)
        if found is None:
            found = self._children[parent.index] = list(parent.elements())
            self._places.update((one.index, at) for at, one in enumerate(found))
        return found

    def place(self, element: Element) -> int:
        """Return an element's place among its siblings, from 0."""
        if element.parent is None:
            return 0
        self.siblings(element)
        return self._places[element.index]

    def is_first_of_type(self, element: Element) -> bool:
        """Tell whether no sibling before an element has its name."""
        return element.parent is None or element.index in self._ends_of_types(element)[0]

    def is_last_of_type(self, element: Element) -> bool:
        """Tell whether no sibling after an element has its name."""
        return element.parent is None or element.index in self._ends_of_types(element)[1]

    def _ends_of_types(self, element: Element) -> tuple[frozenset[int], frozenset[int]]:
        assert element.parent is not None
        found = self._ends.get(element.parent.index)
        if found is None:
            siblings = self.siblings(element)
            last = {one.tag: one.index for one in siblings}
            first = {one.tag: one.index for one in reversed(siblings)}
            found = frozenset(first.values()), frozenset(last.values())
            self._ends[element.parent.index] = found
        return found

    @staticmethod
    def is_empty(element: Element) -> bool:
        """Tell whether an element has neither elements nor text in it (Selectors 4, ``:empty``)."""
        return not any(not isinstance(one, Text) or one.data for one in element.children)
