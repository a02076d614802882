"""Contrast, and what else hangs on styles, while a page is typed."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from plumrake.core.policy import Policy
from plumrake.lsp.nearby import found_nearby
from plumrake.lsp.policies import Elsewhere, StyleFiles, address_of
from plumrake.lsp.written import WrittenText

POLICY = Policy(without=("text/spelling",))
PAGE = (
    "<!doctype html><html lang=en><title>Locks</title>"
    "<link rel=stylesheet href=../css/site.css><main><h1>Locks</h1><p>Pale words</p></main>"
)


@pytest.fixture
def site(tmp_path: Path) -> Path:
    (tmp_path / "css").mkdir()
    (tmp_path / "css" / "site.css").write_text("@import 'more.css'; h1 { color: #000 }")
    (tmp_path / "css" / "more.css").write_text("p { color: #aaa }")
    (tmp_path / "news").mkdir()
    return tmp_path


def checks(site: Path, text: str, files: StyleFiles | None = None) -> list[str]:
    uri, root = (site / "news" / "a.html").as_uri(), str(site)
    sheets = (files or StyleFiles()).of(uri, root)
    written = WrittenText(text, POLICY, "html", address_of(uri, root), sheets)
    return [one.finding.check for one in written.found if one.finding.check.startswith("contrast")]


def test_contrast_is_told_by_the_style_sheets_beside_the_page(site: Path) -> None:
    assert checks(site, PAGE) == ["contrast/text"]


def test_a_changed_style_sheet_is_read_again(site: Path) -> None:
    files = StyleFiles()
    assert checks(site, PAGE, files) == ["contrast/text"]
    file = site / "css" / "more.css"
    file.write_text("p { color: #333 }")
    os.utime(file, (1, 1))
    assert checks(site, PAGE, files) == []


def test_a_part_of_a_page_has_no_styles(site: Path) -> None:
    assert checks(site, "<p style='color: #aaa'>Pale words</p>") == []


def test_a_style_sheet_from_elsewhere_leaves_styles_unknown(site: Path) -> None:
    assert checks(site, PAGE.replace("../css", "https://cdn.invalid")) == []


def test_nothing_outside_of_the_folder_is_read(site: Path) -> None:
    (site.parent / "secret.css").write_text("p { color: #aaa }")
    (site / "out.css").symlink_to(site.parent / "secret.css")
    sheets = StyleFiles().of((site / "news" / "a.html").as_uri(), str(site))
    host = address_of((site / "index.html").as_uri(), str(site))
    assert sheets(f"{host}out.css") is None
    assert sheets(f"{host}..%2Fsecret.css") is None
    with pytest.raises(Elsewhere):
        sheets("https://elsewhere.invalid/a.css")


TYPED = (
    "<!doctype html><html lang=en class=site><title>Locks</title>"
    "<link rel=stylesheet href=../css/site.css>"
    "<style>.site .news .pale { color: #999 } .news p { color: #222 }</style>"
    "<main><h1>Locks</h1><div class=news><p class=calm>The lock is open.</p>"
    "<p class=pale>Pale words</p></div></main>"
)


def typed(site: Path, before: str, after: str) -> list[tuple[str, str]]:
    """Return what is told of contrast right after a change, with what it is told of."""
    uri, root = (site / "news" / "a.html").as_uri(), str(site)
    sheets = StyleFiles().of(uri, root)
    last = WrittenText(before, POLICY, "html", address_of(uri, root), sheets)
    assert last.found
    told = found_nearby(last, after)
    return [
        (one.finding.check, after[slice(*one.span)])
        for one in told
        if one.finding.check.startswith("contrast")
    ]


def test_contrast_is_told_while_one_types(site: Path) -> None:
    """By rules of the page's style sheets that hang on what is around the words."""
    known = ("contrast/text", "<p class=pale>")
    assert typed(site, TYPED, TYPED.replace("is open", "is shut")) == [known]
    assert typed(site, TYPED, TYPED.replace("class=calm", "class=pale")) == [known, known]
    assert typed(site, TYPED, TYPED.replace("class=pale", "class=calm")) == []
    with_more = TYPED.replace("<p class=calm>", "<p class=pale>Words.</p><p class=calm>")
    assert typed(site, TYPED, with_more) == [known, known]


def test_nothing_is_told_of_what_is_around_a_part(site: Path) -> None:
    """The page's own start tags are read with a part, so that it looks as it does; a fault of
    theirs is told once, by the whole reading."""
    faulty = TYPED.replace("<div class=news>", "<div class=news onclick=go()>")
    uri, root = (site / "news" / "a.html").as_uri(), str(site)
    last = WrittenText(faulty, POLICY, "html", address_of(uri, root), StyleFiles().of(uri, root))
    told = found_nearby(last, faulty.replace("is open", "is shut"))
    assert [one.finding.check for one in told] == [one.finding.check for one in last.found]
