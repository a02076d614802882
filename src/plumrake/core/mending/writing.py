"""How what a mend brings is written: attributes, texts, tags, in the manner of what stands around
it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import tinycss2

from plumrake.core.dom import Element
from plumrake.core.html_source import Attribute, Lines, StartTag
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.source_page import SourcePage

Carried = Iterator[Edit]
"""The edits that carry a mend out, as they are found."""
_NEEDS_QUOTES = re.compile(r"""[\s"'=<>`]|^$|/$""")


def in_text(words: str) -> str:
    """Return words as they are written in running text."""
    return words.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def in_quotes(value: str, quote: str) -> str:
    """Return an attribute's value as it is written between quotation marks."""
    written = value.replace("&", "&amp;")
    return written.replace(quote, "&quot;" if quote == '"' else "&#39;")


def set_attribute(source: SourcePage, element: Element, name: str, value: str) -> Iterator[Edit]:
    """Set an attribute: an old value is replaced as it is quoted, a new one written behind the
    others. Nothing where it has the value."""
    tag = source.start_tag(element)
    old = tag.attribute(name)
    if old is None:
        yield _added(source, tag, name, value)
        return
    if element.attributes.get(name) == value:
        return
    if old.quote:
        span, text = (old.value_start, old.value_end), in_quotes(value, old.quote)
    elif old.has_value and not _NEEDS_QUOTES.search(value) and "&" not in value:
        span, text = (old.value_start, old.value_end), value
    else:
        quote = _quote_of(tag)
        span = (old.value_start, old.value_end) if old.has_value else (old.start, old.end)
        text = f"{quote}{in_quotes(value, quote)}{quote}"
        text = text if old.has_value else f"{source.text[old.start : old.end]}={text}"
    yield replaced(source, *span, text, subject=_subject(tag, name))


def remove_attribute(source: SourcePage, element: Element, name: str) -> Iterator[Edit]:
    """Take an attribute away, with the white space before it."""
    tag = source.start_tag(element)
    for old in tag.attributes:
        if old.name == name:
            yield _without(source, tag, old)


def _without(source: SourcePage, tag: StartTag, old: Attribute) -> Edit:
    before = source.text[tag.name_end : old.start]
    start = tag.name_end + len(before.rstrip())
    rest = source.text[old.end : old.end + 1]
    # what follows without a space would grow together with what stands before
    keeps = start + (
        1 if start < old.start and rest and not rest.isspace() and rest not in "/>" else 0
    )
    return replaced(source, keeps, old.end, "", subject=_subject(tag, old.name))


def _added(source: SourcePage, tag: StartTag, name: str, value: str) -> Edit:
    at = tag.attributes[-1].end if tag.attributes else tag.name_end
    written = source.text[tag.start + 1 : tag.name_end]
    name = name.upper() if written.isupper() else name
    quote = _quote_of(tag)
    text = f" {name}={quote}{in_quotes(value, quote)}{quote}"
    return replaced(source, at, at, text, subject=_subject(tag, name.lower()))


def _quote_of(tag: StartTag) -> str:
    single = sum(one.quote == "'" for one in tag.attributes)
    return "'" if single > sum(one.quote == '"' for one in tag.attributes) else '"'


def _subject(tag: StartTag, name: str) -> str:
    return f"{tag.start}/{name}"


def replaced(
    source: SourcePage, start: int, end: int, text: str, *, subject: str = "", closes: int = -1
) -> Edit:
    """Return the edit that puts a text where a span of the source stands."""
    return Edit(start, end, text, source.text[start:end], subject, closes)


def rename(source: SourcePage, element: Element, to: str) -> Iterator[Edit]:
    """Rename an element in both its tags. Where the end tag is left out, the new element's is
    written, unless it may be left out as well."""
    tag = source.start_tag(element)
    if tag.name == to:
        return
    written = source.text[tag.start + 1 : tag.name_end]
    new = to.upper() if written.isupper() else to
    yield replaced(source, tag.start + 1, tag.name_end, new, subject=_subject(tag, "<"))
    end_tag = source.end_tag(element)
    if end_tag is not None:
        start = end_tag[0] + 2
        yield replaced(source, start, start + len(written), new)
    elif not any({tag.name, to} <= family for family in _MAY_END_ALIKE):
        _, end = source.content(element)
        yield replaced(source, end, end, f"</{new}>", closes=tag.start)


_MAY_END_ALIKE = (frozenset(["td", "th"]), frozenset(["dt", "dd"]))
"""Elements whose end tags may be left out at the same places."""


def put_in(source: SourcePage, element: Element, html: str, *, last: bool = False) -> Edit:
    """Return the edit that writes HTML as the first (or last) thing in an element, on a line of its
    own where what stands there is."""
    start, end = source.content(element)
    at = end if last else start
    if last:
        return replaced(source, at, at, html)
    inside = source.text[start:end]
    first = re.match(r"(?:\r\n|\r|\n)[ \t]*(?=\S)", inside)
    return replaced(source, at, at, f"{first.group()}{html}" if first is not None else html)


def put_before(source: SourcePage, element: Element, html: str, *, between: str = " ") -> Edit:
    """Return the edit that writes HTML before an element: on a line of its own where the element
    begins one, else with ``between`` in between."""
    at = source.start_tag(element).start
    indentation = source.indentation(at)
    apart = between if indentation is None else source.newline + indentation
    return replaced(source, at, at, html + apart)


def put_after(source: SourcePage, element: Element, html: str) -> Edit:
    """Return the edit that writes HTML after an element."""
    start, end = source.whole(element)
    indentation = source.indentation(start)
    apart = "" if indentation is None else source.newline + indentation
    return replaced(source, end, end, apart + html)


def remove(source: SourcePage, element: Element) -> Edit:
    """Return the edit that takes an element away, with its line where it stands alone there."""
    start, end = source.whole(element)
    line = re.match(r"[ \t]*(\r\n|\r|\n)", source.text[end:])
    indentation = source.indentation(start)
    if indentation is not None and line is not None:
        start, end = start - len(indentation), end + line.end()
    return replaced(source, start, end, "")


def free_id(source: SourcePage, wanted: str) -> str:
    """Return an id that the page has not yet, made of words."""
    stem = re.sub(r"[^a-z0-9]+", "-", wanted.lower()).strip("-") or "part"
    stem = stem if stem[0].isalpha() else f"part-{stem}"
    taken = {one.get("id") for one in source.page.elements}
    number = 1
    while (name := stem if number == 1 else f"{stem}-{number}") in taken:
        number += 1
    return name


def own_id(source: SourcePage, element: Element, wanted: str) -> tuple[str, list[Edit]]:
    """Return an element's id, and the edits that give it one where it has none."""
    if identifier := element.get("id"):
        return identifier, []
    identifier = free_id(source, wanted)
    return identifier, list(set_attribute(source, element, "id", identifier))


def set_declaration(source: SourcePage, element: Element, name: str, value: str) -> Iterator[Edit]:
    """Set a declaration in an element's ``style`` attribute; the others stay as they are. Raises
    ``CannotMend``."""
    old = element.get("style")
    tag = source.start_tag(element)
    written = tag.attribute("style")
    spans = declarations(old)
    own = next((span for span in reversed(spans) if span.name == name), None)
    if own is not None and own.value == value:
        return
    if own is None:
        stem = old.rstrip()
        apart = "" if not stem else (" " if stem.endswith(";") else "; ")
        new = f"{stem}{apart}{name}: {value}"
    else:
        new = f"{old[: own.start]}{value}{old[own.end :]}"
    raw = source.text[written.value_start : written.value_end] if written is not None else ""
    if written is None or raw != old:
        yield from set_attribute(source, element, "style", new)
    elif own is not None and written.quote:
        at, text = written.value_start, in_quotes(value, written.quote)
        yield replaced(source, at + own.start, at + own.end, text, subject=f"{at}/{name}")
    elif written.quote:
        at = written.value_start + len(old.rstrip())
        text = in_quotes(new[len(old.rstrip()) :], written.quote)
        yield replaced(source, at, at, text, subject=f"{at}/{name}")
    else:
        yield from set_attribute(source, element, "style", new)


@dataclass(frozen=True, slots=True)
class Declaration:
    """A declaration in a style: its name, its value without ``!important``, and where the value
    stands."""

    name: str
    value: str
    start: int
    end: int
    is_important: bool


def declarations(style: str) -> list[Declaration]:
    """Return the declarations of a ``style`` attribute (CSS Syntax 3, 5.4.5), as far as their
    values are written as they are read."""
    return declarations_in(style, style, Lines(style))


def declarations_in(content: Any, text: str, lines: Lines) -> list[Declaration]:
    """Return the declarations of a block (as text, or as tokens of one) that stands in a text."""
    found: list[Declaration] = []
    for one in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if one.type != "declaration":
            continue
        tokens = [token for token in one.value if token.type not in ("whitespace", "comment")]
        value = tinycss2.serialize(one.value).strip()
        start = lines.offset(tokens[0].source_line, tokens[0].source_column) if tokens else -1
        if start >= 0 and text.startswith(value, start):
            end = start + len(value)
            found.append(Declaration(one.lower_name, value, start, end, bool(one.important)))
    return found
