"""A second factor beside the password: codes by time from an app (TOTP, RFC 6238), passkeys, and
recovery codes for the day on which neither is at hand."""

from __future__ import annotations

import hashlib
import hmac
import secrets
import time
from dataclasses import dataclass

import pyotp
import segno

from plumrake.actions.sealing import opened, sealed
from plumrake.actions.secret_hashes import same_secret
from plumrake.records import sign_ins
from plumrake.records.queries import Connection

_ISSUER = "Plum Rake"
_STEP_SECONDS, _STEPS_AROUND = 30, 1
_RECOVERY_CODES, _SIGNS = 10, "abcdefghjkmnpqrstuvwxyz23456789"
_PARTS, _PART = 4, 4


class BadCode(ValueError):
    """The code is wrong, over, or was used before."""

    code = "bad-code"


@dataclass(frozen=True, slots=True)
class Factors:
    """What somebody has beside their password."""

    app: bool
    passkeys: bool
    recovery_codes: int

    @property
    def is_any(self) -> bool:
        """Whether there is a second factor at all."""
        return self.app or self.passkeys


@dataclass(frozen=True, slots=True)
class NewApp:
    """What an app for codes is told: its secret in base32, the address that holds it, and that
    address as a QR code in SVG."""

    secret: str
    address: str
    picture: str


async def factors_of(connection: Connection, person_id: int) -> Factors:
    """Return what somebody has beside their password."""
    app = await sign_ins.authenticator_of(connection, person_id)
    return Factors(
        app is not None and app.is_on,
        bool(await sign_ins.passkeys_of(connection, person_id)),
        await sign_ins.count_recovery_codes(connection, person_id),
    )


async def begin_app(connection: Connection, key: str, person_id: int, email: str) -> NewApp:
    """Keep a new secret for somebody's app, which is on once a code was given. Raises
    ``NotSealed``; ``BadCode`` where an app is on already."""
    known = await sign_ins.authenticator_of(connection, person_id)
    if known is not None and known.is_on:
        raise BadCode("an app gives codes already; take that away first")
    secret = pyotp.random_base32()
    await sign_ins.put_authenticator(connection, person_id, sealed(key, secret))
    address = pyotp.TOTP(secret).provisioning_uri(name=email, issuer_name=_ISSUER)
    return NewApp(secret, address, segno.make(address, error="m").svg_data_uri(scale=5, border=2))


async def finish_app(connection: Connection, key: str, person_id: int, code: str) -> list[str]:
    """Switch an app on by a code of it; return recovery codes where there were none, else nothing.
    Raises ``BadCode``."""
    known = await sign_ins.authenticator_of(connection, person_id)
    if known is None or known.is_on:
        raise BadCode("no app waits for its first code; begin again")
    if not await _code_is_right(connection, key, person_id, code):
        raise BadCode("the code is not that of this moment; look at the clock of the device")
    return await first_recovery_codes(connection, key, person_id)


async def first_recovery_codes(connection: Connection, key: str, person_id: int) -> list[str]:
    """Return new recovery codes where somebody has none, else nothing."""
    if await sign_ins.count_recovery_codes(connection, person_id):
        return []
    return await new_recovery_codes(connection, key, person_id)


async def new_recovery_codes(connection: Connection, key: str, person_id: int) -> list[str]:
    """Return recovery codes in place of those before; they are shown this once."""
    made = [
        "".join(secrets.choice(_SIGNS) for _ in range(_PARTS * _PART))
        for _ in range(_RECOVERY_CODES)
    ]
    hashes = [_kept(key, one) for one in made]
    await sign_ins.put_recovery_codes(connection, person_id, hashes)
    return ["-".join(one[at : at + _PART] for at in range(0, len(one), _PART)) for one in made]


async def check_code(connection: Connection, key: str, person_id: int, code: str) -> None:
    """Use a code of the app, or a recovery code, up. Raises ``BadCode``."""
    plain = "".join(sign for sign in code.casefold() if sign.isalnum())
    is_right = (
        await _code_is_right(connection, key, person_id, plain)
        if plain.isascii() and plain.isdigit() and len(plain) < _PARTS * _PART
        else await sign_ins.use_recovery_code(connection, person_id, _kept(key, plain))
    )
    if not is_right:
        raise BadCode("the code is wrong, over, or was used before")


async def _code_is_right(connection: Connection, key: str, person_id: int, code: str) -> bool:
    known = await sign_ins.authenticator_of(connection, person_id)
    if known is None:
        return False
    totp = pyotp.TOTP(opened(key, bytes(known.secret)))
    now = int(time.time()) // _STEP_SECONDS
    for step in range(now - _STEPS_AROUND, now + _STEPS_AROUND + 1):
        if step > known.last_step and same_secret(code, totp.at(step * _STEP_SECONDS)):
            await sign_ins.note_step(connection, person_id, step)
            return True
    return False


async def drop_app(connection: Connection, person_id: int) -> None:
    """Take somebody's app away; without another factor the recovery codes go too."""
    await sign_ins.drop_authenticator(connection, person_id)
    await drop_lonely_codes(connection, person_id)


async def drop_lonely_codes(connection: Connection, person_id: int) -> None:
    """Forget the recovery codes of somebody who has no second factor any more."""
    if not (await factors_of(connection, person_id)).is_any:
        await sign_ins.put_recovery_codes(connection, person_id, [])


def _kept(key: str, code: str) -> bytes:
    return hmac.digest(key.encode() or b"plumrake", code.encode(), hashlib.sha256)
