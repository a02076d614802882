"""The words of letters: what to do, where, by when, with a link to each fix."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from plumrake.connect.mail import Letter
from plumrake.records.fixes import Fix
from plumrake.records.people import Person
from plumrake.records.telling import Notice

_TITLES = {
    "mentioned": "You are mentioned",
    "returned": "Still there",
    "handed_out": "New for you",
    "waiver_ended": "A waiver is over",
    "proven": "Proven mended",
    "handed_in": "Handed in",
}
_MOST_LISTED = 20


def urgent_letter(person: Person, notices: Sequence[Notice], address: str) -> Letter:
    """Return the letter on what is not to wait."""
    first, more = notices[0], len(notices) - 1
    subject = f"{_TITLES[first.kind]}: {first.says}" + (f" (and {more} more)" if more else "")
    return Letter(person.name, person.email, _short(subject), _text(person, _by_kind(notices, address), address))


def digest_letter(person: Person, notices: Sequence[Notice], desk: Sequence[Fix], address: str) -> Letter:
    """Return the daily letter: what is new, then what is late, then how much is in front of the person."""
    late = [fix for fix in desk if fix.late]
    parts = _by_kind(notices, address)
    if late:
        parts += ["Late", "", *(_line(fix.says, fix.path, fix.pages, fix.due_on, _link(address, fix.id)) for fix in late[:_MOST_LISTED])]
        parts += [f"  … and {len(late) - _MOST_LISTED} more", ""] if len(late) > _MOST_LISTED else [""]
    waits = [fix for fix in desk if fix.state != "handed_in"]
    parts.append(f"In front of you: {_counted(len(waits), 'fix', 'fixes')}, {len(late)} late. All of it: {address}/desk")
    fresh = sum(notice.kind in ("handed_out", "returned") for notice in notices)
    subject = f"Your fixes: {fresh} new, {len(late)} late, {len(waits)} in all"
    return Letter(person.name, person.email, subject, _text(person, parts, address))


def _by_kind(notices: Sequence[Notice], address: str) -> list[str]:
    lines: list[str] = []
    for kind, title in _TITLES.items():
        found = [notice for notice in notices if notice.kind == kind]
        if not found:
            continue
        lines += [title, ""]
        for notice in found[:_MOST_LISTED]:
            lines.append(_line(notice.says, notice.path, notice.pages, notice.due_on, _link(address, notice.fix_id), notice.mend))
            if notice.why:
                lines.append(f"    {notice.by or 'The reading'}: {notice.why}")
        if len(found) > _MOST_LISTED:
            lines.append(f"  … and {len(found) - _MOST_LISTED} more")
        lines.append("")
    return lines


def _line(says: str, path: str, pages: int, due_on: date | None, link: str, mend: str | None = None) -> str:
    where = path if pages == 1 else f"{path} and {_counted(pages - 1, 'other page', 'other pages')}"
    due = f", by {due_on:%A %d %B %Y}" if due_on is not None else ""
    to_do = f"\n    What to do: {mend}" if mend else ""
    return f"* {says}{to_do}\n    Where: {where}{due}\n    {link}"


def _link(address: str, fix_id: int) -> str:
    return f"{address}/fixes/{fix_id}"


def _counted(number: int, one: str, many: str) -> str:
    return f"{number} {one if number == 1 else many}"


def _short(text: str) -> str:
    return text if len(text) <= 140 else text[:139].rstrip() + "…"


def _text(person: Person, parts: Sequence[str], address: str) -> str:
    end = ["", "-- ", f"Plum Rake, {address}", f"Which letters you get: {address}/me"]
    return "\n".join([f"Good day, {person.name},", "", *parts, *end]) + "\n"
