"""Secrets that have to be read again: kept encrypted with the key of whoever runs the service."""

from __future__ import annotations

from cryptography.fernet import Fernet, InvalidToken


class NotSealed(ValueError):
    """There is no key to keep a secret with, or it is another than that with which it was kept."""

    code = "no-secrets-key"


def sealed(key: str, secret: str) -> bytes:
    """Return a secret as it may be kept. Raises ``NotSealed``."""
    return _cipher(key).encrypt(secret.encode())


def opened(key: str, kept: bytes) -> str:
    """Return a secret that was kept. Raises ``NotSealed``."""
    try:
        return _cipher(key).decrypt(kept).decode()
    except InvalidToken:
        raise NotSealed(
            "the secret was encrypted with another key than PLUMRAKE_SECRETS_KEY"
        ) from None


def _cipher(key: str) -> Fernet:
    try:
        return Fernet(key.encode())
    except ValueError:
        raise NotSealed(
            "whoever runs the service has to set PLUMRAKE_SECRETS_KEY before a secret can be "
            "kept: 32 bytes in URL-safe base64, the same for service and worker"
        ) from None
