"""WordPress through our plugin's routes, signed in by an application password."""

from __future__ import annotations

from collections.abc import AsyncIterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

import httpx

from plumrake.connectors.source_item import (
    BadConnection,
    CannotWrite,
    ListedItem,
    SourceChanged,
    SourceItem,
)
from plumrake.net.problems import Unreadable

_SECONDS: Final = 30.0
_PER_PAGE: Final = 200
_MOST_PAGES: Final = 500
READING_HEADER: Final = "X-Plumrake-Reading"
"""The header by which the plugin marks blocks in the pages that it serves."""
_WHY: Mapping[str, str] = {
    "rest_no_route": "the plugin Plum Rake is not active there",
    "rest_not_logged_in": "the name or the application password is not right, or was revoked",
    "incorrect_password": "the application password is not right, or was revoked",
    "invalid_username": "nobody there has the name that the connection signs in with",
    "rest_forbidden": "whoever the connection signs in as may not edit what others wrote",
}
_WHY_UNAUTHORIZED = ("incorrect_password", "invalid_username")


@dataclass(frozen=True, slots=True)
class LibraryPicture:
    """A picture of the media library: its number there, and its text (``""``: none)."""

    number: str
    text: str


class WordPressConnector:
    """Speaks with the WordPress at an address; ``client`` reaches only what it may reach. The
    ``secret`` is an application password of ``user``."""

    def __init__(self, client: httpx.AsyncClient, address: str, user: str, secret: str) -> None:
        self._client = client
        self._address = address.rstrip("/")
        self._signed_in = httpx.BasicAuth(user, secret)

    async def read(self, path: str) -> SourceItem:
        """Return the stored content of the item at a path, and where it is shown as it would go
        out. Raises ``Unreadable``."""
        return _source(await self._ask("GET", "item", params={"path": path}))

    async def shown(self, item: SourceItem, own: bytes) -> str:
        """Return the address at which an item is shown with another content. Raises
        ``Unreadable``."""
        body = {"item": item.number, "raw": own.decode("utf-8")}
        return str((await self._ask("POST", "preview", json=body))["shown"])

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Store the content of the item at a path. Raises ``SourceChanged``, ``CannotWrite``,
        ``Unreadable``."""
        item = await self.read(path)
        body = {
            "item": item.number,
            "raw": own.decode("utf-8"),
            "version": version,
            "why": why,
            "by": by,
        }
        await self._ask("POST", "write", json=body)

    async def check(self) -> list[str]:
        """Return what works. Raises ``BadConnection``, ``Unreadable``."""
        found = await self._ask("GET", "state")
        listed = await self._answer("GET", "items", params={"status": "publish", "per_page": 1})
        says = [
            f"WordPress {found['wordpress']} answers, with the plugin {found['plugin']}",
            f"it has {listed.headers.get('X-WP-Total', '?')} published items of the types "
            f"{', '.join(found['types'])}",
        ]
        if not found["unfiltered"]:
            raise BadConnection(
                "user: whoever the connection signs in as may not write all HTML, so corrections "
                "would be changed on their way; give that user the role Editor"
            )
        if not found["writes"]:
            raise BadConnection(
                "user: the plugin lets one user alone show drafts and write corrections, and this "
                "is not the one; name it there under Settings, Plum Rake"
            )
        if not found["asks"]:
            says.append("the plugin does not ask the gate yet: see Settings, Plum Rake there")
        elif not found["closed"]:
            says.append("while Plum Rake is away the plugin lets everything out")
        return says

    async def reading_headers(self) -> dict[str, str]:
        """Return the headers by which pages say which block made what. Raises ``Unreadable``."""
        return {READING_HEADER: str((await self._ask("GET", "state"))["reading"])}

    async def items(
        self, statuses: Sequence[str], changed_after: datetime | None = None
    ) -> AsyncIterator[ListedItem]:
        """Yield the items of some statuses, the last changed first. Raises ``Unreadable``."""
        asked: dict[str, Any] = {"status": ",".join(statuses), "per_page": _PER_PAGE}
        if changed_after is not None:
            asked["after"] = f"{changed_after:%Y-%m-%d %H:%M:%S}"
        for page in range(1, _MOST_PAGES):
            found = (await self._answer("GET", "items", params={**asked, "page": page})).json()
            for one in found:
                yield _listed(one)
            if len(found) < _PER_PAGE:
                return

    async def library_picture(self, address: str) -> LibraryPicture | None:
        """Return the picture of the media library at an address, in whatever size; None where it is
        none of the library's. Raises ``Unreadable``."""
        found = await self._ask("GET", "picture", params={"src": address})
        if not found["number"]:
            return None
        return LibraryPicture(str(found["number"]), str(found["text"]))

    async def write_library_text(self, picture: LibraryPicture, text: str) -> None:
        """Give a picture of the media library another text, if it still has the one that was read.
        Raises ``SourceChanged``, ``CannotWrite``, ``Unreadable``."""
        body = {"number": picture.number, "was": picture.text, "text": text}
        await self._ask("POST", "picture", json=body)

    async def item(self, number: str) -> ListedItem | None:
        """Return an item by its number, or None where it is gone. Raises ``Unreadable``."""
        try:
            return _listed(await self._ask("GET", "item", params={"item": number}))
        except Unreadable as problem:
            if problem.problem.code == "file-missing":
                return None
            raise

    async def _ask(self, method: str, route: str, **rest: Any) -> dict[str, Any]:
        data = (await self._answer(method, route, **rest)).json()
        if not isinstance(data, dict):
            raise self._away("its answer is not what the plugin says")
        return data

    async def _answer(self, method: str, route: str, **rest: Any) -> httpx.Response:
        address = f"{self._address}/?rest_route=/plumrake/v1/{route}"
        params = rest.pop("params", {})
        try:
            answer = await self._client.request(
                method,
                httpx.URL(address).copy_merge_params(params),
                auth=self._signed_in,
                timeout=_SECONDS,
                **rest,
            )
            data = answer.json()
        except httpx.HTTPError as error:
            says = str(error).splitlines()[0] if str(error) else type(error).__name__
            raise self._away(says) from None
        except ValueError:
            raise self._away(f"status {answer.status_code}, and no JSON") from None
        if answer.is_success:
            return answer
        detail = str(data.get("message", "")) if isinstance(data, dict) else ""
        code = str(data.get("code", "")) if isinstance(data, dict) else ""
        if answer.status_code in (httpx.codes.CONFLICT, httpx.codes.LOCKED):
            if answer.status_code == httpx.codes.LOCKED:
                raise CannotWrite(detail)
            raise SourceChanged(detail)
        if code in ("plumrake_no_item", "plumrake_trashed", "plumrake_gone"):
            raise Unreadable("file-missing", detail)
        if code == "plumrake_filtered":
            raise CannotWrite(detail)
        if answer.status_code == httpx.codes.UNAUTHORIZED and code not in _WHY_UNAUTHORIZED:
            code = "rest_not_logged_in"
        raise self._away(_WHY.get(code) or detail or f"status {answer.status_code}")

    def _away(self, says: str) -> Unreadable:
        return Unreadable("source-away", f"the WordPress at {self._address}: {says}")


def _source(found: Mapping[str, Any]) -> SourceItem:
    body = str(found["raw"]).encode("utf-8")
    return SourceItem(
        body,
        str(found["version"]),
        0,
        len(body),
        "utf-8",
        form="blocks",
        number=str(found["item"]),
        shown_at=str(found["shown"]),
    )


def _listed(found: Mapping[str, Any]) -> ListedItem:
    due = found.get("due")
    return ListedItem(
        number=str(found["item"]),
        kind=str(found["kind"]),
        status=str(found["status"]),
        path=str(found["path"]),
        title=str(found["title"]),
        author=str(found["author"]),
        email=str(found["email"]),
        edit=str(found["edit"]),
        changed_at=datetime.fromisoformat(str(found["changed"])),
        due_at=datetime.fromisoformat(str(due)) if due else None,
        version=str(found.get("asks", "")),
        shown_at=str(found.get("shown", "")),
    )
