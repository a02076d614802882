"""Passkeys (WebAuthn level 2): made by who is signed in, and to sign in with. They want the
device's own check of the person, so that one is two factors at once."""

from __future__ import annotations

import asyncio
import secrets
from dataclasses import dataclass
from urllib.parse import urlsplit

from webauthn import (
    generate_authentication_options,
    generate_registration_options,
    options_to_json,
    verify_authentication_response,
    verify_registration_response,
)
from webauthn.helpers import (
    base64url_to_bytes,
    bytes_to_base64url,
    parse_authentication_credential_json,
)
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from plumrake.actions import second_factors, sign_ins
from plumrake.actions.ports import Connect
from plumrake.actions.secret_hashes import secret_hash
from plumrake.actions.sign_ins import Opened, Rules
from plumrake.records import people
from plumrake.records import sign_ins as records
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import CallerRow, ComesFrom, PasskeyRow

_NAME = "Plum Rake"
_MOST = 20
_REQUIRED = UserVerificationRequirement.REQUIRED


class BadPasskey(ValueError):
    """The passkey is not known here, or its answer is not to what was asked."""

    code = "bad-passkey"


class NoPasskeys(ValueError):
    """The service is reached at an address for which browsers make no passkeys."""

    code = "no-passkeys"


@dataclass(frozen=True, slots=True)
class Asked:
    """What a browser is asked: the options in JSON (WebAuthn, 5.1), and the secret that its answer
    brings along."""

    options: str
    secret: str


async def begin(connection: Connection, address: str, who: CallerRow) -> Asked:
    """Ask for a new passkey of somebody. Raises ``NoPasskeys``, ``BadPasskey`` where there are
    twenty."""
    known = await records.passkeys_of(connection, who.id)
    if len(known) >= _MOST:
        raise BadPasskey(f"there are {_MOST} passkeys; take one away first")
    options = generate_registration_options(
        rp_id=_host(address),
        rp_name=_NAME,
        user_id=str(who.id).encode(),
        user_name=who.email,
        user_display_name=who.name,
        authenticator_selection=AuthenticatorSelectionCriteria(
            resident_key=ResidentKeyRequirement.REQUIRED, user_verification=_REQUIRED
        ),
        exclude_credentials=[
            PublicKeyCredentialDescriptor(id=bytes(one.credential_id)) for one in known
        ],
    )
    return await _asked(
        connection, "new-passkey", options.challenge, options_to_json(options), who.id
    )


async def finish(
    connect: Connect, address: str, key: str, who: CallerRow, secret: str, answer: str, name: str
) -> tuple[PasskeyRow, list[str]]:
    """Keep a new passkey; return it, with recovery codes where there were none. Raises
    ``BadPasskey``."""
    async with connect() as connection:
        asked = await records.take_challenge(connection, secret_hash(secret), "new-passkey")
    if asked is None or asked.person_id != who.id:
        raise BadPasskey("this took too long; begin again")
    try:
        verified = await asyncio.to_thread(
            verify_registration_response,
            credential=answer,
            expected_challenge=base64url_to_bytes(asked.content["challenge"]),
            expected_rp_id=_host(address),
            expected_origin=address,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, KeyError, TypeError) as error:
        raise BadPasskey(f"the passkey cannot be used: {error}") from None
    async with connect() as connection, connection.transaction():
        kept = await records.add_passkey(
            connection,
            who.id,
            verified.credential_id,
            verified.credential_public_key,
            verified.sign_count,
            name,
        )
        if kept is None:
            raise BadPasskey("this passkey is known already")
        codes = await second_factors.first_recovery_codes(connection, key, who.id)
        if who.session_id is not None:
            await records.confirm_session(connection, who.session_id, second_factor=True)
    return kept, codes


async def ask(connection: Connection, address: str) -> Asked:
    """Ask for a passkey to sign in with. Raises ``NoPasskeys``."""
    options = generate_authentication_options(rp_id=_host(address), user_verification=_REQUIRED)
    return await _asked(connection, "passkey", options.challenge, options_to_json(options), None)


async def sign_in(
    connect: Connect, address: str, secret: str, answer: str, came: ComesFrom, rules: Rules
) -> Opened:
    """Begin a session by a passkey. Raises ``BadPasskey``."""
    async with connect() as connection, connection.transaction():
        asked = await records.take_challenge(connection, secret_hash(secret), "passkey")
        known = await records.passkey_by_credential(connection, _credential(answer))
        person = await people.person_by_id(connection, known.person_id) if known else None
        if asked is None or known is None or person is None or not person.active:
            raise BadPasskey("this passkey is not known here, or it took too long; try again")
        try:
            verified = await asyncio.to_thread(
                verify_authentication_response,
                credential=answer,
                expected_challenge=base64url_to_bytes(asked.content["challenge"]),
                expected_rp_id=_host(address),
                expected_origin=address,
                credential_public_key=bytes(known.public_key),
                credential_current_sign_count=known.sign_count,
                require_user_verification=True,
            )
        except (WebAuthnException, ValueError, KeyError, TypeError) as error:
            raise BadPasskey(f"the passkey's answer does not hold: {error}") from None
        await records.note_passkey_used(connection, known.id, verified.new_sign_count)
        return await sign_ins.open_session(connection, person, came, rules, second_factor=True)


async def drop(connection: Connection, person_id: int, passkey_id: int) -> bool:
    """Take a passkey away; False where there is none such."""
    gone = await records.drop_passkey(connection, passkey_id, person_id)
    await second_factors.drop_lonely_codes(connection, person_id)
    return gone


async def _asked(
    connection: Connection, kind: str, challenge: bytes, options: str, person_id: int | None
) -> Asked:
    secret = secrets.token_urlsafe(24)
    await records.put_challenge(
        connection,
        secret_hash(secret),
        kind,
        {"challenge": bytes_to_base64url(challenge)},
        person_id,
    )
    return Asked(options, secret)


def _credential(answer: str) -> bytes:
    try:
        return parse_authentication_credential_json(answer).raw_id
    except (WebAuthnException, ValueError, KeyError, TypeError):
        raise BadPasskey("this is no answer of a passkey") from None


def _host(address: str) -> str:
    """Return what passkeys are bound to. Raises ``NoPasskeys``: browsers make none for addresses of
    numbers, nor without TLS but on this machine."""
    parts = urlsplit(address)
    host = parts.hostname or ""
    numbers = ":" in host or host.replace(".", "").isdigit()
    if numbers or (parts.scheme != "https" and host != "localhost"):
        raise NoPasskeys(
            f"there are no passkeys for {address}: the service has to be reached by a name over "
            "HTTPS (PLUMRAKE_ADDRESS)"
        )
    return host
