"""Runs of text that reach the eye: what contrast is measured on."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Protocol

from plumrake.core.colours import BLACK, Colour, parse_or
from plumrake.core.dom import Document, Element, Text
from plumrake.core.geometry import Box
from plumrake.core.semantics.native_names import labelled_control
from plumrake.core.semantics.roles import is_disabled
from plumrake.core.style.visible import Visibility
from plumrake.core.words import has_letters_or_digits

_LARGE, _LARGE_BOLD, _BOLD = 24.0, 18.66, 700.0
_WITH_VALUE = frozenset(["input", "select", "textarea"])


class Styled(Protocol):
    """What of a page its runs of text are made from."""

    @property
    def document(self) -> Document:
        """The page as obtained."""

    @property
    def elements(self) -> tuple[Element, ...]:
        """Every element."""

    @property
    def sight(self) -> Visibility:
        """Which elements are seen."""

    def is_shown(self, element: Element) -> bool:
        """Tell whether the element is displayed."""

    def own_texts(self, element: Element) -> list[Text]:
        """Return the text nodes of the element itself."""


@dataclass(frozen=True, slots=True)
class Run:
    """The visible text that one element owns: its line boxes (none where nothing is laid out), its
    colour as declared, its size in CSS px and its weight."""

    owner: Element
    text: str
    lines: tuple[Box, ...]
    colour: Colour
    font_size: float
    font_weight: float

    def required(self, *, aaa: bool) -> float:
        """Return the ratio that WCAG 2.2 asks for (1.4.3, or 1.4.6 at AAA); large text needs
        less."""
        return required_ratio(self.font_size, self.font_weight, aaa=aaa)


def required_ratio(font_size: float, font_weight: float, *, aaa: bool) -> float:
    """Return the ratio that text of this size (CSS px) and weight needs (WCAG 2.2, 1.4.3, or 1.4.6
    at AAA)."""
    large = font_size >= _LARGE or (font_size >= _LARGE_BOLD and font_weight >= _BOLD)
    return {(False, False): 4.5, (False, True): 3.0, (True, False): 7.0, (True, True): 4.5}[
        aaa, large
    ]


def runs_of(page: Styled) -> Iterator[Run]:
    """Yield the runs of a page with styles in document order; disabled controls and their labels
    are left out."""
    exempt = _exempt_holders(page)
    for element in page.elements:
        if element.style is None or not page.is_shown(element):
            continue
        text, lines = _own_text(page, element)
        if not has_letters_or_digits(text):
            continue
        visible = page.sight.seen_lines(element, lines)
        if (
            visible is not None
            and _colour_of(element).alpha > 0
            and not (exempt and _is_in(element, exempt))
        ):
            yield _run(element, text, visible)


def _own_text(page: Styled, element: Element) -> tuple[str, list[Box]]:
    if element.tag in _WITH_VALUE and element.namespace == "html":
        return (
            element.value or "",
            [element.box] if element.box is not None and element.value else [],
        )
    if element.tag in ("option", "optgroup") and element.closest("select") is not None:
        return "", []
    own = page.own_texts(element)
    return " ".join(text.data for text in own), [line for text in own for line in text.lines]


def _run(element: Element, text: str, lines: tuple[Box, ...]) -> Run:
    style = element.style
    assert style is not None
    return Run(
        element,
        text,
        lines,
        _colour_of(element),
        round(float(style.font_size.removesuffix("px")), 2),
        float(style.font_weight),
    )


def _colour_of(element: Element) -> Colour:
    """Return the colour that the element's text is painted in; wholly transparent text is seen by
    nobody."""
    style = element.style
    assert style is not None
    paint = style.fill if element.namespace == "svg" and element.tag != "svg" else style.text_fill
    return parse_or(paint, parse_or(style.color, BLACK))


def _exempt_holders(page: Styled) -> frozenset[int]:
    """Return the disabled controls and their labels, whose text needs no contrast (WCAG 2.2, 1.4.3,
    incidental)."""
    holders = {
        element.index
        for element in page.elements
        if element.tag != "fieldset" and is_disabled(element)
    }
    for label in page.elements:
        if (
            label.tag == "label"
            and (control := labelled_control(page.document, label)) is not None
            and control.index in holders
        ):
            holders.add(label.index)
    return frozenset(holders)


def _is_in(element: Element, holders: frozenset[int]) -> bool:
    return element.index in holders or any(
        ancestor.index in holders for ancestor in element.ancestors()
    )
