"""Declarations (CSS Syntax 3, 5.4): those of the properties that are asked for, each a longhand, a
custom property, or a longhand that waits for the variables of its shorthand."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import Any, NamedTuple

from tinycss2 import parse_blocks_contents, serialize

from plumrake.core.style.cascade.properties import ALIASES, PROPERTIES, is_taken
from plumrake.core.style.cascade.shorthands import SHORTHANDS, NotTaken, expanded
from plumrake.core.style.cascade.variables import MOST_LENGTH, has_variables


class Declaration(NamedTuple):
    """A property (a longhand, or a custom one) and its value as written. Where ``shorthand`` is not
    ``""``, the value is that shorthand's, and has variables."""

    name: str
    value: str
    is_important: bool = False
    shorthand: str = ""


def declarations_of(nodes: Iterable[Any]) -> Iterator[Declaration]:
    """Yield the declarations among parsed nodes, in order; what no browser takes is left out."""
    for node in nodes:
        if node.type == "declaration":
            yield from _declared(node)


@lru_cache(maxsize=4096)
def inline(style: str) -> tuple[Declaration, ...]:
    """Return the declarations of a ``style`` attribute (CSS Style Attributes)."""
    try:
        nodes = parse_blocks_contents(style, skip_comments=True, skip_whitespace=True)
        return tuple(declarations_of(nodes))
    except RecursionError:
        return ()


def set_to(name: str, text: str) -> Iterator[Declaration]:
    """Yield what setting a property (a shorthand too) to a text declares; nothing where a browser
    does not take it."""
    name = ALIASES.get(name, name)
    if name in SHORTHANDS:
        try:
            for longhand, value in expanded(name, text).items():
                yield Declaration(longhand, _kept(longhand, value))
        except NotTaken:
            return
    elif name in PROPERTIES and is_taken(name, _kept(name, text)):
        yield Declaration(name, _kept(name, text))


def _declared(node: Any) -> Iterator[Declaration]:
    important = bool(node.important)
    if node.name.startswith("--"):
        text = str(serialize(node.value)).strip()
        if len(text) <= MOST_LENGTH:
            yield Declaration(node.name, text, important)
        return
    name = ALIASES.get(node.lower_name, node.lower_name)
    if name not in PROPERTIES and name not in SHORTHANDS:
        return
    text = str(serialize(node.value)).strip()
    if len(text) > MOST_LENGTH:
        return
    if has_variables(text):
        if name in PROPERTIES:
            yield Declaration(name, text, important)
        else:
            for longhand in SHORTHANDS[name]:
                yield Declaration(longhand, text, important, name)
        return
    for one in set_to(name, text):
        yield one._replace(is_important=important)


def _kept(name: str, text: str) -> str:
    return text if PROPERTIES[name].keeps_case else text.lower()
