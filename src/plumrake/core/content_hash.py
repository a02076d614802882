"""What a content is known by: its SHA-256, with the name of the function before it."""

import hashlib


def hash_of(content: bytes) -> str:
    """Return ``sha256:`` and 64 hexadecimal digits."""
    return f"sha256:{hashlib.sha256(content).hexdigest()}"
