"""Texts while they are typed: whatever stands there, it is read, and places go there and back."""

from __future__ import annotations

import os
import random
import re
import time
from pathlib import Path
from typing import get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lsprotocol.types import PositionEncodingKind

import plumrake.core.checks
from plumrake.core.policy import Policy
from plumrake.core.templates.kinds import Writing
from plumrake.lsp.places import Places
from plumrake.lsp.policies import address_of
from plumrake.lsp.written import WrittenText

CASES = sorted(Path(plumrake.core.checks.__file__).parent.glob("*/*.cases.html"))
FUZZ_SECONDS = float(os.environ.get("PLUMRAKE_FUZZ_SECONDS", "20"))
POLICY = Policy(without=("text/spelling",))
HOSTILE = [
    "",
    "<",
    "<p",
    "<p a='",
    '<a href="',
    "<!--",
    "<![CDATA[",
    "<script>",
    "<style>p{",
    "\x00\x01<p>\ufeff</p>",
    "<p>" * 3000,
    "<table><tr><td>" * 400,
    "<b><i>" * 2000 + "x",
    "&#x110000;&#xd800;&",
    "\r\n\r\n<p>\r</p>\u2028<h1>",
    "<h1>" + "x" * 200_000,
]


WRITINGS: tuple[Writing, ...] = get_args(Writing)


def used(text: str, writing: Writing = "html") -> None:
    """Ask all that an editor asks."""
    written = WrittenText(text, POLICY, writing)
    for found in written.found[:40]:
        list(written.ways(found))
        assert 0 <= found.span[0] <= found.span[1] <= len(text)
    written.outline()
    for offset in {0, len(text) // 2, len(text)}:
        element = written.element_at(offset)
        if element is not None:
            written.name_of(element)


@pytest.mark.parametrize("text", HOSTILE)
@pytest.mark.parametrize("writing", WRITINGS)
def test_hostile_text(text: str, writing: Writing) -> None:
    used(text, writing)


def test_prefixes_of_case_files() -> None:
    """A while of prefixes of what the checks are tried on, as if it was typed."""
    chance = random.Random(7)
    end = time.monotonic() + FUZZ_SECONDS
    tried = 0
    while time.monotonic() < end:
        parts = re.split(r"<!-- case: [^>]*-->", chance.choice(CASES).read_text(encoding="utf-8"))
        text = chance.choice(parts)
        used(text[: chance.randrange(len(text) + 1)], chance.choice(WRITINGS))
        tried += 1
    assert tried > 20


@settings(max_examples=150, deadline=None)
@given(
    st.text(alphabet="aß🦦\r\n\u0301é<", max_size=60),
    st.sampled_from(list(PositionEncodingKind)),
)
def test_offsets_go_there_and_back(text: str, encoding: PositionEncodingKind) -> None:
    """Every offset that no line end is broken at is its own position's."""
    places = Places(text, encoding)
    for offset in range(len(text) + 1):
        if text[offset - 1 : offset + 1] == "\r\n" or text[offset : offset + 1] == "\n":
            continue
        assert places.offset(places.position(offset)) == offset


@pytest.mark.parametrize(
    ("uri", "root", "address"),
    [
        ("site/archive/index.html", "site", "/archive/"),
        ("site/archive/index.md", "site", "/archive/"),
        ("site/index.html", "site", "/"),
        ("site/a b.html", "site", "/a%20b.html"),
        ("other/a.html", "site", "/a.html"),
        ("site/deep/page.html", None, "/deep/page.html"),
    ],
)
def test_a_document_has_the_address_of_its_page(
    uri: str, root: str | None, address: str, tmp_path: Path
) -> None:
    """Below the editor's folder, or that of the nearest policy."""
    file = tmp_path / uri
    file.parent.mkdir(parents=True)
    if root is None:
        (tmp_path / "site" / "plumrake.toml").write_text("", encoding="utf-8")
    below = str(tmp_path / root) if root else None
    assert address_of(file.as_uri(), below) == f"http://text.invalid{address}"
    assert address_of("untitled:1", below) == "http://text.invalid/"
