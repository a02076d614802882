"""What lies behind a text and which colour the text comes out in: ancestors composited down to the
canvas."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from plumrake.core.colours import BLACK, TRANSPARENT, WHITE, Colour, parse, parse_or
from plumrake.core.dom import Document, Element
from plumrake.core.geometry import Box
from plumrake.core.semantics.exposure import Exposure

_BAND = 256
PICTURES = frozenset(
    ["img", "video", "canvas", "svg", "object", "embed", "iframe", "picture", "input"]
)
_SHAPES = frozenset(["rect", "circle", "ellipse", "path", "polygon", "polyline", "image", "use"])
_DARK_CANVAS = parse("#121212")


@dataclass(frozen=True, slots=True)
class Surface:
    """Text and background as they reach the eye, both opaque, and the element whose paint is the
    background."""

    text: Colour
    background: Colour
    background_from: Element


class Backgrounds:
    """Answers about one rendered document."""

    def __init__(self, document: Document, exposure: Exposure) -> None:
        self._document = document
        self._exposure = exposure
        self._bands: dict[int, list[Element]] = {}
        root = document.root
        self._body = next((child for child in root.elements() if child.tag == "body"), None)
        self._canvas_source = root if _paints(root) or self._body is None else self._body
        for element in document.elements:
            if self._is_painter(element):
                self._enter(element)

    def behind(
        self, owner: Element, lines: Iterable[Box], colour: Colour, passing: Element | None = None
    ) -> Surface | None:
        """Return the surface of a text in ``owner``, or None where only pixels can tell.

        None when a picture, gradient, filter, blend mode or another element's paint lies behind any
        of ``lines``. What ``passing`` and all below it paint is looked through: for what lies
        around a control or behind a drawing.
        """
        boxes = list(lines)
        text, background = colour, TRANSPARENT
        source: Element | None = None
        for element in [owner, *owner.ancestors()]:
            style = element.style
            if style is not None and style.display == "contents":
                continue  # it has no box: neither its background nor its opacity counts
            if (
                style is None
                or style.background_clip == "text"
                or style.filter != "none"
                or style.mix_blend_mode != "normal"
                or style.backdrop_filter != "none"
            ):
                return None
            own = self._own_paint(element, boxes, settled=background.alpha >= 1)
            if own is None:
                return None
            if own.alpha > 0:
                source = source or element
                text, background = text.over(own), background.over(own)
            if style.opacity != "1":
                opacity = float(style.opacity)
                text, background = text.faded(opacity), background.faded(opacity)
        if self._painted_by_another(owner, boxes, passing):
            return None
        canvas = self._canvas()
        if canvas is None and background.alpha < 1:
            return None
        canvas = canvas or WHITE
        return Surface(text.over(canvas), background.over(canvas), source or self._canvas_source)

    def _own_paint(self, element: Element, boxes: list[Box], *, settled: bool) -> Colour | None:
        """Return the element's own background colour where it lies behind the boxes, None where
        that cannot be told."""
        if element is self._canvas_source or settled:
            return TRANSPARENT
        style = element.style
        assert style is not None
        if style.background_image != "none" and _covers(element, boxes) != 0:
            return None
        colour = parse_or(style.background_color, TRANSPARENT)
        if colour.alpha == 0 or style.display == "contents":
            return TRANSPARENT
        share = _covers(element, boxes)
        if share == 0:
            return TRANSPARENT
        return colour if share == 1 else None

    def _canvas(self) -> Colour | None:
        """Return the canvas colour: the root's or the body's background over the browser's own
        sheet."""
        root_style = self._document.root.style
        schemes = root_style.color_scheme.split() if root_style is not None else []
        paper = _DARK_CANVAS if "dark" in schemes and "light" not in schemes else WHITE
        style = self._canvas_source.style
        if style is None:
            return paper
        if style.background_image != "none":
            return None
        return parse_or(style.background_color, TRANSPARENT).over(paper)

    def _is_painter(self, element: Element) -> bool:
        style = element.style
        if (
            style is None
            or element.box is None
            or element is self._canvas_source
            or not self._exposure.is_shown(element)
        ):
            return False
        if element.box[2] < 1 or element.box[3] < 1 or style.opacity == "0":
            return False
        if element.namespace == "svg" and element.tag in _SHAPES:
            return style.fill != "none"
        replaced = (
            element.tag in PICTURES and element.namespace == "html" and element.tag != "input"
        )
        return replaced or _paints(element)

    def _enter(self, element: Element) -> None:
        assert element.box is not None
        top, height = element.box[1], element.box[3]
        for band in range(
            int(top // _BAND), int(min((top + height) // _BAND, top // _BAND + 4000)) + 1
        ):
            self._bands.setdefault(band, []).append(element)

    def _painted_by_another(
        self, owner: Element, boxes: list[Box], passing: Element | None
    ) -> bool:
        kin = {owner.index, *(ancestor.index for ancestor in owner.ancestors())}
        if passing is not None:
            kin |= {passing.index, *(inner.index for inner in passing.descendants())}
        for box in boxes:
            for band in range(int(box[1] // _BAND), int((box[1] + box[3]) // _BAND) + 1):
                for painter in self._bands.get(band, ()):
                    if (
                        painter.index not in kin
                        and _overlap(painter.box, box) > 0.2
                        and not _floats_above(painter, kin)
                    ):
                        return True
        return False


def _paints(element: Element) -> bool:
    style = element.style
    return style is not None and (
        style.background_image != "none" or parse_or(style.background_color, BLACK).alpha > 0
    )


def _floats_above(painter: Element, kin: set[int]) -> bool:
    """Tell whether the painter is fixed or sticky, or in something that is, while the text is not:
    it only passes over."""
    for element in [painter, *painter.ancestors()]:
        if element.index in kin:
            return False
        if element.style is not None and element.style.position in ("fixed", "sticky"):
            return True
    return False


def _overlap(painter: Box | None, box: Box) -> float:
    """Return the share of ``box`` that ``painter`` covers, from 0 to 1."""
    if painter is None or box[2] <= 0 or box[3] <= 0:
        return 0.0
    width = min(painter[0] + painter[2], box[0] + box[2]) - max(painter[0], box[0])
    height = min(painter[1] + painter[3], box[1] + box[3]) - max(painter[1], box[1])
    return max(0.0, width) * max(0.0, height) / (box[2] * box[3])


def _covers(element: Element, boxes: list[Box]) -> float:
    """Return 1 where the element's box lies behind all the boxes, 0 where behind none, else
    something between."""
    shares = [_overlap(element.box, box) for box in boxes]
    if not shares or max(shares) < 0.1:
        return 0
    return 1 if min(shares) > 0.6 else 0.5
