"""The words of e-mails: what to do, where, by when, with a link to each fix."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from itertools import groupby

from plumrake.core.policy import Policy
from plumrake.models.labels import NOTIFICATION_LABELS, notification_label
from plumrake.outbound.mail import Email
from plumrake.records.fixes import FixRow
from plumrake.records.notifications import NotificationRow
from plumrake.records.people import PersonRow
from plumrake.reports.days import in_words

_MOST_LISTED = 20
Policies = Mapping[str, Policy]
"""The policies of sites by their short names."""


def urgent_email(
    person: PersonRow,
    notifications: Sequence[NotificationRow],
    address: str,
    policies: Policies,
) -> Email:
    """Return the e-mail on what is not to wait."""
    first, more = notifications[0], len(notifications) - 1
    subject = f"{_title(first)}: {first.says}" + (f" (and {more} more)" if more else "")
    return Email(
        person.name,
        person.email,
        _short(subject),
        _text(person, _by_kind(notifications, address, policies), address),
    )


def digest_email(
    person: PersonRow,
    notifications: Sequence[NotificationRow],
    desk: Sequence[FixRow],
    address: str,
    policies: Policies,
) -> Email:
    """Return the daily e-mail: what is new, then what is late, then how much is in front of the
    person."""
    late = [fix for fix in desk if fix.late]
    parts = _by_kind(notifications, address, policies)
    if late:
        parts += [
            "Late",
            "",
            *(
                _line(
                    fix.says,
                    _place(fix.path, fix.pages, fix.where),
                    fix.due_on,
                    _link(address, fix.id),
                    edit=fix.edit,
                )
                for fix in late[:_MOST_LISTED]
            ),
        ]
        parts += (
            [f"  … and {len(late) - _MOST_LISTED} more", ""] if len(late) > _MOST_LISTED else [""]
        )
    waits = [fix for fix in desk if fix.state != "handed_in"]
    parts.append(
        f"In front of you: {_counted(len(waits), 'fix', 'fixes')}, {len(late)} late. All of "
        f"it: {address}/desk"
    )
    fresh = sum(notification.kind in ("handed_out", "reopened") for notification in notifications)
    subject = f"Your fixes: {fresh} new, {len(late)} late, {len(waits)} in all"
    return Email(person.name, person.email, subject, _text(person, parts, address))


def _title(notification: NotificationRow) -> str:
    return notification_label(notification.kind, notification.reopened_after)


def _by_kind(
    notifications: Sequence[NotificationRow], address: str, policies: Policies
) -> list[str]:
    lines: list[str] = []
    kinds = list(NOTIFICATION_LABELS)
    ordered = sorted(notifications, key=lambda one: (kinds.index(one.kind), _title(one)))
    for title, group in groupby(ordered, key=_title):
        found = list(group)
        lines += [title, ""]
        for notification in found[:_MOST_LISTED]:
            lines.append(
                _line(
                    notification.says,
                    _place(notification.path, notification.pages, notification.where),
                    notification.due_on,
                    _link(address, notification.fix_id),
                    notification.mend,
                    notification.edit,
                    notification.in_editor,
                )
            )
            policy = policies.get(notification.site)
            own = policy.help_for(notification.check) if policy is not None else None
            if own is not None:
                more = f" {own.link}" if own.link and own.link != own.says else ""
                lines.append(f"    {own.says}{more}")
            if notification.why:
                lines.append(f"    {notification.by or 'The reading'}: {notification.why}")
        if len(found) > _MOST_LISTED:
            lines.append(f"  … and {len(found) - _MOST_LISTED} more")
        lines.append("")
    return lines


def _place(path: str, pages: int, where: str) -> str:
    if pages > 1:
        return f"{path} and {_counted(pages - 1, 'other page', 'other pages')}"
    return f"{path}, {where}" if where else path


def _line(
    says: str,
    where: str,
    due_on: date | None,
    link: str,
    mend: str | None = None,
    edit: str | None = None,
    in_editor: str = "",
) -> str:
    due = f", by {due_on:%A} {in_words(due_on)}" if due_on is not None else ""
    to_do = f"\n    What to do: {in_editor or mend}" if in_editor or mend else ""
    opened = f"\n    Open for editing: {edit}" if edit else ""
    return f"* {says}{to_do}\n    Where: {where}{due}{opened}\n    {link}"


def _link(address: str, fix_id: int) -> str:
    return f"{address}/fixes/{fix_id}"


def _counted(number: int, one: str, many: str) -> str:
    return f"{number} {one if number == 1 else many}"


def _short(text: str) -> str:
    return text if len(text) <= 140 else text[:139].rstrip() + "…"


def _text(person: PersonRow, parts: Sequence[str], address: str) -> str:
    end = ["", "-- ", f"Plum Rake, {address}", f"Which e-mails you get: {address}/me"]
    return "\n".join([f"Good day, {person.name},", "", *parts, *end]) + "\n"


def reset_email(person: PersonRow, secret: str, address: str, minutes: int) -> Email:
    """Return the e-mail with the address at which somebody chooses a new password."""
    parts = [
        "somebody, you we hope, has said that your password is forgotten. Choose a new one here,",
        f"within {minutes} minutes:",
        "",
        f"    {address}/new-password#{secret}",
        "",
        "If it was not you, nothing has to be done: your password stays as it is.",
    ]
    return Email(person.name, person.email, "A new password", _text(person, parts, address))


def changed_email(person: PersonRow, what: str, from_address: str, address: str) -> Email:
    """Return the e-mail that tells somebody of a change of what lets them in."""
    parts = [
        f"{what}, from the network address {from_address or 'unknown'}.",
        "",
        "If it was not you: choose a new password at once, and tell whoever runs Plum Rake.",
        f"    {address}/forgotten",
    ]
    return Email(person.name, person.email, what, _text(person, parts, address))
