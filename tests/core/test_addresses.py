"""Addresses are compared after they were resolved and brought into one form."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plumrake.core.addresses import normalised, origin, resolved

BASE = "https://canal.example/boating/fees/?year=2026"


@pytest.mark.parametrize(
    ("written", "whole"),
    [
        ("", "https://canal.example/boating/fees/?year=2026"),
        ("#day", "https://canal.example/boating/fees/?year=2026#day"),
        ("../moorings", "https://canal.example/boating/moorings"),
        ("  /locks/\n", "https://canal.example/locks/"),
        ("/lo\ncks/", "https://canal.example/locks/"),
        ("HTTPS://Canal.EXAMPLE:443", "https://canal.example/"),
        ("https://canal.example:8443/", "https://canal.example:8443/"),
        ("//canal.example./x", "https://canal.example/x"),
        ("http://canal.example:/x", "http://canal.example/x"),
        ("/a/./b/../c", "https://canal.example/a/c"),
        ("/a/%2e%2E/c", "https://canal.example/c"),
        ("/a/..", "https://canal.example/"),
        ("/../../x", "https://canal.example/x"),
        ("/%7ened/caf%c3%a9", "https://canal.example/~ned/caf%C3%A9"),
        ("/café", "https://canal.example/caf%C3%A9"),
        ("/a b", "https://canal.example/a%20b"),
        ("/a%2Fb", "https://canal.example/a%2Fb"),
        ("mailto:Ned@Canal.example", "mailto:Ned@Canal.example"),
    ],
)
def test_one_form(written: str, whole: str) -> None:
    """Host, port, dots and escapes do not tell addresses apart; everything else does."""
    assert resolved(BASE, written) == whole


@pytest.mark.parametrize("written", ["http://[", "http://a:b/", "https://a:99999999/"])
def test_what_is_no_address(written: str) -> None:
    """It has no form, and nothing breaks."""
    assert resolved(BASE, written) is None


@given(st.text(alphabet="abc/.%2eEF7~?#:@", max_size=30))
def test_the_form_is_the_form_of_itself(written: str) -> None:
    """Brought into form twice is as once, and the origin stays."""
    once = resolved(BASE, written)
    if once is not None and once.startswith("http"):
        assert normalised(once) == once
        assert resolved(BASE, once) == once


def test_origin_is_as_written() -> None:
    """Scheme, host and port, with or without a path."""
    assert origin("http://127.0.0.1:8601") == origin("http://127.0.0.1:8601/a/b") != origin("http:")
