"""What every kind of connection keeps (see ``tests/connectors/test_contract.py``), of a real
WordPress."""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable
from typing import TypeVar

import pytest

from plumrake.connectors.source_item import SourceChanged
from plumrake.connectors.wordpress.connector import WordPressConnector
from plumrake.net.client import guarded_client
from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable
from tests.wordpress.conftest import Garden

Answer = TypeVar("Answer")
CONTENT = (
    "<!-- wp:paragraph -->\n<p>Ünder the brïdge – 茶 &amp; tea.</p>\n<!-- /wp:paragraph -->\r\n"
)


def ask(
    garden: Garden,
    asking: Callable[[WordPressConnector], Awaitable[Answer]],
    password: str | None = None,
) -> Answer:
    async def work() -> Answer:
        async with guarded_client(Guard([garden.address])) as client:
            secret = password or garden.filled.password
            return await asking(WordPressConnector(client, garden.address, "plumrake", secret))

    return asyncio.run(work())


@pytest.fixture
def path(garden: Garden) -> str:
    """The path of an item of the test's own."""
    number = garden.new_item(CONTENT, "Under the bridge", "publish")
    return garden.php(f"echo wp_parse_url(get_permalink({number}), PHP_URL_PATH);")


def test_what_is_read_is_written_back_byte_for_byte(garden: Garden, path: str) -> None:
    """And has another version by then."""
    item = ask(garden, lambda one: one.read(path))
    assert item.body == CONTENT.encode()
    changed = item.body.replace(b"tea", b"caf\xc3\xa9")
    ask(garden, lambda one: one.write(path, changed, item.version, "better", "Ned"))
    after = ask(garden, lambda one: one.read(path))
    assert after.body == changed
    assert after.version != item.version


def test_a_stale_version_is_refused(garden: Garden, path: str) -> None:
    """Whoever was first stands."""
    item = ask(garden, lambda one: one.read(path))
    garden.store(int(item.number), CONTENT + "more")
    with pytest.raises(SourceChanged, match="changed meanwhile"):
        ask(garden, lambda one: one.write(path, b"x", item.version, "", "Ned"))
    assert garden.content(int(item.number)) == f"{CONTENT}more".replace("\r\n", "\n")


@pytest.mark.parametrize("where", ["/none/", "/../wp-config.php", "/category/uncategorized/"])
def test_what_is_no_item_is_no_source(garden: Garden, where: str) -> None:
    """Other files, lists of items, addresses of nothing."""
    with pytest.raises(Unreadable, match="no item there"):
        ask(garden, lambda one: one.read(where))


def test_what_cannot_be_reached_is_one_line(garden: Garden) -> None:
    """A wrong password, and a guard that does not let through."""
    with pytest.raises(Unreadable, match="application password is not right, or was revoked"):
        ask(garden, lambda one: one.check(), password="a guess")

    async def work() -> None:
        async with guarded_client(Guard([])) as client:
            await WordPressConnector(client, garden.address, "plumrake", "x").check()

    with pytest.raises(Unreadable):
        asyncio.run(work())


def test_an_author_cannot_be_the_connection(garden: Garden) -> None:
    """Who may not edit what others wrote is refused, with what to do."""
    password = garden.php(
        "echo WP_Application_Passwords::create_new_application_password("
        "get_user_by('login', 'suki')->ID, array('name' => 'x'))[0];"
    )

    async def work() -> None:
        async with guarded_client(Guard([garden.address])) as client:
            await WordPressConnector(client, garden.address, "suki", password).check()

    with pytest.raises(Unreadable, match="may not edit what others wrote"):
        asyncio.run(work())
