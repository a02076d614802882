"""Mends written back as blocks, and refused where they would be lost or would overwrite."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import pytest

from plumrake import models
from plumrake.client import PlumRakeError
from tests.conftest import wait_for
from tests.wordpress.conftest import SLUG, Garden

_BOLD = "<!-- wp:paragraph -->\n<p><strong>By train</strong></p>\n<!-- /wp:paragraph -->"


def finding(garden: Garden, check: str, path: str) -> models.FindingInFull:
    """Read a page and return the first finding of a check in its content."""
    sweep = garden.sweep(path)
    found = garden.manager.findings.list(SLUG, sweep=sweep, check=check)
    [number] = [one.id for one in found if one.path == path and one.block != "frame"][:1]
    return garden.manager.findings.show(number)


def drafted(garden: Garden, number: int, mend: dict[str, Any]) -> models.Correction:
    [made] = garden.manager.corrections.draft(SLUG, number, mend).ids
    return garden.settle(made, "drafted", "refused")


def write(garden: Garden, correction: models.Correction) -> None:
    garden.manager.corrections.write(SLUG, models.WriteCorrections(ids=[correction.id]))


@pytest.mark.parametrize(
    ("path", "check", "mend", "stored"),
    [
        (
            "/gallery/",
            "pictures/file-name-text",
            {"kind": "set-attribute", "attribute": "alt", "value": 'Roses, "Maud" > others'},
            'alt="Roses, &quot;Maud&quot; &gt; others"',
        ),
        (
            "/membership/",
            "headings/level-jump",
            {"kind": "rename-element", "to": "h3"},
            '<!-- wp:heading {"level":3} -->\n<h3>How to join</h3>',
        ),
        (
            "/prices/",
            "tables/no-headers",
            {"kind": "head-table", "to": "row"},
            "<table><thead><tr><th>Ticket</th><th>Price</th></tr></thead><tbody><tr><td>Adult",
        ),
        (
            "/prices/",
            "links/vague",
            {"kind": "replace-text", "value": "Membership of the garden"},
            '<a href="/membership/">Membership of the garden</a>',
        ),
        (
            "/rules/",
            "lists/typed-by-hand",
            {"kind": "make-list", "to": "ul"},
            "<!-- wp:list -->\n<ul><!-- wp:list-item -->\n<li>Keep to the paths</li>",
        ),
        ("/history/", "headings/empty", {"kind": "remove-element"}, "<!-- wp:heading -->"),
        (
            "/glasshouse/",
            "tables/no-headers",
            {"kind": "head-table", "to": "column"},
            '<tr><th scope="row">Morning</th>',
        ),
    ],
)
def test_a_mend_is_written_as_blocks_and_proven(
    garden: Garden, path: str, check: str, mend: dict[str, Any], stored: str
) -> None:
    """What is drafted is written into the block, comment and HTML together, and the page that
    WordPress makes of it proves the mend."""
    item = garden.filled.items[path.strip("/")]
    before = garden.content(item)
    correction = drafted(garden, finding(garden, check, path).id, mend)
    assert correction.state == "drafted", correction.problem
    assert garden.content(item) == before
    write(garden, correction)
    garden.settle(correction.id, "proven")
    assert stored in garden.content(item)
    garden.manager.corrections.move(correction.id, "take_back")
    garden.settle(correction.id, "taken_back")
    assert garden.content(item) == before


def test_it_is_said_in_the_editors_words(garden: Garden) -> None:
    """A correction says where the editor has what it does."""
    one = finding(garden, "tables/no-headers", "/prices/")
    correction = drafted(garden, one.id, {"kind": "head-table", "to": "row"})
    assert "Table → Header section on" in correction.says


@pytest.mark.parametrize(
    ("path", "check", "mend"),
    [
        ("/prices/", "tables/no-headers", {"kind": "head-table", "to": "column"}),
        (
            "/gallery/",
            "pictures/file-name-text",
            {"kind": "set-attribute", "attribute": "role", "value": "img"},
        ),
    ],
)
def test_what_the_editor_would_spoil_is_refused(
    garden: Garden, path: str, check: str, mend: dict[str, Any]
) -> None:
    """A mend that the editor would not take for its own is not drafted."""
    correction = drafted(garden, finding(garden, check, path).id, mend)
    assert correction.state == "refused"
    assert "editor would not take the block" in correction.problem


def test_what_the_theme_prints_is_not_the_items(garden: Garden) -> None:
    """A place outside of the content cannot be mended in the item."""
    sweep = garden.sweep("/prices/")
    found = garden.manager.findings.list(SLUG, sweep=sweep, check="controls/attribute-not-for-role")
    number = next(one.id for one in found if one.path == "/prices/")
    mend = {"kind": "remove-attribute", "attribute": "aria-label"}
    correction = drafted(garden, number, mend)
    assert correction.state == "refused"
    assert "script or a template makes it" in correction.problem


def _ready(garden: Garden, content: str, title: str) -> tuple[int, models.Correction]:
    """Return an item of its own and a correction of it that is drafted."""
    item = garden.new_item(content, title, "publish")
    path = f"/{title.lower().replace(' ', '-')}/"
    one = finding(garden, "links/vague", path)
    mend = {"kind": "replace-text", "value": "The opening times of the garden"}
    correction = drafted(garden, one.id, mend)
    assert correction.state == "drafted", correction.problem
    return item, correction


_VAGUE = (
    '<!-- wp:paragraph -->\n<p>Times: <a href="/prices/">click here</a></p>\n<!-- /wp:paragraph -->'
)


def test_an_item_that_somebody_edits_is_left_alone(garden: Garden) -> None:
    """While somebody has the item open in the editor nothing is written, and it is said who."""
    item, correction = _ready(garden, _VAGUE, "Locked one")
    garden.php(
        f"update_post_meta({item}, '_edit_lock', time() . ':' . get_user_by('login', 'suki')->ID);"
    )
    write(garden, correction)
    wait_for(
        lambda: (
            "Suki Ardenne has the item open"
            in garden.manager.corrections.show(correction.id).problem
        ),
        30,
        "the lock to be told",
    )
    assert garden.manager.corrections.show(correction.id).state == "drafted"
    assert garden.content(item) == _VAGUE
    garden.php(f"delete_post_meta({item}, '_edit_lock');")
    write(garden, correction)
    garden.settle(correction.id, "proven")


def test_an_item_that_was_changed_elsewhere_keeps_the_change(garden: Garden) -> None:
    """A mend is placed anew in what somebody wrote meanwhile; nothing of that is lost."""
    item, correction = _ready(garden, _VAGUE, "Changed one")
    added = "<!-- wp:paragraph -->\n<p>Closed on Mondays.</p>\n<!-- /wp:paragraph -->\n\n"
    garden.store(item, added + _VAGUE)
    write(garden, correction)
    garden.settle(correction.id, "proven")
    now = garden.content(item)
    assert "Closed on Mondays." in now
    assert "The opening times of the garden</a>" in now


@pytest.mark.parametrize("how", ["wp_trash_post", "wp_delete_post"])
def test_an_item_that_is_gone_is_told(garden: Garden, how: str) -> None:
    """Nothing is written to an item in the trash, or to none."""
    item, correction = _ready(garden, _VAGUE, f"Gone by {how[3:8]}")
    garden.php(f"{how}({item}, true);")
    write(garden, correction)
    wait_for(
        lambda: garden.manager.corrections.show(correction.id).problem != "", 30, "the problem"
    )
    shown = garden.manager.corrections.show(correction.id)
    assert shown.state == "drafted"
    assert "WordPress has no item there" in shown.problem or "trash" in shown.problem


def test_two_writers_at_once_do_not_overwrite_each_other(garden: Garden) -> None:
    """Of two who write the version that both read, one is refused."""
    item = garden.new_item(_VAGUE, "Twice at once", "publish")
    signed = httpx.BasicAuth("plumrake", garden.filled.password)
    base = f"{garden.address}/?rest_route=/plumrake/v1"
    version = httpx.get(f"{base}/item&item={item}", auth=signed).json()["version"]

    def store(words: str) -> int:
        body = {"item": item, "raw": _VAGUE.replace("Times", words), "version": version}
        return httpx.post(f"{base}/write", json=body, auth=signed, timeout=30).status_code

    with ThreadPoolExecutor(4) as pool:
        statuses = sorted(pool.map(store, ["One", "Two", "Three", "Four"]))
    assert statuses == [200, 409, 409, 409]


def test_a_revoked_password_is_told(garden: Garden) -> None:
    """The connection's check says what is wrong, and a draft waits with that reason."""
    [connection] = garden.manager.corrections.connections(SLUG)
    with pytest.raises(PlumRakeError, match="application password"):
        garden.manager.corrections.connect(
            SLUG,
            "live",
            models.NewConnection(
                kind="wordpress", address=garden.address, user="plumrake", secret="wrong"
            ),
        )
    assert garden.manager.corrections.check_connection(SLUG, "live").problem is None
    assert connection.has_secret


def test_the_library_s_text_is_proposed(garden: Garden) -> None:
    """For a picture of the media library the text that it has there is among the proposals."""
    address = garden.php(
        "$it = get_page_by_path('picture-pond', OBJECT, 'attachment');"
        "echo wp_get_attachment_url($it->ID);"
    )
    picture = (
        f'<!-- wp:image -->\n<figure class="wp-block-image"><img src="{address}" alt="pond.jpg"/>'
        "</figure>\n<!-- /wp:image -->"
    )
    garden.new_item(picture, "With the pond", "publish")
    one = finding(garden, "pictures/file-name-text", "/with-the-pond/")
    texts = garden.manager.corrections.texts(one.id)
    assert texts.problem == ""
    assert ("Water lilies on the pond", "its text in the media library") in {
        (text.text, text.comes_from) for text in texts.items
    }


def test_markup_is_not_tried_past_the_system_that_makes_the_page(garden: Garden) -> None:
    """What the page would be is for WordPress to say, when the mend is drafted."""
    one = finding(garden, "links/vague", "/prices/")
    with pytest.raises(PlumRakeError, match="draft the mend"):
        garden.manager.corrections.try_markup(one.id, '<a href="/membership/">Membership</a>')


def test_a_text_is_written_into_the_media_library_and_taken_back(garden: Garden) -> None:
    """A featured picture has its text from the library: written there, its pages show it and the
    finding goes; a text that somebody changed meanwhile, or that WordPress would change, is let
    alone."""
    sweep = garden.sweep()
    rake = garden.manager.corrections
    named = [
        one
        for one in garden.manager.findings.list(SLUG, sweep=sweep, check="pictures/file-name-text")
        if one.path == "/spring-fair/"
    ]
    [number] = [one.id for one in named]
    assert rake.texts(number).library
    with pytest.raises(PlumRakeError, match="leave out tags"):
        rake.write_library_text(number, "a <b>heron</b>")
    written = garden.editor.corrections.write_library_text(number, 'A heron, "grey" & still')
    assert (written.before, written.by) == ("heron-final-2.jpg", "Ned")
    wait_for(
        lambda: garden.manager.findings.show(number).standing == "mended",
        60,
        f"the page to be read again; {garden.running.logs()}",
    )
    page = httpx.get(f"{garden.address}/spring-fair/").text
    assert 'alt="A heron, &quot;grey&quot; &amp; still"' in page
    assert rake.texts(number).written == written
    [kept] = list(rake.library_texts(SLUG))
    assert kept == written
    key = "'_wp_attachment_image_alt'"
    heron = garden.php("echo attachment_url_to_postid(wp_upload_dir()['baseurl'].'/heron.jpg');")
    garden.php(f"update_post_meta({heron}, {key}, 'A grey heron');")
    with pytest.raises(PlumRakeError, match="was changed meanwhile"):
        rake.take_back_library_text(written.id)
    garden.php(f"update_post_meta({heron}, {key}, wp_slash('A heron, \"grey\" & still'));")
    assert rake.take_back_library_text(written.id).taken_back_at is not None
    assert garden.php(f"echo get_post_meta({heron}, {key}, true);") == "heron-final-2.jpg"
    with pytest.raises(PlumRakeError, match="taken back already"):
        rake.take_back_library_text(written.id)
    wait_for(
        lambda: garden.manager.findings.show(number).standing == "counts",
        60,
        f"the page to be read again; {garden.running.logs()}",
    )
