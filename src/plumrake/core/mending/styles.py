"""Mends of colours and other styles."""

from __future__ import annotations

from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.source_page import SourcePage
from plumrake.core.mending.writing import (
    Carried,
    declarations,
    put_in,
    replaced,
    set_attribute,
    set_declaration,
)


def set_style(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Set a declaration in the element's ``style``."""
    assert mend.property is not None
    assert mend.value is not None
    yield from set_declaration(source, element, mend.property, mend.value)


def set_colours(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Set the colour of the text and of what is behind it."""
    assert mend.value is not None
    assert mend.to is not None
    style = element.get("style")
    wanted = [("color", mend.value), ("background-color", mend.to)]
    have = {one.name: one.value for one in declarations(style)}
    missing = [(name, value) for name, value in wanted if have.get(name) != value]
    if not missing:
        return
    kept = [one for one in declarations(style) if one.name not in dict(missing)]
    if len(kept) == len(declarations(style)):
        stem = style.rstrip()
        apart = "" if not stem else (" " if stem.endswith(";") else "; ")
        added = "; ".join(f"{name}: {value}" for name, value in missing)
        yield from set_attribute(source, element, "style", f"{stem}{apart}{added}")
        return
    for name, value in missing:
        yield from set_declaration(source, element, name, value)


def paint(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Give an icon another colour where it has its own: in the fills and strokes of its shapes,
    else as the colour of its text."""
    value = mend.value or ""
    is_painted = False
    for one in (element, *element.descendants()):
        declared = {declaration.name for declaration in declarations(one.get("style"))}
        for name in ("fill", "stroke"):
            if name in declared:
                yield from set_declaration(source, one, name, value)
            elif one.get(name).strip().lower() in _NO_PAINT:
                continue
            else:
                yield from set_attribute(source, one, name, value)
            is_painted = True
    if not is_painted or element.tag != "svg":
        yield from set_declaration(source, element, "color", value)


_NO_PAINT = frozenset(["", "none", "currentcolor", "transparent", "inherit"])


def add_rule(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Write a rule into the page's last style sheet of its own, or into a new one."""
    selector = f"{source.page.selector_of(element)}{mend.to}"
    rule = f"{selector} {{ {mend.property}: {mend.value} !important; }}"
    if rule in source.text:
        return
    sheets = [
        one
        for one in source.page.elements
        if one.tag == "style" and one.index in source.ends and not one.get("media").strip()
    ]
    if sheets:
        at = source.ends[sheets[-1].index][0]
        yield replaced(source, at, at, f"{rule}{source.newline}")
        return
    head = source.page.document.first("head")
    sheet = f"<style>{rule}</style>"
    if head is not None and head.index in source.starts:
        yield put_in(source, head, sheet, last=True)
    else:
        yield put_in(source, source.page.body, sheet)
