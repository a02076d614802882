"""A demo of each module's own, with the stand-in CMS beside it."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn

from plumrake.demo.cms import Trust as Pages
from plumrake.demo.cms import create_cms
from plumrake.demo.ports import free_port
from plumrake.demo.seed import SITE
from tests.trust import Trust, files_as_written, trust  # noqa: F401


@pytest.fixture(scope="module")
def cms(trust: Trust, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:  # noqa: F811
    """The address of the stand-in CMS for the Trust's live pages."""
    pages, port = (
        Pages(trust.live, tmp_path_factory.mktemp("drafts"), trust.running.address, SITE),
        free_port(),
    )
    server = uvicorn.Server(
        uvicorn.Config(
            create_cms(pages),
            host="127.0.0.1",
            port=port,
            log_level="warning",
            timeout_graceful_shutdown=2,
        )
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(5)


def page_of(trust: Trust, path: str) -> tuple[Path, str]:  # noqa: F811
    """Return the file and the source of a live page."""
    file = trust.live / path.strip("/") / "index.html"
    return file, file.read_text()
