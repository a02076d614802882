"""The words of e-mails: what to do, where, by when; nobody gets a storm."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime

from plumrake.actions.emails import digest_email, urgent_email
from plumrake.core.policy import policy_from
from plumrake.records.fixes import FixRow
from plumrake.records.notifications import NotificationRow
from plumrake.records.people import PersonRow

NOW = datetime(2026, 11, 28, 7, tzinfo=UTC)
ADDRESS = "https://rake.harrowmere.example"
NED = PersonRow(3, "ned@harrowmere.example", "Ned Osier", "editor", "", True, True, True)
NEW = NotificationRow(
    id=1,
    person_id=3,
    kind="handed_out",
    fix_id=7,
    urgent=False,
    at=NOW,
    mailed_at=None,
    read_at=None,
    says="The link text “here” says nothing.",
    path="/fees/",
    pages=1,
    state="open",
    reopened_after=None,
    due_on=date(2026, 12, 4),
    check="links/vague",
    weight="obstacle",
    site="harrowmere",
    site_name="Harrowmere Canal Trust",
    by="Philippa Wren",
    why="before the fair",
    mend="Name the place that it leads to.",
    block="",
    edit=None,
)
FIX = FixRow(
    id=7,
    site="harrowmere",
    environment="live",
    cause="c1",
    page_id=None,
    place_key=None,
    check="links/vague",
    weight="obstacle",
    rank=2,
    says=NEW.says,
    zone="content",
    by_template=False,
    path="/fees/",
    places=1,
    pages=1,
    state="open",
    reopened_after=None,
    owner_id=3,
    owner="Ned Osier",
    group_id=None,
    group_name=None,
    due_on=date(2026, 11, 20),
    proposal=None,
    links=[],
    finding_id=None,
    proof_sweep=None,
    times_reopened=0,
    made_by="Philippa Wren",
    made_at=NOW,
    closed_at=None,
    version=1,
    changed_at=NOW,
    site_id=1,
    late=True,
    edit=None,
    block="",
)


def test_a_line_says_what_where_and_by_when() -> None:
    """With the link to the fix, who asked and why."""
    email = digest_email(NED, [NEW], [], ADDRESS, {})
    assert (email.name, email.address) == ("Ned Osier", "ned@harrowmere.example")
    for words in (
        "Good day, Ned Osier,",
        "New for you",
        "* The link text “here” says nothing.",
        "    What to do: Name the place that it leads to.",
        "    Where: /fees/, by Friday 4 December 2026",
        "    https://rake.harrowmere.example/fixes/7",
        "    Philippa Wren: before the fair",
        "Which e-mails you get: https://rake.harrowmere.example/me",
    ):
        assert f"{words}\n" in email.text


def test_wide_faults_are_one_line() -> None:
    """A template's fault names one page and counts the others."""
    assert (
        "Where: /fees/ and 1 other page,"
        in digest_email(NED, [replace(NEW, pages=2)], [], ADDRESS, {}).text
    )
    assert (
        "Where: /fees/ and 65 other pages,"
        in digest_email(NED, [replace(NEW, pages=66)], [], ADDRESS, {}).text
    )


def test_what_came_back_is_not_called_still_there() -> None:
    """A fault that was proven gone came back; one that was handed in is still there; both have
    their part."""
    back = replace(NEW, id=2, kind="reopened", reopened_after="proven", by=None, why="there again")
    still = replace(NEW, id=3, kind="reopened", reopened_after="handed_in")
    text = digest_email(NED, [NEW, still, back], [], ADDRESS, {}).text
    titles = [
        line for line in text.splitlines() if line in ("Still there", "Came back", "New for you")
    ]
    assert titles == ["Came back", "Still there", "New for you"]
    assert "    The reading: there again\n" in text
    assert urgent_email(NED, [back], ADDRESS, {}).subject == f"Came back: {NEW.says}"
    assert urgent_email(NED, [still], ADDRESS, {}).subject == f"Still there: {NEW.says}"


def test_the_subject_of_a_pressing_email_names_the_first_and_counts_the_rest() -> None:
    """However long its sentence is, a subject keeps to 140 signs."""
    mentioned = replace(NEW, kind="mentioned")
    assert urgent_email(NED, [mentioned] * 3, ADDRESS, {}).subject.endswith(
        "says nothing. (and 2 more)"
    )
    long = urgent_email(NED, [replace(mentioned, says="word " * 60)], ADDRESS, {}).subject
    assert len(long) <= 140
    assert long.startswith("You are mentioned: word")
    assert long.endswith("…")


def test_long_lists_are_cut_and_counted() -> None:
    """Twenty of a kind, then how many more; the late ones too."""
    email = digest_email(NED, [NEW] * 23, [FIX] * 22, ADDRESS, {})
    assert email.text.count("* The link text") == 40
    assert "  … and 3 more" in email.text
    assert "  … and 2 more" in email.text
    assert email.subject == "Your fixes: 23 new, 22 late, 22 in all"


def test_what_waits_for_a_reading_is_not_in_front_of_anybody() -> None:
    """Handed in, a fix is no longer counted as something to do."""
    handed_in = replace(FIX, state="handed_in", late=False)
    text = digest_email(NED, [NEW], [FIX, handed_in], ADDRESS, {}).text
    assert "In front of you: 1 fix, 1 late. All of it: https://rake.harrowmere.example/desk" in text
    assert (
        "In front of you: 0 fixes, 0 late."
        in digest_email(NED, [NEW], [handed_in], ADDRESS, {}).text
    )


def test_what_to_do_in_the_editor_and_whom_to_ask_stands_there() -> None:
    """Where the place is known, the block, what to do in the editor and where to open it; and what
    the organisation says itself."""
    told = replace(
        NEW, block="2 core/paragraph", edit="https://garden.example/wp-admin/post.php?post=7"
    )
    policy = policy_from({"own-help": {"links": "Ask the web team, https://help.example/links"}})
    text = urgent_email(NED, [told], ADDRESS, {"harrowmere": policy}).text
    assert "Where: /fees/, 3rd block, Paragraph" in text
    assert "What to do: click into the link, Edit" in text
    assert "Open for editing: https://garden.example/wp-admin/post.php?post=7" in text
    assert "Ask the web team https://help.example/links" in text
    assert "Ask the web team" not in urgent_email(NED, [told], ADDRESS, {}).text
