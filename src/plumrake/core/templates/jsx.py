"""JSX and TSX: the markup that stands among a program."""

from __future__ import annotations

import re

from plumrake.core.templates.expressions import (
    Broken,
    as_text,
    as_value,
    end_of_braces,
    end_of_string,
)
from plumrake.core.templates.marks import Masking, Template
from plumrake.core.vocabulary import VOID_ELEMENTS

_NOTE = re.compile(r"/\*.*?(?:\*/|\Z)|//[^\n]*", re.DOTALL)
_WORD = re.compile(r"[A-Za-z_$][\w$]*")
_BEGINS = re.compile(r"<(?:>|[A-Za-z_$])")
_GENERIC = re.compile(r"<[A-Za-z_$][\w$]*\s*(?:,|extends\b)")
_NAME = re.compile(r"[A-Za-z_$][\w$.:-]*")
_ATTRIBUTE = re.compile(r"[^\s=/>{}\"'<]+")
_SPACE = re.compile(r"(?:\s|/\*.*?\*/)*", re.DOTALL)
_REGEX = re.compile(r"/(?:[^/\\\n\[]|\\.|\[(?:[^\]\\\n]|\\.)*\])+/[a-z]*")
_BEFORE_VALUES = frozenset("(,=?:[{};&|!+-*%^~")
_WORDS_BEFORE_VALUES = frozenset(
    "return default case of in yield await typeof void else do".split()
)
_OTHER_NAMES = {"className": "class", "htmlFor": "for"}
_FILLS_CONTENT = frozenset(["dangerouslySetInnerHTML", "children"])
_DEEPEST = 200


def masked(text: str) -> Template:
    """Return a module by the markup in it; what breaks off is left out from there on."""
    reader = _Reader(text)
    try:
        end = reader.code(0, nested=False)
    except (Broken, RecursionError):
        end = reader.at
    reader.masking.blank(end, len(text))
    reader.masking.has_alternatives |= reader.roots > 1
    return reader.masking.done(writes_attributes_as="jsx")


class _Reader:
    """Walks through a module once, from left to right."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.masking = Masking(text)
        self.roots = 0
        self.at = 0
        """How far the text is read."""
        self._depth = 0

    def code(self, start: int, *, nested: bool) -> int:
        """Blank a program out, but for the markup in it, to its end, or to the brace that closes
        it; return where that is."""
        text, at, kept, before, depth = self.text, start, start, "", 0
        while at < len(text):
            letter = text[at]
            if letter.isspace():
                at += 1
                continue
            if (note := _NOTE.match(text, at)) is not None:
                at = note.end()
                continue
            if letter in "\"'`":
                at, before = end_of_string(text, at), "x"
                continue
            if letter == "/" and _expects_value(before) and (found := _REGEX.match(text, at)):
                at, before = found.end(), "x"
                continue
            if (word := _WORD.match(text, at)) is not None:
                at, before = word.end(), word.group()
                continue
            if letter == "<" and _expects_value(before) and self._is_markup(at):
                self.masking.blank(kept, at)
                self.roots += not nested
                at = kept = self.element(at)
                before = "x"
                continue
            if letter == "}" and nested and depth == 0:
                self.masking.blank(kept, at)
                return at
            depth += (letter == "{") - (letter == "}")
            before = "=>" if letter == ">" and before == "=" else letter
            at += 1
            if not nested:
                self.at = at
        if nested:
            raise Broken
        self.masking.blank(kept, at)
        return at

    def _is_markup(self, at: int) -> bool:
        return _BEGINS.match(self.text, at) is not None and _GENERIC.match(self.text, at) is None

    def element(self, start: int) -> int:
        """Take an element in; return the offset behind it."""
        self._depth += 1
        if self._depth > _DEEPEST:
            raise Broken
        name = _NAME.match(self.text, start + 1)
        if name is None:
            self.masking.blank(start, start + 2)
            end = self._children(start + 2, "")
        else:
            end = self._named(start, name.group(), name.end())
        self._depth -= 1
        return end

    def _named(self, start: int, name: str, at: int) -> int:
        is_component = name[0].isupper() or "." in name
        at, closed = self._attributes(at)
        if is_component:
            self.masking.fill(start, at)
        if closed:
            if not is_component and name not in VOID_ELEMENTS:
                self.masking.closed.add(start)
            return at
        return self._children(at, name) if name not in VOID_ELEMENTS else at

    def _attributes(self, at: int) -> tuple[int, bool]:
        """Take the attributes of a start tag in; return the offset behind the tag, and whether the
        tag closes its element."""
        text = self.text
        while True:
            space = _SPACE.match(text, at)
            at = space.end() if space is not None else at
            if text.startswith("/>", at):
                return at + 2, True
            if text.startswith(">", at):
                return at + 1, False
            if text.startswith("{", at):
                end = end_of_braces(text, at)
                self.masking.fill(at, end)
                at = end
                continue
            name = _ATTRIBUTE.match(text, at)
            if name is None:
                raise Broken
            at = self._value(name)

    def _value(self, name: re.Match[str]) -> int:
        """Take an attribute's value in; return the offset behind it."""
        text, at = self.text, name.end()
        other = _OTHER_NAMES.get(name.group())
        if other is not None:
            self.masking.put(name.start(), other.ljust(len(name.group())))
        sign = re.compile(r"\s*=\s*").match(text, at)
        if sign is None:
            return at
        at = sign.end()
        if text[at : at + 1] in ('"', "'"):
            end = text.find(text[at], at + 1) + 1
            if end == 0:
                raise Broken
            return end
        if text[at : at + 1] != "{":
            raise Broken
        end = end_of_braces(text, at)
        said = as_value(text[at + 1 : end - 1])
        if name.group() in _FILLS_CONTENT:
            self.masking.fill(name.start(), end)
        elif said is None:
            self.masking.fill(at, end)
        else:
            self.masking.put(at, said)
        return end

    def _children(self, at: int, name: str) -> int:
        """Take what stands in an element in, to behind its end tag."""
        text = self.text
        while at < len(text):
            if text.startswith("</", at):
                return self._end_tag(at, name)
            if text[at] == "<":
                at = self.element(at)
            elif text[at] == "{":
                at = self._child_expression(at)
            else:
                at += 1
        raise Broken

    def _end_tag(self, start: int, name: str) -> int:
        found = re.compile(r"</\s*([\w$.:-]*)\s*>").match(self.text, start)
        if found is None or found.group(1) != name:
            raise Broken
        if not name:
            self.masking.blank(*found.span())
        elif name[0].isupper() or "." in name:
            self.masking.fill(*found.span())
        return found.end()

    def _child_expression(self, start: int) -> int:
        end = end_of_braces_or_markup(self, start)
        inner = self.text[start + 1 : end - 1]
        if _NOTE.sub("", inner).strip() == "":
            self.masking.blank(start, end)
        elif (said := as_text(inner)) is not None:
            self.masking.put(start, said)
        elif not _holds_markup(inner):
            self.masking.fill(start, end)
        else:
            self.masking.blank(start, start + 1)
            self.masking.blank(end - 1, end)
            self.masking.has_alternatives |= "?" in inner
        return end


def end_of_braces_or_markup(reader: _Reader, start: int) -> int:
    """Return the offset behind an expression among text: markup in it is taken in on the way."""
    return reader.code(start + 1, nested=True) + 1


def _holds_markup(inner: str) -> bool:
    return (
        re.search(r"<(?:>|[A-Za-z])", inner) is not None and re.search(r"/>|</", inner) is not None
    )


def _expects_value(before: str) -> bool:
    return before in ("", "=>") or before in _BEFORE_VALUES or before in _WORDS_BEFORE_VALUES
