"""Mends of parts of a page that belong together: tables, pictures, headings, choices, ids."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from itertools import pairwise

from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.lists import around
from plumrake.core.mending.source_page import CannotMend, SourcePage
from plumrake.core.mending.writing import (
    Carried,
    free_id,
    in_text,
    own_id,
    put_in,
    remove_attribute,
    rename,
    replaced,
    set_attribute,
)
from plumrake.core.semantics.table_model import TableModel


def head_table(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Make the cells of the first row, the first column or both header cells that say which way
    they head."""
    model = TableModel(element)
    for y, row in enumerate(model.rows):
        for x, cell in enumerate(row):
            heads_column = y == 0 and mend.to in ("row", "both")
            heads_row = x == 0 and mend.to in ("column", "both") and not (heads_column)
            if not heads_column and not heads_row:
                continue
            if cell.tag == "td":
                yield from rename(source, cell, "th")
            if not cell.get("scope").strip():
                yield from set_attribute(source, cell, "scope", "col" if heads_column else "row")


def set_scopes(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Say of every header cell that does not say it whether it heads a column or a row, as its
    place in the table tells."""
    model = TableModel(element)
    for cell in model.headers:
        if cell.tag != "th" or cell.get("scope").strip() or not cell.text():
            continue
        _, _, width, height = model.places[cell.index]
        way = "col" if model.is_in_header_row(cell) else "row"
        spans = width > 1 if way == "col" else height > 1
        yield from set_attribute(source, cell, "scope", f"{way}group" if spans else way)


def mark_decorative(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Mark a picture as decorative: an empty text and no other name, or hidden where it has no
    text."""
    for name in ("aria-label", "aria-labelledby", "title"):
        yield from remove_attribute(source, element, name)
    if element.tag == "img":
        yield from set_attribute(source, element, "alt", "")
    else:
        yield from set_attribute(source, element, "aria-hidden", "true")


def say_with_text(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Give a picture that is marked as decorative a text, and take the mark away."""
    for name in ("role", "title", "aria-label", "aria-labelledby"):
        yield from remove_attribute(source, element, name)
    has_alt = element.tag in ("img", "area", "input")
    yield from set_attribute(source, element, "alt" if has_alt else "aria-label", mend.value or "")


def name_as_picture(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Make an element a picture for screen readers, with a name."""
    yield from set_attribute(source, element, "role", "img")
    yield from set_attribute(source, element, "aria-label", mend.value or "")


def unhide(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Let assistive technology have an element: take ``aria-hidden`` and ``hidden`` away from it,
    from what is around it and from what is in it."""
    for one in (element, *element.ancestors(), *element.descendants()):
        if one.has("aria-hidden"):
            yield from remove_attribute(source, one, "aria-hidden")
        if one.has("hidden"):
            yield from remove_attribute(source, one, "hidden")


def merge_links(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Make one link of two that stand side by side; the pictures in it are decorative then."""
    first, last = next(
        (pair for pair in _side_by_side(element) if element in pair), (element, element)
    )
    end_tag = source.end_tag(first)
    if first is last or end_tag is None:
        raise CannotMend("the two links do not stand side by side")
    between = source.text[end_tag[1] : source.start_tag(last).start]
    if between.strip() not in ("", "<br>", "<br/>", "<br />"):
        raise CannotMend("something stands between the two links")
    yield replaced(source, end_tag[0], source.start_tag(last).end, between)
    for link in (first, last):
        yield from _with_empty_texts(source, link)


def merge(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Make one element of two of a kind that stand one right after the other."""
    around = list(element.parent.elements()) if element.parent is not None else []
    pairs = [pair for pair in pairwise(around) if element in pair]
    for first, second in pairs:
        end_tag = source.end_tag(first)
        if first.tag != second.tag or end_tag is None or _MATTER & second.attributes.keys():
            continue
        begin = source.start_tag(second)
        if not source.text[end_tag[1] : begin.start].strip():
            yield replaced(source, *end_tag, "")
            yield replaced(source, begin.start, begin.end, "")
            return
    raise CannotMend("no like element stands beside it")


_MATTER = frozenset(["id", "class", "style", "lang", "role", "aria-label"])
"""Attributes that may not be lost with the tag that has them."""


def unlink_picture(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Take the link around a picture away, and let the picture be decorative."""
    tag, end_tag = source.start_tag(element), source.end_tag(element)
    yield replaced(source, tag.start, tag.end, "")
    if end_tag is not None:
        yield replaced(source, *end_tag, "")
    yield from _with_empty_texts(source, element)


def _with_empty_texts(source: SourcePage, link: Element) -> Carried:
    for inner in link.descendants():
        if inner.tag in ("img", "svg"):
            yield from mark_decorative(source, inner, Mend("mark-decorative", ""))


def _side_by_side(element: Element) -> Iterator[tuple[Element, Element]]:
    """Yield the pairs of links with one target of which an element is one."""
    around = element.parent.elements() if element.parent is not None else ()
    siblings = [one for one in around if one.tag != "br"]
    for one, other in pairwise(siblings):
        if one.tag == other.tag == "a" and one.get("href") == other.get("href"):
            yield one, other


def move_section(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Give a heading another level, and move those that follow along until one stands above it."""
    assert mend.to is not None
    page = source.page
    if page.role_of(element) != "heading":
        raise CannotMend("this is no heading")
    level = page.level_of(element)
    by = int(mend.to) - level
    headings = page.exposed(role="heading")
    at = next((place for place, one in enumerate(headings) if one is element), None)
    if at is None:
        raise CannotMend("the heading is hidden")
    for heading in headings[at:]:
        if page.level_of(heading) < level:
            return
        new = page.level_of(heading) + by
        if heading.has("aria-level") or heading.tag not in _HEADINGS or new > len(_HEADINGS):
            yield from set_attribute(source, heading, "aria-level", str(new))
        else:
            yield from rename(source, heading, f"h{new}")


_HEADINGS = ("h1", "h2", "h3", "h4", "h5", "h6")


def group_choices(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Put the radio buttons or boxes of one name into a fieldset with a legend."""
    name, kind = element.get("name"), element.get("type").lower()
    if element.tag != "input" or kind not in ("radio", "checkbox"):
        raise CannotMend("this is no choice among several")
    form = element.closest("form") or source.page.body
    members = [
        one
        for one in form.descendants()
        if one.tag == "input" and one.get("name") == name and one.get("type").lower() == kind
    ]
    first, last = _around_all(members)
    start = source.start_tag(first).start
    indentation = source.indentation(start)
    apart = "" if indentation is None else source.newline + indentation
    opening = f"<fieldset>{apart}<legend>{in_text(mend.value or '')}</legend>"
    yield from around(source, first, last, opening, "</fieldset>")


def _around_all(members: list[Element]) -> tuple[Element, Element]:
    """Return the first and last of the siblings that all members stand in, their labels taken
    along."""
    held = Counter(one.index for member in members for one in (member, *member.ancestors()))
    shared = next(one for one in members[0].ancestors() if held[one.index] == len(members))
    ids = {one.get("id") for one in members if one.get("id")}
    children = list(shared.elements())
    places = [
        place
        for place, child in enumerate(children)
        if held[child.index] or (child.tag == "label" and child.get("for") in ids)
    ]
    if any(not isinstance(node, Element) and node.data.strip() for node in shared.children):
        raise CannotMend("words stand between the choices that belong to none of them")
    return children[places[0]], children[places[-1]]


def own_id_for(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Give an element an id of its own, and let what refers to it follow: what stands nearer to it
    than to others of this id, and where it is the first of them all that stands near none."""
    old = element.get("id")
    if not old:
        raise CannotMend("it has no id")
    new = mend.value or free_id(source, f"{old}-2")
    yield from set_attribute(source, element, "id", new)
    alike = source.page.document.ids.get((element.scope, old), [])
    held = Counter(one.index for other in alike for one in (other, *other.ancestors()))
    parts = {_part_of(one, held) for one in alike}
    own = _part_of(element, held)
    for one in source.page.elements:
        around = {one.index, *(ancestor.index for ancestor in one.ancestors())}
        if own in around or (element is alike[0] and not around.intersection(parts)):
            yield from _with_references(source, one, old, new)


def _part_of(element: Element, held: Counter[int]) -> int:
    """Return the index of the largest element around one that holds no other of its id; ``held``
    counts those in each."""
    part = element
    while part.parent is not None and held[part.parent.index] == 1:
        part = part.parent
    return part.index


def _with_references(source: SourcePage, one: Element, old: str, new: str) -> Carried:
    for name in _REFERENCES:
        tokens = one.get(name).split()
        before = "#" if name in ("href", "usemap") else ""
        if f"{before}{old}" in tokens:
            put = (f"{before}{new}" if token == f"{before}{old}" else token for token in tokens)
            yield from set_attribute(source, one, name, " ".join(put))


_REFERENCES = (
    *("for", "headers", "list", "form", "href", "usemap", "aria-labelledby", "aria-describedby"),
    *("aria-controls", "aria-owns", "aria-details", "aria-activedescendant", "aria-errormessage"),
    *("aria-flowto", "popovertarget"),
)


def link_past_menus(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Let the first link of the page, or the element itself, lead to its main content."""
    main = next((one for one in source.page.elements if source.page.role_of(one) == "main"), None)
    if main is None:
        raise CannotMend("the page has no main content that a link could lead to")
    identifier, edits = own_id(source, main, "main")
    yield from edits
    if mend.to == "own":
        yield from set_attribute(source, element, "href", f"#{identifier}")
        return
    if f'<a href="#{identifier}">' not in source.text:
        link = f'<a href="#{identifier}">{in_text(mend.value or "")}</a>'
        yield put_in(source, source.page.body, link)
