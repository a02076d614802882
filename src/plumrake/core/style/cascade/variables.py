"""Custom properties and ``var()`` (CSS Custom Properties 1): put in, circles found, growth
bounded."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import Any

from tinycss2 import parse_component_value_list, serialize

from plumrake.core.style.cascade.lengths import CannotTell

MOST_LENGTH = 20_000
"""A value that grows beyond so many characters is invalid: variables that double would not end."""
_MOST_NESTED = 40
_MOST_STEPS = 2_000
Look = Callable[[str], str | None]


_CONDITIONAL = re.compile(r"(?<![\w-])if\(")


class Invalid(ValueError):
    """The value is invalid at computed-value time."""


def has_variables(text: str) -> bool:
    """Tell whether something has to be put in before a value is known."""
    lowered = text.lower()
    return "var(" in lowered or "env(" in lowered or _CONDITIONAL.search(lowered) is not None


def substituted(text: str, look: Look) -> str:
    """Return a value with what its variables stand for; ``look`` gives a custom property's value,
    or None. Raises ``Invalid``, and ``CannotTell`` for what is not understood here."""
    return _Substitution(look).of(text)


class _Substitution:
    """One value's substitution, its steps counted."""

    def __init__(self, look: Look) -> None:
        self._look = look
        self._steps = 0

    def of(self, text: str) -> str:
        found = self._put_in(parse_component_value_list(text), 0)
        if len(found) > MOST_LENGTH:
            raise Invalid
        return found

    def _put_in(self, tokens: list[Any], depth: int) -> str:
        self._steps += len(tokens)
        if depth > _MOST_NESTED or self._steps > _MOST_STEPS * 10:
            raise Invalid
        parts: list[str] = []
        size = 0
        for token in tokens:
            part = self._token(token, depth)
            size += len(part)
            if size > MOST_LENGTH:
                raise Invalid
            parts.append(part)
        return "".join(parts)

    def _token(self, token: Any, depth: int) -> str:
        if token.type == "function":
            if token.lower_name == "var":
                return self._var(token.arguments, depth)
            if token.lower_name == "env":
                return self._env(token.arguments, depth)
            if token.lower_name == "if":
                raise CannotTell("if()")
            return f"{token.name}({self._put_in(token.arguments, depth + 1)})"
        if token.type in _BLOCKS:
            around = _BLOCKS[token.type]
            return f"{around[0]}{self._put_in(token.content, depth + 1)}{around[1]}"
        if token.type == "comment":
            return " "
        return str(serialize([token]))

    def _var(self, arguments: list[Any], depth: int) -> str:
        name, fallback = _name_and_fallback(arguments)
        if not name.startswith("--"):
            raise Invalid
        value = self._look(name)
        if value is not None:
            return f" {value} "
        if fallback is None:
            raise Invalid
        return self._put_in(fallback, depth + 1)

    def _env(self, arguments: list[Any], depth: int) -> str:
        name, fallback = _name_and_fallback(arguments)
        if name.startswith(("safe-area-inset-", "keyboard-inset-")):
            return "0px"
        if fallback is None:
            raise Invalid
        return self._put_in(fallback, depth + 1)


_BLOCKS = {"() block": "()", "[] block": "[]", "{} block": "{}"}


def _name_and_fallback(arguments: list[Any]) -> tuple[str, list[Any] | None]:
    comma = next(
        (at for at, one in enumerate(arguments) if one.type == "literal" and one.value == ","), None
    )
    named = arguments[:comma] if comma is not None else arguments
    names = [str(one.value) for one in named if one.type == "ident"]
    return (names or [""])[0], arguments[comma + 1 :] if comma is not None else None


def resolved_customs(
    inherited: Mapping[str, str], declared: Mapping[str, str], kept_out: frozenset[str]
) -> dict[str, str]:
    """Return an element's custom properties, their own variables put in; a property in a circle, or
    with a variable that is not there, has no value (CSS Custom Properties 1, 2.3 and 3).

    ``kept_out`` are inherited ones that do not come down (``initial``, or registered so).
    """
    found = {name: value for name, value in inherited.items() if name not in kept_out}
    for name in declared:
        found.pop(name, None)
    open_now: list[str] = []
    circular: set[str] = set()
    done: set[str] = set()

    def look(name: str) -> str | None:
        if name in declared and name not in done:
            if name in open_now:
                circular.update(open_now[open_now.index(name) :])
                return None
            work_out(name)
        return None if name in circular else found.get(name)

    def work_out(name: str) -> None:
        if len(open_now) > _MOST_NESTED:
            raise Invalid
        open_now.append(name)
        try:
            text = declared[name]
            value = substituted(text, look) if has_variables(text) else text
            if name not in circular:
                found[name] = value.strip()
        except Invalid:
            pass
        finally:
            open_now.pop()
            done.add(name)

    for name in declared:
        if name not in done:
            work_out(name)
    for name in circular:
        found.pop(name, None)
    return found
