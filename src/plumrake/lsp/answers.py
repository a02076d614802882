"""What an editor is answered about a text that was read: diagnostics, actions, hover, outline."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, Final

from lsprotocol import types as lsp

from plumrake.core.colours import Colour
from plumrake.core.findings import Finding, Outcome
from plumrake.core.mending.edits import Contradiction, Edit, applied, ordered
from plumrake.core.policy import Policy
from plumrake.core.registry import catalogue
from plumrake.lsp.colours import colours_in, ratio_of
from plumrake.lsp.completion import completions
from plumrake.lsp.help_pages import help_page
from plumrake.lsp.places import Places
from plumrake.lsp.written import Found, Heading, Way, WrittenText
from plumrake.reports.help_text import help_sections

SELECT: Final = "plumrake.select"
"""The command that selects what has to be written."""
FIX_ALL: Final = "source.fixAll.plumrake"
SOURCE: Final = "Plum Rake"
MOST_TOLD: Final = 500
"""So many diagnostics of a document are told; an editor draws each."""
_MOST_RELATED = 8
_WEIGHTS = {
    "barrier": lsp.DiagnosticSeverity.Error,
    "obstacle": lsp.DiagnosticSeverity.Warning,
    "friction": lsp.DiagnosticSeverity.Information,
}
_HELP_SECTIONS = ("Who is hindered", "What an editor does", "What a template developer does")


@dataclass(slots=True)
class Read:
    """A text as it was read last: its version, what was found, and its places."""

    version: int | None
    written: WrittenText
    places: Places

    @property
    def told(self) -> Told:
        """What is told of it."""
        return Told(self.written.found, self.places)


@dataclass(slots=True)
class Told:
    """What is told of a text: what was found, by whole reading or nearby, and its places."""

    found: Sequence[Found]
    places: Places
    by_place: dict[tuple[str, str], Found] = field(init=False)
    _related: dict[tuple[str, str], lsp.DiagnosticRelatedInformation] = field(
        init=False, default_factory=dict
    )

    def __post_init__(self) -> None:
        self.by_place = {(one.finding.check, one.finding.selector): one for one in self.found}

    def related(self, finding: Finding, uri: str) -> list[lsp.DiagnosticRelatedInformation]:
        """Return the first of the other places that a finding names; places that many findings
        name are made once."""
        check, made = finding.check, self._related
        shown = []
        for selector in finding.facts.get("others", ())[:_MOST_RELATED]:
            key = check, selector
            if key not in made:
                other = self.by_place.get(key)
                if other is None:
                    continue
                at = lsp.Location(uri, self.places.range(*other.span))
                made[key] = lsp.DiagnosticRelatedInformation(at, other.finding.says)
            shown.append(made[key])
        return shown

    def diagnostics(self, uri: str) -> list[lsp.Diagnostic]:
        """Return the first ``MOST_TOLD`` diagnostics; of more the last says how many."""
        shown = [_diagnostic(one, self, uri) for one in self.found[:MOST_TOLD]]
        more = len(self.found) - MOST_TOLD
        if more > 0:
            shown.append(
                lsp.Diagnostic(
                    self.places.range(0, 0),
                    f"{more:,} more are not shown; `plumrake look` lists them all.",
                    severity=lsp.DiagnosticSeverity.Information,
                    source=SOURCE,
                )
            )
        return shown


def _diagnostic(found: Found, told: Told, uri: str) -> lsp.Diagnostic:
    finding = found.finding
    doubtful = finding.outcome == Outcome.CANT_TELL
    page = help_page(finding.check)
    return lsp.Diagnostic(
        range=told.places.range(*found.span),
        message=f"{finding.says} {finding.question}" if finding.question else finding.says,
        severity=lsp.DiagnosticSeverity.Information if doubtful else _WEIGHTS[finding.weight],
        code=finding.check,
        code_description=lsp.CodeDescription(page) if page is not None else None,
        source=SOURCE,
        related_information=told.related(finding, uri) or None,
        data={"place_key": finding.place_key},
    )


def _action(
    uri: str, read: Read, way: Way, *, kind: str, diagnostics: list[lsp.Diagnostic] | None
) -> lsp.CodeAction:
    command = None
    if way.to_write is not None:
        after = Places(applied(read.written.text, ordered(way.edits)), read.places.encoding)
        selected = after.range(*way.to_write)
        command = lsp.Command("Write it", SELECT, arguments=[uri, _plain(selected)])
    return lsp.CodeAction(
        title=way.says,
        kind=kind,
        diagnostics=diagnostics,
        edit=lsp.WorkspaceEdit({uri: _text_edits(read, way.edits)}),
        is_preferred=way.sure or None,
        command=command,
    )


def _text_edits(read: Read, edits: Iterable[Edit]) -> list[lsp.TextEdit]:
    return [lsp.TextEdit(read.places.range(one.start, one.end), one.text) for one in ordered(edits)]


def _plain(span: lsp.Range) -> dict[str, Any]:
    return {
        name: {"line": at.line, "character": at.character}
        for name, at in (("start", span.start), ("end", span.end))
    }


def _sure_edits(written: WrittenText, check: str = "") -> tuple[Edit, ...]:
    """Return the edits of all mends (of one check) that need no judgement and do not meet one
    another."""
    edits: list[Edit] = []
    for found in written.found:
        if check and found.finding.check != check:
            continue
        for way in written.ways(found):
            if not way.sure:
                continue
            with contextlib.suppress(Contradiction):
                edits = ordered([*edits, *way.edits])
                break
    return tuple(edits)


def _count(written: WrittenText, check: str) -> int:
    return sum(found.finding.check == check for found in written.found)


def symbols(read: Read) -> list[lsp.DocumentSymbol]:
    """Return the outline: each heading holds those below it, down to the next of its level."""
    rows = [row for row in read.written.outline() if row.kind == "heading"]
    ends = _ends(rows, len(read.written.text))
    top: list[lsp.DocumentSymbol] = []
    above: list[tuple[int, lsp.DocumentSymbol]] = []
    for row, end in zip(rows, ends, strict=True):
        level = row.level or 1
        symbol = lsp.DocumentSymbol(
            name=row.name or "(no text)",
            kind=lsp.SymbolKind.String,
            range=read.places.range(row.span[0], max(end, row.span[1])),
            selection_range=read.places.range(*row.span),
            detail=f"level {level}" + (f": {', '.join(row.faults)}" if row.faults else ""),
            children=[],
        )
        while above and above[-1][0] >= level:
            above.pop()
        siblings = above[-1][1].children if above else top
        assert isinstance(siblings, list)
        siblings.append(symbol)
        above.append((level, symbol))
    return top


def _ends(rows: list[Heading], length: int) -> Iterator[int]:
    for number, row in enumerate(rows):
        later = (
            other.span[0] for other in rows[number + 1 :] if (other.level or 1) <= (row.level or 1)
        )
        yield next(later, length)


def hover(read: Read, offset: int, policy: Policy) -> str:
    """Return what is known of a place: what was found there, whom it hinders and how it is mended,
    and what the element is to those who listen."""
    parts: list[str] = []
    for found in read.written.at((offset, offset)):
        check = catalogue()[found.finding.check]
        parts.append(f"**{found.finding.says}** ({found.finding.check}, {found.finding.weight})")
        parts += help_sections(check, _HELP_SECTIONS)
        own = policy.help_for(check.id)
        if own is not None:
            parts.append(f"{own.says} {own.link}".rstrip())
    parts += [
        ratio_of(one)
        for one in colours_in(read.written.text)
        if one.span[0] <= offset <= one.span[1]
    ]
    element = read.written.element_at(offset)
    if element is not None:
        role, name, steps = read.written.name_of(element)
        shown = f"“{name}”" if name else "no name"
        hidden = "" if read.written.is_exposed(element) else ", hidden from screen readers"
        parts.append(f"`<{element.tag}>`: role {role or 'none'}, {shown}{hidden}")
        parts += [f"- {step}" for step in steps]
    return "\n\n".join(parts)


def actions(params: lsp.CodeActionParams, read: Read) -> list[lsp.CodeAction]:
    """Return the actions that are offered for a span: the mends of what is found there, and all
    that need no judgement."""
    uri = params.text_document.uri
    span = read.places.offset(params.range.start), read.places.offset(params.range.end)
    wanted = params.context.only
    offered: list[lsp.CodeAction] = []
    if wanted is None or lsp.CodeActionKind.QuickFix in wanted:
        told = read.told
        for found in read.written.at(span):
            shown = [_diagnostic(found, told, uri)]
            ways = [*read.written.ways(found)]
            check = found.finding.check
            if any(way.sure for way in ways) and _count(read.written, check) > 1:
                says = f"The same at all {_count(read.written, check)} places ({check})"
                ways.append(Way(says, _sure_edits(read.written, check), None, sure=False))
            offered += [
                _action(uri, read, way, kind=lsp.CodeActionKind.QuickFix, diagnostics=shown)
                for way in ways
            ]
    if wanted is None or any(FIX_ALL.startswith(str(kind)) for kind in wanted):
        edits = _sure_edits(read.written)
        if edits:
            way = Way("Mend all that needs no judgement", edits, None, sure=False)
            offered.append(_action(uri, read, way, kind=FIX_ALL, diagnostics=None))
    return offered


def colour_places(text: str, places: Places) -> list[lsp.ColorInformation]:
    """Return the colours that are written in a text's styles."""
    return [
        lsp.ColorInformation(
            places.range(*one.span),
            lsp.Color(one.colour.red, one.colour.green, one.colour.blue, one.colour.alpha),
        )
        for one in colours_in(text)
    ]


def hex_of(colour: lsp.Color) -> str:
    """Return a colour as CSS writes it."""
    chosen = Colour(colour.red, colour.green, colour.blue, colour.alpha)
    alpha = "" if colour.alpha >= 1 else f"{round(colour.alpha * 255):02x}"
    return f"{chosen.hex()}{alpha}"


def completion_items(position: lsp.Position, text: str, places: Places) -> list[lsp.CompletionItem]:
    """Return what may be written at a position."""
    offset = places.offset(position)
    return [
        lsp.CompletionItem(
            one.text,
            kind=lsp.CompletionItemKind.Property
            if one.is_attribute
            else lsp.CompletionItemKind.Value,
            documentation=one.means or None,
            text_edit=lsp.TextEdit(
                places.range(one.start, offset), f'{one.text}=""' if one.is_attribute else one.text
            ),
        )
        for one in completions(text, offset)
    ]
