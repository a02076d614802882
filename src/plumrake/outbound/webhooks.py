"""Webhooks by the Standard Webhooks specification: signed, with an id and a time, sent under the
address guard."""

from __future__ import annotations

import base64
import hashlib
import hmac
import json
import secrets
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from plumrake.net.client import guarded_client
from plumrake.net.exchange import ExchangeBounds, exchange
from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable

_BOUNDS = ExchangeBounds(15.0, 0, redirects=0)
_PREFIX = "whsec_"


@dataclass(frozen=True, slots=True)
class Posted:
    """How a try went: the status that came, and the problem, None where it was taken."""

    status: int | None
    problem: str | None


def new_secret() -> str:
    """Return a fresh secret for signatures, 24 bytes behind its prefix."""
    return _PREFIX + base64.b64encode(secrets.token_bytes(24)).decode()


def signature(secret: str, message_id: str, timestamp: int, body: bytes) -> str:
    """Return the ``webhook-signature`` of a message: ``v1,`` and the HMAC-SHA256 of id, time and
    body."""
    key = base64.b64decode(secret.removeprefix(_PREFIX))
    signed = b".".join([message_id.encode(), str(timestamp).encode(), body])
    return "v1," + base64.b64encode(hmac.digest(key, signed, hashlib.sha256)).decode()


async def post(
    address: str,
    secret: str,
    message_id: str,
    timestamp: int,
    payload: Mapping[str, Any],
    private_origins: Iterable[str] = (),
) -> Posted:
    """Send a message once; any answer of 2xx takes it, redirects are not followed."""
    body = json.dumps(payload, ensure_ascii=False, separators=(",", ":")).encode()
    headers = {
        "content-type": "application/json",
        "webhook-id": message_id,
        "webhook-timestamp": str(timestamp),
        "webhook-signature": signature(secret, message_id, timestamp, body),
    }
    try:
        async with guarded_client(Guard(private_origins), _BOUNDS.seconds) as client:
            answer = await exchange(
                client,
                "POST",
                address,
                _BOUNDS,
                headers=headers,
                content=body,
                wants=lambda _: False,
            )
    except Unreadable as problem:
        return Posted(None, str(problem))
    return Posted(answer.status, None if answer.is_success else f"the answer was {answer.status}")
