"""Settings of the parts that run: from the environment, ``PLUMRAKE_…``."""

from __future__ import annotations

from typing import Literal, get_args
from urllib.parse import urlsplit

from pydantic import Field, field_validator, model_validator
from pydantic_settings import BaseSettings, SettingsConfigDict

from plumrake.actions.sign_ins import Rules
from plumrake.actions.single_sign_on import Provider
from plumrake.actions.site_sources import SourceSettings
from plumrake.actions.tidying import KeptDays
from plumrake.models import Role
from plumrake.net.guard import networks_in
from plumrake.outbound.describer import Describer
from plumrake.outbound.mail import MailServer
from plumrake.outbound.object_store import ObjectStore, StoreSettings, check_store_address


class Settings(BaseSettings):
    """What service and worker need to know."""

    model_config = SettingsConfigDict(env_prefix="PLUMRAKE_")

    database: str = "postgresql://plumrake@127.0.0.1:5432/plumrake"
    host: str = "127.0.0.1"
    port: int = 8600
    proxies: str = ""
    """Addresses (with ',' between them) of the reverse proxies whose ``X-Forwarded-For`` and
    ``X-Forwarded-Proto`` are believed; without one nobody's."""

    secure_cookies: bool = False
    """As it was said before ``address`` did: true refuses an address without HTTPS."""

    session_hours: int = 12
    idle_minutes: int = 30
    """After so many minutes without a request of theirs somebody is signed out."""

    requests_a_minute: int = Field(default=3000, ge=60)
    """So many requests a minute are let in from one session or token; from one address without one
    a fifth of that."""

    second_factor: str = ""
    """The roles (with ',' between them) in which everybody needs a second factor."""

    log_days: int = Field(default=730, ge=30)
    """For so many days the log of what was done is kept."""

    sweep_days: int = Field(default=400, ge=7)
    """For so many days what sweeps read and found is kept; of older ones their counts are."""

    sign_on_issuer: str = ""
    """The issuer of the organisation's own sign-in (OpenID Connect); without one there is none."""
    sign_on_client: str = ""
    sign_on_secret: str = ""
    sign_on_name: str = "your organisation"
    sign_on_groups: str = "groups"
    """The claim that lists somebody's groups."""
    sign_on_roles: str = ""
    """Which group has which role in every site: ``web-team=manager,authors=editor``."""

    worker_jobs: int = 2
    worker_tabs: int = 2
    page_seconds: float = 30.0
    log_json: bool = False
    address: str = ""
    """Where people reach the console: for links in e-mails, passkeys and single sign-on; over HTTPS
    it makes cookies ``Secure`` and tells browsers to stay there. Default: host and port."""
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

    evidence_store: str = ""
    """``s3://BUCKET/PREFIX``: where pictures are kept beside the database; without one in it."""
    evidence_endpoint: str = ""
    """The address of the service that has the bucket; default: Amazon's for the region."""
    evidence_region: str = "us-east-1"
    evidence_key: str = ""
    evidence_secret: str = ""

    private_networks: str = ""
    """Networks (with ',' between them) outside of which no private address is reached, whatever
    leave a site has; without one the site's leave is enough. The address guard reads it."""

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
    def store(self) -> ObjectStore | None:
        """The store for contents of evidence, or None."""
        if not self.evidence_store:
            return None
        return ObjectStore(
            StoreSettings(
                self.evidence_store,
                self.evidence_endpoint,
                self.evidence_region,
                self.evidence_key,
                self.evidence_secret,
            )
        )

    @property
    def kept(self) -> KeptDays:
        """For how many days things are kept."""
        return KeptDays(log=self.log_days, sweeps=self.sweep_days)

    @property
    def sources(self) -> SourceSettings:
        """What is said of the sources of sites."""
        folders = tuple(one for one in self.site_folders.split(":") if one)
        return SourceSettings(folders, self.secrets_key)

    @field_validator("address")
    @classmethod
    def _origin(cls, address: str) -> str:
        parts = urlsplit(address)
        if address and (
            parts.scheme not in ("http", "https")
            or not parts.hostname
            or parts.path.strip("/")
            or parts.query
        ):
            raise ValueError("has to be http:// or https:// with a host, and no path")
        return address

    @field_validator("evidence_store")
    @classmethod
    def _bucket(cls, address: str) -> str:
        if address:
            check_store_address(address)
        return address

    @field_validator("private_networks")
    @classmethod
    def _networks(cls, networks: str) -> str:
        networks_in(networks)
        return networks

    @field_validator("second_factor")
    @classmethod
    def _roles(cls, roles: str) -> str:
        for role in _listed(roles):
            _check_role(role)
        return roles

    @field_validator("sign_on_roles")
    @classmethod
    def _groups_with_roles(cls, given: str) -> str:
        for one in _listed(given):
            group, _, role = one.rpartition("=")
            if not group:
                raise ValueError(f"'{one}' has to be GROUP=ROLE")
            _check_role(role)
        return given

    @model_validator(mode="after")
    def _secure_where_said(self) -> Settings:
        if self.secure_cookies and not self.is_https:
            raise ValueError(
                "PLUMRAKE_SECURE_COOKIES is true, but PLUMRAKE_ADDRESS is no https:// address"
            )
        if self.sign_on_issuer and not self.sign_on_client:
            raise ValueError("PLUMRAKE_SIGN_ON_ISSUER wants PLUMRAKE_SIGN_ON_CLIENT too")
        return self

    @property
    def is_https(self) -> bool:
        """Whether people reach the service over HTTPS."""
        return self.console_address.startswith("https://")

    @property
    def sign_in_rules(self) -> Rules:
        """What is said of signing in."""
        return Rules(
            self.session_hours,
            self.idle_minutes,
            self.secrets_key,
            tuple(_listed(self.second_factor)),
        )

    @property
    def single_sign_on(self) -> Provider | None:
        """The organisation's own sign-in, or None."""
        if not self.sign_on_issuer:
            return None
        pairs = (one.rpartition("=") for one in _listed(self.sign_on_roles))
        return Provider(
            self.sign_on_issuer,
            self.sign_on_client,
            self.sign_on_secret,
            self.sign_on_name,
            self.sign_on_groups,
            {group: role for group, _, role in pairs},
        )

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


def _listed(text: str) -> list[str]:
    return [one.strip() for one in text.split(",") if one.strip()]


def _check_role(role: str) -> None:
    if role not in get_args(Role):
        raise ValueError(f"'{role}' is no role: {', '.join(get_args(Role))}")
