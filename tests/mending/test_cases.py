"""Every fault of the checks' case files, mended in its source: the finding is gone, none has come,
and nothing outside of the mend's spans is touched."""

import asyncio
from collections.abc import Iterator
from dataclasses import dataclass, replace

import pytest

from plumrake.core.assess import assess
from plumrake.core.evidence import Network
from plumrake.core.findings import Finding, Mend, Needs
from plumrake.core.mending.carrying_out import KINDS, edits_of
from plumrake.core.mending.edits import Contradiction, Edit, applied
from plumrake.core.mending.effect import WRITING, Effect, effect_of
from plumrake.core.mending.source_page import CannotMend, SourcePage
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.registry import Check, catalogue
from plumrake.lenses.assessor import with_dictionaries, with_languages
from plumrake.lenses.markup import parse_document, parse_source
from plumrake.lenses.reader import PageReader
from tests.core.test_cases import answered, cases_of, is_rendered, whole

ADDRESS = "http://case.invalid/"
WORDS = "How the keeper opens the gates"
POLICY = Policy()

ONE_ALONE_CANNOT = {
    ("contrast/placeholder", "pale"): "the browser makes the words half as pale again",
    ("contrast/text", "group opacity"): "what is around it is half transparent",
    ("controls/click-only", "blocks, words, pictures"): "a picture is made a button by its author",
    ("controls/parent-missing", "in the wrong one"): "the parts of a table belong together",
    ("controls/reference-dangling", "one of several"): "the other reference has to stay",
    ("forms/label-dangling", "no field"): "there is no field",
    ("headings/empty", "a picture without text"): "another heading beside it is empty",
    ("headings/empty", "its text is kept from screen readers"): "nothing stands under it",
    ("headings/no-level-1", "only level 2 and deeper"): "the page is nothing but headings",
    ("headings/no-level-1", "the only level 1 is hidden"): "the page is nothing but headings",
    ("headings/several-level-1", "two of them"): "of the first: the other one is to be mended",
    (
        "headings/several-level-1",
        "by role and level",
    ): "of the first: the other one is to be mended",
    ("headings/used-for-text", "three in a row"): "the page is nothing but these headings",
    ("lists/odd-child", "in a description list"): "a group of terms with a picture among them",
    ("motion/moves", "a moving picture"): "the file moves",
    ("page/skip-broken", "hidden from everyone"): "how it is shown on focus is design",
    ("page/skip-broken", "off the screen for good"): "how it is shown on focus is design",
    ("tables/layout-with-data-parts", "header cells, caption, summary"): "a table of one cell",
    ("text/spelling", "across inline elements, with a soft hyphen"): "not written in one piece",
    ("zoom/clipped", "at fixed places"): "both have fixed places",
    ("zoom/spacing", "at fixed places"): "both have fixed places",
}
"""Faults of cases that no mend of one place makes go without another coming; why."""


@dataclass
class Case:
    """A case as a page of its own, and what is found on it."""

    check: Check
    title: str
    html: str
    findings: tuple[Finding, ...] = ()

    @property
    def rendered(self) -> bool:
        """Whether it is read in the browser."""
        return is_rendered(self.check, self.html)


def cases() -> Iterator[Case]:
    """Yield the cases of all checks that look at one page and do not leave mending to people."""
    for check in catalogue().values():
        if check.across is None and not check.only_people:
            for title, html in cases_of(check):
                if "data-expect" in html and "<!-- untested: " not in html:
                    yield Case(check, title, f"<!doctype html>{whole(html)}")


def prepared(check: Check, page: Page) -> Page:
    """Return the page with what its check wants beside the tree."""
    if check.area == "links":
        links = [link for link in page.exposed(role="link") if link.has("href")]
        states = {link.index: answered(link.get("href")) for link in links}
        network = Network(states, ("http://staging.case.invalid",))
        page = page.knowing(Needs.NETWORK, network=network)
    if Needs.DICTIONARY in check.needs:
        page = with_dictionaries(page)
    if check.needs & {Needs.DICTIONARY, Needs.LANGUAGES}:
        page = with_languages(page)
    return page


async def found(reader: PageReader, case: Case, html: str) -> tuple[Finding, ...]:
    """Return what is found on a changed case."""
    if case.rendered:
        obtained = await reader.read_html(html.encode(), ADDRESS)
        assert obtained.page is not None
        page = obtained.page
    else:
        page = Page(parse_document(html, ADDRESS))
    return assess(prepared(case.check, page), POLICY).findings


def texts_for(source: SourcePage, finding: Finding, mend: Mend) -> list[str]:
    """Return what a person might write where a mend asks for it."""
    element = source.at(finding.line, finding.column)
    own = element.text() if element is not None else ""
    ids = [one.get("id") for one in source.page.elements if one.get("id")]
    heading = next((one.text() for one in source.page.elements if one.tag == "h1"), "")
    by_attribute = {
        "lang": ["cy", "de"],
        "href": ["/moorings/", "#"],
        "autocomplete": ["email", "tel", "off"],
        "aria-label": [f"{own} – {WORDS}" if own else WORDS],
    }
    allowed = ["true", "1", "50", "polite", "page"]
    if mend.attribute in by_attribute:
        return by_attribute[mend.attribute]
    if mend.kind == "replace-word":
        return ["lock", "Schleuse"]
    return [WORDS, *([f"{heading} – Canal"] if heading else []), *allowed, *ids]


def mends_of(source: SourcePage, finding: Finding) -> Iterator[Mend]:
    """Yield the mends that may be carried out, with what a person might write."""
    for given in finding.mends:
        mend = Mend.of(given)
        if mend.can_be_carried_out:
            assert mend.kind in KINDS
            texts = texts_for(source, finding, mend) if mend.asks else [mend.value]
            yield from (replace(mend, value=text) for text in texts)


def planned(source: SourcePage, finding: Finding, mend: Mend) -> tuple[Edit, ...]:
    """Return a mend's edits; none where it cannot be carried out."""
    element = source.at(finding.line, finding.column)
    is_root = finding.selector.startswith("html") and " " not in finding.selector
    try:
        return edits_of(source, source.page.root if is_root or element is None else element, mend)
    except CannotMend:
        return ()


async def mended(reader: PageReader, case: Case, wanted: list[Finding]) -> str:
    """Tell why no mend makes findings go, or ``""`` where one does."""
    source = parse_source(case.html, ADDRESS)
    why = "it cannot be carried out"
    for at, mend in enumerate(mends_of(source, wanted[0])):
        edits = [
            edit
            for finding in wanted
            for edit in planned(
                source, finding, mend if finding is wanted[0] else again(source, finding, mend, at)
            )
        ]
        if not edits:
            continue
        try:
            changed = applied(case.html, edits)
        except Contradiction as error:
            why = str(error)
            continue
        after = await found(reader, case, changed)
        effect: Effect = effect_of(
            case.html, edits, case.findings, after, wanted, writes_only=mend.kind in WRITING
        )
        if effect.counts:
            assert_alike_outside(case.html, changed, edits)
            return ""
        why = f"{mend.kind}: {effect.says}"
    return why


def again(source: SourcePage, finding: Finding, mend: Mend, at: int) -> Mend:
    """Return the same mend of another finding."""
    own = list(mends_of(source, finding))
    return own[at] if at < len(own) else mend


def assert_alike_outside(before: str, after: str, edits: list[Edit]) -> None:
    """Between the spans every character is as before."""
    at = shift = 0
    for edit in sorted(set(edits), key=lambda one: (one.start, one.end)):
        assert before[at : edit.start] == after[at + shift : edit.start + shift]
        at, shift = edit.end, shift + len(edit.text) - (edit.end - edit.start)
    assert before[at:] == after[at + shift :]


def test_every_fault_of_the_cases_can_be_mended() -> None:
    """By one of its mends alone, or by those of all like faults of the case at once."""
    known = list(cases())

    async def one(reader: PageReader, case: Case) -> list[str]:
        case.findings = await found(reader, case, case.html)
        own = [finding for finding in case.findings if finding.check == case.check.id]
        assert own, f"{case.check.id}: {case.title}"
        whys = []
        for finding in own:
            why = await mended(reader, case, [finding])
            if why and len(own) > 1:
                why = await mended(reader, case, own) and why
            if why and (case.check.id, case.title) not in ONE_ALONE_CANNOT:
                whys.append(f"{case.check.id}: {case.title}: {finding.selector}: {why}")
        return whys

    async def every() -> list[list[str]]:
        async with PageReader("rendered") as reader:
            return await asyncio.gather(*(one(reader, case) for case in known))

    whys = [why for some in asyncio.run(every()) for why in some]
    assert not whys, "\n".join(whys)


@pytest.mark.parametrize("check", catalogue().values(), ids=lambda check: check.id)
def test_every_check_can_be_mended_or_says_why_not(check: Check) -> None:
    """A check that only proposes what people are to do says in its file why."""
    text = "".join(html for _, html in cases_of(check))
    assert "data-expect" in text
    if check.only_people:
        assert check.only_people.endswith(".")
        assert len(check.only_people) > 30
