"""Edits of sources: byte for byte, in every encoding and manner of writing."""

import random
from collections.abc import Iterator

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plumrake.core.findings import Mend
from plumrake.core.mending.carrying_out import edits_of
from plumrake.core.mending.edits import (
    Contradiction,
    Draft,
    Edit,
    Moved,
    NotAsRead,
    applied,
    ordered,
)
from plumrake.core.mending.source_page import CannotMend, SourcePage
from plumrake.lenses.encoded import CannotEncode, with_edits
from plumrake.lenses.markup import Encoded, decoded, parse_source

ENCODINGS = (
    ("utf-8", b""),
    ("utf-8", b"\xef\xbb\xbf"),
    ("utf-16-le", b"\xff\xfe"),
    ("windows-1252", b""),
    ("shift_jis", b""),
    ("koi8-r", b""),
    ("gbk", b""),
)
"""Encodings, and the byte order mark that stands before."""
PAGES = 2_100
EDITS_WANTED = 100_000

NAMES = ("alt", "title", "lang", "class", "href", "aria-label", "data-x", "style")
VALUES = ("", "a", "two words", 'say "so"', "it's", "a<b>&c", "/x?a=1&b=2", "x/")


def page_of(chance: random.Random, newline: str) -> str:
    """Return a page written in many manners: quotes, none, capitals, left out end tags, entities,
    comments, scripts, template marks."""
    parts = [chance.choice(["<!DOCTYPE html>", "<!doctype html>", ""]), newline]
    parts.append(chance.choice(['<html lang="en">', "<HTML>", "<html lang=en  >", ""]))
    for number in range(chance.randrange(8, 30)):
        parts.append(piece_of(chance, number))
        parts.append(chance.choice([newline, "  ", "", newline + "\t"]))
    return "".join(parts)


def piece_of(chance: random.Random, number: int) -> str:
    """Return one element, or something that looks like one and is none."""
    attributes = "".join(attribute_of(chance) for _ in range(chance.randrange(4)))
    return chance.choice(
        [
            f"<p{attributes}>Lock {number} &amp; gate",
            f"<P{attributes.upper()}>Boats &lt;here</P>",
            f"<img src=a{number}.png{attributes}>",
            f"<IMG{attributes} SRC='b.png'/>",
            f"<h{number % 6 + 1}{attributes}>Title {number}</h{number % 6 + 1}>",
            f"<ul><li{attributes}>one<li>two</ul>",
            f"<table><tr><td{attributes}>1<td>2</table>",
            f"<a href=/x{attributes}><b>Bold</b> and plain</a>",
            f"<!-- <img{attributes}> -->",
            f"<script>if (a<b) {{ '<p{attributes}>' }}</script>",
            "{{ name|e }}{% if a < b %}x{% endif %}<?php echo '<p>'; ?>",
            f"<span{attributes}></span>",
        ]
    )


def attribute_of(chance: random.Random) -> str:
    """Return an attribute in one of the manners of HTML."""
    name, value = chance.choice(NAMES), chance.choice(["a", "b c", "d&amp;e", ""])
    space = chance.choice([" ", "  ", "\n", "\t"])
    plain = value.replace(" ", "_").replace("&", "n").replace(";", "") or "v"
    return space + chance.choice(
        [f'{name}="{value}"', f"{name}='{value}'", f"{name}={plain}", name, f'{name} = "{value}"']
    )


def mends(chance: random.Random) -> Iterator[Mend]:
    """Yield mends of the kinds that every element may have."""
    while True:
        name, value = chance.choice(NAMES), chance.choice(VALUES)
        yield chance.choice(
            [
                Mend("set-attribute", "", attribute=name, value=value),
                Mend("remove-attribute", "", attribute=name),
                Mend("set-style", "", property="color", value="#123456"),
                Mend("replace-text", "", value=value or "Words"),
                Mend("rename-element", "", to=chance.choice(["div", "h2", "section"])),
                Mend("wrap", "", to="div"),
            ]
        )


def assert_untouched(
    body: bytes, changed: bytes, text: str, edits: list[Edit], known: Encoded
) -> None:
    """Every byte outside of the spans is as before, and in its order."""
    at = new = known.skipped
    codec = known.codec
    assert body[:at] == changed[:at]
    copied = 0
    for edit in edits:
        length = len(text[copied : edit.start].encode(codec))
        assert body[at : at + length] == changed[new : new + length]
        at += length + len(edit.before.encode(codec))
        new += length + len(edit.text.encode(codec))
        copied = edit.end
    assert body[at:] == changed[new:]


def some_edits(chance: random.Random, source: SourcePage) -> tuple[list[Edit], list[object]]:
    """Return edits that do not contradict each other, and what was set where."""
    edits: list[Edit] = []
    wanted: list[object] = []
    for element, mend in zip(source.page.elements, mends(chance), strict=False):
        for one in (mend, next(mends(chance))):
            try:
                new = edits_of(source, element, one)
                ordered([*edits, *new])
            except (CannotMend, Contradiction):
                continue
            edits += new
            is_set = one.kind == "set-attribute" and one.attribute != "style"
            if new and is_set and element.index in source.starts:
                wanted.append((source.starts[element.index], one.attribute, one.value))
    return ordered(edits), wanted


def test_a_hundred_thousand_edits_leave_every_other_byte_alone() -> None:
    """On made pages in many encodings; what was set is read again as it was meant."""
    chance, count = random.Random(16), 0
    for _ in range(PAGES):
        charset, mark = chance.choice(ENCODINGS)
        text = page_of(chance, chance.choice(["\n", "\r\n", "\r"]))
        body = mark + text.encode(charset)
        known = decoded(body, charset)
        assert known.text == text
        source = parse_source(known.text, "http://made.invalid/")
        edits, wanted = some_edits(chance, source)
        changed = with_edits(body, charset, edits)
        assert_untouched(body, changed, text, edits, known)
        again = parse_source(decoded(changed, charset).text, "http://made.invalid/")
        moved = Moved(edits)
        by_start = {start: again.page.elements[index] for index, start in again.starts.items()}
        for start, name, value in wanted:
            element = by_start.get(moved.after(start))
            assert element is None or element.get(name) == value
        count += len(edits)
    assert count >= EDITS_WANTED


@given(st.data())
@settings(max_examples=150, deadline=None)
def test_places_move_along(data: st.DataObject) -> None:
    """What stands outside of the spans is found again in both directions."""
    text = data.draw(st.text(min_size=1, max_size=60))
    cuts = sorted(data.draw(st.sets(st.integers(0, len(text)), max_size=8)))
    spans = list(zip(cuts[::2], cuts[1::2], strict=False))
    edits = [
        Edit(start, end, data.draw(st.text(max_size=5)), text[start:end]) for start, end in spans
    ]
    changed, moved = applied(text, edits), Moved(edits)
    for place in range(len(text)):
        if not any(start <= place < end for start, end in spans):
            there = moved.after(place)
            assert changed[there] == text[place]
            assert moved.before(there) == place


def test_contradictions_name_both_places() -> None:
    """What overlaps, and what sets one thing twice; the same edit twice is one."""
    with pytest.raises(Contradiction, match=r"at 0 and .* at 2"):
        applied("abcdef", [Edit(0, 4, "x", "abcd"), Edit(2, 6, "y", "cdef")])
    source = parse_source("<img src=a.png>", "http://made.invalid/")
    picture = source.page.document.first("img")
    assert picture is not None
    one, other = (
        edits_of(source, picture, Mend("set-attribute", "", attribute="alt", value=text))
        for text in ("One", "Two")
    )
    with pytest.raises(Contradiction, match=r"One.*Two"):
        applied(source.text, [*one, *other])
    assert applied(source.text, [*one, *one]) == '<img src=a.png alt="One">'


def test_twice_changes_nothing() -> None:
    """A draft knows its source and its result; another source is refused. Mends in place already
    have no edits."""
    text = "<p><img src=a.png></p>"
    source = parse_source(text, "http://made.invalid/")
    mend = Mend("set-attribute", "", attribute="alt", value="A lock")
    draft = Draft.of(text, edits_of(source, source.page.elements[-1], mend))
    once = draft.apply(text)
    assert once == '<p><img src=a.png alt="A lock"></p>'
    assert draft.apply(once) == once
    with pytest.raises(NotAsRead, match="changed since it was read"):
        draft.apply(text + " ")
    again = parse_source(once, "http://made.invalid/")
    assert edits_of(again, again.page.elements[-1], mend) == ()


@pytest.mark.parametrize(
    ("body", "charset", "shown"),
    [
        (b"<p title=x>Caf\xe9", "windows-1252", "\u0416 (U+0416)"),
        (b"<p title=x>plain", None, "\u0416 (U+0416)"),
    ],
)
def test_what_an_encoding_has_not(body: bytes, charset: str | None, shown: str) -> None:
    """It is said, and a character reference is offered; ASCII without a word on its encoding is
    read in another one by every browser."""
    known = decoded(body, charset)
    at = known.text.index("x>")
    edits = [Edit(at, at + 1, '"\u0416"', "x")]
    with pytest.raises(CannotEncode) as caught:
        with_edits(body, charset, edits)
    assert shown in str(caught.value)
    changed = with_edits(body, charset, edits, as_references=True)
    assert changed == body.replace(b"title=x", b'title="&#1046;"')


def test_bytes_that_stand_for_nothing_stay() -> None:
    """Broken UTF-8 before and behind an edit is left as it is."""
    body = b"<p>a\xff\xc3(b<img src=a.png>\xe2\x82"
    known = decoded(body, "utf-8")
    source = parse_source(known.text, "http://made.invalid/")
    picture = source.page.document.first("img")
    assert picture is not None
    mend = Mend("set-attribute", "", attribute="alt", value="Öl")
    changed = with_edits(body, "utf-8", edits_of(source, picture, mend))
    assert changed == b'<p>a\xff\xc3(b<img src=a.png alt="\xc3\x96l">\xe2\x82'


def test_misnested_and_moved_elements_are_left_alone() -> None:
    """What the tree builder makes of one tag more than once, or moves, has no place of its own."""
    for html in ("<p><b>one<p>two</b>", "<a><b></a>x</b>"):
        source = parse_source(html, "http://made.invalid/")
        bold = source.page.document.first("b")
        assert bold is not None
        with pytest.raises(CannotMend, match="not written"):
            edits_of(source, bold, Mend("rename-element", "", to="strong"))


def test_a_page_cannot_name_its_own_end_tags() -> None:
    """Comments and attributes that look like our marks are the page's own."""
    html = '<p data-plumrake-source="7">a<!--data-plumrake-source=0--><b>b</b></p>'
    source = parse_source(html, "http://made.invalid/")
    bold = source.page.document.first("b")
    assert bold is not None
    edits = edits_of(source, bold, Mend("rename-element", "", to="strong"))
    assert applied(html, edits) == html.replace("<b>b</b>", "<strong>b</strong>")
