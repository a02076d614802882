"""Mends of lists: items that stand in none, lists typed by hand, strays between items."""

from __future__ import annotations

import html
import re

from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.source_page import CannotMend, SourcePage, Span
from plumrake.core.mending.writing import Carried, rename, replaced, set_attribute
from plumrake.core.typed_lists import kind_of, run_of_lines, runs_of_paragraphs


def make_list(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Make paragraphs or lines that begin with typed signs a list, and take the signs away."""
    assert mend.to is not None
    if element.tag == "p" and element.parent is not None:
        for run in runs_of_paragraphs(source.page, element.parent):
            members = [line.member for line in run if line.member is not None]
            if any(member is element for member in members):
                yield from _list_of_paragraphs(source, members, mend.to)
                return
    yield from _list_of_lines(source, element, mend.to)


def _list_of_paragraphs(source: SourcePage, members: list[Element], to: str) -> Carried:
    opening = ""
    for at, member in enumerate(members):
        start, end, sign = _sign_of(source, member)
        if at == 0:
            opening = _written(to, _numbering(to, sign))
        yield replaced(source, start, end, "")
        yield from rename(source, member, "li")
    yield from around(source, members[0], members[-1], opening, f"</{to}>")


def _sign_of(source: SourcePage, member: Element) -> tuple[int, int, str]:
    """Return the span of the sign that a paragraph begins with, the element around it that holds
    nothing else taken along, and the sign."""
    pieces = source.text_pieces(member)
    if not pieces:
        raise CannotMend("the typed sign cannot be told from the text")
    start, end = pieces[0]
    written = source.text[start:end]
    if len(pieces) == 1 or kind_of(html.unescape(f"{written} x")) is None or " " in written:
        sign = _sign(written)
        return start, start + len(sign), sign
    for inner in member.descendants():
        if inner.index in source.starts and source.content(inner) == (start, end):
            start, end = source.whole(inner)
            break
    space = len(source.text[end:]) - len(source.text[end:].lstrip())
    return start, end + space, written


def _list_of_lines(source: SourcePage, block: Element, to: str) -> Carried:
    """Make the lines of a block that begin with a sign items of a list: what parts them are the
    ``br`` between them."""
    run = run_of_lines(block)
    if not run:
        return
    breaks = [child for child in block.elements() if child.tag == "br"]
    start, end = source.content(block)
    cuts = [source.whole(one) for one in breaks]
    spans = list(
        zip([start, *(cut[1] for cut in cuts)], [*(cut[0] for cut in cuts), end], strict=True)
    )
    firsts = [_first_piece(source, span) for span in spans]
    kinds = [
        kind_of(html.unescape(source.text[slice(*piece)])) if piece is not None else None
        for piece in firsts
    ]
    at = _longest(kinds, run[0].kind, len(run))
    if at is None:
        raise CannotMend("the lines of the list are not parted by <br> alone")
    last = at + len(run) - 1
    is_p = block.tag == "p"
    sign_of = {
        place: _sign(source.text[slice(*piece)])
        for place in range(at, last + 1)
        if (piece := firsts[place]) is not None
    }
    numbering = _numbering(to, sign_of[at])
    opening = _written(to, numbering)
    if at == 0 and is_p:
        yield from rename(source, block, to)
        if numbering is not None:
            yield from set_attribute(source, block, *numbering)
        yield replaced(source, start, start, "<li>")
    elif at == 0:
        yield replaced(source, start, start, f"{opening}<li>")
    for place in range(at, last + 1):
        piece = firsts[place]
        assert piece is not None
        yield replaced(source, piece[0], piece[0] + len(sign_of[place]), "")
        if place > 0:
            before = "</li><li>" if place > at else f"{'</p>' if is_p else ''}{opening}<li>"
            yield replaced(source, *cuts[place - 1], before)
    yield from _end_of_list(source, block, to, cuts, last, at=at)


def _end_of_list(
    source: SourcePage, block: Element, to: str, cuts: list[Span], last: int, *, at: int
) -> Carried:
    _, end = source.content(block)
    is_p, is_renamed = block.tag == "p", block.tag == "p" and at == 0
    if last < len(cuts):
        yield replaced(source, *cuts[last], f"</li></{to}>{'<p>' if is_p else ''}")
        if is_renamed:
            raise CannotMend("what follows the list stands in the same paragraph")
        return
    end_tag = source.end_tag(block)
    if is_renamed:
        yield replaced(source, end, end, "</li>")
    elif is_p and end_tag is not None:
        yield replaced(source, *end_tag, f"</li></{to}>")
    else:
        yield replaced(source, end, end, f"</li></{to}>")


def _first_piece(source: SourcePage, span: Span) -> Span | None:
    """Return where the text of a line begins and ends; None for one that begins with a tag."""
    text = source.text[slice(*span)]
    begin = len(text) - len(text.lstrip())
    if begin == len(text) or text[begin] == "<":
        return None
    return span[0] + begin, span[1]


def _longest(kinds: list[str | None], kind: str, length: int) -> int | None:
    """Return where ``length`` lines of one kind begin one after the other."""
    return next(
        (
            at
            for at in range(len(kinds) - length + 1)
            if all(one == kind for one in kinds[at : at + length])
        ),
        None,
    )


_UNITS = re.compile(r"&#?\w{1,12};|.", re.DOTALL)


def _sign(raw: str) -> str:
    """Return the typed sign that a line begins with as it is written, the space after it
    included."""
    text = ""
    for unit in _UNITS.finditer(raw):
        text += html.unescape(unit.group())
        if kind_of(text) is not None:
            return raw[: unit.start()]
    raise CannotMend("the typed sign cannot be told from the text")


_COUNTED = re.compile(r"\(?(\d{1,3}|[a-zA-Z])[.)]")


def _numbering(to: str, sign: str) -> tuple[str, str] | None:
    """Return the attribute that lets a list count as its first typed sign does."""
    counted = _COUNTED.match(html.unescape(sign))
    if to != "ol" or counted is None or counted.group(1) == "1":
        return None
    first = counted.group(1)
    return ("start", str(int(first))) if first.isdigit() else ("type", "aA"[first.isupper()])


def _written(to: str, numbering: tuple[str, str] | None) -> str:
    return f"<{to}>" if numbering is None else f'<{to} {numbering[0]}="{numbering[1]}">'


def wrap_strays(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Put what stands in a list outside of its items into an item of its own."""
    for node in element.children:
        is_stray = isinstance(node, Element) and node.tag not in _IN_LISTS
        if isinstance(node, Element) and is_stray and node.index in source.starts:
            yield from around(source, node, node, f"<{mend.to}>", f"</{mend.to}>")
    inside = [source.whole(one) for one in element.elements() if one.index in source.starts]
    for start, end in source.text_pieces(element):
        if not any(first <= start < last for first, last in inside):
            yield replaced(source, start, start, f"<{mend.to}>")
            yield replaced(source, end, end, f"</{mend.to}>")


_IN_LISTS = frozenset(["li", "dt", "dd", "div", "script", "template", "style"])


def wrap(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Put an element into a new one; items go there with all of their kind beside them."""
    assert mend.to is not None
    first = last = element
    if element.tag in ("li", "dt", "dd"):
        kind = ("li",) if element.tag == "li" else ("dt", "dd")
        first, last = _run_of(element, kind)
        if element.parent is not None and element.parent.tag == mend.to:
            return
    yield from around(source, first, last, f"<{mend.to}>", f"</{mend.to}>")


def around(source: SourcePage, first: Element, last: Element, before: str, after: str) -> Carried:
    """Write something before the first and after the last of siblings: on lines of their own where
    the first begins one."""
    start, end = source.start_tag(first).start, source.whole(last)[1]
    indentation = source.indentation(start)
    apart = "" if indentation is None else source.newline + indentation
    yield replaced(source, start, start, before + apart)
    yield replaced(source, end, end, apart + after, closes=start)


def _run_of(element: Element, tags: tuple[str, ...]) -> tuple[Element, Element]:
    """Return the first and the last of the elements of some kinds that stand together around
    one."""
    assert element.parent is not None
    nodes = [
        node for node in element.parent.children if isinstance(node, Element) or node.data.strip()
    ]
    at = next(place for place, node in enumerate(nodes) if node is element)
    first = last = element
    for node in reversed(nodes[:at]):
        if not isinstance(node, Element) or node.tag not in tags:
            break
        first = node
    for node in nodes[at + 1 :]:
        if not isinstance(node, Element) or node.tag not in tags:
            break
        last = node
    return first, last
