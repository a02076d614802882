"""E-mails over SMTP (RFC 5321), in plain text."""

from __future__ import annotations

import asyncio
import contextlib
import smtplib
import ssl
from collections.abc import AsyncIterator
from dataclasses import dataclass
from email.headerregistry import Address
from email.message import EmailMessage
from email.utils import formatdate, make_msgid

_SECONDS = 20.0
_PERMANENT = 500
"""From this reply code on a try again is of no use (RFC 5321, 4.2.1)."""


@dataclass(frozen=True, slots=True)
class MailServer:
    """Where e-mails go out: host and port, ``security`` (``none``, ``starttls``, ``tls``), who
    signs in, and who they are from."""

    host: str
    port: int
    sender: str
    security: str = "none"
    user: str = ""
    password: str = ""


@dataclass(frozen=True, slots=True)
class Email:
    """An e-mail to one person."""

    name: str
    address: str
    subject: str
    text: str


class MailServerAway(RuntimeError):
    """The mail server cannot be reached, or does not let us in; the message says why."""

    code = "mail-server-away"


class EmailRefused(RuntimeError):
    """The mail server did not take this e-mail; ``for_good`` where it never will."""

    code = "email-refused"

    def __init__(self, says: str, *, for_good: bool) -> None:
        super().__init__(says)
        self.for_good = for_good


class MailSession:
    """A connection to the mail server over which one e-mail after the other goes out."""

    def __init__(self, server: MailServer, connection: smtplib.SMTP) -> None:
        self._server = server
        self._connection = connection

    async def send(self, email: Email) -> None:
        """Send one e-mail. Raises ``EmailRefused``, ``MailServerAway``."""
        await asyncio.to_thread(self._send, email)

    def _send(self, email: Email) -> None:
        try:
            self._connection.send_message(_message(self._server, email))
        except smtplib.SMTPRecipientsRefused as error:
            code, reply = next(iter(error.recipients.values()))
            raise EmailRefused(_reply(code, reply), for_good=code >= _PERMANENT) from None
        except (smtplib.SMTPSenderRefused, smtplib.SMTPDataError) as error:
            says = _reply(error.smtp_code, error.smtp_error)
            raise EmailRefused(says, for_good=error.smtp_code >= _PERMANENT) from None
        except (OSError, smtplib.SMTPException) as error:
            raise _away(self._server, error) from None
        except (UnicodeError, ValueError) as error:  # an address that no header can hold
            raise EmailRefused(f"it cannot be written: {error}", for_good=True) from None


@contextlib.asynccontextmanager
async def mail_session(server: MailServer) -> AsyncIterator[MailSession]:
    """Give a connection to the mail server. Raises ``MailServerAway``."""
    connection = await asyncio.to_thread(_connect, server)
    try:
        yield MailSession(server, connection)
    finally:
        with contextlib.suppress(OSError, smtplib.SMTPException):
            await asyncio.to_thread(connection.quit)


def _connect(server: MailServer) -> smtplib.SMTP:
    try:
        if server.security == "tls":
            return _signed_in(
                server,
                smtplib.SMTP_SSL(
                    server.host,
                    server.port,
                    timeout=_SECONDS,
                    context=ssl.create_default_context(),
                ),
            )
        connection = smtplib.SMTP(server.host, server.port, timeout=_SECONDS)
        if server.security == "starttls":
            connection.starttls(context=ssl.create_default_context())
        return _signed_in(server, connection)
    except (OSError, smtplib.SMTPException) as error:
        raise _away(server, error) from None


def _signed_in(server: MailServer, connection: smtplib.SMTP) -> smtplib.SMTP:
    if server.user:
        connection.login(server.user, server.password)
    return connection


def _away(server: MailServer, error: Exception) -> MailServerAway:
    return MailServerAway(f"the mail server {server.host}:{server.port} is away: {error}")


def _reply(code: int, reply: bytes | str) -> str:
    text = reply.decode("utf-8", "replace") if isinstance(reply, bytes) else reply
    return f"the mail server answered {code} {text}".rstrip()


def _message(server: MailServer, email: Email) -> EmailMessage:
    message = EmailMessage()
    user, _, domain = email.address.rpartition("@")
    message["From"] = server.sender
    message["To"] = Address(" ".join(email.name.split()), user, domain)
    message["Subject"] = " ".join(email.subject.split())
    message["Date"] = formatdate()
    message["Message-ID"] = make_msgid(domain="plumrake.invalid")
    message["Auto-Submitted"] = "auto-generated"
    message.set_content(email.text)
    return message
