"""The block editor itself, in a headless Chromium: what is written back is valid for it, and the
panel before publishing leads to the block."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from plumrake.core.findings import Mend
from plumrake.core.mending.block_mends import edits_in_blocks
from plumrake.core.mending.blocks import BlockPage
from plumrake.core.mending.edits import applied
from plumrake.demo.wordpress.blocks import (
    block,
    button,
    coloured,
    heading,
    items,
    paragraph,
    table,
)
from plumrake.lenses.markup import parse_source
from tests.conftest import wait_for
from tests.wordpress.conftest import PEOPLE, SLUG, Garden

TAKES_LONG = True

_IMAGE = block(
    "image",
    '<figure class="wp-block-image size-large"><img src="/a.jpg" alt="" class="wp-image-7"/>'
    "</figure>",
    id=7,
    sizeSlug="large",
)
_COVER = block(
    "cover",
    '<div class="wp-block-cover"><span aria-hidden="true" class="wp-block-cover__background '
    'has-background-dim"></span><img class="wp-block-cover__image-background wp-image-7" alt="" '
    'src="/a.jpg" data-object-fit="cover"/><div class="wp-block-cover__inner-container">'
    + paragraph("Over it")
    + "</div></div>",
    url="/a.jpg",
    id=7,
    dimRatio=50,
)
_MEDIA_TEXT = block(
    "media-text",
    '<div class="wp-block-media-text alignwide is-stacked-on-mobile">'
    '<figure class="wp-block-media-text__media"><img src="/a.jpg" alt="" class="wp-image-7 '
    'size-full"/></figure><div class="wp-block-media-text__content">'
    + paragraph("Beside it")
    + "</div></div>",
    mediaId=7,
    mediaType="image",
)
_PRESET = block(
    "paragraph",
    '<p class="has-tertiary-color has-text-color">Pale</p>',
    textColor="tertiary",
)
_BOTH = block(
    "heading",
    '<h3 class="has-primary-background-color has-text-color has-background" '
    'style="color:#777777">Pale</h3>',
    level=3,
    backgroundColor="primary",
    style={"color": {"text": "#777777"}},
)
_ROWS = [["Day", "Hours"], ["Monday", "9 to 5"], ["Sunday", "11 to 4"]]


def _mend(kind: str, **fields: str) -> Mend:
    return Mend(kind, "", **fields)


_TEXT = _mend("set-attribute", attribute="alt", value='Sheds, "old" & new -- by the <pond>')
_MENDS: dict[str, tuple[str, str, Mend]] = {
    "image text": (_IMAGE, "img", _TEXT),
    "image decorative": (_IMAGE.replace('alt=""', 'alt="x"'), "img", _mend("mark-decorative")),
    "cover text": (_COVER, "img", _TEXT),
    "media and text": (_MEDIA_TEXT, "img", _TEXT),
    "heading to 3": (heading("Hours"), "h2", _mend("rename-element", to="h3")),
    "heading to 2": (heading("Hours", 4), "h4", _mend("rename-element", to="h2")),
    "heading to paragraph": (heading("Hours", 4), "h4", _mend("rename-element", to="p")),
    "heading text": (heading("", 3), "h3", _mend("replace-text", value="Hours & days")),
    "heading removed": (heading("", 3), "h3", _mend("remove-element")),
    "paragraph colour": (
        coloured("Pale", "#b8b8b8"),
        "p",
        _mend("set-style", property="color", value="#595959"),
    ),
    "paragraph without colour": (
        paragraph("Pale"),
        "p",
        _mend("set-style", property="color", value="#595959"),
    ),
    "colour of the theme": (_PRESET, "p", _mend("set-style", property="color", value="#595959")),
    "heading with both colours": (
        _BOTH,
        "h3",
        _mend("set-colours", value="#111111", to="#ffffff"),
    ),
    "table head": (table(_ROWS, head=False), "table", _mend("head-table", to="row")),
    "table scopes": (table(_ROWS), "table", _mend("set-scopes")),
    "table caption": (table(_ROWS), "table", _mend("insert", to="caption", value="Hours & days")),
    "typed list": (paragraph("- Paths<br>- Ponds<br>- Glass"), "p", _mend("make-list", to="ul")),
    "numbered list": (paragraph("1. Paths<br>2. Ponds"), "p", _mend("make-list", to="ol")),
    "paragraphs to list": (
        paragraph("- Paths") + "\n\n" + paragraph("- Ponds"),
        "p",
        _mend("make-list", to="ul"),
    ),
    "bold to heading": (
        paragraph("<strong>Hours</strong>"),
        "p",
        _mend("rename-element", to="h2"),
    ),
    "bold to heading 4": (
        paragraph("<strong>Hours <em>now</em></strong>"),
        "p",
        _mend("rename-element", to="h4"),
    ),
    "link text": (
        paragraph('See <a href="/hours/">here</a>.'),
        "a",
        _mend("replace-text", value="opening hours"),
    ),
    "link name": (
        paragraph('See <a href="/hours/">here</a>.'),
        "a",
        _mend("set-attribute", attribute="aria-label", value="opening hours"),
    ),
    "link in a list": (
        items('See <a href="/hours/">here</a>', "Other"),
        "a",
        _mend("replace-text", value="opening hours"),
    ),
    "button text": (button("more", "/hours/"), "a", _mend("replace-text", value="Opening hours")),
    "word": (paragraph("The gardn."), "p", _mend("replace-word", to="gardn", value="garden")),
}


def _mended(content: str, tag: str, mend: Mend) -> str:
    source = parse_source(content, "")
    element = next(one for one in source.page.elements if one.tag == tag)
    return applied(content, edits_in_blocks(BlockPage(source), element, mend))


@pytest.fixture(scope="module")
def editor(browser: Browser, garden: Garden) -> Iterator[Page]:
    """The block editor, signed in as the site's editor."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{garden.address}/wp-login.php")
    page.fill("#user_login", "orla")
    page.fill("#user_pass", PEOPLE)
    page.click("#wp-submit")
    page.wait_for_url("**/wp-admin/**")
    yield page
    page.close()


def _open(page: Page, garden: Garden, number: int) -> None:
    page.goto(f"{garden.address}/wp-admin/post.php?post={number}&action=edit")
    page.wait_for_function(
        "window.wp && wp.data && wp.data.select('core/editor').getCurrentPost().id"
    )
    page.evaluate(
        "wp.data.dispatch('core/preferences').set('core/edit-post', 'welcomeGuide', false)"
    )


@pytest.mark.parametrize("name", _MENDS)
def test_the_editors_own_parser_takes_each_mend(editor: Page, garden: Garden, name: str) -> None:
    """What is written is valid for the editor's parser, and serialises to itself."""
    content, tag, mend = _MENDS[name]
    if "post.php" not in editor.url:
        _open(editor, garden, garden.filled.items["weddings"])
    mended = _mended(content, tag, mend)
    before, after = (
        editor.evaluate(
            """(content) => {
                const blocks = wp.blocks.parse(content);
                const all = [];
                const walk = (some) => some.forEach((one) => {
                    all.push(one); walk(one.innerBlocks); });
                walk(blocks);
                return { valid: all.every((one) => one.isValid),
                    names: all.map((one) => one.name), text: wp.blocks.serialize(blocks) };
            }""",
            one,
        )
        for one in (content, mended)
    )
    assert before["valid"], (name, content)
    assert after["valid"], (name, mended)
    assert after["text"].strip() == mended.strip()
    assert "core/freeform" not in after["names"]
    assert mended != content


def test_publish_is_held_and_leads_to_the_block(editor: Page, garden: Garden) -> None:
    """Press Publish, see what holds it, jump to the block, mend it there, publish, and the page is
    public."""
    number = garden.new_item(
        paragraph("The fair opens at ten.")
        + "\n\n"
        + paragraph('Tickets: <a href="/prices/">here</a>'),
        "Fair of the vale",
    )
    _open(editor, garden, number)
    editor.get_by_role("button", name="Publish", exact=True).first.click()
    panel = editor.locator(".editor-post-publish-panel")
    expect(panel.get_by_text("Held: 1 to mend")).to_be_visible()
    expect(panel.get_by_text("2nd block, Paragraph")).to_be_visible()
    expect(panel.get_by_role("button", name="Publish", exact=True)).to_be_disabled()
    panel.get_by_role("button", name="Go to the block").click()
    selected = editor.evaluate(
        "wp.data.select('core/block-editor').getSelectedBlock().attributes.content"
    )
    assert "Tickets" in selected
    editor.evaluate(
        """() => { const it = wp.data.select('core/block-editor').getSelectedBlock();
            wp.data.dispatch('core/block-editor').updateBlockAttributes(it.clientId,
                { content: 'Tickets: <a href="/prices/">prices of the season</a>' }); }"""
    )
    expect(panel.get_by_text("Nothing holds.")).to_be_visible()
    panel.get_by_role("button", name="Publish", exact=True).click()
    expect(editor.locator(".post-publish-panel__postpublish-header")).to_be_visible()
    assert garden.status(number) == "publish"
    wait_for(
        lambda: next(iter(garden.manager.gate.list(SLUG))).used_at is not None,
        15,
        "the clearance to be used",
    )
    assert next(iter(garden.manager.gate.list(SLUG))).asked_for == "Orla Fenwick"
