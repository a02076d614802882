"""The demo's stand-in CMS, through its own interface."""

from __future__ import annotations

from typing import Any

import httpx

from plumrake.connectors.source_item import CannotWrite, SourceChanged, SourceItem
from plumrake.net.problems import Unreadable

_SECONDS = 20.0


class StandInConnector:
    """Speaks with the stand-in CMS at an address; ``client`` reaches only what it may reach."""

    def __init__(self, client: httpx.AsyncClient, address: str, secret: str) -> None:
        self._client = client
        self._address = address.rstrip("/")
        self._headers = {"Authorization": f"Bearer {secret}"}

    async def read(self, path: str) -> SourceItem:
        """Return what is published of a page, and its template around it. Raises
        ``Unreadable``."""
        found = await self._ask("GET", "/corrections/page", params={"path": path})
        before, own, after = (
            str(found[name]).encode("utf-8") for name in ("before", "content", "after")
        )
        body = before + own + after
        return SourceItem(body, str(found["version"]), len(before), len(before) + len(own), "utf-8")

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Publish what is the page's own. Raises ``SourceChanged``, ``CannotWrite``,
        ``Unreadable``."""
        body = {
            "path": path,
            "content": own.decode("utf-8"),
            "version": version,
            "why": why,
            "by": by,
        }
        await self._ask("POST", "/corrections", json=body)

    async def check(self) -> list[str]:
        """Return what works. Raises ``Unreadable``."""
        found = await self._ask("GET", "/corrections/state")
        return [f"the CMS answers and has {found['pages']} pages that can be corrected"]

    async def _ask(self, method: str, place: str, **rest: Any) -> dict[str, Any]:
        address = f"{self._address}{place}"
        try:
            answer = await self._client.request(
                method, address, headers=self._headers, timeout=_SECONDS, **rest
            )
            data = answer.json() if answer.content else {}
        except (httpx.HTTPError, ValueError) as error:
            says = str(error).splitlines()[0] if str(error) else type(error).__name__
            raise Unreadable(
                "source-away", f"the CMS at {self._address} does not answer: {says}"
            ) from None
        detail = str(data.get("detail", "")) if isinstance(data, dict) else ""
        if answer.status_code == httpx.codes.CONFLICT:
            raise SourceChanged(detail or "the page was changed meanwhile")
        if answer.status_code in (httpx.codes.FORBIDDEN, httpx.codes.UNPROCESSABLE_ENTITY):
            raise CannotWrite(detail or f"the CMS refuses it ({answer.status_code})")
        if not answer.is_success or not isinstance(data, dict):
            raise Unreadable(
                "source-away",
                f"the CMS at {self._address} answers {answer.status_code}: {detail or 'no reason'}",
            )
        return data
