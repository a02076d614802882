"""E-mails and webhooks: nothing goes where it should not, nothing that strangers wrote becomes a
header."""

import asyncio
import base64
from email import message_from_bytes
from pathlib import Path

import pytest

from plumrake.demo.ports import free_port
from plumrake.outbound.caught_emails import catch_emails, caught_emails
from plumrake.outbound.mail import Email, MailServer, MailServerAway, mail_session
from plumrake.outbound.webhooks import new_secret, post, signature


@pytest.mark.parametrize(
    "address",
    [
        "http://127.0.0.1:9/",
        "http://169.254.169.254/latest/",
        "http://[::1]:9/",
        "http://10.0.0.7/",
        "http://localhost:9/",
    ],
)
def test_webhooks_reach_no_private_address_without_leave(address: str) -> None:
    """A private, loopback or link-local address is refused, by number and by name; nothing is
    sent."""
    posted = asyncio.run(post(address, new_secret(), "msg_1", 1, {"type": "sweep.done"}))
    assert posted.status is None
    assert posted.problem is not None
    assert "private" in posted.problem or "link-local" in posted.problem


def test_signature_is_that_of_the_specification() -> None:
    """The example of the Standard Webhooks specification gives the specification's signature."""
    secret = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw"
    body = b'{"test": 2432232314}'
    assert (
        signature(secret, "msg_p5jXN8AQM9LWM0D4loKWxJek", 1614265330, body)
        == "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE="
    )
    assert len(base64.b64decode(new_secret().removeprefix("whsec_"))) == 24


def test_emails_arrive_as_they_were_written(tmp_path: Path) -> None:
    """Over real SMTP: names and subjects with line breaks and signs of other tongues add no header,
    and the text is whole."""
    port = free_port()
    catcher = catch_emails(tmp_path / "box", port)
    email = Email(
        "Jürgen\r\nBcc: all@x.example",
        "j@harrowmere.example",
        "Still there:\r\nBcc: you@x.example “más”",
        "Good day,\n\n.\nÄpfel\n",
    )
    asyncio.run(send(MailServer("127.0.0.1", port, "Plum Rake <rake@harrowmere.example>"), email))
    (caught,) = caught_emails(str(tmp_path / "box"))
    catcher.stop()
    assert caught.subject == "Still there: Bcc: you@x.example “más”"
    assert caught.text == email.text
    (file,) = (tmp_path / "box" / "new").iterdir()
    message = message_from_bytes(file.read_bytes())
    assert message["Bcc"] is None
    assert message["Auto-Submitted"] == "auto-generated"


def test_a_mail_server_that_is_away_is_named() -> None:
    """The caller is told which server, and tries again."""
    server = MailServer("127.0.0.1", free_port(), "rake@harrowmere.example")
    with pytest.raises(MailServerAway, match=f"127.0.0.1:{server.port} is away"):
        asyncio.run(send(server, Email("A", "a@x.example", "S", "T")))


async def send(server: MailServer, email: Email) -> None:
    async with mail_session(server) as session:
        await session.send(email)
