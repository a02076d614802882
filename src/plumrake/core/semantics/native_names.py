"""Where HTML itself takes a name from (HTML-AAM 1.0, section 4.1): labels, alt, legend, caption,
value, placeholder, title."""

from __future__ import annotations

from dataclasses import dataclass

from plumrake.core.dom import Document, Element, is_blank
from plumrake.core.vocabulary import LABELABLE

_BUTTON_LABELS = {"submit": "Submit", "reset": "Reset"}
_CAPTIONED = {"fieldset": "legend", "figure": "figcaption", "table": "caption"}
_PLACEHOLDER_TYPES = {"", "text", "search", "tel", "url", "email", "password", "number"}


@dataclass(frozen=True, slots=True)
class Source:
    """One native source of a name: plain text, or elements whose content is the name."""

    what: str
    text: str = ""
    elements: tuple[Element, ...] = ()


class Labels:
    """Which ``label`` elements belong to which control, for one document."""

    def __init__(self, document: Document) -> None:
        self._of: dict[int, list[Element]] = {}
        for label in document.elements:
            if label.tag == "label" and (control := labelled_control(document, label)) is not None:
                self._of.setdefault(control.index, []).append(label)

    def of(self, control: Element) -> tuple[Element, ...]:
        """Return the control's labels in document order."""
        return tuple(self._of.get(control.index, ()))


def is_labelable(element: Element) -> bool:
    """Tell whether a ``label`` can belong to the element (HTML Standard, 4.10.2)."""
    return element.tag in LABELABLE and not (
        element.tag == "input" and element.get("type").strip().lower() == "hidden"
    )


def labelled_control(document: Document, label: Element) -> Element | None:
    """Return the control that a ``label`` labels (HTML Standard, 4.10.4): by ``for``, else the
    first one inside."""
    if label.has("for"):
        target = document.by_id(label.get("for"), label)
        return target if target is not None and is_labelable(target) else None
    return next((element for element in label.descendants() if is_labelable(element)), None)


def native_sources(element: Element, labels: Labels) -> list[Source]:
    """Return the element's own sources in the order in which they are tried; ``title`` for all
    comes later (step 2I)."""
    if element.namespace == "svg":
        return _svg_sources(element)
    if element.tag in ("img", "area"):
        return [Source("alt", element.get("alt"))]
    sources: list[Source] = []
    if is_labelable(element) and (found := labels.of(element)):
        sources.append(Source("label", elements=found))
    if element.tag == "input":
        sources.extend(_input_sources(element))
    elif element.tag == "textarea":
        sources.extend(
            [
                Source("title", element.get("title")),
                Source("placeholder", element.get("placeholder")),
            ]
        )
    elif element.tag in _CAPTIONED:
        sources.extend(_caption_sources(element))
    elif element.tag in ("option", "optgroup") and element.has("label"):
        sources.append(Source("label", element.get("label")))
    elif element.tag == "html":
        title = next(
            (
                child
                for child in element.descendants()
                if child.tag == "title" and child.namespace == "html"
            ),
            None,
        )
        sources.append(Source("title element", title.text() if title is not None else ""))
    return sources


def _svg_sources(element: Element) -> list[Source]:
    title = next((child for child in element.elements() if child.tag == "title"), None)
    return [
        Source("title element", title.text() if title is not None else ""),
        Source("xlink:title", element.get("xlink:title")),
    ]


def _input_sources(element: Element) -> list[Source]:
    kind = element.get("type").strip().lower()
    if kind in ("button", "submit", "reset"):
        return [
            Source(
                "value",
                element.get("value") if element.has("value") else _BUTTON_LABELS.get(kind, ""),
            )
        ]
    if kind == "image":
        return [Source("alt", element.get("alt"))]
    if kind in _PLACEHOLDER_TYPES:
        return [
            Source("title", element.get("title")),
            Source("placeholder", element.get("placeholder")),
        ]
    return []


def _caption_sources(element: Element) -> list[Source]:
    wanted = _CAPTIONED[element.tag]
    caption = next((child for child in element.elements() if child.tag == wanted), None)
    return [Source(wanted, elements=(caption,))] if caption is not None else []


def embedded_value(element: Element, role: str) -> str | None:
    """Return what a control inside a label contributes (step 2C), or None where it is no such
    control."""
    if role in ("textbox", "searchbox"):
        return _typed(element)
    if role in ("combobox", "listbox"):
        return (
            _chosen(element) if element.tag == "select" else _typed(element) or _selected(element)
        )
    if role in ("slider", "spinbutton", "scrollbar", "progressbar", "meter"):
        for name in ("aria-valuetext", "aria-valuenow"):
            if not is_blank(element.get(name)):
                return element.get(name)
        return _typed(element)
    return None


def _typed(element: Element) -> str:
    if element.value is not None:
        return element.value
    return element.get("value") if element.tag in ("input", "meter", "progress") else element.text()


def _chosen(select: Element) -> str:
    options = [element for element in select.descendants() if element.tag == "option"]
    chosen = [option for option in options if option.has("selected")] or (
        [] if select.has("multiple") else options[:1]
    )
    return " ".join(option.get("label") or option.text() for option in chosen)


def _selected(element: Element) -> str:
    return " ".join(
        item.text() for item in element.descendants() if item.get("aria-selected") == "true"
    )
