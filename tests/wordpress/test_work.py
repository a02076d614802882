"""The work around items: fixes for their authors, proofs that say what came instead, commands."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

from plumrake import models
from tests.conftest import token_of, wait_for
from tests.wordpress.conftest import SLUG, Garden

_PICTURE = (
    "<!-- wp:image -->\n"
    '<figure class="wp-block-image"><img src="{address}" alt="pond_2.jpg" width="400" '
    'height="300"/></figure>\n<!-- /wp:image -->'
)


@pytest.fixture(scope="module")
def listed(garden: Garden) -> Garden:
    """The garden after its items were listed and its pages swept."""
    garden.manager.items.sync(SLUG)
    garden.sweep()
    wait_for(lambda: len(garden.manager.items.authors(SLUG)) == 6, 60, "the items to be listed")
    return garden


def _ned(garden: Garden) -> int:
    return next(one.id for one in garden.manager.people.list() if one.email.startswith("ned@"))


def _cause(garden: Garden, check: str, path: str) -> str:
    found = garden.manager.findings.list(SLUG, check=check, path=path)
    return next(one.cause for one in found if one.path == path)


def test_a_fix_goes_to_who_wrote_the_page(listed: Garden) -> None:
    """By hand or by address; it says where the place is in the editor and where to open it."""
    rake = listed.manager
    rake.items.set_author(SLUG, "bram@tarnvale.example", _ned(listed))
    author = models.OwnerChoice(author=True)
    cause = _cause(listed, "tables/no-headers", "/prices/")
    [fix] = rake.fixes.hand_out(SLUG, causes=[cause], owner=author)
    assert fix.owner == "Ned"
    assert fix.where == "2nd block, Table"
    assert fix.in_editor == "Settings → Header section on"
    number = listed.filled.items["prices"]
    assert fix.edit == f"{listed.address}/wp-admin/post.php?post={number}&action=edit"
    finding = rake.findings.show(fix.finding_id or 0)
    assert finding.item is not None
    assert (finding.item.author, finding.item.person) == ("Bram Tolley", "Ned")
    [desk] = [one for one in listed.editor.fixes.desk().pages if one.path == "/prices/"]
    assert desk.fixes[0].edit == fix.edit


def test_a_fix_is_handed_on_to_the_author(listed: Garden) -> None:
    """One that somebody else has; where nobody knows the author it is said."""
    rake = listed.manager
    rake.items.set_author(SLUG, "bram@tarnvale.example", _ned(listed))
    author = models.OwnerChoice(author=True)
    cause = _cause(listed, "links/vague", "/prices/")
    [fix] = rake.fixes.hand_out(SLUG, causes=[cause], owner=models.OwnerChoice())
    assert rake.fixes.move(fix, "assign", owner=author).owner == "Ned"
    other = _cause(listed, "headings/empty", "/history/")
    [unknown] = rake.fixes.hand_out(SLUG, causes=[other], owner=models.OwnerChoice())
    with pytest.raises(Exception, match="who wrote /history/ is not known here"):
        rake.fixes.move(unknown, "assign", owner=author)


def test_what_the_theme_prints_does_not_go_to_an_author(listed: Garden) -> None:
    """It goes to whoever answers for the template, here nobody."""
    rake = listed.manager
    rake.items.set_author(SLUG, "bram@tarnvale.example", _ned(listed))
    cause = _cause(listed, "controls/attribute-not-for-role", "/prices/")
    [fix] = rake.fixes.hand_out(SLUG, causes=[cause], owner=models.OwnerChoice(author=True))
    assert fix.by_template
    assert fix.owner is None


def test_a_proof_says_what_came_instead(listed: Garden) -> None:
    """A picture's text that was only emptied is gone, and the fix says what is there now."""
    rake = listed.manager
    address = listed.php(
        "$it = get_page_by_path('picture-pond', OBJECT, 'attachment');"
        "echo wp_get_attachment_url($it->ID);"
    )
    number = listed.new_item(_PICTURE.format(address=address), "Emptied text", "publish")
    sweep = listed.sweep("/emptied-text/")
    [finding] = list(rake.findings.list(SLUG, sweep=sweep, check="pictures/file-name-text"))
    [fix] = rake.fixes.hand_out(SLUG, findings=[finding.id], owner=models.OwnerChoice())
    listed.store(number, _PICTURE.format(address=address).replace("pond_2.jpg", ""))
    rake.fixes.move(fix, "hand_in")
    wait_for(lambda: rake.fixes.show(fix.id).state == "proven", 60, "the proof")
    [proof] = [one for one in rake.fixes.show(fix.id).events if one.move == "prove"]
    assert "but there is now, at the same place: The picture pond.jpg is marked" in proof.why


def test_two_hand_ins_of_a_page_are_read_once(listed: Garden) -> None:
    """The second one waits for the reading that the first has asked for, if that has not begun."""
    rake = listed.manager
    causes = [_cause(listed, check, "/prices/") for check in ("tables/no-caption", "links/vague")]
    made = rake.fixes.hand_out(SLUG, causes=causes, owner=models.OwnerChoice())
    proofs = {rake.fixes.move(fix, "hand_in").proof_sweep for fix in made}
    states = {rake.sweeps.show(proof).state for proof in proofs if proof is not None}
    assert len(proofs) <= 2
    assert states <= {"queued", "running", "done"}


def test_commands_say_what_is_going_out_and_who_writes(listed: Garden) -> None:
    """Plain lines, with what to do next."""
    token = token_of(listed.manager, "read", "write")

    def run(*words: str) -> str:
        done = subprocess.run(
            [sys.executable, "-m", "plumrake", *words],
            capture_output=True,
            text=True,
            check=False,
            env={
                **os.environ,
                "PLUMRAKE_SERVER": listed.running.address,
                "PLUMRAKE_TOKEN": token or "",
            },
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    told = run("going-out", SLUG)
    assert "8 items not public yet" in told
    assert "Snowdrop week  /snowdrop-week/" in told
    assert "Post, scheduled, due " in told
    assert "Bram Tolley <bram@tarnvale.example>, 5 items: nobody here" in run(
        "author", "list", SLUG
    )
    assert run("author", "is", SLUG, "bram@tarnvale.example", "ned").startswith("bram@")
    assert "5 items: Ned (by hand)" in run("author", "list", SLUG)
    assert "gate of garden" in run("token", "list")
    cause = _cause(listed, "tables/no-headers", "/prices/")
    assert "Ned" in run("fix", "make", SLUG, cause, "--to-author")


def test_a_token_for_the_gate_is_for_one_site_and_nothing_else(listed: Garden) -> None:
    """It cannot be made without its site, nor with another scope."""
    people = listed.manager.people
    with pytest.raises(Exception, match="for one site"):
        people.make_token("x", ["gate"])
    with pytest.raises(Exception, match="has no other"):
        people.make_token("x", ["gate", "write"], SLUG)
    with pytest.raises(Exception, match="for one site"):
        people.make_token("x", ["gate"], SLUG, "other")
