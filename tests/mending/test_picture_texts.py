"""Texts that a picture might get: where they come from, which is first, and which never."""

import io
from pathlib import Path

import pytest
from PIL import Image

from plumrake.core.picture_texts import PictureText, picture_texts
from plumrake.lenses.markup import parse_source
from plumrake.lenses.picture_files import texts_in_file

XMP = """<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF
 xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about=""
 xmlns:dc="http://purl.org/dc/elements/1.1/"
 xmlns:Iptc4xmpCore="http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/">
 <dc:description><rdf:Alt><rdf:li xml:lang="x-default">A lock in May</rdf:li></rdf:Alt>
 </dc:description>
 <Iptc4xmpCore:AltTextAccessibility><rdf:Alt><rdf:li xml:lang="x-default">Two gates half open,
 a heron on the beam</rdf:li></rdf:Alt></Iptc4xmpCore:AltTextAccessibility>
 </rdf:Description></rdf:RDF></x:xmpmeta>"""
SVG = b"""<svg xmlns="http://www.w3.org/2000/svg"><title>Plan of the basin</title>
<desc>Eighteen berths around the basin</desc><g><title>not this one</title></g></svg>"""


def picture(html: str) -> tuple[object, object]:
    """Return a page and its first picture."""
    page = parse_source(html, "http://made.invalid/").page
    found = page.document.first("img")
    assert found is not None
    return page, found


def offered(html: str, **known: object) -> list[tuple[str, str]]:
    """Return the texts that are offered for the first picture of a page."""
    page, found = picture(html)
    return [
        (one.text, one.comes_from)
        for one in picture_texts(page, found, **known)  # type: ignore[arg-type]
    ]


def test_the_likeliest_comes_first() -> None:
    """What the picture is called elsewhere, the oftener the earlier; what its file says; what
    stands around it; each text once."""
    html = """<a href=/x title="To the locks"><figure><img src=a.jpg title="Upper lock"><figcaption>
    The upper lock in May</figcaption></figure></a>"""
    elsewhere = {"Lock": 1, "The upper lock": 3}
    in_file = [PictureText("the UPPER lock", "the file"), PictureText("A heron", "the file")]
    assert offered(html, elsewhere=elsewhere, in_file=in_file) == [
        ("The upper lock", "its text on 3 other pages"),
        ("Lock", "its text on 1 other page"),
        ("A heron", "the file"),
        ("Upper lock", "its title"),
        ("The upper lock in May", "its caption"),
        ("To the locks", "the title of its link"),
    ]


@pytest.mark.parametrize(
    "text",
    ["IMG_2041.jpg", "a.jpg", "https://canal.invalid/a.jpg", "image", "photo 3", "x" * 151, " "],
)
def test_what_checks_would_find_fault_with_is_not_offered(text: str) -> None:
    """File names, addresses, filler words, what is too long or empty; nor what it has already."""
    assert offered("<img src=a.jpg>", elsewhere={text: 9}) == []
    assert offered('<img src=a.jpg alt="A lock">', elsewhere={"A lock": 2}) == []


def test_texts_in_files(tmp_path: Path) -> None:
    """XMP with the field made for it first, and the title and description of a drawing itself."""
    bitmap = io.BytesIO()
    Image.new("RGB", (4, 4)).save(bitmap, "PNG")
    saved = tmp_path / "a.webp"
    Image.new("RGB", (4, 4)).save(saved, xmp=XMP.encode())
    assert [one.text for one in texts_in_file(saved.read_bytes())] == [
        "Two gates half open, a heron on the beam",
        "A lock in May",
    ]
    assert [one.text for one in texts_in_file(SVG)] == [
        "Plan of the basin",
        "Eighteen berths around the basin",
    ]
    assert texts_in_file(bitmap.getvalue()) == []


@pytest.mark.parametrize(
    "body",
    [
        b"",
        b"no picture",
        b"<svg><title>a",
        b'<!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg><title>&b;</title></svg>',
    ],
)
def test_files_that_cannot_be_read_say_nothing(body: bytes) -> None:
    """Broken ones, and those that would blow up."""
    assert texts_in_file(body) == []
