"""Roles: the explicit one where it is valid, else HTML-AAM's implicit one in context.

A role of ``""`` means that ARIA has none for the element (``input type=password``, ``label``,
``video`` …).
"""

from __future__ import annotations

from plumrake.core.dom import Document, Element, is_blank
from plumrake.core.numbers import integer, non_negative
from plumrake.core.vocabulary import (
    FOCUSABLE_TAGS,
    GLOBAL_NAMING,
    INPUT_ROLES,
    ROLES,
    SECTIONING,
    SIMPLE_ROLES,
)

_SYNONYMS = {"presentation": "none", "image": "img", "directory": "list"}
_TABLE_PARTS = {"tbody", "thead", "tfoot", "tr", "td", "th"}


class Roles:
    """Roles of one document's elements, each worked out once."""

    def __init__(self, document: Document) -> None:
        self._document = document
        self._known: dict[int, str] = {}
        self._rows_with_data: dict[int, bool] = {}

    def of(self, element: Element) -> str:
        """Return the computed role; ``none`` for a presentational one, ``generic`` for none in
        particular."""
        role = self._known.get(element.index)
        if role is None:
            role = self._known[element.index] = self._compute(element)
        return role

    def explicit(self, element: Element) -> str:
        """Return the first valid token of the ``role`` attribute (WAI-ARIA 1.2, 8.1), synonyms
        folded, or ``""``."""
        for token in element.get("role").lower().split():
            if token in ROLES:
                return _SYNONYMS.get(token, token)
        return ""

    def _compute(self, element: Element) -> str:
        explicit = self.explicit(element)
        if explicit in ("form", "region") and not self.has_author_name(element):
            explicit = ""
        if explicit == "none" and self._presentation_conflict(element):
            explicit = ""
        if explicit:
            return explicit
        if self._inherits_presentation(element):
            return "none"
        return self._implicit(element)

    def _presentation_conflict(self, element: Element) -> bool:
        """Presentational roles conflict resolution (WAI-ARIA 1.2, 5.4.1)."""
        return is_focusable(element) or any(element.has(name) for name in GLOBAL_NAMING)

    def _inherits_presentation(self, element: Element) -> bool:
        """Tell whether a required owned element loses its role to the presentational table or list
        that holds it."""
        if self._presentation_conflict(element):
            return False
        if element.tag == "li":
            owner = element.parent
            return (
                owner is not None and owner.tag in ("ul", "ol", "menu") and self.of(owner) == "none"
            )
        if element.tag in _TABLE_PARTS:
            table = element.closest("table")
            return table is not None and self.of(table) == "none"
        return False

    def has_author_name(self, element: Element) -> bool:
        """Tell whether the author gave a name by ``aria-labelledby``, ``aria-label`` or
        ``title``."""
        if not is_blank(element.get("aria-label")) or not is_blank(element.get("title")):
            return True
        targets = (
            self._document.by_id(token, element) for token in element.get("aria-labelledby").split()
        )
        return any(target is not None for target in targets)

    def _implicit(self, element: Element) -> str:
        if element.namespace == "svg" and element.tag != "svg":
            return self._svg_part(element)
        contextual = _CONTEXTUAL.get(element.tag)
        if contextual is not None:
            return contextual(self, element)
        return SIMPLE_ROLES.get(element.tag, "generic" if element.tag not in _NO_ROLE else "")

    def _svg_part(self, element: Element) -> str:
        if element.tag == "a" and (element.has("href") or element.has("xlink:href")):
            return "link"
        if element.tag in ("image",):
            return "img"
        return "generic"

    def _link(self, element: Element) -> str:
        return "link" if element.has("href") else "generic"

    def _image(self, element: Element) -> str:
        if (
            element.has("alt")
            and element.get("alt") == ""
            and not self._presentation_conflict(element)
        ):
            return "none"
        return "img"

    def _input(self, element: Element) -> str:
        kind = element.get("type", "text").strip().lower() or "text"
        role = INPUT_ROLES.get(kind, "textbox" if kind not in _ROLELESS_INPUTS else "")
        if (
            element.has("list")
            and role in ("textbox", "searchbox")
            and self._document.by_id(element.get("list"), element) is not None
        ):
            return "combobox"
        return role

    def _select(self, element: Element) -> str:
        size = element.get("size").strip()
        return "listbox" if element.has("multiple") or (non_negative(size) or 0) > 1 else "combobox"

    def _page_part(self, element: Element) -> str:
        """``header`` and ``footer`` are landmarks of the page unless a part of the page holds them
        (HTML-AAM 3.5)."""
        for ancestor in element.ancestors():
            if ancestor.tag in SECTIONING or self.explicit(ancestor) in _PART_ROLES:
                return "generic"
        return "banner" if element.tag == "header" else "contentinfo"

    def _aside(self, element: Element) -> str:
        """``aside`` inside a part of the page needs a name to be a landmark (HTML-AAM 3.5)."""
        if any(
            ancestor.tag in ("article", "aside", "nav", "section")
            for ancestor in element.ancestors()
        ):
            return "complementary" if self.has_author_name(element) else "generic"
        return "complementary"

    def _named(self, element: Element) -> str:
        if element.tag == "form":
            return "form"
        return "region" if self.has_author_name(element) else "generic"

    def _cell(self, element: Element) -> str:
        table = element.closest("table")
        if table is None:
            return "generic"
        role = self.of(table)
        if element.tag == "td":
            return "gridcell" if role in ("grid", "treegrid") else "cell"
        return self._header_cell(element)

    def _header_cell(self, element: Element) -> str:
        scope = element.get("scope").strip().lower()
        if scope in ("row", "rowgroup"):
            return "rowheader"
        if scope in ("col", "colgroup"):
            return "columnheader"
        row = element.parent
        if row is not None and row.tag == "tr" and self._has_data(row):
            return "rowheader"
        return "columnheader"

    def _has_data(self, row: Element) -> bool:
        known = self._rows_with_data.get(row.index)
        if known is None:
            known = any(cell.tag == "td" for cell in row.elements())
            self._rows_with_data[row.index] = known
        return known

    def _list_item(self, element: Element) -> str:
        parent = element.parent
        return (
            "listitem"
            if parent is not None
            and (parent.tag in ("ul", "ol", "menu") or self.of(parent) == "list")
            else "generic"
        )

    def _summary(self, element: Element) -> str:
        parent = element.parent
        if parent is None or parent.tag != "details":
            return "generic"
        return (
            "button"
            if element
            is next((child for child in parent.elements() if child.tag == "summary"), None)
            else "generic"
        )


_PART_ROLES = {"article", "complementary", "main", "navigation", "region"}
_ROLELESS_INPUTS = {
    "color",
    "date",
    "datetime-local",
    "file",
    "hidden",
    "month",
    "password",
    "time",
    "week",
}
_NO_ROLE = {
    "abbr",
    "audio",
    "base",
    "br",
    "canvas",
    "cite",
    "col",
    "colgroup",
    "dl",
    "embed",
    "figcaption",
    "head",
    "iframe",
    "kbd",
    "label",
    "legend",
    "link",
    "map",
    "meta",
    "noscript",
    "object",
    "param",
    "picture",
    "rp",
    "rt",
    "ruby",
    "script",
    "slot",
    "source",
    "style",
    "template",
    "title",
    "track",
    "var",
    "video",
    "wbr",
    "mark",
}
_CONTEXTUAL = {
    "a": Roles._link,
    "area": Roles._link,
    "aside": Roles._aside,
    "footer": Roles._page_part,
    "form": Roles._named,
    "header": Roles._page_part,
    "img": Roles._image,
    "input": Roles._input,
    "li": Roles._list_item,
    "section": Roles._named,
    "select": Roles._select,
    "summary": Roles._summary,
    "td": Roles._cell,
    "th": Roles._cell,
}


def is_focusable(element: Element) -> bool:
    """Tell whether the markup lets the element take focus (HTML Standard, 6.6.2), whether Tab
    reaches it or not."""
    if integer(element.get("tabindex")) is not None:
        return True
    if element.tag in ("a", "area"):
        return element.has("href")
    if element.tag in ("audio", "video"):
        return element.has("controls")
    if element.tag == "input" and element.get("type").lower() == "hidden":
        return False
    if element.tag == "summary":
        return element.parent is not None and element.parent.tag == "details"
    if element.tag in FOCUSABLE_TAGS:
        return not is_disabled(element)
    return element.get("contenteditable", "false").lower() in (
        "",
        "true",
        "plaintext-only",
    ) and element.has("contenteditable")


def is_tab_stop(element: Element) -> bool:
    """Tell whether the markup lets Tab reach the element: it takes focus, and ``tabindex`` does not
    take it out of the order."""
    return is_focusable(element) and (integer(element.get("tabindex")) or 0) >= 0


def is_disabled(element: Element) -> bool:
    """Tell whether the control is disabled, by itself or by a ``fieldset`` (its first legend
    aside), or says it is (aria-disabled)."""
    if element.get("aria-disabled").strip().lower() == "true":
        return True
    if element.tag not in (
        "button",
        "input",
        "select",
        "textarea",
        "optgroup",
        "option",
        "fieldset",
    ):
        return False
    if element.has("disabled"):
        return True
    inner: Element = element
    for ancestor in element.ancestors():
        if ancestor.tag == "fieldset" and ancestor.has("disabled"):
            legend = next((child for child in ancestor.elements() if child.tag == "legend"), None)
            if inner is not legend:
                return True
        inner = ancestor
    return False
