"""Pages that only list others are told by what their content system says in the body's classes."""

from __future__ import annotations

import pytest

from plumrake.core.page_kinds import kind_of_page
from plumrake.core.policy import Policy
from plumrake.lenses.markup import parse_document


@pytest.mark.parametrize(
    ("classes", "kind"),
    [
        ("archive author author-orla author-2 logged-in", "author-archive"),
        ("archive date", "date-archive"),
        ("archive category category-news", "term-archive"),
        ("archive tag tag-locks", "term-archive"),
        ("search search-results", "search-results"),
        ("archive post-type-archive", ""),
        ("single single-post author date", ""),
        ("search", ""),
        ("", ""),
    ],
)
def test_kinds(classes: str, kind: str) -> None:
    html = f'<html lang="en"><body class="{classes}"><h1>Locks</h1></body></html>'
    assert kind_of_page(parse_document(html, "https://canal.example/a/")) == kind
    policy = Policy(leave_out_kinds=("author-archive", "search-results"))
    assert policy.leaves_out("/a/", kind) == (kind in ("author-archive", "search-results"))
