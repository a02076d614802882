"""Mends of content made of blocks: what a block's comment says and its HTML change together, so
that the editor takes the block for what it wrote itself. What would not be is refused.

What is allowed was tried with the editor's own parser: see ``tests/wordpress/test_editor.py``.
"""

from __future__ import annotations

import contextlib
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from typing import Any, Final

from plumrake.core.blocks import Block, block_title, written_attributes
from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.blocks import BlockPage
from plumrake.core.mending.carrying_out import edits_of as edits_of_html
from plumrake.core.mending.carrying_out import target_of
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.source_page import CannotMend, Span
from plumrake.core.mending.words import alike, whole_word
from plumrake.core.mending.writing import declarations, in_text
from plumrake.core.typed_lists import kind_of

_RICH: Final = frozenset(
    "paragraph heading list-item button verse preformatted pullquote quote list".split()
)
"""Blocks whose text is kept as it is written between the tags of their element."""
_INSIDE: Final = frozenset("figcaption td th cite".split())
"""Elements inside of blocks whose text is kept as it is written."""
_FREE: Final = frozenset(["core/html", "core/freeform"])
_COLOURED: Final = frozenset(["paragraph", "heading"])
_PRESETS: Final = {
    "color": ("textColor", "text", "has-{}-color", "has-text-color"),
    "background-color": (
        "backgroundColor",
        "background",
        "has-{}-background-color",
        "has-background",
    ),
}
"""By property: the attribute that names a colour of the theme, the one that holds another, and the
classes that go with them."""
_SPOILS = "the editor would not take the block for its own any more"


Carrier = Callable[[BlockPage, Block, Element, Mend], Iterator[Edit]]


def edits_in_blocks(page: BlockPage, element: Element, mend: Mend) -> tuple[Edit, ...]:
    """Return the edits of the content that carry a mend out so that the block stays the editor's
    own. Raises ``CannotMend``."""
    element = target_of(page.html, element, mend)
    mend = replace(mend, target=None)
    if mend.kind == "replace-word":
        return tuple(_word(page, mend))
    block = page.block_of(element)
    if block is None or block.name in _FREE:
        return edits_of_html(page.html, element, mend)
    if mend.asks:
        raise CannotMend("a person has to write what stands there")
    carrier = _CARRIERS.get((block.name.removeprefix("core/"), mend.kind), _only_text)
    return tuple(carrier(page, block, element, mend))


def _keeps(page: BlockPage, block: Block, edit: Edit) -> bool:
    """Tell whether an edit stays within what the editor keeps as it is written."""
    root = page.root(block)
    is_rich = block.name.removeprefix("core/") in _RICH
    for element in page.elements_of(block):
        if element.tag in _INSIDE or (is_rich and root in (element, element.parent)):
            with contextlib.suppress(CannotMend):
                start, end = page.html.content(element)
                if start <= edit.start and edit.end <= end:
                    return True
    return False


def _word(page: BlockPage, mend: Mend) -> Iterator[Edit]:
    """Put another word for one wherever it stands in what the editor keeps as it is written. Raises
    ``CannotMend``."""
    wanted = whole_word(in_text(mend.to or ""))
    done: set[Span] = set()
    for block in (one for top in page.blocks for one in top.walk()):
        for element in page.elements_of(block):
            for start, end in _pieces(page, element):
                for match in wanted.finditer(page.text[start:end]):
                    span = start + match.start(), start + match.end()
                    text = in_text(alike(match.group(), mend.value or ""))
                    edit = page.replaced(*span, text)
                    if span not in done and _keeps(page, block, edit):
                        done.add(span)
                        yield edit
    if not done:
        raise CannotMend(f"“{mend.to}” is not written in one piece")


def _pieces(page: BlockPage, element: Element) -> list[Span]:
    try:
        return page.html.text_pieces(element)
    except CannotMend:
        return []


def _alt(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Set the text of a picture, written as the editor writes it."""
    if element.tag != "img":
        yield from _only_text(page, block, element, mend)
        return
    if mend.kind == "set-attribute" and mend.attribute != "alt":
        raise CannotMend(f"{_SPOILS}: pictures have no {mend.attribute} in the editor")
    value = "" if mend.kind == "mark-decorative" else mend.value or ""
    tag = page.html.start_tag(element)
    old = tag.attribute("alt")
    written = value.replace("&", "&amp;").replace('"', "&quot;")
    written = written.replace(">", "&gt;")
    if old is None:
        yield page.replaced(tag.name_end, tag.name_end, f' alt="{written}"')
    elif element.get("alt") != value:
        start, end = (old.value_start, old.value_end) if old.quote else (old.start, old.end)
        yield page.replaced(start, end, written if old.quote else f'alt="{written}"')


def _only_text(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    edits = edits_of_html(page.html, element, mend)
    if not all(_keeps(page, block, edit) for edit in edits):
        raise CannotMend(
            f"{_SPOILS}: change it in the settings of the {block_title(block.name)} block"
        )
    yield from edits


def _level(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Give a heading another level, in its comment and its tags together."""
    if element is not page.root(block) or not re.fullmatch(r"h[1-6]", mend.to or ""):
        if element is page.root(block) and mend.to == "p":
            yield from _as_block(page, block, element, "paragraph", "p", {})
            return
        raise CannotMend(f"{_SPOILS}: a heading can only become another level, or a paragraph")
    level = int((mend.to or "h2")[1])
    yield from page.with_attributes(block, level=None if level == 2 else level)
    yield from edits_of_html(page.html, element, mend)


def _as_block(
    page: BlockPage, block: Block, element: Element, name: str, tag: str, kept: Mapping[str, Any]
) -> Iterator[Edit]:
    """Put another block in a block's place, with the text that its element has."""
    start, end = page.html.content(element)
    words = page.text[start:end].strip()
    yield page.replaced(block.start, block.end, _block(name, kept, f"<{tag}>{words}</{tag}>"))


def _block(name: str, attributes: Mapping[str, Any], html: str) -> str:
    given = f" {written_attributes(attributes)}" if attributes else ""
    return f"<!-- wp:{name}{given} -->\n{html}\n<!-- /wp:{name} -->"


def _heading(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Make a paragraph that is one bold line a heading block."""
    if not re.fullmatch(r"h[1-6]", mend.to or ""):
        raise CannotMend(f"{_SPOILS}: a paragraph can only become a heading")
    root = page.root(block)
    if element not in (root, *root.descendants()):
        raise CannotMend("the paragraph is not one bold line")
    start, end = page.html.content(root)
    words = page.text[start:end].strip()
    bold = re.fullmatch(r"<(strong|b)\b[^>]*>(.*)</\1>", words, re.S)
    words = (
        bold.group(2) if bold is not None and "</" + bold.group(1) not in bold.group(2) else words
    )
    level = int((mend.to or "h2")[1])
    attributes = {} if level == 2 else {"level": level}
    html = f"<h{level}>{words}</h{level}>"
    yield page.replaced(block.start, block.end, _block("heading", attributes, html))


def _list(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Make lines or paragraphs that begin with typed signs a list block."""
    members = _typed_run(page, block)
    if len(members) > 1:
        items = [
            _after_sign(page.text[slice(*page.html.content(page.root(one)))]) for one in members
        ]
    else:
        inside = page.text[slice(*page.html.content(page.root(block)))]
        lines = [line for line in re.split(r"<br\s*/?>", inside) if line.strip()]
        items = [_after_sign(line) for line in lines]
    if len(items) < 2 or any(item is None for item in items):
        raise CannotMend("the lines of the list are not parted by line breaks alone")
    ordered = mend.to == "ol"
    attributes = {"ordered": True} if ordered else {}
    tag = "ol" if ordered else "ul"
    made = "\n\n".join(_block("list-item", {}, f"<li>{item}</li>") for item in items)
    html = f"<{tag}>{made}</{tag}>"
    yield page.replaced(members[0].start, members[-1].end, _block("list", attributes, html))


def _typed_run(page: BlockPage, block: Block) -> list[Block]:
    """Return the paragraph blocks that stand together around one and begin with a sign."""
    siblings = _siblings(page.blocks, block)
    at = siblings.index(block)

    def is_typed(one: Block) -> bool:
        if one.name != "core/paragraph":
            return False
        return _after_sign(page.inside(one)) is not None

    first = last = at
    while first > 0 and is_typed(siblings[first - 1]):
        first -= 1
    while last + 1 < len(siblings) and is_typed(siblings[last + 1]):
        last += 1
    return list(siblings[first : last + 1])


def _siblings(blocks: tuple[Block, ...], block: Block) -> tuple[Block, ...]:
    if block in blocks:
        return blocks
    for one in blocks:
        if one.start <= block.start < one.end:
            return _siblings(one.children, block)
    return (block,)


_SIGN = re.compile(r"\s*(\S{1,6})(?:\s|&nbsp;)+(?=\S)")


def _after_sign(html: str) -> str | None:
    """Return what follows the typed sign that a line begins with; None where it has none."""
    match = _SIGN.match(html)
    if match is None or kind_of(f"{match.group(1)} x") is None:
        return None
    return html[match.end() :].strip()


def _table_head(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Make the first row the table's header section, as the editor's switch does."""
    if mend.to not in ("row", None):
        raise CannotMend(f"{_SPOILS}: its tables have a header section, but no header column")
    table = element if element.tag == "table" else _up(element, "table")
    if any(one.tag == "thead" for one in table.descendants()):
        raise CannotMend("the table has a header section already")
    body = next((one for one in table.elements() if one.tag == "tbody"), None)
    row = next((one for one in (body or table).elements() if one.tag == "tr"), None)
    if body is None or row is None or body.index not in page.html.starts:
        raise CannotMend("the table has no rows that could be told apart")
    cells = [
        re.sub(
            r"^<td\b", "<th", re.sub(r"</td>$", "</th>", page.text[slice(*page.html.whole(one))])
        )
        for one in row.elements()
        if one.tag in ("td", "th")
    ]
    head = f"<thead><tr>{''.join(cells)}</tr></thead>"
    at = page.html.start_tag(body).start
    yield page.replaced(at, at, head)
    yield page.replaced(*page.html.whole(row), "")


def _up(element: Element, tag: str) -> Element:
    found = next((one for one in element.ancestors() if one.tag == tag), None)
    if found is None:
        raise CannotMend(f"there is no <{tag}> around it")
    return found


def _table_caption(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Write a table's caption where the editor has it: below, as the figure's."""
    if mend.to != "caption":
        raise CannotMend(f"{_SPOILS}: nothing else can be written into its tables")
    table = element if element.tag == "table" else _up(element, "table")
    figure = page.root(block)
    if any(one.tag == "figcaption" for one in figure.elements()):
        raise CannotMend("the table has a caption already")
    at = page.html.whole(table)[1]
    words = in_text(mend.value or "")
    caption = f'<figcaption class="wp-element-caption">{words}</figcaption>'
    yield page.replaced(at, at, caption)


def _scopes(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    for edit in edits_of_html(page.html, element, mend):
        if 'scope="col"' not in edit.text:
            raise CannotMend(f"{_SPOILS}: its header cells can only head columns")
        yield edit


def _colours(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Give a paragraph or heading colours of its own, in its comment, its style and its classes
    together."""
    kind = block.name.removeprefix("core/")
    root = page.root(block)
    wanted = (
        {"color": mend.value, "background-color": mend.to}
        if mend.kind == "set-colours"
        else {mend.property: mend.value}
    )
    if element is not root:
        yield from _only_text(page, block, element, mend)
        return
    if kind not in _COLOURED or not set(wanted) <= set(_PRESETS):
        raise CannotMend(f"{_SPOILS}: change it in the block's own settings")
    style = dict(block.attributes.get("style") or {})
    colours = dict(style.get("color") or {})
    changed: dict[str, Any] = {}
    classes = root.get("class").split()
    for name, value in wanted.items():
        preset, own, of_preset, plain = _PRESETS[name or ""]
        slug = block.attributes.get(preset)
        if slug:
            changed[preset] = None
            classes = [one for one in classes if one != of_preset.format(slug)]
        colours[own] = value
        if plain not in classes:
            classes.append(plain)
    style["color"] = colours
    yield from page.with_attributes(block, **changed, style=style)
    have = {one.name: one.value for one in declarations(root.get("style"))}
    new = {"color": colours.get("text"), "background-color": colours.get("background")}
    kept = {name: value for name, value in have.items() if name not in new}
    declared = {**{name: value for name, value in new.items() if value}, **kept}
    attributes = {
        "class": " ".join(classes),
        "style": ";".join(f"{name}:{value}" for name, value in declared.items()),
    }
    yield from _tag_with(page, root, attributes)


def _tag_with(page: BlockPage, element: Element, wanted: Mapping[str, str]) -> Iterator[Edit]:
    """Write a start tag anew: its other attributes as they are, these last, in this order."""
    tag = page.html.start_tag(element)
    kept = [page.text[one.start : one.end] for one in tag.attributes if one.name not in wanted]
    own = [f'{name}="{value}"' for name, value in wanted.items() if value]
    yield page.replaced(tag.start, tag.end, f"<{' '.join([element.tag, *own, *kept])}>")


def _remove(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    """Take the whole block away, where the element is all of it."""
    if element is not page.root(block):
        yield from _only_text(page, block, element, mend)
        return
    after = re.match(r"\s*\n", page.text[block.end :])
    end = block.end + (after.end() if after is not None else 0)
    yield page.replaced(block.start, end, "")


def _button_text(page: BlockPage, block: Block, element: Element, mend: Mend) -> Iterator[Edit]:
    link = (
        element
        if element.tag == "a"
        else next((one for one in element.descendants() if one.tag == "a"), element)
    )
    if mend.kind == "set-attribute" and mend.attribute not in ("href", "title"):
        raise CannotMend(f"{_SPOILS}: buttons have no {mend.attribute} in the editor")
    yield from edits_of_html(page.html, link, mend)


_WITH_PICTURES = ("image", "cover", "media-text", "gallery")
_CARRIERS: dict[tuple[str, str], Carrier] = {
    **{
        (name, kind): _alt
        for name in _WITH_PICTURES
        for kind in ("set-attribute", "mark-decorative", "say-with-text")
    },
    ("heading", "rename-element"): _level,
    ("paragraph", "rename-element"): _heading,
    ("paragraph", "make-list"): _list,
    ("table", "head-table"): _table_head,
    ("table", "insert"): _table_caption,
    ("table", "set-scopes"): _scopes,
    **{
        (name, kind): _colours
        for name in ("paragraph", "heading", "button", "list", "cover", "group")
        for kind in ("set-style", "set-colours")
    },
    **{(name, "remove-element"): _remove for name in ("paragraph", "heading", "button", "list")},
    **{("button", kind): _button_text for kind in ("replace-text", "set-attribute")},
}
