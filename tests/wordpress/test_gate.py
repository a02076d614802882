"""The gate inside WordPress: no way to publish an item that holds."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

import httpx
import pytest

from plumrake import models
from tests.conftest import token_of, wait_for
from tests.wordpress.conftest import SLUG, Garden

BAD = (
    '<!-- wp:paragraph -->\n<p>Times: <a href="/prices/">click here</a></p>\n<!-- /wp:paragraph -->'
)
GOOD = "<!-- wp:paragraph -->\n<p>The garden opens at nine.</p>\n<!-- /wp:paragraph -->"


@pytest.fixture
def draft(garden: Garden) -> Iterator[int]:
    """A draft that holds."""
    number = garden.new_item(BAD, "Not to be seen")
    yield number
    garden.php(f"wp_delete_post({number}, true);")


def test_rest_refuses_with_what_is_wrong_and_where(garden: Garden, draft: int) -> None:
    """The REST interface, as the block editor uses it, answers 422 with the finding and its
    block; the item stays a draft, and the text that was sent is what may be sent again."""
    answer = garden.rest().post(f"/wp-json/wp/v2/posts/{draft}", json={"status": "publish"})
    assert answer.status_code == 422
    found = answer.json()
    assert found["code"] == "plumrake_held"
    assert "1st block, Paragraph: " in found["message"]
    assert found["data"]["plumrake"]["findings"][0]["block"] == "0 core/paragraph"
    assert garden.status(draft) == "draft"


def test_what_is_mended_goes_out_and_its_clearance_is_used(garden: Garden, draft: int) -> None:
    """Mended content is published by the same press; the clearance names who pressed, is used, and
    the live page is read."""
    number = garden.new_item(GOOD, "To be seen", post_author=str(_id(garden, "suki")))
    answer = garden.rest("suki").post(f"/wp-json/wp/v2/posts/{number}", json={"status": "publish"})
    assert answer.status_code == 200, answer.text
    assert answer.json()["status"] == "publish"
    wait_for(lambda: _newest(garden).used_at is not None, 15, "the clearance to be used")
    assert _newest(garden).asked_for == "Suki Ardenne"
    assert _newest(garden).path == "/to-be-seen/"


def _id(garden: Garden, user: str) -> int:
    return int(garden.php(f"echo get_user_by('login', '{user}')->ID;"))


def _newest(garden: Garden) -> models.Clearance:
    return next(iter(garden.manager.gate.list(SLUG)))


def _by_rest(garden: Garden, number: int) -> None:
    garden.rest().post(f"/wp-json/wp/v2/posts/{number}", json={"status": "publish"})


def _by_rest_scheduled(garden: Garden, number: int) -> None:
    garden.rest().post(
        f"/wp-json/wp/v2/posts/{number}", json={"status": "future", "date": "2031-01-01T09:00:00"}
    )


def _by_quick_edit(garden: Garden, number: int) -> None:
    screen = garden.signed_in()
    page = screen.get("/wp-admin/edit.php").text
    nonce = re.search(r'name="_inline_edit" value="(\w+)"', page)
    assert nonce is not None
    answer = screen.post(
        "/wp-admin/admin-ajax.php",
        data={
            "action": "inline-save",
            "post_type": "post",
            "post_ID": number,
            "post_title": "Not to be seen",
            "_status": "publish",
            "screen": "edit-post",
            "_inline_edit": nonce.group(1),
            "post_view": "list",
        },
    )
    assert "Held by Plum Rake" in answer.text


def _by_bulk_edit(garden: Garden, number: int) -> None:
    screen = garden.signed_in()
    page = screen.get("/wp-admin/edit.php").text
    nonce = re.search(r'name="_wpnonce" value="(\w+)"', page)
    assert nonce is not None
    answer = screen.get(
        "/wp-admin/edit.php",
        params={
            "post[]": number,
            "action": "edit",
            "bulk_edit": "Update",
            "_status": "publish",
            "post_type": "post",
            "_wpnonce": nonce.group(1),
            "screen": "edit-post",
            "post_author": "-1",
            "comment_status": "",
            "ping_status": "",
            "sticky": "-1",
        },
    )
    assert "Held by Plum Rake" in answer.text


def _by_classic_screen(garden: Garden, number: int) -> None:
    script = (
        "require_once ABSPATH.'wp-admin/includes/admin.php';"
        "wp_set_current_user(get_user_by('login','orla')->ID);"
        f"$_POST = array('post_ID'=>{number},'post_type'=>'post','post_title'=>'Not to be seen',"
        "'content'=>get_post(" + str(number) + ")->post_content,'publish'=>'Publish',"
        "'post_status'=>'publish','original_post_status'=>'draft','user_ID'=>get_current_user_id(),"
        "'action'=>'editpost'); edit_post();"
    )
    garden.php(script)


def _by_xmlrpc(garden: Garden, number: int) -> None:
    body = f"""<?xml version="1.0"?><methodCall><methodName>wp.editPost</methodName><params>
    <param><value><int>1</int></value></param><param><value>orla</value></param>
    <param><value>tarn-and-vale</value></param><param><value><int>{number}</int></value></param>
    <param><value><struct><member><name>post_status</name><value>publish</value></member>
    </struct></value></param></params></methodCall>"""
    httpx.post(f"{garden.address}/xmlrpc.php", content=body, timeout=60)


def _by_program(garden: Garden, number: int) -> None:
    garden.php(f"wp_update_post(array('ID' => {number}, 'post_status' => 'publish'));")


def _by_publishing_function(garden: Garden, number: int) -> None:
    garden.php(f"wp_publish_post({number});")


def _by_customizer(garden: Garden, number: int) -> None:
    garden.php(
        f"wp_update_post(array('ID' => {number}, 'post_status' => 'auto-draft'));"
        "require_once ABSPATH . 'wp-includes/class-wp-customize-manager.php';"
        f"wp_publish_post({number});"
    )


def _by_untrashing(garden: Garden, number: int) -> None:
    garden.php(
        f"wp_trash_post({number}); add_filter('wp_untrash_post_status', fn() => 'publish');"
        f"wp_untrash_post({number});"
    )


def _by_rest_batch(garden: Garden, number: int) -> None:
    asked = {"method": "POST", "path": f"/wp/v2/posts/{number}", "body": {"status": "publish"}}
    garden.rest().post("/wp-json/batch/v1", json={"requests": [asked]})


def _by_rest_in_private_first(garden: Garden, number: int) -> None:
    for status in ("private", "publish"):
        garden.rest().post(f"/wp-json/wp/v2/posts/{number}", json={"status": status})


def _by_rest_behind_a_password_first(garden: Garden, number: int) -> None:
    for password in ("open-sesame", ""):
        garden.rest().post(
            f"/wp-json/wp/v2/posts/{number}", json={"status": "publish", "password": password}
        )


def _by_rest_with_a_date_of_the_past(garden: Garden, number: int) -> None:
    garden.rest().post(
        f"/wp-json/wp/v2/posts/{number}", json={"status": "future", "date": "2020-01-01T09:00:00"}
    )


def _by_autosave(garden: Garden, number: int) -> None:
    for path in (f"posts/{number}/autosaves", f"posts/{number}/revisions"):
        garden.rest().post(f"/wp-json/wp/v2/{path}", json={"content": BAD, "status": "publish"})


def _by_being_due(garden: Garden, number: int) -> None:
    garden.php(
        f"global $wpdb; $wpdb->update($wpdb->posts, array('post_status' => 'future',"
        f"'post_date' => '2020-01-01 09:00:00', 'post_date_gmt' => '2020-01-01 09:00:00'),"
        f"array('ID' => {number})); clean_post_cache({number});"
        f"check_and_publish_future_post({number});"
        f"if (get_post_status({number}) === 'future') {{"
        f" wp_update_post(array('ID' => {number}, 'post_status' => 'draft')); }}"
    )


@pytest.mark.parametrize(
    "publish",
    [
        _by_rest,
        _by_rest_scheduled,
        _by_quick_edit,
        _by_bulk_edit,
        _by_classic_screen,
        _by_xmlrpc,
        _by_program,
        _by_publishing_function,
        _by_customizer,
        _by_untrashing,
        _by_rest_batch,
        _by_rest_in_private_first,
        _by_rest_behind_a_password_first,
        _by_rest_with_a_date_of_the_past,
        _by_autosave,
        _by_being_due,
    ],
)
def test_no_way_lets_it_out(
    garden: Garden, draft: int, publish: Callable[[Garden, int], None]
) -> None:
    """Whichever way somebody publishes, an item that holds is not public, and its text is there."""
    publish(garden, draft)
    assert garden.status(draft) not in ("publish", "future")
    assert garden.content(draft) == BAD
    assert "click here" not in httpx.get(f"{garden.address}/?p={draft}").text


def test_new_items_of_programs_are_asked_for_too(garden: Garden) -> None:
    """What is inserted as published, as an import does it, is stored as a draft and asked for;
    what may go out goes out."""
    code = (
        "echo wp_insert_post(wp_slash(array('post_title' => '{title}', 'post_status' => 'publish',"
        "'post_content' => '{content}')));"
    )
    held = int(garden.php(code.format(title="Imported", content=BAD)))
    assert garden.status(held) == "draft"
    clear = int(garden.php(code.format(title="Imported well", content=GOOD)))
    assert garden.status(clear) == "publish"
    answer = garden.rest().post(
        "/wp-json/wp/v2/posts", json={"title": "Made at once", "content": BAD, "status": "publish"}
    )
    assert garden.status(answer.json()["id"]) == "draft"


def test_a_public_item_keeps_what_visitors_see(garden: Garden) -> None:
    """A held change of a public item is not shown to anybody; it is kept as the item's
    autosave."""
    number = garden.new_item(GOOD, "Public one", "publish")
    garden.php(f"wp_update_post(wp_slash(array('ID' => {number}, 'post_content' => '{BAD}')));")
    assert garden.content(number) == GOOD
    assert garden.status(number) == "publish"
    kept = garden.php(f"$all = wp_get_post_revisions({number}); echo reset($all)->post_content;")
    assert kept == BAD
    refused = garden.rest().post(f"/wp-json/wp/v2/posts/{number}", json={"content": BAD})
    assert refused.status_code == 422


def test_a_restored_revision_is_asked_for(garden: Garden) -> None:
    """Restoring an old text that holds does not show it."""
    number = garden.new_item(GOOD, "With a past", "publish")
    revision = garden.php(
        f"wp_save_post_revision({number}); $all = wp_get_post_revisions({number});"
        "$one = reset($all); global $wpdb;"
        f"$wpdb->update($wpdb->posts, array('post_content' => '{BAD}'), array('ID' => $one->ID));"
        "clean_post_cache($one->ID); wp_restore_post_revision($one->ID); echo $one->ID;"
    )
    assert int(revision) > 0
    assert garden.content(number) == GOOD


def test_saving_what_is_not_public_asks_nobody(garden: Garden, draft: int) -> None:
    """Drafts, autosaves and other fields of public items are saved without a question."""
    client = garden.rest()
    before = len(list(garden.manager.gate.list(SLUG)))
    saved = client.post(f"/wp-json/wp/v2/posts/{draft}", json={"content": BAD + " "})
    assert saved.status_code == 200
    kept = client.post(f"/wp-json/wp/v2/posts/{draft}/autosaves", json={"content": BAD})
    assert kept.status_code == 200
    assert len(list(garden.manager.gate.list(SLUG))) == before


def test_a_scheduled_item_is_asked_for_again_when_due(garden: Garden) -> None:
    """An item that became faulty after it was scheduled does not go out, and its author is told at
    the next screen."""
    held = garden.new_item(BAD, "Due now", "future", post_date="2031-05-01 09:00:00")
    good = garden.new_item(GOOD, "Due and good", "future", post_date="2031-05-01 09:00:00")
    _let_be_due(garden, held)
    _let_be_due(garden, good)
    garden.wordpress.cron()
    wait_for(lambda: garden.status(good) == "publish", 30, "the item to go out")
    assert garden.status(held) == "pending"
    told = garden.php("echo wp_json_encode(get_user_meta(1, 'plumrake_notices', true));")
    assert "Held by Plum Rake" in told


def _let_be_due(garden: Garden, number: int) -> None:
    garden.php(
        f"global $wpdb; $wpdb->update($wpdb->posts, array('post_date' => '2020-05-01 09:00:00',"
        f"'post_date_gmt' => '2020-05-01 09:00:00', 'post_author' => 1), array('ID' => {number}));"
        f"clean_post_cache({number});"
        f"wp_clear_scheduled_hook('publish_future_post', array({number}));"
        f"wp_schedule_single_event(time() - 5, 'publish_future_post', array({number}));"
    )


def test_an_overruling_lets_the_next_press_through(garden: Garden, draft: int) -> None:
    """Once a manager overrules with a reason, the same press publishes."""
    client = garden.rest()
    assert client.post(f"/wp-json/wp/v2/posts/{draft}", json={"status": "publish"}).is_error
    garden.manager.gate.overrule(_newest(garden).id, "The fair begins in an hour.")
    answer = client.post(f"/wp-json/wp/v2/posts/{draft}", json={"status": "publish"})
    assert answer.status_code == 200, answer.text
    assert garden.status(draft) == "publish"


@pytest.mark.parametrize(("closed", "status"), [(True, "draft"), (False, "publish")])
def test_while_the_service_is_away_the_setting_decides(
    garden: Garden, draft: int, closed: bool, status: str
) -> None:
    """Closed lets nothing out and says so; open lets everything out."""
    before = garden.php("echo wp_json_encode(get_option('plumrake'));")
    set_to = (
        "$it = get_option('plumrake'); $it['service'] = 'http://127.0.0.1:9';"
        f"$it['closed'] = {'true' if closed else 'false'}; update_option('plumrake', $it);"
    )
    garden.php(set_to)
    try:
        answer = garden.rest().post(f"/wp-json/wp/v2/posts/{draft}", json={"status": "publish"})
        assert answer.status_code == (503 if closed else 200)
        assert garden.status(draft) == status
    finally:
        garden.php(f"update_option('plumrake', json_decode('{before}', true));")


def test_a_slug_of_many_bytes_is_asked_for_as_it_is(garden: Garden) -> None:
    """The path of an item whose slug is in another script is the one that it will have."""
    number = garden.new_item(GOOD, "秋の庭", post_name="秋の庭")
    garden.rest().post(f"/wp-json/wp/v2/posts/{number}", json={"status": "publish"})
    assert garden.status(number) == "publish"
    assert httpx.get(f"{garden.address}/秋の庭/").status_code == 200
    assert _newest(garden).path == "/%e7%a7%8b%e3%81%ae%e5%ba%ad/"


def test_pages_and_own_types_are_asked_for(garden: Garden) -> None:
    """Pages and custom types are held as posts are."""
    client = garden.rest()
    for type_, route in (("page", "pages"), ("plant", "plant")):
        number = garden.new_item(BAD, f"A {type_}", post_type=type_)
        answer = client.post(f"/wp-json/wp/v2/{route}/{number}", json={"status": "publish"})
        assert answer.status_code == 422, type_
        assert garden.status(number) == "draft"


def test_what_the_theme_prints_does_not_hold_a_new_page(garden: Garden) -> None:
    """Faults of the theme were there before; a new item is not charged with them."""
    number = garden.new_item(GOOD, "Fresh and good")
    assert (
        garden.rest().post(f"/wp-json/wp/v2/posts/{number}", json={"status": "publish"}).is_success
    )
    judged = garden.manager.gate.show(_newest(garden).id).judged
    printed = [one for one in judged if one.block == "frame"]
    assert printed
    assert {one.origin for one in printed} == {"before"}


def test_the_token_of_the_plugin_can_do_nothing_else(garden: Garden) -> None:
    """It asks the gate of its site, and neither reads nor writes anything else."""
    token = garden.php("echo get_option('plumrake')['token'];")
    signed = {"Authorization": f"Bearer {token}"}
    api = f"{garden.running.address}/api/v1"
    assert httpx.get(f"{api}/sites/{SLUG}/gate", headers=signed).status_code == 200
    for place in (f"sites/{SLUG}", f"sites/{SLUG}/findings", "people"):
        answer = httpx.get(f"{api}/{place}", headers=signed)
        assert (answer.status_code, answer.json()["code"]) == (403, "scope-missing"), place
    other = httpx.get(f"{api}/sites/other/gate", headers=signed)
    assert (other.status_code, other.json()["code"]) == (404, "no-such-site")


def test_only_a_token_for_the_gate_may_name_somebody(garden: Garden) -> None:
    """Asking for somebody else takes the scope for that."""
    token = token_of(garden.manager, "read", "write")
    answer = httpx.post(
        f"{garden.running.address}/api/v1/sites/{SLUG}/gate",
        headers={"Authorization": f"Bearer {token}"},
        json={"path": "/prices/", "document": "<p>x", "asked_for": {"name": "Suki"}},
    )
    assert (answer.status_code, answer.json()["code"]) == (403, "scope-missing")


def test_uninstalling_leaves_nothing(garden: Garden) -> None:
    """Options, transients and notices go with the plugin."""
    left = garden.php(
        "define('WP_UNINSTALL_PLUGIN', true); $kept = get_option('plumrake');"
        "$key = get_option('plumrake_key');"
        "include WP_PLUGIN_DIR . '/plumrake/uninstall.php'; global $wpdb;"
        'echo $wpdb->get_var("SELECT count(*) FROM {$wpdb->options} WHERE option_name LIKE '
        "'%plumrake%' AND option_name NOT LIKE '%_plugins%'\");"
        "update_option('plumrake', $kept); update_option('plumrake_key', $key);"
    )
    assert left == "0"


@pytest.mark.parametrize("user", ["orla", "suki"])
def test_nobody_but_the_service_writes_past_the_gate(garden: Garden, user: str) -> None:
    """The routes of the service are closed to everybody else, signed in as they write, or with an
    application password of their own: nobody publishes by them, or has unfiltered HTML shown."""
    number = garden.new_item(GOOD, "Past the gate", "publish", post_author=str(_id(garden, user)))
    version = garden.php(f"echo hash('sha256', get_post({number})->post_content);")
    body = {"item": number, "raw": BAD, "version": version}
    own = garden.php(
        "echo WP_Application_Passwords::create_new_application_password("
        f"{_id(garden, user)}, array('name' => 'mine'))[0];"
    )
    signed = httpx.Client(base_url=garden.address, auth=(user, own), timeout=60)
    for client in (garden.rest(user), signed):
        for route in ("write", "preview"):
            answer = client.post(f"/?rest_route=/plumrake/v1/{route}", json=body)
            assert answer.status_code in (401, 403), (route, answer.text)
    assert garden.content(number) == GOOD
