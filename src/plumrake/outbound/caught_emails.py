"""A mailbox that catches e-mails: an SMTP server on loopback that keeps them in a Maildir, and what
is in it."""

from __future__ import annotations

import mailbox
from dataclasses import dataclass
from datetime import datetime
from email import policy
from email.message import EmailMessage
from email.parser import BytesParser
from email.utils import parsedate_to_datetime
from pathlib import Path

from aiosmtpd.controller import Controller
from aiosmtpd.handlers import Mailbox

_MOST_SHOWN = 200


@dataclass(frozen=True, slots=True)
class CaughtEmail:
    """A caught email."""

    key: str
    to: str
    subject: str
    at: datetime
    text: str


def catch_emails(folder: Path, port: int) -> Controller:
    """Return a started SMTP server on loopback that keeps every e-mail in a Maildir; ``stop()``
    ends it."""
    folder.parent.mkdir(parents=True, exist_ok=True)
    controller = Controller(Mailbox(folder), hostname="127.0.0.1", port=port)
    controller.start()
    return controller


def caught_emails(folder: str) -> list[CaughtEmail]:
    """Return the newest e-mails of a Maildir, the newest first."""
    if not Path(folder).is_dir():
        return []
    box = mailbox.Maildir(folder, create=False)
    emails = [_email(key, box.get_bytes(key)) for key in box.keys()]  # noqa: SIM118
    return sorted(emails, key=lambda email: (email.at, email.key), reverse=True)[:_MOST_SHOWN]


def _email(key: str, content: bytes) -> CaughtEmail:
    message = BytesParser(EmailMessage, policy=policy.default).parsebytes(content)
    body = message.get_body(("plain",))
    text = str(body.get_content()) if body is not None else ""
    return CaughtEmail(
        key,
        str(message["To"]),
        str(message["Subject"]),
        parsedate_to_datetime(str(message["Date"])),
        text,
    )
