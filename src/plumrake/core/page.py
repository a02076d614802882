"""The page as checks see it: a document and what is known beside it, with their meaning worked out.
Nothing here changes once built."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Iterator
from copy import copy
from functools import cached_property
from itertools import islice
from typing import Any
from urllib.parse import unquote

from plumrake.core.addresses import resolved
from plumrake.core.blocks import Marks, marks_of
from plumrake.core.dom import Document, Element, Text, is_blank
from plumrake.core.evidence import Evidence
from plumrake.core.findings import Flag, Needs
from plumrake.core.html_source import Lines
from plumrake.core.scope import Scope
from plumrake.core.selectors import Selectors
from plumrake.core.semantics.exposure import Exposure
from plumrake.core.semantics.headings import heading_level
from plumrake.core.semantics.landmarks import Landmarks
from plumrake.core.semantics.language import Languages
from plumrake.core.semantics.names import Names, Step
from plumrake.core.semantics.roles import Roles
from plumrake.core.semantics.table_model import TableModel
from plumrake.core.semantics.texts import text_below
from plumrake.core.structure import Structure
from plumrake.core.style.background import Backgrounds, Surface
from plumrake.core.style.doubt import elements_in_doubt
from plumrake.core.style.flat import FlatBackgrounds, FlatVisibility
from plumrake.core.style.runs import Run, runs_of
from plumrake.core.style.visible import Visibility
from plumrake.core.vocabulary import INTERACTIVE_ROLES
from plumrake.core.words import has_letters_or_digits
from plumrake.core.written import Prose, Written, long_passages, written_words

_MOST_OTHERS = 40


class Page:
    """One page read through one lens, with the evidence so far: whoever learns more makes a new
    page with ``knowing``. Default: what lies in the document."""

    def __init__(self, document: Document, evidence: Evidence | None = None) -> None:
        self.document = document
        self.evidence = evidence or Evidence(document.gives)
        self.address = document.address
        self.lens = document.lens
        self.root = document.root
        self.elements = document.elements
        self._roles = Roles(document)
        self._languages = Languages()
        self._tables: dict[int, TableModel] = {}
        self._in_doubt: dict[frozenset[str], frozenset[int]] = {}
        self._addresses: dict[str, str | None] = {}
        self._scopes: dict[tuple[str, ...], Scope] = {}
        self.viewed: dict[str, list[dict[str, Any]]] = {}
        self.looked: dict[str, tuple[Any, list[Flag], Needs | None]] = {}

    def knowing(self, *kinds: str, **facts: Any) -> Page:
        """Return the page with more evidence: kinds of it and facts, as ``Evidence`` has them.

        What was worked out so far comes with it: all of it is about the document alone.
        """
        page = copy(self)
        page.evidence = self.evidence.learnt(*kinds, **facts)
        page.viewed, page.looked = {}, {}
        return page

    @cached_property
    def _exposure(self) -> Exposure:
        return Exposure(self.document)

    @cached_property
    def _names(self) -> Names:
        return Names(self.document, self._exposure, self._roles)

    @cached_property
    def _selectors(self) -> Selectors:
        return Selectors(self.document)

    @cached_property
    def landmarks(self) -> Landmarks:
        """The landmarks of the page."""
        return Landmarks(self.document, self._exposure, self._roles)

    @cached_property
    def _by_role(self) -> dict[str, list[Element]]:
        found: dict[str, list[Element]] = {}
        for element in self._exposed:
            found.setdefault(self._roles.of(element), []).append(element)
        return found

    @cached_property
    def backgrounds(self) -> Backgrounds:
        """What lies behind texts; needs ``style``."""
        kind = Backgrounds if self.is_laid_out else FlatBackgrounds
        return kind(self.document, self._exposure)

    @cached_property
    def sight(self) -> Visibility:
        """What of the page reaches the eye; needs ``style``."""
        return (Visibility if self.is_laid_out else FlatVisibility)(self._exposure)

    def in_doubt(self, fields: frozenset[str]) -> frozenset[int]:
        """Return the elements whose style is in doubt, see ``style/doubt.py``."""
        if fields not in self._in_doubt:
            self._in_doubt[fields] = elements_in_doubt(self.elements, fields)
        return self._in_doubt[fields]

    @property
    def is_laid_out(self) -> bool:
        """Whether the lens lays the page out, so that elements have boxes."""
        return "layout" in self.document.gives

    @cached_property
    def structure(self) -> Structure:
        """The zones and builds of the page's elements."""
        return Structure(self)

    @cached_property
    def _marks(self) -> tuple[Marks, Lines] | None:
        marks = marks_of(self.document.source)
        return (marks, Lines(self.document.source)) if marks.is_marked else None

    @property
    def is_marked(self) -> bool:
        """Whether the page says which parts its item's own content made."""
        return self._marks is not None

    def block_of(self, element: Element) -> str:
        """Return the key of the block that made an element, or of what is around it where a script
        did; ``FRAME`` outside of the content; ``""`` where the page says nothing of blocks."""
        if self._marks is None:
            return ""
        marks, lines = self._marks
        for one in (element, *element.ancestors()):
            if (position := self.document.position_of(one)) is not None:
                return marks.key_at(lines.offset(*position))
        return ""

    @cached_property
    def text_runs(self) -> list[tuple[Run, Surface | None]]:
        """The runs of visible text with what lies behind each, None where only pixels (or a
        layout) can tell; needs ``style``."""
        return [
            (run, self.backgrounds.behind(run.owner, run.lines, run.colour))
            for run in runs_of(self)
        ]

    @cached_property
    def written(self) -> list[Written]:
        """The words that a dictionary can be asked about."""
        return written_words(self)

    @cached_property
    def prose(self) -> list[Prose]:
        """The passages whose language can be told from their letters."""
        return long_passages(self)

    @property
    def foreign(self) -> list[tuple[Prose, str]]:
        """The passages of ``prose`` that look to be in another language than they say, with its
        primary subtag; needs ``languages``. Latin is left out: filler text looks like it."""
        told = self.evidence.tongues or {}
        found = ((one, told.get((one.language, one.text), "")) for one in self.prose)
        return [(one, other) for one, other in found if other not in ("", "la")]

    def exposed(self, *, role: str) -> list[Element]:
        """Return the exposed elements of a role in document order."""
        return self._by_role.get(role, [])

    def every_exposed(self) -> Iterator[Element]:
        """Yield every exposed element in document order."""
        return iter(self._exposed)

    @cached_property
    def _exposed(self) -> list[Element]:
        return [element for element in self.elements if self._exposure.is_exposed(element)]

    def is_exposed(self, element: Element) -> bool:
        """Tell whether assistive technology meets the element."""
        return self._exposure.is_exposed(element)

    def is_shown(self, element: Element) -> bool:
        """Tell whether it is rendered and visible; it may still be clipped or off-screen."""
        return self._exposure.is_shown(element)

    def role_of(self, element: Element) -> str:
        """Return the computed role."""
        return self._roles.of(element)

    def explicit_role(self, element: Element) -> str:
        """Return the valid role that the author wrote, or ``""``."""
        return self._roles.explicit(element)

    def name_of(self, element: Element) -> str:
        """Return the accessible name, ``""`` where it is white space or placeholder glyphs."""
        return self._names.said(element)

    def raw_name_of(self, element: Element) -> str:
        """Return the accessible name as computed, glyphs and all."""
        return self._names.of(element)

    def hidden_name_of(self, element: Element) -> str:
        """Return the name that a nameless element would have if nothing in its sources were hidden;
        ``""`` where it has or would have none."""
        if self.name_of(element):
            return ""
        name = self._names.unhidden(element)
        return name if has_letters_or_digits(name) else ""

    def description_of(self, element: Element) -> str:
        """Return the accessible description."""
        return self._names.description(element)

    def trace_of(self, element: Element) -> list[Step]:
        """Return the steps of the name's computation."""
        return self._names.trace(element)

    def labels_of(self, control: Element) -> tuple[Element, ...]:
        """Return the ``label`` elements of a control."""
        return self._names.labels_of(control)

    def table_model_of(self, table: Element) -> TableModel:
        """Return which cell of a ``table`` lies where."""
        model = self._tables.get(table.index)
        if model is None:
            model = self._tables[table.index] = TableModel(table)
        return model

    def level_of(self, heading: Element) -> int:
        """Return a heading's level, 1 or more."""
        return heading_level(heading)

    def language_of(self, element: Element) -> str:
        """Return the element's primary language subtag, or ``""``."""
        return self._languages.tag_of(element).partition("-")[0]

    def language_tag_of(self, element: Element) -> str:
        """Return the element's whole language tag in small letters, or ``""``."""
        return self._languages.tag_of(element)

    def selector_of(self, element: Element) -> str:
        """Return CSS that selects exactly this element."""
        return self._selectors.of(element)

    def others(self, members: Iterable[Element], element: Element | None) -> list[str]:
        """Return the selectors of the first forty of ``members`` other than ``element``: what a
        finding names beside itself."""
        return [
            self.selector_of(other)
            for other in islice((one for one in members if one is not element), _MOST_OTHERS)
        ]

    @cached_property
    def title_element(self) -> Element | None:
        """The element that gives the document its title."""
        head = next((child for child in self.root.elements() if child.tag == "head"), self.root)
        return next(
            (
                child
                for child in head.descendants()
                if child.tag == "title" and child.namespace == "html"
            ),
            None,
        )

    @property
    def title(self) -> str:
        """The document's title, white space collapsed."""
        return self.title_element.text() if self.title_element is not None else ""

    @cached_property
    def base(self) -> str:
        """The address that relative ones are resolved against."""
        return self.based_on(self.address)

    def based_on(self, address: str) -> str:
        """Return the base of a page that stands at an address (HTML Standard, 2.4.3)."""
        written = next(
            (one.get("href") for one in self.elements if one.tag == "base" and one.has("href")), ""
        )
        return resolved(address, written) or address

    def resolved(self, written: str) -> str | None:
        """Return the whole address that a relative one names on this page, in the form in which
        addresses are compared; None for what is no address."""
        if written not in self._addresses:
            self._addresses[written] = resolved(self.base, written)
        return self._addresses[written]

    @cached_property
    def here(self) -> str:
        """The page's own address without a fragment, in the form in which addresses are
        compared."""
        return (resolved(self.address, "") or self.address).partition("#")[0]

    def has_part(self, fragment: str) -> bool | None:
        """Tell whether the page has the part that a fragment names (HTML Standard, 7.4.6.3): an id,
        or ``a name``.

        ``#`` and ``#top`` are its beginning. None where it cannot be told: a script may make the
        part, and this lens runs none.
        """
        if not fragment or fragment.casefold() == "top":
            return True
        for name in (fragment, unquote(fragment)):
            if self.document.by_id(name) is not None or name in self._named_anchors:
                return True
        return None if self._may_make_parts else False

    @cached_property
    def _may_make_parts(self) -> bool:
        return self.lens == "markup" and any(one.tag == "script" for one in self.elements)

    @cached_property
    def _named_anchors(self) -> frozenset[str]:
        return frozenset(one.get("name") for one in self.elements if one.tag == "a")

    @property
    def language(self) -> str:
        """The value of ``html lang`` as written, or ``""``."""
        return self.root.get("lang").strip()

    def own_texts(self, element: Element) -> list[Text]:
        """Return the element's own text nodes that are not blank."""
        return [
            child
            for child in element.children
            if isinstance(child, Text) and not is_blank(child.data)
        ]

    def main_headings(self) -> list[Element]:
        """Return the exposed headings of level 1 in document order."""
        return [heading for heading in self.exposed(role="heading") if self.level_of(heading) == 1]

    def heading_before(self, element: Element) -> Element | None:
        """Return the last exposed heading that begins before the element, or None."""
        at = bisect_left(self._heading_places, element.index)
        return self.exposed(role="heading")[at - 1] if at else None

    @cached_property
    def _heading_places(self) -> list[int]:
        return [heading.index for heading in self.exposed(role="heading")]

    @cached_property
    def body(self) -> Element:
        """The ``body``, or the root where there is none."""
        return next((child for child in self.root.elements() if child.tag == "body"), self.root)

    def text_of(self, element: Element) -> str:
        """Return the text below the element that assistive technology meets; blocks keep words
        apart."""
        return text_below(element, self._exposure, self._exposure.is_exposed)

    def seen_text_of(self, element: Element) -> str:
        """Return the text below the element that is rendered, exposed or not."""
        return text_below(element, self._exposure, self._exposure.is_shown)

    def lies_in(self, element: Element, selectors: tuple[str, ...]) -> bool:
        """Tell whether the element, or one above it, is selected by one of these CSS selectors."""
        if not selectors:
            return False
        if selectors not in self._scopes:
            self._scopes[selectors] = Scope(self.document, selectors, ())
        return self._scopes[selectors].count(element)

    def is_rendered(self, element: Element) -> bool:
        """Tell whether it takes part in rendering: no ``display: none`` on it or above it."""
        return self._exposure.is_rendered(element)

    def is_aria_hidden(self, element: Element) -> bool:
        """Tell whether ``aria-hidden`` or ``inert``, here or above, takes it from the tree."""
        return self._exposure.is_aria_hidden(element)

    def by_id(self, identifier: str, near: Element | None = None) -> Element | None:
        """Return the element with this id in the tree that ``near`` stands in, or None."""
        return self.document.by_id(identifier, near)

    def is_seen(self, element: Element) -> bool:
        """Tell whether the eye can see the element; without styles, whether it is rendered."""
        has_styles = "style" in self.document.gives
        return self.sight.sees(element) if has_styles else self.is_shown(element)

    def interactive(self) -> Iterator[Element]:
        """Yield every exposed element with a role that is operated, in document order."""
        return (
            element
            for element in self.every_exposed()
            if self.role_of(element) in INTERACTIVE_ROLES
        )
