"""A text that is being written, read as the page that it makes: what is found in it and where,
what an element is to those who listen, and the edits that mend it."""

from __future__ import annotations

import contextlib
import re
from bisect import bisect_left
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property

from plumrake.core.assess import assess, evidence_wanted
from plumrake.core.dom import Element
from plumrake.core.findings import Finding, Mend, Needs, why_left
from plumrake.core.left_here import LeftHere
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.source_page import CannotMend, Span
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.registry import catalogue
from plumrake.core.templates.kinds import Writing, template_of
from plumrake.core.templates.marks import Template
from plumrake.core.templates.standing import standing
from plumrake.core.views.outline import outline
from plumrake.lenses.assessor import with_dictionaries
from plumrake.lenses.sources import Source, open_source
from plumrake.lsp.policies import Elsewhere

MOST_ELEMENTS = 200_000
_SHEET_ROUNDS = 8
_WHOLE = re.compile(r"<(?:!doctype|html|head|body)\b", re.IGNORECASE)
_ADDRESS = "http://text.invalid/"
_READ_BY_ITSELF = frozenset(
    "address article aside blockquote details div dl fieldset figure footer form h1 h2 h3 h4 h5 h6 "
    "header main nav ol p pre section table ul".split()
)
"""Elements that are the same wherever they stand."""
_STYLING = ("style", "link")
PLACEHOLDER = "…"
"""What stands where a person has yet to write; it is no text, so it is found until then."""


@dataclass(frozen=True, slots=True)
class Found:
    """A finding with its span in the text."""

    finding: Finding
    span: Span


@dataclass(frozen=True, slots=True)
class Way:
    """A way to mend a finding: what it says, its edits, and the span of what has to be written in
    the text after them, where something has."""

    says: str
    edits: tuple[Edit, ...]
    to_write: Span | None
    sure: bool


@dataclass(frozen=True, slots=True)
class Heading:
    """A heading or landmark of the outline, with its level, faults and span."""

    kind: str
    level: int | None
    name: str
    faults: tuple[str, ...]
    span: Span


class WrittenText:
    """A text of HTML, Markdown or a template as a policy reads it. What has no ``html``, ``head``
    or ``body`` is a part of a page, and so is what is given the start tags ``around`` it: they say
    how it looks, nothing is told of them."""

    def __init__(
        self,
        text: str,
        policy: Policy,
        writing: Writing = "html",
        address: str = _ADDRESS,
        sheets: Callable[[str], str | None] | None = None,
        around: str | None = None,
    ) -> None:
        self.text = text
        self._policy, self._writing = policy, writing
        self._address, self._sheets = address, sheets
        self._around = around
        self._template: Template | None = template_of(text, writing)
        self._source: Source = open_source(
            (around or "") + text if self._template is None else self._template.shown,
            address,
            is_markdown=writing == "markdown",
            most_elements=MOST_ELEMENTS,
            closed=self._template.closed if self._template is not None else frozenset(),
        )

    def is_of(self, text: str, policy: Policy, writing: Writing) -> bool:
        """Tell whether it is a text as a policy reads it."""
        return self.text == text and self.is_read_by(policy, writing)

    def is_read_by(self, policy: Policy, writing: Writing) -> bool:
        """Tell whether it is read by a policy, as what it is written in."""
        return self._policy == policy and self._writing == writing

    @cached_property
    def _page(self) -> Page:
        page = self._source.page
        is_part = self._around is not None or not _WHOLE.search(self._source.text)
        if self._source.markdown is not None or is_part:
            document = page.document
            page = Page(replace(document, gives=document.gives - {Needs.PAGE}))
        return page

    def _styled(self) -> Page:
        """Return the page with its styles, where it is a whole one, or what is around it is known,
        and its style sheets are there."""
        page = self._page
        is_looked_at = self._around is not None or Needs.PAGE in page.document.gives
        if self._sheets is None or self._template is not None or not is_looked_at:
            return page
        from plumrake.lenses.styles import styled  # not before the first diagnostics are told

        texts: dict[str, str | None] = {}
        with contextlib.suppress(Elsewhere):
            for _ in range(_SHEET_ROUNDS):
                found = styled(page, texts, self._address)
                if isinstance(found, Page):
                    return found
                texts.update({one: self._sheets(one) for one in found})
        return page

    @cached_property
    def found(self) -> tuple[Found, ...]:
        """What is found, in the order of the text."""
        page = self._styled()
        if Needs.DICTIONARY in evidence_wanted(self._policy):
            page = with_dictionaries(page)
        return self._found_on(page)

    @cached_property
    def found_at_once(self) -> tuple[Found, ...]:
        """What is found without dictionaries and styles: most of it, in half the time."""
        return self._found_on(self._page)

    def _found_on(self, page: Page) -> tuple[Found, ...]:
        assessed = assess(page, self._policy).findings
        before = len(self._around or "")
        found = [
            Found(one, (start - before, end - before))
            for one in self._standing(assessed)
            for start, end in [self._span_of(one)]
            if start >= before
        ]
        return tuple(sorted(found, key=lambda one: one.span))

    def _standing(self, findings: Iterable[Finding]) -> Iterator[Finding]:
        """Yield what its author has not left out by a comment, and what stands whatever a template
        fills in."""
        for finding in findings:
            if why_left(finding):
                continue
            if self._template is None:
                yield finding
                continue
            with contextlib.suppress(CannotMend):
                element = self._source.element_of(finding)
                if self._left_here.reason(catalogue()[finding.check], element):
                    continue
                stands = standing(finding, element, self._whole(element), self._template)
                if stands is not None:
                    yield stands

    @cached_property
    def _starts(self) -> list[tuple[int, int]]:
        return sorted((start, index) for index, start in self._source.html.starts.items())

    def part_around(self, span: Span, *, longest: int) -> Span | None:
        """Return where the least part stands that holds a span between its tags and that is the
        same wherever it stands; None where there is none, or only one of more than ``longest``
        characters. Templates and Markdown have none."""
        if self._template is not None or self._source.markdown is not None:
            return None
        last = bisect_left(self._starts, (span[0], -1)) - 1
        if last < 0:
            return None
        element = self._page.elements[self._starts[last][1]]
        for one in (element, *element.ancestors()):
            whole = self._whole(one) if one.tag in _READ_BY_ITSELF else None
            if whole is None or not self._holds(one, span):
                continue
            return whole if whole[1] - whole[0] <= longest else None
        return None

    @cached_property
    def _parts(self) -> dict[Span, WrittenText]:
        return {}

    def part_as_it_is(self, span: Span) -> WrittenText:
        """Return the part at a span read by itself, the last such part from memory."""
        known = self._parts.get(span)
        if known is None:
            self._parts.clear()
            known = self._parts[span] = self.part(self.text[slice(*span)], span[0])
        return known

    def _holds(self, element: Element, span: Span) -> bool:
        content = self._source.html.content(element)
        return content[0] <= span[0] and span[1] <= content[1]

    def part(self, text: str, start: int) -> WrittenText:
        """Return the part of the text that starts at an offset, or what becomes of it, read by
        itself, in the language and with the looks that it has on the page."""
        element = self._page.elements[self._starts[bisect_left(self._starts, (start, -1))][1]]
        part = WrittenText(
            text,
            self._policy,
            address=self._page.address,
            sheets=self._sheets,
            around=self._written_around(element),
        )
        part._page.root.attributes.setdefault("lang", self._page.language_of(element))
        return part

    def _written_around(self, element: Element) -> str:
        """Return the start tags of all that an element lies in, with the page's own styles."""
        around = [self._tag(one) for one in element.ancestors()]
        tags = [self.text[slice(*tag)] for tag in reversed(around) if tag is not None]
        styles = [self.text[slice(*whole)] for whole in self._styles]
        is_whole = bool(tags) and tags[0].lower().startswith("<html")
        return "".join([*tags[:is_whole], *styles, *tags[is_whole:]])

    @cached_property
    def _styles(self) -> list[Span]:
        wholes = (self._whole(one) for one in self._page.elements if one.tag in _STYLING)
        return [whole for whole in wholes if whole is not None]

    @property
    def is_one_element(self) -> bool:
        """Whether the text is one element that can be read by itself, from its first character to
        its last."""
        before = len(self._around or "")
        first = bisect_left(self._starts, (before, -1))
        if first == len(self._starts):
            return False
        start, index = self._starts[first]
        end = before + len(self.text)
        return start == before and self._whole(self._page.elements[index]) == (before, end)

    def at(self, span: Span) -> list[Found]:
        """Return the findings whose span meets another."""
        return [one for one in self.found if one.span[0] <= span[1] and span[0] <= one.span[1]]

    def element_at(self, offset: int) -> Element | None:
        """Return the innermost element that is written around an offset."""
        best: tuple[int, Element] | None = None
        for element in self._page.elements:
            span = self._whole(element)
            if span is not None and span[0] <= offset < span[1]:
                size = span[1] - span[0]
                if best is None or size <= best[0]:
                    best = size, element
        return best[1] if best is not None else None

    def name_of(self, element: Element) -> tuple[str, str, list[str]]:
        """Return an element's role, its accessible name, and the steps that led to it (Accessible
        Name and Description Computation 1.2)."""
        page = self._page
        steps = [f"{step.step}: {self._said(step.says)}" for step in page.trace_of(element)]
        return page.role_of(element), self._said(page.name_of(element)), steps

    @cached_property
    def _left_here(self) -> LeftHere:
        return LeftHere(self._page.document, self.text)

    def _said(self, words: str) -> str:
        return self._template.said(words) if self._template is not None else words

    def is_exposed(self, element: Element) -> bool:
        """Tell whether an element is in the accessibility tree."""
        return self._page.is_exposed(element)

    def ways(self, found: Found) -> Iterator[Way]:
        """Yield the ways to mend a finding that can be carried out in this text."""
        try:
            element = self._source.element_of(found.finding)
        except CannotMend:
            return
        for given in found.finding.mends:
            mend = Mend.of(given)
            if not mend.can_be_carried_out:
                continue
            filled = replace(mend, value=PLACEHOLDER) if mend.asks else mend
            try:
                edits = self._source.edits_of(element, filled)
            except CannotMend:
                continue
            if self._template is not None:
                edits = self._template.restored(edits) or ()
            if edits:
                yield Way(mend.says, edits, _to_write(edits) if mend.asks else None, mend.sure)

    def outline(self) -> list[Heading]:
        """Return headings and landmarks in their order."""
        by_selector = {self._page.selector_of(one): one for one in self._page.elements}
        rows: list[Heading] = []
        for row in outline(self._page):
            element = by_selector.get(row["selector"])
            span = self._whole(element) if element is not None else None
            if span is not None:
                rows.append(
                    Heading(
                        row["kind"],
                        row["level"],
                        self._said(row["name"]),
                        tuple(self._said(one) for one in row["faults"]),
                        span,
                    )
                )
        return rows

    def _span_of(self, finding: Finding) -> Span:
        """Return where a finding is shown: on the start tag, or on what Markdown writes for it;
        for the page as a whole on the first line."""
        first_line = 0, len(self.text.partition("\n")[0])
        if finding.selector == "html":
            root = self._page.root
            tag = self._tag(root)
            return tag if tag is not None else first_line
        try:
            element: Element | None = self._source.element_of(finding)
        except CannotMend:
            return first_line
        while element is not None:
            span = self._tag(element)
            if span is not None:
                return span
            element = element.parent
        return first_line

    def _tag(self, element: Element) -> Span | None:
        markdown = self._source.markdown
        if markdown is not None:
            place = markdown.places.get(element.index)
            if place is not None:
                return place.span
            offset = markdown.offset_of(element)
            return (offset, offset + len(element.tag) + 1) if offset is not None else None
        try:
            tag = self._source.html.start_tag(element)
        except CannotMend:
            return None
        return tag.start, tag.end

    def _whole(self, element: Element) -> Span | None:
        markdown = self._source.markdown
        if markdown is not None:
            place = markdown.places.get(element.index)
            return place.span if place is not None else None
        try:
            return self._source.html.whole(element)
        except CannotMend:
            return None


def _to_write(edits: tuple[Edit, ...]) -> Span | None:
    """Return where the placeholder stands after the edits are made."""
    moved = 0
    for edit in sorted(edits, key=lambda one: one.start):
        at = edit.text.find(PLACEHOLDER)
        if at >= 0:
            start = edit.start + moved + at
            return start, start + len(PLACEHOLDER)
        moved += len(edit.text) - (edit.end - edit.start)
    return None
