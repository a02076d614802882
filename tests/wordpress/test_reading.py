"""Items and drafts: found, read as they would go out, told apart from what theme and system
print."""

from __future__ import annotations

import httpx

from tests.conftest import wait_for
from tests.wordpress.conftest import SLUG, Garden


def test_the_connection_says_what_works(garden: Garden) -> None:
    """A check names what answers, with how many items of which types."""
    [found] = garden.manager.corrections.connections(SLUG)
    checked = garden.manager.corrections.check_connection(SLUG, found.environment)
    assert checked.problem is None
    assert checked.works[0].startswith("WordPress 6.")
    assert "post, page, plant" in checked.works[1]


def test_findings_say_which_block_they_stand_in(garden: Garden) -> None:
    """Each finding in an item's content names its block as the editor counts, what theme and
    system print is one cause whatever it says and leads to."""
    garden.sweep()
    found = list(garden.manager.findings.list(SLUG, environment="live"))
    places = {(one.path, one.check, one.where) for one in found}
    assert ("/gallery/", "pictures/file-name-text", "1st block, 3rd in it, Image") in places
    assert ("/prices/", "tables/no-headers", "2nd block, Table") in places
    assert ("/glasshouse/", "tables/no-headers", "2nd block, Custom HTML") in places
    assert ("/history/", "headings/empty", "3rd block, Heading") in places
    printed = [one for one in found if one.path == "/orchard-day/" and one.block == "frame"]
    assert printed
    assert all("printed by theme or system" in one.where for one in printed)
    by_hidden_link = {
        one.cause for one in found if one.block == "frame" and "cancel-comment" in one.excerpt
    }
    assert len(by_hidden_link) <= 1


def test_a_draft_is_shown_as_it_would_go_out(garden: Garden) -> None:
    """The signed address shows the whole page without a sign-in and without the admin's bar; a
    changed signature shows nothing, and visitors see no marks."""
    number = garden.filled.items["lantern-night"]
    signed = httpx.BasicAuth("plumrake", garden.filled.password)
    item = httpx.get(
        f"{garden.address}/?rest_route=/plumrake/v1/item&item={number}", auth=signed
    ).json()
    page = httpx.get(item["shown"]).text
    assert "Lantern night</h1>" in page
    assert "wpadminbar" not in page
    assert "<!--plumrake:block 1 core/image-->" in page
    forged = httpx.get(item["shown"][:-1] + "x", follow_redirects=True)
    assert "Bring a lantern" not in forged.text
    assert "<!--plumrake" not in httpx.get(f"{garden.address}/prices/").text


def test_what_is_going_out_is_listed_and_read(garden: Garden) -> None:
    """Drafts, items in review and scheduled ones are listed with their author and the answer about
    them; what nobody published yet is not in the list of clearances."""
    garden.manager.items.sync(SLUG)

    def is_read() -> bool:
        found = garden.manager.items.going_out(SLUG)
        return len(found) == 8 and all(one.clearance_state == "answered" for one in found)

    wait_for(is_read, 180, f"eight items to be read; {garden.running.logs()}")
    found = {one.title: one for one in garden.manager.items.going_out(SLUG)}
    assert found["Lantern night"].decision == "held"
    assert found["Lantern night"].holding == 1
    assert found["Mushroom walk"].decision == "clear"
    assert found["Snowdrop week"].status == "future"
    assert found["Snowdrop week"].due_at is not None
    assert found["Corpse flower"].path == "/plants/corpse-flower/"
    assert found["Corpse flower"].author == "Orla Fenwick"
    assert list(garden.manager.gate.list(SLUG)) == []


def test_an_author_sees_her_own(garden: Garden) -> None:
    """An editor sees the items of the author that she is, by hand where the addresses differ."""
    garden.manager.items.sync(SLUG)
    wait_for(lambda: len(garden.manager.items.going_out(SLUG)) == 8, 60, "the items to be listed")
    assert garden.editor.items.going_out(SLUG) == []
    [bram] = [one for one in garden.manager.items.authors(SLUG) if one.author == "Bram Tolley"]
    assert bram.person_id is None
    [ned] = [one for one in garden.manager.people.list() if one.email.startswith("ned@")]
    garden.manager.items.set_author(SLUG, bram.email, ned.id)
    assert [one.title for one in garden.editor.items.going_out(SLUG)] == ["Weddings"]
    garden.manager.items.set_author(SLUG, bram.email, None)
    assert garden.editor.items.going_out(SLUG) == []


def test_a_changed_draft_is_read_at_once(garden: Garden) -> None:
    """The plugin says when an item was saved; nobody has to ask."""
    number = garden.filled.items["mushroom-walk"]
    wordpress = garden.rest()
    content = garden.content(number)
    bad = content + "\n\n<!-- wp:heading -->\n<h2></h2>\n<!-- /wp:heading -->"
    wordpress.post(f"/wp-json/wp/v2/posts/{number}", json={"content": bad}).raise_for_status()

    def is_held() -> bool:
        found = [one for one in garden.manager.items.going_out(SLUG) if one.number == str(number)]
        return bool(found) and found[0].decision == "held"

    wait_for(is_held, 30, f"the draft to be read; {garden.running.logs()}")
    wordpress.post(f"/wp-json/wp/v2/posts/{number}", json={"content": content})


def test_items_are_listed_page_by_page(garden: Garden) -> None:
    """Any part of the list can be had, with how many there are in all."""
    signed = httpx.BasicAuth("plumrake", garden.filled.password)
    listed = httpx.get(
        f"{garden.address}/?rest_route=/plumrake/v1/items&status=publish,draft,pending,future"
        "&per_page=20&page=2",
        auth=signed,
    )
    assert len(listed.json()) == 20
    assert listed.headers["X-WP-Total"] == "40"
