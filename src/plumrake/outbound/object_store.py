"""A store for contents beside the database: a bucket of whatever speaks the protocol of S3."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING
from urllib.parse import urlsplit

import obstore
from obstore.exceptions import BaseError
from obstore.store import S3Store

if TYPE_CHECKING:
    from obstore.store import S3Config

_SCHEME = "s3"
_SECONDS, _CONNECT_SECONDS, _LONGEST = 10, 3, timedelta(seconds=15)
_AT_ONCE = 8


class StoreAway(RuntimeError):
    """The store does not answer, or does not let us; the message says what came instead."""

    code = "evidence-away"


@dataclass(frozen=True, slots=True)
class StoreSettings:
    """Where contents are kept: ``address`` as ``s3://BUCKET/PREFIX``, the ``endpoint`` of the
    service that has the bucket, and what it is asked with."""

    address: str
    endpoint: str = ""
    region: str = "us-east-1"
    key: str = ""
    secret: str = ""


def check_store_address(address: str) -> None:
    """Raise ``ValueError`` where an address names no bucket."""
    parts = urlsplit(address)
    if parts.scheme != _SCHEME or not parts.netloc or parts.query or parts.fragment:
        raise ValueError("has to be s3://BUCKET or s3://BUCKET/PREFIX")


class ObjectStore:
    """Contents by their hash."""

    def __init__(self, settings: StoreSettings) -> None:
        self.address = settings.address
        parts = urlsplit(settings.address)
        config: S3Config = {
            "region": settings.region,
            "access_key_id": settings.key,
            "secret_access_key": settings.secret,
        }
        if settings.endpoint:
            config["endpoint"] = settings.endpoint
        self._store = S3Store(
            parts.netloc,
            prefix=parts.path.strip("/") or None,
            config=config,
            client_options={
                "allow_http": settings.endpoint.startswith("http://"),
                "timeout": f"{_SECONDS}s",
                "connect_timeout": f"{_CONNECT_SECONDS}s",
            },
            retry_config={"max_retries": 2, "retry_timeout": _LONGEST},
        )
        self._room = asyncio.Semaphore(_AT_ONCE)

    async def put(self, content_hash: str, media_type: str, content: bytes) -> None:
        """Keep a content. Raises ``StoreAway``."""
        async with self._asking():
            await obstore.put_async(
                self._store, _place(content_hash), content, attributes={"Content-Type": media_type}
            )

    async def get(self, content_hash: str) -> bytes | None:
        """Return a content; None where the store has none by that hash. Raises ``StoreAway``."""
        async with self._asking():
            try:
                found = await obstore.get_async(self._store, _place(content_hash))
                return bytes(await found.bytes_async())
            except FileNotFoundError:
                return None

    async def drop(self, hashes: Sequence[str]) -> None:
        """Let contents go; those that are not there are no error. Raises ``StoreAway``."""
        async with self._asking():
            await obstore.delete_async(self._store, [_place(one) for one in hashes])

    @asynccontextmanager
    async def _asking(self) -> AsyncIterator[None]:
        async with self._room:
            try:
                yield
            except (BaseError, OSError) as error:
                says = str(error).partition("\n")[0]
                raise StoreAway(f"the store {self.address} does not answer: {says}") from None


def _place(content_hash: str) -> str:
    return f"{content_hash[:2]}/{content_hash}"
