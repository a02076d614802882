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
_LETTER, _SPACE, _LINE = 0.5, 0.25, 1.2
"""How broad a letter and a space, and how high a line, usually is, in em."""


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
        self._full: dict[int, bool] = {}
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
        if paint.alpha > 0 and self._may_run_out(element):
            return None
        if paint.alpha == 1 or not certainty.is_moved:
            return paint
        # what lies elsewhere than in its parent may have anything behind it
        return paint if certainty.is_wider and self._is_bare_around(element) else None

    def _may_run_out(self, element: Element) -> bool:
        """Tell whether there may be more text in the element than its box has room for."""
        certainty = element.certainty
        if certainty is None or certainty.height is None:
            return False
        if element.index not in self._full:
            width = next(
                (
                    one.certainty.width
                    for one in (element, *element.ancestors())
                    if one.certainty is not None and one.certainty.width is not None
                ),
                None,
            )
            self._full[element.index] = width is not None and (
                _guessed_height(self._exposure, element, width) > certainty.height
            )
        return self._full[element.index]

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


def _guessed_height(exposure: Exposure, element: Element, width: float) -> float:
    """Return how high the shown text in an element is at about that width (CSS px), by the usual
    breadth of letters and height of lines."""
    blocks: dict[int, list[tuple[str, float]]] = {}
    for text in element.texts():
        style = text.parent.style
        if style is not None and text.data.strip() and exposure.is_shown(text.parent):
            size = float(style.font_size.removesuffix("px"))
            block = _block_of(text.parent, element)
            blocks.setdefault(block.index, []).extend((word, size) for word in text.data.split())
    return sum(_wrapped(words, width) for words in blocks.values())


def _block_of(element: Element, outermost: Element) -> Element:
    """Return the nearest element around a text, no further out than ``outermost``, that begins a
    line of its own."""
    while element is not outermost and element.parent is not None and _flows_on(element):
        element = element.parent
    return element


def _flows_on(element: Element) -> bool:
    """Tell whether it may lie beside what is before it."""
    style, around = element.style, element.parent.style if element.parent is not None else None
    if style is None or style.float != "none" or style.position in ("absolute", "fixed"):
        return True
    if style.display.startswith(("inline", "contents", "table-cell", "ruby")):
        return True
    return around is not None and around.display.endswith(("flex", "grid"))


def _wrapped(words: list[tuple[str, float]], width: float) -> float:
    """Return the height of the lines that words, each with its size, fill."""
    lines, filled = 1, 0.0
    for word, size in words:
        breadth = len(word) * size * _LETTER
        if filled and filled + breadth > width:
            lines, filled = lines + 1, 0.0
        filled += breadth + size * _SPACE
    return lines * max(size for _, size in words) * _LINE


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
