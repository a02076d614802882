"""Expressions in braces, as Svelte and JSX have them."""

from __future__ import annotations

import re

_LITERAL = re.compile(
    r"""\s*(?:"([^"\\{}]*)"|'([^'\\{}]*)'|`([^`\\{}$]*)`|(true|false|-?\d+(?:\.\d+)?))\s*"""
)
_NOTE = re.compile(r"/\*.*?(?:\*/|\Z)|//[^\n]*", re.DOTALL)


class Broken(ValueError):
    """The text breaks off, as it does while somebody types."""


def end_of_braces(text: str, start: int) -> int:
    """Return the offset behind the brace that closes the one at ``start``; strings, comments and
    template literals are passed over. Raises ``Broken``."""
    depth, at = 0, start
    while at < len(text):
        letter = text[at]
        if letter in "\"'`":
            at = end_of_string(text, at)
            continue
        if (note := _NOTE.match(text, at)) is not None:
            at = note.end()
            continue
        depth += (letter == "{") - (letter == "}")
        at += 1
        if depth == 0:
            return at
    raise Broken


def end_of_string(text: str, start: int) -> int:
    """Return the offset behind a string or template literal. Raises ``Broken``."""
    quote, at = text[start], start + 1
    while at < len(text):
        letter = text[at]
        if letter == "\\":
            at += 2
            continue
        if letter == quote:
            return at + 1
        if letter == "\n" and quote != "`":
            raise Broken
        if quote == "`" and text.startswith("${", at):
            at = end_of_braces(text, at + 1)
            continue
        at += 1
    raise Broken


def literal(inner: str) -> str | None:
    """Return what an expression says where it is a string, a number or a truth value; else None."""
    found = _LITERAL.fullmatch(inner)
    if found is None:
        return None
    return next(one for one in found.groups() if one is not None)


def as_value(inner: str) -> str | None:
    """Return the literal of an expression in braces as the value of an attribute in HTML, as long
    as the expression with its braces; None where it is none."""
    said = literal(inner)
    if said is None:
        return None
    quote = "'" if '"' in said else '"'
    stripped = inner.strip()
    if stripped[:1] in "\"'`":
        written = f"{quote}{said}{quote}"
    elif said and len(inner) + 2 >= len(said):
        written = said
    else:
        return None
    at = inner.index(stripped) + 1
    return f"{' ' * at}{written}".ljust(len(inner) + 2)


def as_text(inner: str) -> str | None:
    """Return the literal of an expression in braces as text, as long as it with its braces; None
    where it is none, or nothing that text may hold."""
    said = literal(inner)
    if said is None or "<" in said or "&" in said:
        return None
    return f"{' ' * (inner.index(inner.strip()) + 1)} {said}".ljust(len(inner) + 2)[
        : len(inner) + 2
    ]
