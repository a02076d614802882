"""Every check against its own case file and the examples of its own help page."""

import asyncio
import re
from pathlib import Path

import pytest

import plumrake.core.checks
from plumrake.core.assess import assess
from plumrake.core.evidence import LinkState, Network
from plumrake.core.findings import Needs, Weight
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.registry import Check, PageFacts, SeenFault, catalogue, example
from plumrake.core.sitewide import assess_site
from plumrake.lenses.assessor import with_dictionaries, with_languages
from plumrake.lenses.markup import parse_document
from plumrake.lenses.reader import PageReader

FOLDER = Path(plumrake.core.checks.__file__).parent
EXPECT = re.compile(r"data-expect=\"(\w+) ([\w-]+)\"")


def cases_of(check: Check) -> list[tuple[str, str]]:
    """Return the cases of a check's file: what each is about, and its HTML."""
    text = (FOLDER / f"{check.id.replace('-', '_')}.cases.html").read_text(encoding="utf-8")
    return [
        (title, html.strip())
        for title, html in re.findall(
            r"<!-- case: (.+?) -->\n(.*?)(?=\n<!-- case:|\Z)", text, re.DOTALL
        )
    ]


def whole(html: str) -> str:
    """Return a fragment as a page of its own; ``… 501 words …`` stands for so many words."""
    html = re.sub(r"… (\d+) words …", lambda match: " ".join(["word"] * int(match.group(1))), html)
    return html if html.startswith("<html") else f'<html lang="en"><body>{html}</body></html>'


OF_MARKUP = {Needs.TREE, Needs.PAGE, Needs.NETWORK, Needs.DICTIONARY, Needs.LANGUAGES}


def is_rendered(check: Check, html: str) -> bool:
    """Tell whether a case is read in the browser: its check needs more than the tree, or the case
    says so."""
    return bool(check.needs - OF_MARKUP) or 'data-case="rendered"' in html


@pytest.fixture(scope="module")
def pages() -> dict[str, Page]:
    """Every case of the checks that need more than the tree, and their examples, read in one
    browser."""
    wanted = {
        whole(html)
        for check in catalogue().values()
        for _, html in cases_of(check)
        if is_rendered(check, html)
    }
    wanted |= {
        whole(example(check, part))
        for check in catalogue().values()
        for part in ("Wrong", "Right")
        if is_rendered(check, "")
    }

    async def read() -> dict[str, Page]:
        async with PageReader("rendered") as reader:
            obtained = await asyncio.gather(
                *(
                    reader.read_html(f"<!doctype html>{html}".encode(), "http://case.invalid/")
                    for html in wanted
                )
            )
        return {
            html: one.page
            for html, one in zip(wanted, obtained, strict=True)
            if one.page is not None
        }

    return asyncio.run(read())


def found(check: Check, html: str, pages: dict[str, Page]) -> list[tuple[str, str, str]]:
    """Return outcome, message and start tag of what a check finds."""
    if check.across is not None:
        return found_across(check, html)
    page = (
        Page(parse_document(f"<!doctype html>{whole(html)}", "http://case.invalid/"))
        if not is_rendered(check, html)
        else pages[whole(html)]
    )
    if check.area == "links":
        network = Network(
            {
                link.index: answered(link.get("href"))
                for link in page.exposed(role="link")
                if link.has("href")
            },
            ("http://staging.case.invalid",),
        )
        page = page.knowing(Needs.NETWORK, network=network)
    if Needs.DICTIONARY in check.needs:
        page = with_dictionaries(page)
    if check.needs & {Needs.DICTIONARY, Needs.LANGUAGES}:
        page = with_languages(page)
    assessed = assess(page, Policy(only=(check.id,)))
    assert bool(assessed.untested) == ("<!-- untested: " in html), "such a case shows nothing"
    findings = assessed.findings
    by_selector = {page.selector_of(element): element for element in page.elements}
    return [
        (one.outcome, one.message, by_selector[one.selector].get("data-expect")) for one in findings
    ]


def answered(target: str) -> LinkState:
    """Return what a link leads to in the made world of the cases: its words say so."""
    if "/gone/" in target:
        return LinkState("dead", "there is no such page (404)", 404)
    if "/only-staging/" in target:
        return LinkState("only-in-staging", "there is no such page (404)", 404)
    if "/busy/" in target:
        return LinkState("unknown", "the server is too busy (503)", 503)
    return LinkState("works", "", 200, (), False if target.endswith("#no-such-part") else None)


def found_across(check: Check, html: str) -> list[tuple[str, str, str]]:
    """Return what a site-wide check finds on the pages of a case."""
    parts = html.split("<!-- next page -->")
    pages = [
        Page(parse_document(f"<!doctype html>{whole(part.strip())}", f"case-{at}"))
        for at, part in enumerate(parts)
    ]
    facts = [
        PageFacts(
            page.address,
            page.title,
            tuple(
                SeenFault("films", "Do they?", ("1.2.2",), Weight.OBSTACLE, says, {})
                for says in re.findall(r"<!-- seen: (.+?) -->", part)
            ),
        )
        for page, part in zip(pages, parts, strict=True)
    ]
    by_page = assess_site(facts, Policy(only=(check.id,)))
    return [
        (one.outcome, one.message, pages[at].root.get("data-expect"))
        for at, all_of in by_page.items()
        for one in all_of
    ]


CASES = [
    pytest.param(check, html, id=f"{check.id}: {title}")
    for check in catalogue().values()
    for title, html in cases_of(check)
]


@pytest.mark.parametrize(("check", "html"), CASES)
def test_case(check: Check, html: str, pages: dict[str, Page]) -> None:
    """A check finds what the case file marks, on the marked element, and nothing more."""
    expected = [
        (outcome, message, f"{outcome} {message}") for outcome, message in EXPECT.findall(html)
    ]
    assert sorted(found(check, html, pages)) == sorted(expected)


@pytest.mark.parametrize(
    "check", [pytest.param(check, id=check.id) for check in catalogue().values()]
)
def test_case_file_is_complete(check: Check) -> None:
    """A case file has three faults, three clean cases, and shows every message."""
    marks = [EXPECT.findall(html) for _, html in cases_of(check)]
    assert sum(map(len, marks)) >= 3
    assert sum(not mark for mark in marks) >= 3
    assert {message for mark in marks for _, message in mark} == set(check.messages)


@pytest.mark.parametrize(
    "check", [pytest.param(check, id=check.id) for check in catalogue().values()]
)
def test_examples_of_the_help_page(check: Check, pages: dict[str, Page]) -> None:
    """What the help page calls wrong is reported; what it calls right is not."""
    assert found(check, example(check, "Wrong"), pages)
    assert not found(check, example(check, "Right"), pages)
