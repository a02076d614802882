"""No regular expression of ours takes more than about four times as long over four times as much of
anything: tried on strings made from each one's own alphabet."""

from __future__ import annotations

import ast
import importlib
import pkgutil
import re
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

import plumrake

COUNT = 2_000
MOST = 8.5
TRIES = 4
LEAST_SECONDS = 0.002
MOST_LETTERS = 9
NOT_STRANGERS = ("plumrake.demo", "plumrake.cli", "plumrake.client", "plumrake.records")
"""What reads only our own texts."""
BOUNDED = {"plumrake.core.written._NO_WORD.sub"}
"""Looks at no run of more than 200 letters: longer ones are taken out first."""
METHODS = ("search", "match", "fullmatch", "findall", "finditer", "split", "sub")


def modules() -> Iterator[tuple[str, str]]:
    """Yield the name and the source of every module that may see a stranger's text."""
    for found in pkgutil.walk_packages(plumrake.__path__, "plumrake."):
        if not found.name.startswith(NOT_STRANGERS) and not found.name.endswith("__main__"):
            place = importlib.util.find_spec(found.name)
            assert place is not None
            assert place.origin is not None
            yield found.name, Path(place.origin).read_text(encoding="utf-8")


def patterns() -> dict[str, tuple[re.Pattern[str], str]]:
    """Return every pattern with how it is used, by where it stands."""
    found: dict[str, tuple[re.Pattern[str], str]] = {}
    for name, source in modules():
        if not re.search(r"\bre\.[a-z]", source):
            continue
        module = importlib.import_module(name)
        for variable, value in vars(module).items():
            if isinstance(value, re.Pattern) and isinstance(value.pattern, str):
                for method in METHODS:
                    place = f"{name}.{variable}.{method}"
                    is_used = re.search(rf"\b{variable}\.{method}\(", source) is not None
                    if is_used and place not in BOUNDED:
                        found[place] = value, method
        for node in ast.walk(ast.parse(source)):
            if (
                isinstance(node, ast.Call)
                and isinstance(node.func, ast.Attribute)
                and isinstance(node.func.value, ast.Name)
                and node.func.value.id == "re"
                and node.func.attr in METHODS
                and isinstance(node.args[0], ast.Constant)
                and isinstance(node.args[0].value, str)
            ):
                compiled = re.compile(node.args[0].value, re.IGNORECASE)
                found[f"{name}:{node.lineno}.{node.func.attr}"] = compiled, node.func.attr
    return found


PATTERNS = patterns()


def alphabet(pattern: str) -> list[str]:
    """Return letters that a pattern may tell apart: those written in it, and one of each class."""
    classes = {r"\w": "a", r"\s": " ", r"\d": "1", r"\S": "x", r"\W": "-", ".": "y"}
    letters = [letter for written, letter in classes.items() if written in pattern]
    plain = re.sub(r"\\[a-zA-Z]|\(\?[:=!<P]+|[{}\[\]()|?*+^$\\]", " ", pattern)
    letters += [letter for letter in plain if not letter.isspace()]
    return list(dict.fromkeys([*letters, "a", " "]))[:MOST_LETTERS]


def attacks(pattern: str) -> Iterator[Callable[[int], str]]:
    """Yield shapes of any length: one letter again and again, two in turn, a beginning and then the
    same for ever, each with an end that fits nothing."""
    letters = alphabet(pattern)
    for one in letters:
        yield lambda count, one=one: one * count + "\x01"  # type: ignore[misc]
        for other in letters:
            if other != one:
                yield lambda count, both=one + other: both * (count // 2) + "\x01"  # type: ignore[misc]
                yield lambda count, a=one, b=other: a + b * count + "\x01"  # type: ignore[misc]
                yield lambda count, a=one, b=other: a * 3 + b * count + a  # type: ignore[misc]


def seconds(pattern: re.Pattern[str], method: str, text: str) -> float:
    """Return the processor's time for one use of a pattern."""
    began = time.thread_time()
    if method == "finditer":
        list(pattern.finditer(text))
    elif method == "sub":
        pattern.sub("", text)
    else:
        getattr(pattern, method)(text)
    return time.thread_time() - began


@pytest.mark.parametrize("name", PATTERNS)
def test_patterns_are_linear(name: str) -> None:
    """Whatever a stranger writes."""
    pattern, method = PATTERNS[name]
    for attack in attacks(pattern.pattern):
        for attempt in range(TRIES):
            small = seconds(pattern, method, attack(COUNT))
            large = seconds(pattern, method, attack(4 * COUNT))
            if large < MOST * max(small, LEAST_SECONDS):
                break
            assert attempt < TRIES - 1, f"{attack(12)!r}: {small:.4f} s became {large:.4f} s"
