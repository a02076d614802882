"""What reaches the eye: boxes that are on the page, not clipped away, not faded out."""

from __future__ import annotations

from collections.abc import Iterable

from plumrake.core.dom import Element
from plumrake.core.geometry import Box
from plumrake.core.semantics.exposure import Exposure, is_clipped_away

_CLIPS = ("hidden", "clip")
_SCROLLS = ("auto", "scroll")


class Visibility:
    """Answers about one rendered document, by its exposure."""

    def __init__(self, exposure: Exposure) -> None:
        self._exposure = exposure
        self._veiled: dict[int, bool] = {}

    def visible_lines(self, owner: Element, lines: Iterable[Box]) -> list[Box]:
        """Return those of a text's line boxes that can be seen, by scrolling if need be."""
        if not self._exposure.is_shown(owner) or self._is_veiled(owner):
            return []
        return [
            line
            for line in lines
            if line[2] >= 1
            and line[3] >= 1
            and self._on_page(line)
            and not self._cut_off(owner, line)
        ]

    def seen_lines(self, owner: Element, lines: Iterable[Box]) -> tuple[Box, ...] | None:
        """Return the line boxes of a text that can be seen, None where none can."""
        return tuple(self.visible_lines(owner, lines)) or None

    def sees(self, element: Element) -> bool:
        """Tell whether the element has a box that can be seen."""
        return element.box is not None and bool(self.visible_lines(element, [element.box]))

    def nearest_visible(self, element: Element) -> Element | None:
        """Return the nearest ancestor that can be seen, or None."""
        return next((ancestor for ancestor in element.ancestors() if self.sees(ancestor)), None)

    def _is_veiled(self, element: Element) -> bool:
        """Tell whether the element or an ancestor has opacity 0 or is clipped to nothing."""
        path: list[Element] = []
        here: Element | None = element
        while here is not None and here.index not in self._veiled:
            path.append(here)
            here = here.parent
        veiled = self._veiled[here.index] if here is not None else False
        for step in reversed(path):
            style = step.style
            veiled = veiled or (
                style is not None and (float(style.opacity) == 0 or is_clipped_away(style))
            )
            self._veiled[step.index] = veiled
        return veiled

    @staticmethod
    def _on_page(box: Box) -> bool:
        return box[0] + box[2] > 0 and box[1] + box[3] > 0

    def _cut_off(self, owner: Element, box: Box) -> bool:
        """Tell whether a clipping ancestor leaves less than a pixel of the box; what can be
        scrolled to is not cut off."""
        positioned_out = owner.style is not None and owner.style.position in ("absolute", "fixed")
        for element in [owner, *owner.ancestors()]:
            style = element.style
            if style is None or element.box is None or style.display in ("contents", "inline"):
                continue
            if element.tag in ("html", "body"):
                return False
            if style.overflow_x in _SCROLLS or style.overflow_y in _SCROLLS:
                return False
            skipped = positioned_out and element is not owner and style.position == "static"
            if (
                not skipped
                and (style.overflow_x in _CLIPS or style.overflow_y in _CLIPS)
                and _left_of(element.box, box) < 1.5
            ):
                return True
            if element is not owner and style.position != "static":
                positioned_out = style.position in ("absolute", "fixed")
        return False


def _left_of(frame: Box, box: Box) -> float:
    """Return the smaller side of what a clipping frame leaves of the box, in CSS px."""
    width = min(frame[0] + frame[2], box[0] + box[2]) - max(frame[0], box[0])
    height = min(frame[1] + frame[3], box[1] + box[3]) - max(frame[1], box[1])
    return min(width, height)
