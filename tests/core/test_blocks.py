"""Content made of blocks: its grammar, the marks of a page, and what is said of a block."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plumrake.core.assess import assess
from plumrake.core.blocks import (
    FRAME,
    Block,
    block_says,
    marks_of,
    parse_blocks,
    written_attributes,
)
from plumrake.core.editor_words import in_editor
from plumrake.core.page import Page
from plumrake.core.policy import policy_from
from plumrake.lenses.markup import parse_document

CONTENT = """<!-- wp:paragraph -->
<p>One</p>
<!-- /wp:paragraph -->

words of nobody

<!-- wp:columns {"style":{"spacing":{"padding":"0"}},"a":"}"} -->
<div><!-- wp:latest-posts {"postsToShow":2} /--><!-- wp:plum/own-block --><b>x</b>
<!-- /wp:plum/own-block --></div>
<!-- /wp:columns -->"""


def every(content: str) -> list[Block]:
    return [one for block in parse_blocks(content) for one in block.walk()]


def test_blocks_are_counted_as_the_editor_lists_them() -> None:
    """What stands between blocks and is not blank is one too; what is in a block counts anew."""
    found = [(one.path, one.name, dict(one.attributes)) for one in every(CONTENT)]
    assert found == [
        ("0", "core/paragraph", {}),
        ("2", "core/columns", {"style": {"spacing": {"padding": "0"}}, "a": "}"}),
        ("2.0", "core/latest-posts", {"postsToShow": 2}),
        ("2.1", "plum/own-block", {}),
    ]


def test_offsets_are_those_of_the_text() -> None:
    """A block spans its comments, its inside what is between them, its attributes their JSON."""
    columns = parse_blocks(CONTENT)[1]
    assert CONTENT[columns.start :].startswith("<!-- wp:columns")
    assert CONTENT[columns.start : columns.end].endswith("<!-- /wp:columns -->")
    assert columns.attributes_span is not None
    assert json.loads(CONTENT[slice(*columns.attributes_span)]) == dict(columns.attributes)
    latest = columns.children[0]
    assert columns.own(columns.inner_start)
    assert not columns.own(latest.start)


@pytest.mark.parametrize(
    ("content", "names"),
    [
        ("<!-- wp:paragraph --><p>open", ["core/paragraph"]),
        ("<!-- /wp:paragraph --><p>x</p>", []),
        ("<!-- wp:list --><!-- wp:list-item --></ul><!-- /wp:list -->", ["core/list"]),
        ("<!-- wp:x {not json} --><!-- /wp:x -->", ["core/x"]),
        ("<!--wp:paragraph--><p>no block</p>", []),
    ],
)
def test_what_does_not_pair_is_survived(content: str, names: list[str]) -> None:
    """Nothing raises; what is open ends with the text."""
    assert [one.name for one in parse_blocks(content)][: len(names)] == names


@settings(deadline=None)
@given(
    st.recursive(
        st.none() | st.booleans() | st.integers() | st.text(),
        lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(), inner, max_size=3),
        max_leaves=8,
    ).map(lambda value: {"a": value})
)
def test_attributes_come_back_as_they_were(attributes: dict[str, Any]) -> None:
    """Written into a comment they end it nowhere, and are read as what was written."""
    written = written_attributes(attributes)
    assert "--" not in written
    assert ">" not in written
    content = f"<!-- wp:x {written} -->\n<!-- /wp:x -->"
    assert json.loads(written) == attributes
    [block] = parse_blocks(content)
    assert dict(block.attributes) == attributes


MARKED = """<!doctype html><html lang="en"><title>Fees</title><body><header><h1>Fees</h1>
<a href="/a/?replytocom=7">here</a></header><main><!--plumrake:content-->
<!--plumrake:block 0 core/paragraph--><p>See <a href="/b">here</a>.</p><!--/plumrake:block-->
<!--plumrake:block 1 core/columns--><div><!--plumrake:block 1.0 core/image--><img src="/a.jpg">
<!--/plumrake:block--></div><!--/plumrake:block--><!--/plumrake:content--></main>
<!--plumrake:page--></body></html>"""


def test_a_marked_page_says_which_block_made_what() -> None:
    """The innermost block counts; what is outside of the content is the frame."""
    marks = marks_of(MARKED)
    assert marks.key_at(MARKED.index("<p>See")) == "0 core/paragraph"
    assert marks.key_at(MARKED.index("<img")) == "1.0 core/image"
    assert marks.key_at(MARKED.index("<div>")) == "1 core/columns"
    assert marks.key_at(MARKED.index("<h1>")) == FRAME
    assert marks_of("<p>plain</p>").key_at(0) == ""
    assert marks_of("<!--/plumrake:block--><!--plumrake:page-->").key_at(0) == FRAME


def test_findings_know_their_block_and_the_frame_is_one_cause() -> None:
    """The same print of the theme that leads elsewhere on another page is the same cause; its
    place is another."""

    def found(html: str, path: str) -> dict[str, tuple[str, str, str]]:
        page = Page(parse_document(html, f"https://garden.example{path}"))
        only = policy_from({"only": ["links/vague", "pictures/no-text"]})
        return {
            one.block: (one.check, one.cause_key, one.place_key)
            for one in assess(page, only).findings
        }

    here = found(MARKED, "/fees/")
    there = found(MARKED.replace("replytocom=7", "replytocom=8"), "/times/")
    assert set(here) == {FRAME, "0 core/paragraph", "1.0 core/image"}
    assert here["1.0 core/image"][0] == "pictures/no-text"
    assert here[FRAME][1] == there[FRAME][1]
    assert here[FRAME][2] != there[FRAME][2]


@pytest.mark.parametrize(
    ("key", "says"),
    [
        ("2 core/table", "3rd block, Table"),
        ("0.1.3 core/image", "1st block, 2nd in it, 4th in it, Image"),
        ("10 core/media-text", "11th block, Media & Text"),
        ("20 plum/opening-times", "21st block, Opening times"),
        (FRAME, "outside the content, printed by theme or system"),
        ("", ""),
    ],
)
def test_a_block_is_said_as_the_editor_says_it(key: str, says: str) -> None:
    """Counted from one, by the name that the editor has for it."""
    assert block_says(key) == says


def test_what_to_do_is_said_for_the_block() -> None:
    """A block's own words go before those for any; nothing is said outside of blocks."""
    assert in_editor("1 core/table", "tables/no-headers") == "Settings → Header section on"
    assert in_editor("1 core/html", "tables/no-headers") == ""
    assert in_editor("1 core/cover", "pictures/no-text") == "Media settings → Alt text"
    assert in_editor(FRAME, "links/vague") == ""
    assert in_editor("", "links/vague") == ""
