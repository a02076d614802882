"""robots.txt: which rules are ours, which pattern decides, and patterns that nobody wrote in good
faith."""

from __future__ import annotations

import pytest

from plumrake.discovery.robots import Robots

TEXT = """\ufeff# of the trust
User-agent: *
Disallow: /private/
Disallow: /*.pdf$
Allow: /private/open/
Disallow:
Sitemap: https://canal.example/pages.xml
USER-AGENT: Otherbot/2.0
User-agent: thirdbot
Disallow: /

sitemap:/more.xml
"""


@pytest.mark.parametrize(
    ("path", "allowed"),
    [
        ("/", True),
        ("/private/", False),
        ("/private/x?y=1", False),
        ("/private/open/x", True),
        ("/%70rivate/", False),
        ("/fees.pdf", False),
        ("/fees.pdf?print", True),
        ("/Private/", True),
    ],
)
def test_the_longest_pattern_decides(path: str, allowed: bool) -> None:
    """RFC 9309, 2.2.2: percent-encoding does not matter, capitals do."""
    assert Robots(TEXT).allows(path) is allowed


def test_sitemaps_are_named_anywhere() -> None:
    """They belong to no robot."""
    assert Robots(TEXT).sitemaps == ["https://canal.example/pages.xml", "/more.xml"]


@pytest.mark.parametrize(
    ("text", "allowed"),
    [
        ("", True),
        ("User-agent: PlumRake/1.0\nDisallow: /a\n\nUser-agent: *\nDisallow: /", True),
        ("User-agent: *\nUser-agent: plumrake\nDisallow: /", False),
        ("User-agent: other\nDisallow: /", True),
        ("User-agent: *\nDisallow: /b\nAllow: /b", True),
        ("User-agent: *\nDisallow: b", False),
        ("Disallow: /", True),
    ],
)
def test_whose_rules_they_are(text: str, allowed: bool) -> None:
    """Ours go before everybody's; of two patterns as long the one that allows wins."""
    assert Robots(text).allows("/b") is allowed


def test_what_nobody_wrote_in_good_faith() -> None:
    """Blank lines without end, stars without number, a pattern as long as a book: all is read at
    once, and what is no rule is none."""
    stars = "User-agent: *\nDisallow: /" + "*a" * 30 + "b\nDisallow: /" + "*" * 500 + "x\n"
    robots = Robots("\n" * 400_000 + stars + "Disallow: /" + "y" * 100_000)
    assert robots.allows("/" + "a" * 5_000)
    assert not robots.allows("/x")
