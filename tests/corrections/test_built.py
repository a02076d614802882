"""A site that is built of Markdown: mends are drafted on the page as it would be built, written
into the Markdown, and proven once the site is built again."""

from __future__ import annotations

import re
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from markdown_it import MarkdownIt

from plumrake import models
from plumrake.connectors.git import BRANCH
from tests.connectors.test_contract import git
from tests.corrections.conftest import FRAME, SLUG, Yard

SOURCES = {
    "cranes": """---
title: Cranes
---
Two cranes -- "old" ones stand by the [yard](../).

![a.jpg](a.jpg)

More about them is [here](/berths/1/), and the second is *not* let.

#### Hours of the cranes

\u2022 dinghies\\
\u2022 skiffs\\
\u2022 punts

From nine. <span style="color: #999">Not on Mondays.</span>
""",
    "kinds": """---
permalink: /kinds/
---
See [this page](/cranes/) :anchor: for more.

- [here](/berths/2/)
- By length.
""",
}


def build(sources: Path, to: Path) -> None:
    """Build the site as generators do: quotes are curled, headings linked, addresses changed."""
    for file in sources.glob("*.md"):
        text = re.sub(r"\A---\n.*?---\n", "", file.read_text(), flags=re.DOTALL)
        text = text.replace(":anchor:", "⚓")
        html = MarkdownIt("commonmark", {"typographer": True}).enable(["smartquotes", "table"])
        content = html.enable("replacements").render(text).replace('src="a.jpg"', 'src="/a.jpg"')
        content = re.sub(
            r"<h4>(.*?)</h4>", r'<h4 id="a" class="h">\1 <a href="#a">#</a></h4>', content
        )
        page = FRAME.format(title=file.stem.title(), content=f"<div>{content}</div>")
        (to / file.stem / "index.html").write_text(page)


@pytest.fixture
def sources(yard: Yard) -> Iterator[Path]:
    """The Markdown in a repository, the staging site built of it and swept."""
    folder = yard.folder / "sources"
    folder.mkdir()
    for name, text in SOURCES.items():
        (folder / f"{name}.md").write_text(text)
    git(folder, "init", "-q", "-b", "main")
    git(folder, "add", "-A")
    git(folder, "commit", "-qm", "the yard's texts")
    build(folder, yard.folder / "staging")
    connection = models.NewConnection(kind="git", repository=str(folder))
    yard.manager.corrections.connect(SLUG, "staging", connection)
    yard.sweep("staging")
    yield folder
    shutil.rmtree(folder)
    back = models.NewConnection(kind="folder", folder=str(yard.folder / "staging"))
    yard.manager.corrections.connect(SLUG, "staging", back)


def written(folder: Path, name: str) -> str:
    return git(folder, "show", f"{BRANCH}:{name}.md").decode()


def test_mended_in_the_markdown_and_proven_when_built(yard: Yard, sources: Path) -> None:
    """Four mends of one page are tried on the page as it is built, and are one commit's worth of
    Markdown; a reading of the old build proves nothing, and says so; one of the new proves all."""
    rake = yard.manager.corrections
    wanted = {
        "pictures/file-name-text": yard.text("A crane"),
        "links/vague": {"kind": "replace-text", "value": "berth [1]"},
        "headings/level-jump": {"kind": "rename-element", "to": "h2"},
        "lists/typed-by-hand": {"kind": "make-list", "to": "ul"},
    }
    drafts = []
    for check, mend in wanted.items():
        one = rake.draft(SLUG, yard.finding(check, "/cranes/"), mend).first
        assert one.state == "drafted", (check, one.problem)
        drafts.append(one.id)
    diff = rake.diff(SLUG)
    assert "+++ b/cranes.md" in diff
    rake.write(SLUG, models.WriteCorrections(ids=drafts))
    for number in drafts:
        yard.settled(number, "written", "conflict")
    text = written(sources, "cranes")
    assert text == SOURCES["cranes"].replace("![a.jpg]", "![A crane]").replace(
        "[here]", "[berth \\[1\\]]"
    ).replace("#### Hours", "## Hours").replace("\u2022", "-").replace("\\\n", "\n")
    yard.sweep("staging")
    waiting = rake.show(drafts[0])
    assert waiting.state == "written"
    assert "is not merged and built yet" in waiting.problem
    git(sources, "merge", "-q", "--ff-only", BRANCH)
    build(sources, yard.folder / "staging")
    yard.sweep("staging")
    for number in drafts:
        assert yard.settled(number, "proven", "conflict").state == "proven"
        assert rake.show(number).problem == ""
    rake.move(drafts[0], "take_back")
    yard.settled(drafts[0], "taken_back")
    assert "![a.jpg](a.jpg)" in written(sources, "cranes")


def test_what_markdown_or_the_build_does_not_show_is_refused(yard: Yard, sources: Path) -> None:
    """HTML inside Markdown is mended as HTML; what the generator adds, and what stands in the
    frame, is not the Markdown's; a paragraph that the build changed is let alone, a link in it that
    it did not is mended."""
    rake = yard.manager.corrections
    frame = min(
        one.id
        for one in yard.manager.findings.list(SLUG, environment="staging", path="/cranes/")
        if "seal.png" in one.excerpt
    )
    one = rake.draft(SLUG, frame, yard.text("The seal")).first
    assert one.state == "refused"
    assert "not written in the source" in one.problem
    found = yard.finding("links/vague", "/kinds/")
    mend = {"kind": "replace-text", "value": "the cranes"}
    one = rake.draft(SLUG, found, mend).first
    assert one.state == "drafted", one.problem
    assert "[the cranes](/cranes/)" in rake.diff(SLUG)
    alone = rake.draft(SLUG, found, {"kind": "set-attribute", "attribute": "title", "value": "x"})
    assert alone.first.state == "refused"
    assert "Markdown has no sign for title" in alone.first.problem
