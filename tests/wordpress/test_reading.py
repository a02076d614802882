"""Items and drafts: found, read as they would go out, told apart from what theme and system
print."""

from __future__ import annotations

import httpx

from tests.wordpress.conftest import SLUG, Garden


def test_the_connection_says_what_works(garden: Garden) -> None:
    [found] = garden.manager.corrections.connections(SLUG)
    checked = garden.manager.corrections.check_connection(SLUG, found.environment)
    assert checked.problem is None
    assert checked.works[0].startswith("WordPress 6.")
    assert "post, page, plant" in checked.works[1]


def test_findings_say_which_block_they_stand_in(garden: Garden) -> None:
    sweep = garden.sweep()
    for one in garden.manager.sweeps.readings(sweep):
        print(one.path, one.status, one.problem_says, one.title)
    found = {
        (one.path, one.check, one.where)
        for one in garden.manager.findings.list(SLUG, environment="live")
    }
    for one in sorted(found):
        print(one)
    assert 0


def test_a_draft_is_shown_as_it_would_go_out(garden: Garden) -> None:
    number = garden.filled.items["lantern-night"]
    signed = httpx.BasicAuth("plumrake", garden.filled.password)
    item = httpx.get(
        f"{garden.address}/?rest_route=/plumrake/v1/item&item={number}", auth=signed
    ).json()
    page = httpx.get(item["shown"]).text
    assert "<h1" in page and "Lantern night" in page
    assert "wpadminbar" not in page
    assert "<!--plumrake:block 1 core/image-->" in page
    assert httpx.get(item["shown"][:-1] + "x", follow_redirects=True).status_code == 404
    assert "<!--plumrake" not in httpx.get(f"{garden.address}/prices/").text
