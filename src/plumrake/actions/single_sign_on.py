"""Signing in where the organisation does: OpenID Connect Core 1.0, authorization code flow with
PKCE (RFC 7636), and roles by the groups that somebody is in there."""

from __future__ import annotations

import base64
import hashlib
import secrets
import time
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

import httpx
from joserfc import jwt
from joserfc.errors import JoseError
from joserfc.jwk import KeySet

from plumrake.actions import sign_ins
from plumrake.actions.people import NO_ROLE, change_person
from plumrake.actions.ports import Connect
from plumrake.actions.secret_hashes import same_secret, secret_hash
from plumrake.actions.sign_ins import Opened, Rules
from plumrake.records import people
from plumrake.records import sign_ins as records
from plumrake.records.people import PersonRow
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import ComesFrom

_SECONDS = 10.0
_LEEWAY_SECONDS = 60
_KIND = "single-sign-on"
_ALGORITHMS = ["RS256", "PS256", "ES256", "EdDSA"]
_STRONG = frozenset({"mfa", "otp", "hwk", "swk", "sc"})
"""Methods (RFC 8176) that are a second factor."""
_ORDER = ("manager", "editor", "developer", "reader")
_NO_PASSWORD = "single sign-on"  # noqa: S105 (no hash: no password is right)


class SignOnFailed(ValueError):
    """The organisation's sign-in did not say who somebody is, or nobody whom the service knows."""

    code = "single-sign-on"


@dataclass(frozen=True, slots=True)
class Provider:
    """Where the organisation signs in: the issuer, who the service is there, what it is called on
    the screen, which claim lists somebody's groups, and the role of each group that has one in
    every site."""

    issuer: str
    client_id: str
    client_secret: str
    name: str
    groups_claim: str
    roles: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class Begun:
    """Where a browser goes to sign in, and the secret that it keeps until it comes back."""

    address: str
    secret: str


async def begin(connection: Connection, provider: Provider, back: str, to: str) -> Begun:
    """Return where to sign in; ``back`` is the service's own address for the answer, ``to`` the
    place in the console after it. Raises ``SignOnFailed``."""
    async with httpx.AsyncClient(timeout=_SECONDS) as http:
        found = await _discovered(http, provider)
    secret, nonce, verifier = (secrets.token_urlsafe(48) for _ in range(3))
    await records.put_challenge(
        connection, secret_hash(secret), _KIND, {"nonce": nonce, "verifier": verifier, "to": to}
    )
    asked = httpx.URL(found["authorization_endpoint"]).copy_merge_params(
        {
            "response_type": "code",
            "client_id": provider.client_id,
            "redirect_uri": back,
            "scope": "openid email profile",
            "state": secret_hash(secret).hex(),
            "nonce": nonce,
            "code_challenge": _challenge(verifier),
            "code_challenge_method": "S256",
        }
    )
    return Begun(str(asked), secret)


async def finish(
    connect: Connect,
    provider: Provider,
    back: str,
    *,
    secret: str,
    state: str,
    code: str,
    came: ComesFrom,
    rules: Rules,
) -> tuple[Opened, str]:
    """Begin a session of whom the organisation's sign-in names; return it with the place to go to.
    ``secret`` is what the browser kept, ``state`` what it was sent back with. Raises
    ``SignOnFailed``."""
    async with connect() as connection:
        asked = await records.take_challenge(connection, secret_hash(secret), _KIND)
    if asked is None or not same_secret(state, secret_hash(secret).hex()):
        raise SignOnFailed("this sign-in was not begun here, or took too long; begin again")
    claims = await _claims(provider, back, code, asked.content["verifier"], asked.content["nonce"])
    async with connect() as connection, connection.transaction():
        person = await _person(connection, provider, claims)
        strong = not _STRONG.isdisjoint(_texts(claims.get("amr")))
        opened = await sign_ins.open_session(connection, person, came, rules, second_factor=strong)
    return opened, asked.content["to"]


def _challenge(verifier: str) -> str:
    """Return the S256 challenge of a verifier (RFC 7636, 4.2)."""
    digest = hashlib.sha256(verifier.encode()).digest()
    return base64.urlsafe_b64encode(digest).rstrip(b"=").decode()


async def _discovered(http: httpx.AsyncClient, provider: Provider) -> dict[str, Any]:
    """Return what the issuer says of itself (OpenID Connect Discovery 1.0, 4)."""
    address = f"{provider.issuer.rstrip('/')}/.well-known/openid-configuration"
    try:
        answer = await http.get(address)
        answer.raise_for_status()
        found: dict[str, Any] = answer.json()
        wanted = ("issuer", "authorization_endpoint", "token_endpoint", "jwks_uri")
        if not all(isinstance(found.get(name), str) for name in wanted):
            raise ValueError("it names no addresses")
    except (httpx.HTTPError, ValueError) as error:
        raise SignOnFailed(f"{provider.name} does not answer: {error}") from None
    if found["issuer"].rstrip("/") != provider.issuer.rstrip("/"):
        raise SignOnFailed(f"{provider.name} calls itself {found['issuer']}")
    return found


async def _claims(
    provider: Provider, back: str, code: str, verifier: str, nonce: str
) -> dict[str, Any]:
    """Return what the ID token says, checked as OpenID Connect Core 3.1.3.7 asks."""
    async with httpx.AsyncClient(timeout=_SECONDS) as http:
        found = await _discovered(http, provider)
        try:
            answer = await http.post(
                found["token_endpoint"],
                data={
                    "grant_type": "authorization_code",
                    "code": code,
                    "redirect_uri": back,
                    "code_verifier": verifier,
                },
                auth=httpx.BasicAuth(provider.client_id, provider.client_secret),
            )
            answer.raise_for_status()
            keys = await http.get(found["jwks_uri"])
            keys.raise_for_status()
            given = answer.json()
            token = jwt.decode(given["id_token"], KeySet.import_key_set(keys.json()), _ALGORITHMS)
            claims: dict[str, Any] = token.claims
            _check(claims, found["issuer"], provider.client_id, nonce)
            if "email" not in claims and isinstance(found.get("userinfo_endpoint"), str):
                claims = await _with_user_info(http, found["userinfo_endpoint"], given, claims)
        except SignOnFailed:
            raise
        except (httpx.HTTPError, JoseError, ValueError, KeyError, TypeError) as error:
            raise SignOnFailed(f"{provider.name} did not confirm the sign-in: {error}") from None
    return claims


async def _with_user_info(
    http: httpx.AsyncClient, address: str, given: dict[str, Any], claims: dict[str, Any]
) -> dict[str, Any]:
    """Return the claims with what the UserInfo endpoint adds, if it is of the same subject (OpenID
    Connect Core 5.3.2)."""
    header = {"Authorization": f"Bearer {given['access_token']}"}
    answer = await http.get(address, headers=header)
    answer.raise_for_status()
    more = answer.json()
    return {**more, **claims} if more.get("sub") == claims["sub"] else claims


def _check(claims: dict[str, Any], issuer: str, client_id: str, nonce: str) -> None:
    audience = claims.get("aud")
    heard = audience if isinstance(audience, list) else [audience]
    rules = jwt.JWTClaimsRegistry(
        leeway=_LEEWAY_SECONDS,
        iss={"essential": True, "value": issuer},
        sub={"essential": True},
        exp={"essential": True},
        iat={"essential": True},
    )
    try:
        rules.validate(claims)
    except JoseError as error:
        raise SignOnFailed(f"the sign-in's answer does not hold: {error}") from None
    other = len(heard) > 1 and claims.get("azp") != client_id
    if client_id not in heard or other:
        raise SignOnFailed("the sign-in's answer is for another program")
    if not same_secret(str(claims.get("nonce", "")), nonce) or claims["iat"] < time.time() - 600:
        raise SignOnFailed("the sign-in's answer is to another question")


async def _person(connection: Connection, provider: Provider, claims: dict[str, Any]) -> PersonRow:
    """Return who was named: known by issuer and subject, else by an e-mail address that is proven
    there, else somebody new whose groups give a role."""
    subject = f"{provider.issuer} {claims['sub']}"
    role = _role(provider, claims)
    person = await records.person_by_subject(connection, subject)
    email = str(claims.get("email", ""))
    if person is None and claims.get("email_verified") is True and email:
        person = await people.person_by_email(connection, email)
        if person is None and role is not None:
            name = str(claims.get("name") or email)[:200]
            person = await people.add_person(connection, email, name, role, _NO_PASSWORD)
        if person is not None:
            await records.set_subject(connection, person.id, subject)
    if person is None:
        raise SignOnFailed(
            f"{provider.name} knows you, Plum Rake does not: ask who runs it for an invitation"
        )
    if not person.active:
        raise SignOnFailed("you may not sign in here any more")
    if provider.roles and (person.role or NO_ROLE) != (role or NO_ROLE):
        person = await change_person(
            connection, person, name=None, role=role or NO_ROLE, active=None
        )
    return person


def _role(provider: Provider, claims: dict[str, Any]) -> str | None:
    """Return the role that lets somebody do most of those that their groups have."""
    has = {provider.roles.get(group) for group in _texts(claims.get(provider.groups_claim))}
    return next((role for role in _ORDER if role in has), None)


def _texts(claim: object) -> list[str]:
    return [one for one in claim if isinstance(one, str)] if isinstance(claim, list) else []


def place_in_console(to: str) -> str:
    """Return where somebody goes after signing in: a place of this console, whatever was asked."""
    parts = urlsplit(to)
    is_here = to.startswith("/") and not (parts.scheme or parts.netloc or "\\" in to)
    return to if is_here else "/"
