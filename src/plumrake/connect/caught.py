"""A mailbox that catches letters: an SMTP server on loopback that keeps them in a Maildir, and what is in it."""

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
class CaughtLetter:
    """A caught letter."""

    key: str
    to: str
    subject: str
    at: datetime
    text: str


def catch_letters(folder: Path, port: int) -> Controller:
    """Return a started SMTP server on loopback that keeps every letter in a Maildir; ``stop()`` ends it."""
    folder.parent.mkdir(parents=True, exist_ok=True)
    controller = Controller(Mailbox(folder), hostname="127.0.0.1", port=port)
    controller.start()
    return controller


def caught_letters(folder: str) -> list[CaughtLetter]:
    """Return the newest letters of a Maildir, the newest first."""
    if not Path(folder).is_dir():
        return []
    box = mailbox.Maildir(folder, create=False)
    letters = [_letter(key, box.get_bytes(key)) for key in box.keys()]  # noqa: SIM118
    return sorted(letters, key=lambda letter: (letter.at, letter.key), reverse=True)[:_MOST_SHOWN]


def _letter(key: str, content: bytes) -> CaughtLetter:
    message = BytesParser(EmailMessage, policy=policy.default).parsebytes(content)
    body = message.get_body(("plain",))
    text = str(body.get_content()) if body is not None else ""
    return CaughtLetter(key, str(message["To"]), str(message["Subject"]), parsedate_to_datetime(str(message["Date"])), text)
