"""Letters over SMTP (RFC 5321), in plain text."""

from __future__ import annotations

import asyncio
import smtplib
import ssl
from collections.abc import Sequence
from dataclasses import dataclass
from email.headerregistry import Address
from email.message import EmailMessage
from email.utils import formatdate, make_msgid

_SECONDS = 20.0


@dataclass(frozen=True, slots=True)
class MailServer:
    """Where letters go out: host and port, ``security`` (``none``, ``starttls``, ``tls``), who signs in, and who they are from."""

    host: str
    port: int
    sender: str
    security: str = "none"
    user: str = ""
    password: str = ""


@dataclass(frozen=True, slots=True)
class Letter:
    """A letter to one person."""

    name: str
    email: str
    subject: str
    text: str


class MailRefused(RuntimeError):
    """The mail server did not take a letter; the message says why."""

    code = "mail-refused"


async def send_letters(server: MailServer, letters: Sequence[Letter]) -> None:
    """Send letters over one connection. Raises ``MailRefused``; those before the refused one are sent."""
    await asyncio.to_thread(_send, server, letters)


def _send(server: MailServer, letters: Sequence[Letter]) -> None:
    try:
        kind = smtplib.SMTP_SSL if server.security == "tls" else smtplib.SMTP
        with kind(server.host, server.port, timeout=_SECONDS) as session:
            if server.security == "starttls":
                session.starttls(context=ssl.create_default_context())
            if server.user:
                session.login(server.user, server.password)
            for letter in letters:
                session.send_message(_message(server, letter))
    except (OSError, smtplib.SMTPException) as error:
        raise MailRefused(f"the mail server {server.host}:{server.port} did not take a letter: {error}") from None


def _message(server: MailServer, letter: Letter) -> EmailMessage:
    message = EmailMessage()
    user, _, domain = letter.email.rpartition("@")
    message["From"] = server.sender
    message["To"] = Address(" ".join(letter.name.split()), user, domain)
    message["Subject"] = " ".join(letter.subject.split())
    message["Date"] = formatdate()
    message["Message-ID"] = make_msgid(domain="plumrake.invalid")
    message["Auto-Submitted"] = "auto-generated"
    message.set_content(letter.text)
    return message
