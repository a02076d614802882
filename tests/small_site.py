"""A site of a few pages of a test's own, which the test may change while it is served."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from http.server import ThreadingHTTPServer
from pathlib import Path
from typing import Any

from plumrake import models
from plumrake.demo.server import make_server
from tests.services import serve_in_thread


@dataclass
class SmallSite:
    """Pages served from a folder; ``address`` ends with ``/``."""

    folder: Path
    server: ThreadingHTTPServer
    address: str
    pages: Mapping[str, str]

    def registration(self, slug: str, **more: Any) -> models.NewSite:
        """Return what the site is registered with: its pages by a list, with leave to be
        private."""
        return models.NewSite(
            slug=slug,
            name=slug.title(),
            live_address=self.address,
            found_by="list",
            listed_paths=[*self.pages],
            private_leave=True,
            **more,
        )

    def put_back(self) -> None:
        """Let the pages be as they were in the beginning, and no others."""
        for file in self.folder.rglob("index.html"):
            path = f"/{file.parent.relative_to(self.folder).as_posix()}/".replace("/./", "/")
            if path not in self.pages:
                self.drop(path)
        for path, body in self.pages.items():
            self.write(path, body)

    def write(self, path: str, body: str) -> None:
        """Write a page with a body of its own."""
        (self.folder / path.strip("/")).mkdir(parents=True, exist_ok=True)
        page = (
            f"<!doctype html><html lang=en><title>{path.strip('/').title() or 'Home'} of the "
            f"canal</title><main>{body}</main></html>"
        )
        file = self.folder / path.strip("/") / "index.html"
        if not file.exists() or file.read_text() != page:
            file.write_text(page)

    def drop(self, path: str) -> None:
        """Take a page away."""
        (self.folder / path.strip("/") / "index.html").unlink()


def small_site(folder: Path, pages: Mapping[str, str]) -> SmallSite:
    """Serve pages, a body by path, from a folder until the server is shut down."""
    server = make_server(folder, 0)
    site = SmallSite(folder, server, f"{serve_in_thread(server)}/", dict(pages))
    site.put_back()
    return site
