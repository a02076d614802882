"""Paths with stars in them."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from plumrake.models.base import Pattern
from plumrake.path_patterns import MOST_STARS, matches, what_is_wrong_with


@given(st.text("ab/*", max_size=12), st.text("ab/", max_size=12))
def test_a_star_stands_for_anything(pattern: str, path: str) -> None:
    """As a regular expression would have it."""
    said = re.fullmatch(".*".join(map(re.escape, pattern.split("*"))), path) is not None
    assert matches(pattern, path) is said


def test_many_stars_take_no_longer() -> None:
    """Forty stars over a path of ten thousand letters: going back would take for ever."""
    assert not matches("*a" * 40 + "b", "a" * 10_000)


@pytest.mark.parametrize("pattern", ["/" + "*a" * (MOST_STARS + 1), "news/*", "/" + "x" * 2_000])
def test_what_is_no_pattern_says_so(pattern: str) -> None:
    """In policies, gate rules and in what the interface takes."""
    assert what_is_wrong_with(pattern)
    with pytest.raises(ValidationError):
        TypeAdapter(Pattern).validate_python(pattern)


def test_as_many_stars_as_may_be() -> None:
    """The interface takes what the rules take."""
    pattern = "/" + "*a" * MOST_STARS
    assert what_is_wrong_with(pattern) is None
    assert TypeAdapter(Pattern).validate_python(pattern) == pattern
