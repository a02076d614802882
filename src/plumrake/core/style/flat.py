"""What lies behind a text, and what is seen, where nothing is laid out: by styles alone, and in
doubt wherever something may lie elsewhere than in its parent's box."""

from __future__ import annotations

from collections.abc import Iterable

from plumrake.core.colours import BLACK, TRANSPARENT, Colour, parse_or
from plumrake.core.dom import Document, Element
from plumrake.core.geometry import Box
from plumrake.core.semantics.exposure import Exposure
from plumrake.core.style.background import PICTURES, Backgrounds, Surface
from plumrake.core.style.visible import Visibility

_OF_PAINT = frozenset(
    "display position background_color background_image background_clip opacity filter "
    "backdrop_filter mix_blend_mode".split()
)
_OF_TEXT = _OF_PAINT | {
    "visibility",
    "clip",
    "clip_path",
    "color",
    "text_fill",
    "fill",
    "font_size",
    "font_weight",
}


class FlatVisibility(Visibility):
    """Answers about one document with styles and no boxes."""

    def seen_lines(self, owner: Element, lines: Iterable[Box]) -> tuple[Box, ...] | None:
        """Return no boxes for a text that is seen, None for another."""
        del lines
        return () if self.sees(owner) else None

    def sees(self, element: Element) -> bool:
        """Tell whether nothing in its style, or in those above it, takes the element out of
        sight."""
        if not self._exposure.is_shown(element) or self._is_veiled(element):
            return False
        return not any(
            one.certainty is not None and one.certainty.is_away
            for one in (element, *element.ancestors())
        )


class FlatBackgrounds(Backgrounds):
    """Answers about one document with styles and no boxes."""

    def __init__(self, document: Document, exposure: Exposure) -> None:
        super().__init__(document, exposure)
        self._floating: dict[int, list[Element]] = {}
        for element in document.elements:
            if self._may_cover(element):
                home = _containing(element)
                self._floating.setdefault(home.index if home is not None else 0, []).append(element)

    def behind(
        self, owner: Element, lines: Iterable[Box], colour: Colour, passing: Element | None = None
    ) -> Surface | None:
        """Return the surface of a text in ``owner``, or None where only a layout can tell."""
        if owner.certainty is None or not owner.certainty.doubts.isdisjoint(_OF_TEXT):
            return None
        return super().behind(owner, lines, colour, passing)

    def _own_paint(self, element: Element, boxes: list[Box], *, settled: bool) -> Colour | None:
        style, certainty = element.style, element.certainty
        assert style is not None
        if certainty is None or not certainty.doubts.isdisjoint(_OF_PAINT):
            return None
        if element is self._canvas_source or settled:
            return TRANSPARENT
        if style.background_image != "none":
            return None
        paint = parse_or(style.background_color, TRANSPARENT)
        if paint.alpha == 1 or not certainty.is_moved:
            return paint
        # what lies elsewhere than in its parent may have anything behind it
        return paint if certainty.is_wider and self._is_bare_around(element) else None

    def _is_bare_around(self, element: Element) -> bool:
        """Tell whether nothing that holds the element paints but what paints all of the page."""
        return not any(
            _paints(one) for one in element.ancestors() if one is not self._canvas_source
        )

    def _painted_by_another(
        self, owner: Element, boxes: list[Box], passing: Element | None
    ) -> bool:
        kin = {owner.index, *(one.index for one in owner.ancestors())}
        for home in (owner, *owner.ancestors()):
            for painter in self._floating.get(home.index, ()):
                if painter.index not in kin and painter is not passing:
                    return True
        return False

    def _may_cover(self, element: Element) -> bool:
        """Tell whether the element may paint over what it does not hold."""
        style, certainty = element.style, element.certainty
        if style is None or certainty is None or not certainty.is_moved:
            return False
        if certainty.is_away or certainty.is_beside or style.position == "fixed":
            return False
        return (
            self._exposure.is_shown(element)
            and style.opacity != "0"
            and any(_paints(one) for one in (element, *element.descendants()))
        )

    def _enter(self, element: Element) -> None:
        """Nothing is entered: there are no boxes."""


def _paints(element: Element) -> bool:
    style = element.style
    if style is None:
        return False
    if element.namespace == "html" and element.tag in PICTURES and element.tag != "input":
        return True
    return style.background_image != "none" or parse_or(style.background_color, BLACK).alpha > 0


def _containing(element: Element) -> Element | None:
    """Return the element in whose box it is placed (CSS Position 3, 2.1); for what is only moved
    from its place, its parent."""
    if element.certainty is None or not element.certainty.floats:
        return element.parent
    return next(
        (
            one
            for one in element.ancestors()
            if one.style is not None and one.style.position != "static"
        ),
        None,
    )
