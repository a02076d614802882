"""Which file makes a page: by its path, by a map, by front matter, by its name; never two of
them."""

from __future__ import annotations

import asyncio
from pathlib import Path

import pytest

from plumrake.connectors.folder import FolderConnector
from plumrake.connectors.git import GitConnector
from plumrake.connectors.page_files import MAP
from plumrake.connectors.source_item import Connector, SourceItem
from plumrake.net.problems import Unreadable
from tests.connectors.test_contract import git

FILES = {
    "visit/index.html": "<h1>Visit</h1>",
    "about.md": "# About\n",
    "fees/_index.md": "# Fees\n",
    "posts/2031-04-02-lock-closed.md": "---\ntitle: Closed\n---\nThe lock is closed.\n",
    "posts/2031-04-09-regatta.md": '---\npermalink: "/news/regatta-2031/"\n---\nIt is on.\n',
    "posts/walks.md": "+++\nslug = 'short-walks'\n+++\nFrom the bridge.\n",
    "odd/patterned.md": "---\npermalink: /:year/:title/\n---\nNo.\n",
    "odd/body.md": "Text.\n" * 70 + "\nurl: /news/regatta-2031/\n",
    "one/twice.md": "One.\n",
    "other/twice.md": "Other.\n",
    "maps/far.md": "Far.\n",
    ".hidden/secret.md": "---\npermalink: /secret/\n---\n",
}
MAPPED = """
"/far/away/" = "maps/far.md"
"/kept/*/" = "posts/*.md"
"/nowhere/" = "maps/gone.md"
"""


@pytest.fixture(params=["folder", "git"])
def sources(request: pytest.FixtureRequest, tmp_path: Path) -> tuple[Connector, Path]:
    """The files in a folder, or committed to a repository below ``site``."""
    root = tmp_path / "site"
    for name, text in {**FILES, MAP: MAPPED}.items():
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).write_text(text)
    if request.param == "folder":
        return FolderConnector(str(root), [str(tmp_path)]), root
    git(tmp_path, "init", "-q", "-b", "main")
    git(tmp_path, "add", "-A")
    git(tmp_path, "commit", "-qm", "the site")
    return GitConnector(str(tmp_path), "main", "site", [str(tmp_path)]), root


def read(sources: tuple[Connector, Path], path: str) -> SourceItem:
    return asyncio.run(sources[0].read(path))


@pytest.mark.parametrize(
    ("path", "name"),
    [
        ("/visit/", "visit/index.html"),
        ("/about/", "about.md"),
        ("/about.html", "about.md"),
        ("/fees/", "fees/_index.md"),
        ("/news/regatta-2031/", "posts/2031-04-09-regatta.md"),
        ("/posts/short-walks/", "posts/walks.md"),
        ("/2031/04/02/lock-closed/", "posts/2031-04-02-lock-closed.md"),
        ("/far/away/", "maps/far.md"),
        ("/far/away/index.html?from=feed", "maps/far.md"),
        ("/kept/walks/", "posts/walks.md"),
    ],
)
def test_file_of_a_page(sources: tuple[Connector, Path], path: str, name: str) -> None:
    item = read(sources, path)
    assert item.file.removeprefix("site/") == name
    assert item.body.decode() == FILES[name]
    assert item.form == ("page" if name.endswith("html") else "markdown")


@pytest.mark.parametrize(
    ("path", "says"),
    [
        ("/twice/", "2 files may by their names make /twice (one/twice.md, other/twice.md); say"),
        ("/nowhere/", f"{MAP} gives /nowhere/ the file 'maps/gone.md', which is not"),
        ("/secret/", "has no file for /secret/"),
        ("/.hidden/secret", "has no file for /.hidden/secret"),
        ("/../site/about", "has no file for /../site/about"),
        ("/patterned-not/", "has no file for"),
    ],
)
def test_no_file_or_more_than_one(sources: tuple[Connector, Path], path: str, says: str) -> None:
    with pytest.raises(Unreadable) as refused:
        read(sources, path)
    assert says in str(refused.value)


@pytest.mark.parametrize(
    ("text", "says"),
    [('"/a" = ', "cannot be read: "), ('"/a/*" = "b/*/*.md"', "'/a/*' has to be a path")],
)
def test_a_map_that_is_none(sources: tuple[Connector, Path], text: str, says: str) -> None:
    (sources[1] / MAP).write_text(text)
    if isinstance(sources[0], GitConnector):
        git(sources[1].parent, "commit", "-qam", "another map")
    with pytest.raises(Unreadable) as refused:
        read(sources, "/about/")
    assert f"{MAP}" in str(refused.value)
    assert says in str(refused.value)


def test_markdown_is_written_where_it_is(sources: tuple[Connector, Path]) -> None:
    """What is written back is the Markdown file, and no other."""
    item = read(sources, "/about/")
    written = b"# About us\n"
    asyncio.run(sources[0].write("/about/", written, item.version, "why", "Philippa"))
    assert read(sources, "/about/").body == written
    works = asyncio.run(sources[0].check())
    if isinstance(sources[0], GitConnector):
        assert works[0] == "the branch 'main' has 1 HTML files and 11 of Markdown"
