"""A site that is published from git: corrections are commits, and wait to be merged."""

from __future__ import annotations

from plumrake import models
from plumrake.connectors.git import BRANCH
from tests.connectors.test_contract import git
from tests.corrections.conftest import SLUG, Yard


def test_written_waits_to_be_merged_and_is_proven_then(yard: Yard) -> None:
    """The served files change when somebody merges. A reading before that proves nothing, and holds
    nothing against the correction; one after it proves it. Taken back, it is one more commit."""
    rake = yard.manager.corrections
    folder = yard.folder / "staging"
    git(folder, "init", "-q", "-b", "main")
    git(folder, "add", "-A")
    git(folder, "commit", "-qm", "the yard")
    connected = rake.connect(
        SLUG, "staging", models.NewConnection(kind="git", repository=str(folder))
    )
    assert connected.works[1] == f"'{BRANCH}' has 0 commits that are not in it yet"
    finding = yard.finding("pictures/no-text", "/cranes/")
    one = rake.draft(SLUG, finding, yard.text("A crane"), why="seen by the wall").first
    assert one.state == "drafted", one.problem
    rake.write(SLUG, models.WriteCorrections(ids=[one.id]))
    yard.settled(one.id, "written", "conflict")
    yard.sweep("staging")
    assert rake.show(one.id).state == "written"
    message = git(folder, "log", "-1", "--format=%an%n%B", BRANCH).decode()
    assert message.startswith("Philippa\nCorrect cranes/index.html\n")
    assert "set to “A crane”" in message
    assert b"A crane" not in yard.file("/cranes/").read_bytes()
    git(folder, "merge", "-q", "--ff-only", BRANCH)
    yard.sweep("staging")
    assert yard.settled(one.id, "proven", "conflict").state == "proven"
    assert b'alt="A crane"' in yard.file("/cranes/").read_bytes()
    rake.move(one.id, "take_back")
    yard.settled(one.id, "taken_back")
    assert b"A crane" not in git(folder, "show", f"{BRANCH}:cranes/index.html")
