"""Drafting: only what works is drafted; drafts of a page stand beside each other; nothing is
written before somebody says so."""

from __future__ import annotations

import io
import subprocess
import zipfile
from pathlib import Path

import pytest

from plumrake.client import NotAllowed, NotFound, NotValid
from tests.corrections.conftest import SLUG, Yard

VAGUE = {"kind": "replace-text", "value": "Cranes and what they lift"}


def test_a_mend_that_works_is_drafted_and_nothing_is_written(yard: Yard) -> None:
    """It says in plain words what it changes, with a diff; the file stays as it is."""
    before = yard.file("/").read_bytes()
    finding = yard.finding("pictures/no-text", "/")
    made = yard.editor.corrections.draft(SLUG, finding, yard.text("Boats in a row"), why="seen")
    assert made.first.state == "drafted", made.first.problem
    assert made.first.says == "Text of the picture a.jpg set to “Boats in a row”."
    shown = yard.editor.corrections.show(made.first.id)
    assert '+<p><img src="/a.jpg" WIDTH=320 height="180" alt="Boats in a row"></p>' in shown.diff
    assert [event.move for event in shown.events] == ["make", "draft"]
    assert shown.moves == ["take_back"]
    assert yard.file("/").read_bytes() == before


def test_what_brings_another_fault_is_refused_but_for_who_insists(yard: Yard) -> None:
    """A file name is no text: the answer says so, and is drafted on insisting."""
    finding = yard.finding("pictures/no-text", "/")
    made = yard.editor.corrections.draft(SLUG, finding, yard.text("IMG_2041.jpg"))
    assert made.first.state == "refused"
    assert "it would bring another fault: " in made.first.problem
    assert made.first.may_insist
    yard.editor.corrections.move(made.first.id, "draft_again", insist=True)
    assert yard.settled(made.first.id, "drafted", "refused").state == "drafted"


def test_what_leaves_the_fault_is_refused_whoever_insists(yard: Yard) -> None:
    """Words that are as vague as the old ones."""
    finding = yard.finding("links/vague", "/")
    again = {"kind": "replace-text", "value": "click here"}
    made = yard.editor.corrections.draft(SLUG, finding, again, insist=True)
    assert made.first.state == "refused"
    assert made.first.problem.startswith("the fault would still be there: ")
    assert not made.first.may_insist


def test_drafts_of_a_page_stand_beside_each_other(yard: Yard) -> None:
    """Each is taken back without the others; the page has all that stand."""
    rake = yard.editor.corrections
    text = rake.draft(SLUG, yard.finding("pictures/no-text", "/"), yard.text("Boats")).first
    link = rake.draft(SLUG, yard.finding("links/vague", "/"), VAGUE).first
    assert (text.state, link.state) == ("drafted", "drafted"), link.problem
    page = rake.page(SLUG, "/", environment="staging").decode()
    assert 'alt="Boats"' in page
    assert '<a href="/cranes/">Cranes and what they lift</a>' in page
    assert rake.move(text.id, "take_back").state == "taken_back"
    page = rake.page(SLUG, "/", environment="staging").decode()
    assert "alt=" not in page.partition("<footer>")[0]
    assert "what they lift" in page
    rake.move(text.id, "draft_again")  # redo
    assert yard.settled(text.id, "drafted", "refused").state == "drafted"


def test_a_place_has_one_draft(yard: Yard) -> None:
    """The newer takes the older one's place, and its history says so."""
    rake = yard.editor.corrections
    finding = yard.finding("pictures/no-text", "/")
    first = rake.draft(SLUG, finding, yard.text("Boats")).first
    second = rake.draft(SLUG, finding, yard.text("Four boats at the wall")).first
    assert second.state == "drafted"
    replaced = rake.show(first.id)
    assert replaced.state == "taken_back"
    assert replaced.events[-1].why == f"correction {second.id} takes its place"


def test_what_contradicts_another_draft_names_it(yard: Yard) -> None:
    """A heading is written anew as a whole; then its link cannot get other words as well."""
    rake = yard.editor.corrections
    anew = {"kind": "rewrite", "value": "<h2>Hours of the first berth</h2>"}
    whole = rake.draft(SLUG, yard.finding("headings/level-jump", "/"), anew).first
    assert whole.state == "drafted", whole.problem
    assert whole.says == "The heading “Hours here” (level 4) written anew."
    found = yard.manager.findings.list(SLUG, environment="staging", check="links/vague", path="/")
    link = next(one for one in found if "berths/1/" in one.excerpt)
    made = rake.draft(SLUG, link.id, VAGUE).first
    assert made.state == "refused"
    assert "two mends want different things of one place" in made.problem
    assert f"correction {whole.id} stands there" in made.problem


def test_what_an_encoding_lacks_may_be_written_as_references(yard: Yard) -> None:
    """The page says iso-8859-1; a letter that is not in it is refused with what to do."""
    file = yard.file("/cranes/")
    file.write_bytes(file.read_bytes().replace(b'charset="utf-8"', b'charset="iso-8859-2"'))
    rake = yard.editor.corrections
    finding = yard.finding("pictures/no-text", "/cranes/")
    made = rake.draft(SLUG, finding, yard.text("Þe crane")).first
    assert made.state == "refused"
    assert "has no Þ (U+00DE)" in made.problem
    assert made.may_reference
    rake.move(made.id, "draft_again", as_references=True)
    assert yard.settled(made.id, "drafted", "refused").state == "drafted"
    assert b'alt="&#222;e crane"' in rake.page(SLUG, "/cranes/", environment="staging")


def test_a_page_that_is_gone_says_so(yard: Yard) -> None:
    """One clear sentence; nothing is drafted."""
    finding = yard.finding("pictures/no-text", "/cranes/")
    yard.file("/cranes/").unlink()
    made = yard.editor.corrections.draft(SLUG, finding, yard.text("A crane")).first
    assert made.state == "refused"
    assert made.problem == ("the page's source cannot be read: the folder has no file for /cranes/")


def test_what_stands_in_the_template_is_not_the_pages_own(yard: Yard) -> None:
    """The CMS's pages have a template around them, which corrections of a page leave alone."""
    found = yard.manager.findings.list(SLUG, environment="live", check="pictures/no-text")
    seal = next(one for one in found if one.path == "/" and "seal.png" in one.excerpt)
    made = yard.editor.corrections.draft(SLUG, seal.id, yard.text("The yard's seal")).first
    assert made.state == "refused"
    assert "stands in the template around the page" in made.problem


def test_ways_out(yard: Yard, tmp_path: Path) -> None:
    """The changed page, a ZIP of all, and a diff that git applies: all three say the same."""
    rake = yard.editor.corrections
    rake.draft(SLUG, yard.finding("pictures/no-text", "/"), yard.text("Boats"))
    rake.draft(SLUG, yard.finding("pictures/no-text", "/cranes/"), yard.text("A crane"))
    yard.manager.corrections.draft(SLUG, yard.finding("links/vague", "/"), VAGUE)
    with zipfile.ZipFile(io.BytesIO(rake.archive(SLUG, environment="staging"))) as archive:
        assert sorted(archive.namelist()) == ["cranes/index.html", "index.html"]
        changed = {name: archive.read(name) for name in archive.namelist()}
    assert changed["index.html"] == rake.page(SLUG, "/", environment="staging")
    (tmp_path / "cranes").mkdir()
    for path in ("/", "/cranes/"):
        copy = tmp_path / path.strip("/") / "index.html"
        copy.write_bytes(yard.file(path).read_bytes())
    diff = rake.diff(SLUG, environment="staging").encode()
    subprocess.run(["git", "apply", "-"], input=diff, cwd=tmp_path, check=True)
    for name, content in changed.items():
        assert (tmp_path / name).read_bytes() == content
    mine = rake.diff(SLUG, environment="staging", mine=True)
    assert "Boats" in mine
    assert "what they lift" not in mine
    with pytest.raises(NotFound, match="there is no draft"):
        rake.diff(SLUG, path="/berths/1/")


def test_who_may(yard: Yard) -> None:
    """Readers draft nothing; nobody but a manager takes back what another made."""
    finding = yard.finding("pictures/no-text", "/")
    with yard.running.client("imke@harrowmere.example") as reader, pytest.raises(NotAllowed):
        reader.corrections.draft(SLUG, finding, yard.text("Boats"))
    made = yard.manager.corrections.draft(SLUG, finding, yard.text("Boats")).first
    with pytest.raises(NotAllowed, match="whoever made the correction, or a manager"):
        yard.editor.corrections.move(made.id, "take_back")


@pytest.mark.parametrize(
    ("mend", "says"),
    [
        ({"kind": "advice"}, "mend.kind: 'advice' can be carried out by nobody but a person"),
        ({"kind": "set-attribute", "attribute": "alt"}, "mend.value: write what is to stand there"),
    ],
)
def test_bad_mends_are_one_clear_line(yard: Yard, mend: dict[str, str], says: str) -> None:
    """Nothing is kept of them."""
    with pytest.raises(NotValid, match=says):
        yard.editor.corrections.draft(SLUG, yard.finding("pictures/no-text", "/"), mend)
    assert not list(yard.editor.corrections.list(SLUG))


def test_what_shows_only_among_all_pages_is_looked_at_among_them(yard: Yard) -> None:
    """Two pages have one title: another title that no page has is drafted, one that a third page
    has is not."""
    file = yard.file("/berths/3/")
    file.write_bytes(file.read_bytes().replace(b"Berths 3 of", b"Berths 4 of"))
    yard.sweep("staging")
    rake = yard.editor.corrections
    shared = yard.finding("page/title-shared", "/berths/3/")
    mend = {"kind": "replace-text", "target": "title", "value": "Berths 5 of the yard"}
    made = rake.draft(SLUG, shared, mend).first
    assert made.state == "refused"
    assert made.problem.startswith("the fault would still be there: ")
    made = rake.draft(SLUG, shared, mend | {"value": "Berth three of the yard"}).first
    assert made.state == "drafted", made.problem
    assert "<title>Berth three of the yard</title>" in rake.show(made.id).diff


def test_a_draft_that_is_placed_anew_keeps_what_was_asked_for(yard: Yard) -> None:
    """The source changes; another draft of the page places the first one anew, and what its
    encoding lacks is written as references there too."""
    file = yard.file("/cranes/")
    file.write_bytes(file.read_bytes().replace(b'charset="utf-8"', b'charset="iso-8859-2"'))
    rake = yard.editor.corrections
    picture = yard.finding("pictures/no-text", "/cranes/")
    first = rake.draft(SLUG, picture, yard.text("Þe crane"), as_references=True).first
    assert first.state == "drafted", first.problem
    file.write_bytes(file.read_bytes().replace(b"<p>Two cranes", b"<p>New.</p><p>Two cranes"))
    found = yard.manager.findings.list(SLUG, environment="staging", check="pictures/no-text")
    seal = next(one for one in found if one.path == "/cranes/" and "seal.png" in one.excerpt)
    second = rake.draft(SLUG, seal.id, yard.text("The seal of the yard")).first
    assert second.state == "drafted", second.problem
    assert rake.show(first.id).state == "drafted"
    page = rake.page(SLUG, "/cranes/", environment="staging")
    assert b'alt="&#222;e crane"' in page
    assert b"<p>New.</p>" in page
