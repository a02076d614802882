"""Coming in: passwords, second factors, passkeys, sessions, and tokens for programs."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field, StringConstraints, model_validator

from plumrake.models.base import Answer, ChosenPassword, Line, Model, Role, Scope, Slug

_Secret = Annotated[str, StringConstraints(min_length=1, max_length=500)]
_Code = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=40)]
_CredentialJson = Annotated[str, StringConstraints(min_length=2, max_length=20_000)]


class SignIn(Model):
    """An e-mail address and a password, and where somebody has a second factor a ``code`` of their
    app, or a recovery code."""

    email: Line
    password: _Secret
    code: _Code | None = None


class Confirmation(Model):
    """One's password again, with a ``code`` where one has a second factor."""

    password: _Secret
    code: _Code | None = None


class Me(Answer):
    """Who is signed in; ``csrf_token`` goes into ``X-CSRF-Token`` of writes by cookie. ``role`` is
    theirs in every site, null where they have none such; ``sites`` has the sites that are there for
    them, by their slugs, with their role in each, and ``areas`` those of them in which they are
    there for single areas alone. Who ``lacks_second_factor`` has to set one up
    before anything else is shown."""

    id: int
    email: str
    name: str
    role: Role | None
    csrf_token: str | None = None
    sites: dict[str, Role] = Field(default={})
    areas: dict[str, list[str]] = Field(default={})
    lacks_second_factor: bool = False


class Session(Answer):
    """Where one is signed in; ``is_this`` is the session that asks."""

    id: int
    created_at: datetime
    last_used_at: datetime
    expires_at: datetime
    from_address: str
    browser: str
    second_factor: bool
    is_this: bool


class NewPassword(Model):
    """One's password now and the one that it is to be."""

    current: _Secret
    new: ChosenPassword


class Forgotten(Model):
    """The e-mail address of somebody who has forgotten their password."""

    email: Line


class PasswordAnew(Model):
    """The secret of the e-mail, and the password that is to hold."""

    secret: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    password: ChosenPassword


class TriedPassword(Model):
    """A password that somebody is choosing, with what is known of them: name, e-mail address."""

    password: Annotated[str, StringConstraints(max_length=200)]
    about: list[Line] = Field(default=[], max_length=4)


class PasswordStrength(Answer):
    """How hard a password is to guess, from 0 to 4, and why it may not be chosen, null where it
    may."""

    score: int = Field(ge=0, le=4)
    refused_for: str | None


class Passkey(Answer):
    """A passkey of one's own."""

    id: int
    name: str
    made_at: datetime
    last_used_at: datetime | None


class SecondFactors(Answer):
    """What one has beside the password; ``wanted``: the service or a site of one's own asks for
    it."""

    app: bool
    passkeys: list[Passkey]
    recovery_codes: int
    wanted: bool


class NewApp(Answer):
    """What an app for codes is told: the ``secret`` in base32 to type, the ``address`` that holds
    it (otpauth://), and that as a QR code, an SVG in a data address."""

    secret: str
    address: str
    picture: str


class AppCode(Model):
    """A code that an app shows."""

    code: _Code


class RecoveryCodes(Answer):
    """Codes that are good once each, in place of a second factor; shown this once."""

    codes: list[str]


class PasskeyAsked(Answer):
    """What a browser is asked for: the ``options`` in JSON (WebAuthn, 5.1), and the ``secret`` that
    its answer brings along."""

    options: str
    secret: str


class PasskeyAnswer(Model):
    """What a browser answered, as JSON, with the secret of what was asked."""

    secret: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    answer: _CredentialJson


class NewPasskey(PasskeyAnswer):
    """A new passkey, and what it is called."""

    name: Line


class PasskeyMade(Answer):
    """A passkey that was made, with recovery codes where there were none; they are shown this
    once."""

    passkey: Passkey
    codes: list[str]


class NewToken(Model):
    """What a token is called, what it may do, and for how many ``days``. With ``sites`` it is for
    these alone; ``gate``, with no other scope, lets a content system ask the gate of its one site,
    say for whom, and do nothing else. One that ``ends_with_password`` is void once the password is
    changed."""

    name: Line
    days: int = Field(ge=1, le=366)
    scopes: list[Scope] = Field(default=["read"], min_length=1)
    sites: list[Slug] | None = Field(default=None, min_length=1, max_length=100)
    ends_with_password: bool = False

    @model_validator(mode="after")
    def _gate_alone(self) -> NewToken:
        if "gate" in self.scopes and (set(self.scopes) != {"gate"} or len(self.sites or []) != 1):
            raise ValueError("a token with the scope 'gate' is for one site, and has no other")
        return self


class Token(Answer):
    """A token for programs; ``sites`` null: for every one of the person's. ``secret`` is there
    once, when it is made."""

    id: int
    name: str
    scopes: list[Scope]
    sites: list[str] | None = None
    created_at: datetime
    expires_at: datetime
    last_used_at: datetime | None
    ends_with_password: bool
    secret: str | None = None
