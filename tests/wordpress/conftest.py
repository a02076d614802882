"""A real WordPress with the garden's site, its plugin asking a service of the tests' own."""

from __future__ import annotations

import base64
import json
import re
import secrets
import shutil
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx
import pytest

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.ports import free_port
from plumrake.demo.wordpress.garden import Filled, fill
from plumrake.demo.wordpress.server import ADMIN, WordPress
from tests.conftest import PASSWORD, Running, wait_for
from tests.corrections.conftest import add_people

SLUG = "garden"
PEOPLE = "tarn-and-vale"
"""The password of everybody who writes."""


@dataclass
class Garden:
    """WordPress and what was put into it, the running service, a manager and an editor signed in
    there."""

    wordpress: WordPress
    filled: Filled
    running: Running
    manager: PlumRake
    editor: PlumRake

    @property
    def address(self) -> str:
        return self.wordpress.address

    def rest(self, user: str = "orla") -> httpx.Client:
        """Return a client of WordPress's REST interface that is signed in as the block editor
        is."""
        client = self.signed_in(user)
        page = client.get("/wp-admin/post-new.php").text
        found = re.search(r'createNonceMiddleware\( "(\w+)" \)', page)
        assert found is not None, page[:400]
        client.headers["X-WP-Nonce"] = found.group(1)
        return client

    def signed_in(self, user: str = "orla") -> httpx.Client:
        """Return a client that is signed in at WordPress's own screens."""
        client = httpx.Client(base_url=self.address, timeout=60, follow_redirects=True)
        password = self.wordpress.password if user == ADMIN else PEOPLE
        client.cookies.set("wordpress_test_cookie", "WP%20Cookie%20check", domain="127.0.0.1")
        answer = client.post(
            "/wp-login.php",
            data={"log": user, "pwd": password, "testcookie": "1", "redirect_to": "/wp-admin/"},
        )
        assert "wp-admin" in str(answer.url), answer.text[:400]
        return client

    def php(self, code: str) -> str:
        """Run some PHP within WordPress; return what it prints."""
        script = self.wordpress.folder / f"run-{secrets.token_hex(4)}.php"
        server = f"$_SERVER['HTTP_HOST'] = '127.0.0.1:{self.wordpress.port}';"
        script.write_text(f"<?php {server} require $argv[1];\n{code}")
        try:
            return self.wordpress.run(script)
        finally:
            script.unlink()

    def status(self, number: int) -> str:
        """Return the status of an item as it is stored."""
        return self.php(f"echo get_post_status({number});")

    def content(self, number: int) -> str:
        """Return the content of an item as it is stored."""
        return self.php(f"echo get_post({number})->post_content;")

    def new_item(self, content: str, title: str = "New", status: str = "draft", **more: str) -> int:
        """Store an item as it is, without asking anybody; return its number."""
        fields = {"post_title": title, "post_content": content, "post_status": status, **more}
        return int(self._stored("wp_insert_post", fields))

    def store(self, number: int, content: str) -> None:
        """Store another content of an item, without asking anybody."""
        self._stored("wp_update_post", {"ID": number, "post_content": content})

    def _stored(self, function: str, fields: dict[str, Any]) -> str:
        values = base64.b64encode(json.dumps(fields).encode()).decode()
        return self.php(
            "Plumrake_Gate::$is_writing = true; kses_remove_filters();"
            f"$it = json_decode(base64_decode('{values}'), true);"
            f"echo {function}(wp_slash($it), true);"
        )

    def settle(self, number: int, *states: str) -> models.CorrectionInFull:
        """Return a correction once it is in one of some states."""
        wait_for(
            lambda: self.manager.corrections.show(number).state in states,
            60,
            f"correction {number} to be {states}; {self.running.logs()}",
        )
        return self.manager.corrections.show(number)

    def sweep(self, *paths: str, lens: models.Lens = "markup") -> int:
        """Read the site, or some pages of it."""
        sweep = self.manager.sweeps.start(SLUG, lens=lens, paths=paths, fresh=True)
        events = list(self.manager.sweeps.follow(sweep.id))
        assert events[-1].kind == "done", (events[-1], self.running.logs())
        return sweep.id


@pytest.fixture(scope="module")
def garden(database: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Garden]:
    """The garden's site in a WordPress of the module's own, connected both ways."""
    folder = tmp_path_factory.mktemp("garden")
    own = Path(tempfile.mkdtemp(prefix="plr-garden-"))  # its servers run as others than we
    own.chmod(0o755)
    running = Running(database, free_port(), folder)
    add_people(database)
    settings = {
        "secrets_key": base64.urlsafe_b64encode(secrets.token_bytes(32)).decode(),
        "address": running.address,
    }
    running.start("serve", **settings)
    wordpress = WordPress(own / "wordpress", free_port())
    wordpress.start()
    running.wait_until_ready()
    running.start("worker", **settings)
    manager = running.client()
    manager.sites.add(
        models.NewSite(
            slug=SLUG,
            name="Tarn Vale Botanic Garden",
            live_address=f"{wordpress.address}/",
            found_by="sitemap",
            private_leave=True,
            policy={"corrections": "write", "without": ["text/spelling"]},
        )
    )
    token = manager.people.make_token("WordPress", ["gate"], SLUG)
    plugin = {
        "service": running.address,
        "site": SLUG,
        "token": token.secret,
        "user": "plumrake",
        "lens": "markup",
        "wait": 20,
        "closed": True,
    }
    filled = fill(wordpress, PEOPLE, plugin)
    connection = models.NewConnection(
        kind="wordpress", address=wordpress.address, user="plumrake", secret=filled.password
    )
    manager.corrections.connect(SLUG, "live", connection)
    yield Garden(wordpress, filled, running, manager, running.client("ned@harrowmere.example"))
    manager.close()
    running.stop()
    wordpress.stop()
    shutil.rmtree(own, ignore_errors=True)


__all__ = ["PASSWORD", "PEOPLE", "SLUG", "Garden"]
