"""What is kept of random secrets, and how they are compared."""

from __future__ import annotations

import hashlib
import hmac


def secret_hash(secret: str) -> bytes:
    """Return what is kept of a session's or token's secret (they are random, so a plain hash is
    enough)."""
    return hashlib.sha256(secret.encode("utf-8", "surrogatepass")).digest()


def same_secret(given: str, secret: str) -> bool:
    """Tell whether somebody gave the right secret, in a time that tells nothing about it; what is
    given may be any text."""
    return hmac.compare_digest(given.encode("utf-8", "surrogatepass"), secret.encode())
