"""A mail server whose certificate nobody vouches for gets no password and no e-mail."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.handlers import Sink
from aiosmtpd.smtp import SMTP

from plumrake.demo.ports import free_port
from plumrake.outbound.mail import MailServer, MailServerAway, mail_session
from tests.services import nobodys_certificate


class _StartTls(Controller):
    """A server that encrypts when it is asked to."""

    def __init__(self, context: Any, port: int) -> None:
        self.context = context
        super().__init__(Sink(), hostname="127.0.0.1", port=port)

    def factory(self) -> SMTP:
        return SMTP(self.handler, tls_context=self.context, require_starttls=True)


@pytest.fixture(params=["tls", "starttls"])
def server(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[MailServer]:
    context, port = nobodys_certificate(tmp_path), free_port()
    controller = (
        Controller(Sink(), hostname="127.0.0.1", port=port, ssl_context=context)
        if request.param == "tls"
        else _StartTls(context, port)
    )
    with contextlib.suppress(OSError):  # it looks whether it answers, and does not trust itself
        controller.start()
    yield MailServer("127.0.0.1", port, "rake@canal.example", request.param, "rake", "secret")
    controller.stop()


async def test_a_certificate_is_verified(server: MailServer) -> None:
    """By both ways of encrypting."""
    with pytest.raises(MailServerAway, match="certificate verify failed"):
        async with mail_session(server):
            pass
