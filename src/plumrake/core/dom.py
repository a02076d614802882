"""The document as a lens hands it over: elements, text, computed styles, boxes and source
positions.

A lens builds a ``Document`` once; nothing changes it afterwards. Coordinates are CSS px from the
top left corner of the page (not of the viewport).
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

from plumrake.core.geometry import Box
from plumrake.core.vocabulary import BLOCK_TAGS

Position = tuple[int, int]
"""Line and column in the source, both from 1."""

WHITE_SPACE = (
    " \t\n\r\f\v\u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005"
    "\u2006\u2007\u2008\u2009\u200a\u2028\u2029\u202f\u205f\u3000"
)
_IGNORABLE = (
    WHITE_SPACE
    + "\u00ad\u200b\u200c\u200d\u200e\u200f\u2060\u2061\u2062\u2063\u2064\ufeff\u180e\u034f"
)
_RUN_OF_SPACE = re.compile(f"[{WHITE_SPACE}]+")


def collapse(text: str) -> str:
    """Return ``text`` with each run of white space (U+00A0 included) as one space, trimmed."""
    if text.isprintable() and "  " not in text:  # no white space but single spaces
        return text.strip(" ")
    return _RUN_OF_SPACE.sub(" ", text).strip(" ")


def is_blank(text: str | None) -> bool:
    """Tell whether nothing is left of ``text`` after white space, soft hyphens and zero-width
    characters."""
    return not text or not text.strip(_IGNORABLE)


class Style(NamedTuple):
    """Computed values as the browser gives them, one field per property that a check may ask
    for."""

    display: str = "block"
    visibility: str = "visible"
    opacity: str = "1"
    color: str = "rgb(0, 0, 0)"
    text_fill: str = "rgb(0, 0, 0)"
    fill: str = "rgb(0, 0, 0)"
    background_color: str = "rgba(0, 0, 0, 0)"
    background_image: str = "none"
    background_clip: str = "border-box"
    font_size: str = "16px"
    font_weight: str = "400"
    position: str = "static"
    float: str = "none"
    overflow_x: str = "visible"
    overflow_y: str = "visible"
    clip: str = "auto"
    clip_path: str = "none"
    filter: str = "none"
    backdrop_filter: str = "none"
    mix_blend_mode: str = "normal"
    content_visibility: str = "visible"
    color_scheme: str = "normal"
    text_decoration_line: str = "none"
    text_transform: str = "none"
    z_index: str = "auto"
    border_top_width: str = "0px"
    border_top_color: str = "rgb(0, 0, 0)"
    border_bottom_width: str = "0px"
    border_bottom_color: str = "rgb(0, 0, 0)"
    border_left_width: str = "0px"
    border_left_color: str = "rgb(0, 0, 0)"
    box_shadow: str = "none"
    outline_style: str = "none"
    font_style: str = "normal"
    stroke: str = "none"
    cursor: str = "auto"
    appearance: str = "none"
    animation_name: str = "none"
    animation_duration: str = "0s"
    animation_iteration_count: str = "1"
    animation_play_state: str = "running"


class Certainty(NamedTuple):
    """How sure a style is that no browser worked out: the fields of ``Style`` that are in ``doubt``
    and ``why`` the first is, and what shows of the element's place without a layout.

    ``is_away``: it is put, or made so small, that nobody sees it; ``is_moved``: it may lie
    elsewhere than in its parent's box; ``is_beside``: it is a column beside others and lies over
    none of them; ``is_wider``: it goes over its parent's padding to both sides, and is moved no
    other way; ``floats``: it lies over what is beside it.
    """

    doubts: frozenset[str] = frozenset()
    why: str = ""
    is_away: bool = False
    is_moved: bool = False
    is_beside: bool = False
    is_wider: bool = False
    floats: bool = False
    width: float | None = None
    height: float | None = None


STYLE_PROPERTIES: tuple[str, ...] = tuple(
    "-webkit-text-fill-color" if name == "text_fill" else name.replace("_", "-")
    for name in Style._fields
)
"""The CSS names of ``Style``'s fields, in their order: what the collector asks the browser for."""


class Text:
    """A text node. ``lines`` has a box per line of it, empty where the lens does not lay out."""

    __slots__ = ("data", "lines", "parent")

    def __init__(self, data: str, parent: Element, lines: tuple[Box, ...] = ()) -> None:
        self.data = data
        self.parent = parent
        self.lines = lines

    def __repr__(self) -> str:
        return f"Text({self.data[:30]!r})"


class Element:
    """An element of the flat tree: children of a shadow host are its shadow tree's, slots hold what
    they were given."""

    __slots__ = (
        "after",
        "attributes",
        "before",
        "box",
        "certainty",
        "children",
        "column",
        "index",
        "line",
        "listeners",
        "moves",
        "namespace",
        "parent",
        "placeholder",
        "scope",
        "style",
        "tag",
        "value",
    )

    def __init__(
        self, index: int, tag: str, attributes: dict[str, str], parent: Element | None
    ) -> None:
        self.index = index
        self.tag = tag
        self.attributes = attributes
        self.parent = parent
        self.namespace = "html"
        self.children: list[Element | Text] = []
        self.style: Style | None = None
        self.certainty: Certainty | None = None
        self.box: Box | None = None
        self.before = ""
        self.after = ""
        self.line: int | None = None
        self.column: int | None = None
        self.listeners: frozenset[str] = frozenset()
        self.scope = 0
        self.value: str | None = None
        self.placeholder = ""
        self.moves = False

    def __repr__(self) -> str:
        marks = "".join(
            f' {name}="{self.attributes[name]}"'
            for name in ("id", "class")
            if name in self.attributes
        )
        return f"<{self.tag}{marks}>"

    def get(self, name: str, default: str = "") -> str:
        """Return the attribute's value as written, or ``default`` where it is missing."""
        return self.attributes.get(name, default)

    def has(self, name: str) -> bool:
        """Tell whether the attribute is there, whatever its value."""
        return name in self.attributes

    def elements(self) -> Iterator[Element]:
        """Yield the child elements."""
        return (child for child in self.children if isinstance(child, Element))

    def descendants(self) -> Iterator[Element]:
        """Yield every element below this one in document order, without recursion (pages may be
        40,000 deep)."""
        stack = [child for child in reversed(self.children) if isinstance(child, Element)]
        while stack:
            element = stack.pop()
            yield element
            stack.extend(
                child for child in reversed(element.children) if isinstance(child, Element)
            )

    def ancestors(self) -> Iterator[Element]:
        """Yield parent, grandparent … up to the root."""
        element = self.parent
        while element is not None:
            yield element
            element = element.parent

    def closest(self, *tags: str) -> Element | None:
        """Return the nearest ancestor with one of these tags, or None."""
        return next((ancestor for ancestor in self.ancestors() if ancestor.tag in tags), None)

    def texts(self) -> Iterator[Text]:
        """Yield every text node below this element in document order."""
        stack: list[Element | Text] = list(reversed(self.children))
        while stack:
            node = stack.pop()
            if isinstance(node, Text):
                yield node
            else:
                stack.extend(reversed(node.children))

    def text(self, most: int | None = None) -> str:
        """Return the text below this element, white space collapsed, whether it shows or not;
        blocks keep words apart. With ``most`` no more than so many characters are gathered."""
        parts: list[str] = []
        room = most
        stack: list[tuple[str, Iterator[Element | Text]]] = [("", iter(self.children))]
        while stack and (room is None or room > 0):
            apart, nodes = stack[-1]
            node = next(nodes, None)
            if node is None:
                parts.append(apart)
                stack.pop()
            elif isinstance(node, Text):
                parts.append(node.data)
                room = room - len(node.data) if room is not None else None
            else:
                own = " " if node.tag in BLOCK_TAGS or node.tag == "br" else ""
                parts.append(own)
                stack.append((own, iter(node.children)))
        return collapse("".join(parts))[:most]

    def classes(self) -> list[str]:
        """Return the class names in source order."""
        return self.get("class").split()


@dataclass(frozen=True, eq=False)
class Document:
    """One page as obtained through one lens, before any meaning is read into it. ``gives`` are the
    kinds of evidence that lie in it (values of ``Needs``: its tree, styles, layout, and whether it
    is a whole page)."""

    address: str
    lens: str
    root: Element
    elements: tuple[Element, ...]
    gives: frozenset[str]
    source: str = ""
    viewport: tuple[int, int] = (1280, 800)
    resources: tuple[str, ...] | None = ()
    """Addresses of what the page drew in; None where that cannot be told, since scripts asked for
    more."""
    locate: Callable[[Document], Mapping[int, Position]] | None = None
    """For a lens that knows no positions by itself: gives them by element index. Asked once, when
    the first is wanted."""

    @cached_property
    def ids(self) -> Mapping[tuple[int, str], list[Element]]:
        """The elements by the tree that they stand in (document or shadow) and their id."""
        found: dict[tuple[int, str], list[Element]] = {}
        for element in self.elements:
            if identifier := element.attributes.get("id"):
                found.setdefault((element.scope, identifier), []).append(element)
        return found

    @cached_property
    def _positions(self) -> Mapping[int, Position]:
        return self.locate(self) if self.locate is not None else {}

    def position_of(self, element: Element) -> Position | None:
        """Return the line and column of the element's start tag in the source, from 1; None for
        what scripts made."""
        if element.line is not None and element.column is not None:
            return element.line, element.column
        return self._positions.get(element.index)

    def by_id(self, identifier: str, near: Element | None = None) -> Element | None:
        """Return the first element with this id in the tree (document or shadow) that ``near``
        stands in."""
        found = self.ids.get((near.scope if near is not None else 0, identifier))
        return found[0] if found else None

    def first(self, *tags: str) -> Element | None:
        """Return the first element with one of these tags, or None."""
        return next((element for element in self.elements if element.tag in tags), None)


class Neighbours:
    """The elements right before and after others among their siblings, each parent gone through
    once."""

    def __init__(self) -> None:
        self._siblings: dict[int, list[Element]] = {}
        self._places: dict[int, int] = {}

    def of(self, element: Element) -> list[Element]:
        """Return the element before and the element after, as far as there are any."""
        parent = element.parent
        if parent is None:
            return []
        siblings = self._siblings.get(parent.index)
        if siblings is None:
            siblings = self._siblings[parent.index] = list(parent.elements())
            self._places.update((one.index, at) for at, one in enumerate(siblings))
        at = self._places[element.index]
        return [siblings[place] for place in (at - 1, at + 1) if 0 <= place < len(siblings)]
