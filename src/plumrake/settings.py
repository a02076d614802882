"""Settings of the parts that run: from the environment, ``PLUMRAKE_…``."""

from __future__ import annotations

from typing import Literal

from pydantic_settings import BaseSettings, SettingsConfigDict

from plumrake.actions.site_sources import SourceSettings
from plumrake.outbound.describer import Describer
from plumrake.outbound.mail import MailServer


class Settings(BaseSettings):
    """What service and worker need to know."""

    model_config = SettingsConfigDict(env_prefix="PLUMRAKE_")

    database: str = "postgresql://plumrake@127.0.0.1:5432/plumrake"
    host: str = "127.0.0.1"
    port: int = 8600
    secure_cookies: bool = False
    session_hours: int = 12
    worker_jobs: int = 2
    worker_tabs: int = 2
    page_seconds: float = 30.0
    log_json: bool = False
    address: str = ""
    """Where people reach the console, for links in emails; default: host and port."""
    mail_host: str = ""
    """The mail server; without one no e-mails are written."""
    mail_port: int = 25
    mail_security: Literal["none", "starttls", "tls"] = "none"
    mail_user: str = ""
    mail_password: str = ""
    mail_from: str = "Plum Rake <plumrake@localhost>"
    mail_folder: str = ""
    """A Maildir that the console shows to managers, where e-mails are caught and not sent on, as in
    the demo."""

    site_folders: str = ""
    """Folders (with ':' between them) in which corrections of sites may be written."""
    secrets_key: str = ""
    """What secrets of connections are encrypted with: 32 bytes in URL-safe base64, the same for
    service and worker; without it no connection with a secret can be made."""

    describer: str = ""
    """The address of a program of the organisation's own that describes pictures
    (docs/describer.md); without one nobody is asked."""
    describer_token: str = ""
    """What the describer is asked with, as a bearer token."""

    @property
    def describer_asked(self) -> Describer | None:
        """The describer, or None."""
        return Describer(self.describer, self.describer_token) if self.describer else None

    @property
    def sources(self) -> SourceSettings:
        """What is said of the sources of sites."""
        folders = tuple(one for one in self.site_folders.split(":") if one)
        return SourceSettings(folders, self.secrets_key)

    @property
    def console_address(self) -> str:
        """Where people reach the console, without a slash at the end."""
        return self.address.rstrip("/") or f"http://{self.host}:{self.port}"

    @property
    def mail_server(self) -> MailServer | None:
        """The mail server, or None."""
        if not self.mail_host:
            return None
        return MailServer(
            self.mail_host,
            self.mail_port,
            self.mail_from,
            self.mail_security,
            self.mail_user,
            self.mail_password,
        )
