"""A mend of an element, as edits of the source."""

from __future__ import annotations

import re
from collections.abc import Callable

from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.lists import make_list, wrap, wrap_strays
from plumrake.core.mending.parts import (
    group_choices,
    head_table,
    link_past_menus,
    mark_decorative,
    merge,
    merge_links,
    move_section,
    name_as_picture,
    own_id_for,
    say_with_text,
    set_scopes,
    unhide,
    unlink_picture,
)
from plumrake.core.mending.source_page import CannotMend, SourcePage
from plumrake.core.mending.standing import net_edit
from plumrake.core.mending.styles import add_rule, paint, set_colours, set_style
from plumrake.core.mending.words import replace_text, replace_word
from plumrake.core.mending.writing import (
    Carried,
    in_quotes,
    in_text,
    own_id,
    put_after,
    put_before,
    put_in,
    remove,
    remove_attribute,
    rename,
    replaced,
    set_attribute,
)

Carrier = Callable[[SourcePage, Element, Mend], Carried]

_OF_LINKS = ("href", "target", "rel", "download", "hreflang", "ping", "role")


def edits_of(source: SourcePage, element: Element, mend: Mend) -> tuple[Edit, ...]:
    """Return the edits of the source that carry a mend of an element out; none where it is in place
    already. Raises ``CannotMend``."""
    if mend.asks:
        raise CannotMend("a person has to write what stands there")
    carrier = _CARRIERS.get(mend.kind)
    if carrier is None:
        raise CannotMend("only a person can do this")
    if lacking := [one for one in _NEEDED.get(mend.kind, ()) if getattr(mend, one) is None]:
        raise CannotMend(f"a mend of the kind {mend.kind} needs {' and '.join(lacking)}")
    return tuple(carrier(source, target_of(source, element, mend), mend))


def target_of(source: SourcePage, element: Element, mend: Mend) -> Element:
    """Return what a mend is about: the element, or a part of its page or of itself. Raises
    ``CannotMend``."""
    if not mend.target:
        return element
    kind, _, number = mend.target.partition(" ")
    if kind == "heading" and number.isdigit():
        headings = source.page.exposed(role="heading")
        if not 1 <= int(number) <= len(headings):
            raise CannotMend(f"the page has no {number}th heading in its source")
        return headings[int(number) - 1]
    if mend.target == "picture":
        pictures = [one for one in element.descendants() if one.tag == "img"]
        if len(pictures) != 1:
            raise CannotMend("there is more than one picture in it")
        return pictures[0]
    found = (
        source.page.title_element
        if mend.target == "title"
        else source.page.document.first(mend.target)
    )
    if found is None and mend.target == "main":
        found = source.page.body
    if found is None:
        raise CannotMend(f"the page has no <{mend.target}>")
    return found


def _set_attribute(source: SourcePage, element: Element, mend: Mend) -> Carried:
    assert mend.attribute is not None
    value = mend.value or ""
    if element.tag == "html" and element.index not in source.starts:
        if element.attributes.get(mend.attribute) != value:
            at = _after_prologue(source.text)
            tag = f'<html {mend.attribute}="{in_quotes(value, chr(34))}">'
            yield replaced(source, at, at, f"{source.newline if at else ''}{tag}")
        return
    yield from set_attribute(source, element, mend.attribute, value)


_PROLOGUE = re.compile(r"(?:\s*(?:<!doctype[^>]*>|<!--(?:(?!-->).)*-->|<\?[^>]*>))*", re.I | re.S)


def _after_prologue(text: str) -> int:
    match = _PROLOGUE.match(text)
    return match.end() if match is not None else 0


def _remove_attribute(source: SourcePage, element: Element, mend: Mend) -> Carried:
    assert mend.attribute is not None
    yield from remove_attribute(source, element, mend.attribute)


def _rename(source: SourcePage, element: Element, mend: Mend) -> Carried:
    assert mend.to is not None
    if element.tag == mend.to:
        return
    yield from rename(source, element, mend.to)
    if element.tag == "a" and mend.to == "button":
        for name in _OF_LINKS:
            yield from remove_attribute(source, element, name)
        if not element.has("type"):
            yield from set_attribute(source, element, "type", "button")


def _unwrap(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Take an element's tags away; what is in it stays."""
    tag = source.start_tag(element)
    yield replaced(source, tag.start, tag.end, "")
    if (end_tag := source.end_tag(element)) is not None:
        yield replaced(source, *end_tag, "")


def _remove_element(source: SourcePage, element: Element, mend: Mend) -> Carried:
    yield remove(source, element)


def _rewrite(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Put other markup for an element's; what both have in common stays as it is."""
    start, end = source.whole(element)
    for edit in net_edit(source.text[start:end], mend.value or ""):
        yield replaced(source, start + edit.start, start + edit.end, edit.text)


def _insert(source: SourcePage, element: Element, mend: Mend) -> Carried:
    assert mend.to is not None
    words = in_text(mend.value or "")
    if mend.to == "title":
        yield from _insert_title(source, words)
        return
    if mend.to == "label":
        wanted = element.get("name") or mend.value or "field"
        identifier, edits = own_id(source, element, wanted)
        yield from edits
        label = f'<label for="{in_quotes(identifier, chr(34))}">{words}</label>'
        yield put_before(source, element, label)
        return
    piece = f"<{mend.to}>{words}</{mend.to}>"
    if mend.where == "before":
        yield put_before(source, element, piece, between="")
    elif mend.where == "after":
        yield put_after(source, element, piece)
    else:
        yield put_in(source, element, piece, last=mend.where == "last")


def _insert_title(source: SourcePage, words: str) -> Carried:
    title = f"<title>{words}</title>"
    head = source.page.document.first("head")
    if head is not None and head.index in source.starts:
        yield put_in(source, head, title)
        return
    root = source.page.root
    at = source.start_tag(root).end if root.index in source.starts else _after_prologue(source.text)
    yield replaced(source, at, at, f"{source.newline if at else ''}{title}")


_CARRIERS: dict[str, Carrier] = {
    "set-attribute": _set_attribute,
    "remove-attribute": _remove_attribute,
    "rename-element": _rename,
    "replace-text": replace_text,
    "wrap": wrap,
    "unwrap": _unwrap,
    "remove-element": _remove_element,
    "rewrite": _rewrite,
    "set-style": set_style,
    "insert": _insert,
    "head-table": head_table,
    "set-scopes": set_scopes,
    "make-list": make_list,
    "group-choices": group_choices,
    "link-past-menus": link_past_menus,
    "own-id": own_id_for,
    "mark-decorative": mark_decorative,
    "say-with-text": say_with_text,
    "move-section": move_section,
    "unhide": unhide,
    "paint": paint,
    "name-as-picture": name_as_picture,
    "merge": merge,
    "merge-links": merge_links,
    "unlink-picture": unlink_picture,
    "wrap-strays": wrap_strays,
    "replace-word": replace_word,
    "set-colours": set_colours,
    "add-rule": add_rule,
}
_NEEDED: dict[str, tuple[str, ...]] = {
    "set-attribute": ("attribute",),
    "remove-attribute": ("attribute",),
    "rename-element": ("to",),
    "replace-word": ("to",),
    "wrap": ("to",),
    "wrap-strays": ("to",),
    "insert": ("to",),
    "set-style": ("property", "value"),
    "set-colours": ("value", "to"),
    "add-rule": ("to", "property", "value"),
    "paint": ("value",),
    "make-list": ("to",),
    "move-section": ("to",),
}
"""The fields that a mend has to have, by its kind."""
KINDS: tuple[str, ...] = tuple(_CARRIERS)
"""The kinds of mends that can be carried out."""
