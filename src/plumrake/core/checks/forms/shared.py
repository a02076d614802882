"""What the checks of forms share: which elements are fields, and where a field's name comes
from."""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.page import Page

_NO_FIELDS = frozenset(["hidden", "button", "submit", "reset", "image"])
FIELD_ROLES: frozenset[str] = frozenset(
    ["textbox", "searchbox", "combobox", "listbox", "spinbutton"]
)


def is_field(page: Page, element: Element) -> bool:
    """Tell whether the element is a field: a native one of any type, or one by its role."""
    if element.tag == "input":
        return element.get("type").strip().lower() not in _NO_FIELDS
    return element.tag in ("select", "textarea") or page.role_of(element) in FIELD_ROLES


def fields(page: Page) -> Iterator[Element]:
    """Yield the exposed fields in document order."""
    return (element for element in page.every_exposed() if is_field(page, element))


def kind_of(page: Page, element: Element) -> str:
    """Return what a person would call the field: its type, role or tag."""
    if element.tag == "input":
        return f"{element.get('type').strip().lower() or 'text'} field"
    return {"select": "choice list", "textarea": "text area"}.get(
        element.tag, page.role_of(element) or element.tag
    )
