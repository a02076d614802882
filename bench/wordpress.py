"""Publishing in WordPress with the gate inside: from the press to the answer, held or cleared,
through either lens; and how long listing many items takes.

``python -m bench.wordpress [PRESSES] [ITEMS]``. WordPress, its database, service and worker run for
this alone. Each press is of a content that was never read; beside it stands what WordPress takes to
save the same without the plugin asking. People press with time between; what is pressed while the
pages published before are still being read again by a browser on the same processors is told apart
(``in a row``).
"""

from __future__ import annotations

import base64
import json
import re
import secrets
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import httpx
import psycopg

from bench.service import Running, running
from plumrake import models
from plumrake.demo.ports import free_port
from plumrake.demo.wordpress.garden import fill
from plumrake.demo.wordpress.server import WordPress

SITE = "garden"
PASSWORD = "bench-the-garden"
_GOOD = "<!-- wp:paragraph -->\n<p>The garden opens at {number}.</p>\n<!-- /wp:paragraph -->"
_BAD = _GOOD + '\n\n<!-- wp:paragraph -->\n<p><a href="/x/">here</a></p>\n<!-- /wp:paragraph -->'


def main(presses: int = 20, items: int = 2_000) -> None:
    """Print the medians."""
    key = base64.urlsafe_b64encode(secrets.token_bytes(32)).decode()
    with (
        tempfile.TemporaryDirectory(prefix="plr-bench-") as folder,
        running(workers=1, secrets_key=key) as service,
    ):
        Path(folder).chmod(0o755)
        wordpress = WordPress(Path(folder) / "wordpress", free_port())
        wordpress.start()
        try:
            _measure(service, wordpress, presses, items)
        finally:
            wordpress.stop()


def _measure(service: Running, wordpress: WordPress, presses: int, items: int) -> None:
    rake, address = service.rake, service.rake.server
    rake.sites.add(
        models.NewSite(
            slug=SITE,
            name="Garden",
            live_address=f"{wordpress.address}/",
            found_by="sitemap",
            private_leave=True,
        )
    )
    token = rake.people.make_token("bench", ["gate"], SITE).secret
    plugin = {"service": address, "site": SITE, "token": token, "wait": 20}
    plugin |= {"user": "plumrake", "closed": True}
    filled = fill(wordpress, PASSWORD, {**plugin, "lens": "markup"})
    rake.corrections.connect(
        SITE,
        "live",
        models.NewConnection(
            kind="wordpress", address=wordpress.address, user="plumrake", secret=filled.password
        ),
    )
    client = _editor(wordpress)

    def rest() -> None:
        _rest(service.database)

    bare = _median(presses, lambda number: _press(client, number, rest, status="draft"))
    print(f"  saving a draft, nobody asked: {bare * 1000:.0f} ms")
    for lens in ("markup", "rendered"):
        _set(wordpress, {**plugin, "lens": lens})
        _press(client, 0, rest, status="publish")  # the lens is warm after this
        for says, content, between in (
            ("cleared", _GOOD, rest),
            ("held", _BAD, rest),
            ("cleared, in a row", _GOOD, _at_once),
        ):
            took = statistics.median(
                _press(client, number + 1, between, content, "publish") for number in range(presses)
            )
            print(f"  {lens:<9} {says:<18} {took * 1000:6.0f} ms, {took / bare:.1f} × a save")
    _set(wordpress, {**plugin, "service": ""})
    _list(wordpress, filled.password, items)


def _median(presses: int, press: Callable[[int], float]) -> float:
    return statistics.median(press(number + 1) for number in range(presses))


def _at_once() -> None:
    """Wait for nothing."""


def _rest(database: str) -> None:
    """Wait until the worker has nothing to do."""
    with psycopg.connect(database, autocommit=True) as connection:
        while connection.execute(
            "SELECT 1 FROM procrastinate_jobs WHERE status IN ('todo', 'doing') LIMIT 1"
        ).fetchone():
            time.sleep(0.05)


def _press(
    client: httpx.Client,
    number: int,
    between: Callable[[], None],
    content: str = _GOOD,
    status: str = "draft",
) -> float:
    """Make a draft, wait as ``between`` says, then press; return how long the press took."""
    draft = client.post("/wp-json/wp/v2/posts", json={"title": f"Bench {secrets.token_hex(4)}"})
    between()
    text = content.replace("{number}", f"{number} and {secrets.token_hex(4)}")
    start = time.perf_counter()
    answer = client.post(
        f"/wp-json/wp/v2/posts/{draft.json()['id']}", json={"content": text, "status": status}
    )
    took = time.perf_counter() - start
    assert answer.status_code == (422 if content is _BAD else 200), answer.text
    return took


def _editor(wordpress: WordPress) -> httpx.Client:
    client = httpx.Client(base_url=wordpress.address, timeout=60, follow_redirects=True)
    client.cookies.set("wordpress_test_cookie", "WP%20Cookie%20check", domain="127.0.0.1")
    client.post("/wp-login.php", data={"log": "orla", "pwd": PASSWORD, "testcookie": "1"})
    page = client.get("/wp-admin/post-new.php").text
    found = re.search(r'createNonceMiddleware\( "(\w+)" \)', page)
    assert found is not None
    client.headers["X-WP-Nonce"] = found.group(1)
    return client


def _set(wordpress: WordPress, plugin: dict[str, Any]) -> None:
    _php(wordpress, f"update_option('plumrake', json_decode('{json.dumps(plugin)}', true));")


def _php(wordpress: WordPress, code: str) -> None:
    script = wordpress.folder / "run.php"
    script.write_text(f"<?php $_SERVER['HTTP_HOST'] = '127.0.0.1'; require $argv[1];\n{code}")
    wordpress.run(script)


def _list(wordpress: WordPress, password: str, items: int) -> None:
    _php(
        wordpress,
        "Plumrake_Gate::$is_writing = true; wp_suspend_cache_invalidation(true);"
        f"for ($i = 0; $i < {items}; $i++) {{ wp_insert_post(array('post_title' => 'Item ' . $i,"
        "'post_status' => $i % 2 ? 'draft' : 'publish', 'post_content' => 'Text ' . $i)); }",
    )
    signed = httpx.BasicAuth("plumrake", password)
    start = time.perf_counter()
    seen = page = 0
    with httpx.Client(auth=signed, timeout=60) as client:
        while True:
            page += 1
            found = client.get(
                f"{wordpress.address}/?rest_route=/plumrake/v1/items"
                f"&status=draft,publish&per_page=200&page={page}"
            ).json()
            seen += len(found)
            if len(found) < 200:
                break
    print(f"  listing {seen:,} items: {time.perf_counter() - start:.2f} s")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
