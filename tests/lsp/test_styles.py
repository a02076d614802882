"""Contrast, and what else hangs on styles, while a page is typed."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from plumrake.core.policy import Policy
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
