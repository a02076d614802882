"""Colours mended where they come from: the rule that wins, in the page or in a sheet beside it."""

from collections.abc import AsyncIterator
from dataclasses import replace
from pathlib import Path

import pytest

from plumrake.actions.look import LookSettings, resolve_targets
from plumrake.actions.mended_files import MendedFile, diff_of
from plumrake.actions.mending import MendingSession, Refused, mending
from plumrake.actions.reading import PageResult
from plumrake.core.findings import Finding
from plumrake.core.mending.sheets import declared
from plumrake.core.mending.source_page import CannotMend
from plumrake.core.policy import Policy
from plumrake.lenses.markup import parse_source
from plumrake.net.problems import Problem

SHEET = "/* Canal */\r\np { color: #000 }\r\n.pale { color: #999; margin: 0 }\r\n"
PAGE = """<!doctype html><html lang="en"><title>{n}</title><link rel=stylesheet href=/site.css>
<main><h1>{n}</h1><p class="pale">Pale words on page {n}</p></main>"""


@pytest.mark.parametrize(
    ("sheets", "html", "found"),
    [
        (["p{color:red}"], "<p id=a>", "p|red"),
        (["p{color:red} p{color:blue}"], "<p id=a>", "p|blue"),
        (["p.x{color:red} p{color:blue}"], "<p id=a class=x>", "p.x|red"),
        (["p{color:red!important} #a{color:blue}"], "<p id=a>", "p|red"),
        (["p{color:red}", "p{color:blue}"], "<p id=a>", "p|blue"),
        (["div{color:red}"], "<div><p><b id=a>", "div|red"),
        (["div{color:red} p{color:blue}"], "<div><p><b id=a>", "p|blue"),
        (["p{color:red}"], "<p id=a style='color:blue'>", None),
        (["p{color:red} a::before{color:blue}"], "<p id=a>", "p|red"),
        (["@media print{p{color:blue}} p{color:red}"], "<p id=a>", "p|red"),
        (["p{color: var(--c) }"], "<p id=a>", "p|var(--c)"),
        (["p::{color:blue} p{color:red}"], "<p id=a>", "p|red"),
        (["h1, p > b { COLOR : red ; }"], "<p><b id=a>", "h1, p > b|red"),
        ([""], "<p id=a>", None),
    ],
)
def test_the_rule_that_wins(sheets: list[str], html: str, found: str | None) -> None:
    """By importance, by how specific it is, by order; what is inherited comes from the nearest."""
    page = parse_source(html, "http://made.invalid/").page
    element = page.by_id("a")
    assert element is not None
    place = declared(page, element, "color", sheets)
    assert (f"{place.selector}|{place.value}" if place is not None else None) == found
    if place is not None:
        assert sheets[place.sheet][place.start : place.end] == place.value


@pytest.fixture
async def session(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> AsyncIterator[MendingSession]:
    """Three pages with one style sheet and one pale class."""
    monkeypatch.chdir(tmp_path)
    (tmp_path / "site.css").write_bytes(SHEET.encode())
    for name in ("index", "two", "three"):
        (tmp_path / f"{name}.html").write_text(PAGE.format(n=name))
    settings = LookSettings("rendered", Policy(only=("contrast",)))
    async with mending(resolve_targets(["."]), settings) as opened:
        yield opened


def first(session: MendingSession) -> tuple[MendedFile, Finding]:
    """Return the first that waits."""
    return session.waiting()[0]


async def test_one_rule_for_all_pages(session: MendingSession, tmp_path: Path) -> None:
    """The fault goes on every page that has it; only the value's bytes change; it can be taken
    back."""
    assert len(session.waiting()) == 3
    file, finding = first(session)
    wanted = session.sheet_mends(file, finding)[0]
    assert ".pale styles: color: #767676 instead of #999 (site.css:3)" in wanted.says
    await session.take_in_sheet(file, finding, wanted)
    assert session.waiting() == []
    assert session.back() is not None
    assert len(session.waiting()) == 3
    await session.take_in_sheet(file, finding, session.sheet_mends(*first(session))[0])
    (changed,) = session.changed
    assert "-.pale { color: #999; margin: 0 }" in diff_of(changed)
    assert session.write() == [(changed, None)]
    assert (tmp_path / "site.css").read_bytes() == SHEET.replace("#999", "#767676").encode()
    assert (tmp_path / "two.html").read_text() == PAGE.format(n="two")


async def test_what_makes_another_page_worse_is_refused(
    session: MendingSession, tmp_path: Path
) -> None:
    """A rule that styles something on dark ground elsewhere."""
    file, finding = first(session)
    wanted = session.sheet_mends(file, finding)[0]
    dark = session.files[-1]
    text = dark.text.replace("</main>", "<p class=pale style='background:#222'>On dark</p></main>")
    dark.path.write_text(text)
    async with mending(resolve_targets(["."]), LookSettings("rendered", Policy())) as again:
        file, finding = next(
            (one, found) for one, found in again.waiting() if found.check == "contrast/text"
        )
        wanted = again.sheet_mends(file, finding)[0]
        with pytest.raises(Refused, match="it would bring another fault"):
            await again.take_in_sheet(file, finding, wanted)
        assert again.changed == []
        assert again.steps == []


async def test_a_page_that_cannot_be_read_again_proves_nothing(
    session: MendingSession, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The change of the sheet is taken back; at the end what was found last still counts."""
    file, finding = first(session)
    wanted = session.sheet_mends(file, finding)[0]
    read = session._read

    async def lost(*given: object, **named: object) -> PageResult:
        result = await read(*given, **named)  # type: ignore[arg-type]
        return replace(result, problem=Problem("browser-lost", "the browser died"))

    monkeypatch.setattr(session, "_read", lost)
    with pytest.raises(CannotMend, match="could not be read again: the browser died"):
        await session.take_in_sheet(file, finding, wanted)
    assert session.changed == []
    assert len(session.waiting()) == 3
    monkeypatch.setattr(session, "_read", read)
    await session.take_in_sheet(file, finding, wanted)
    monkeypatch.setattr(session, "_read", lost)
    await session.read_all_again()
    assert len(session.unread) == 3
