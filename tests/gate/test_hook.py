"""The hook of a git server: what holds is not let in."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from importlib.resources import files
from pathlib import Path

from plumrake.client import PlumRake
from plumrake.demo.seed import SITE
from tests.conftest import PASSWORD, Running
from tests.connectors.test_contract import git

GOOD = (
    '<!doctype html><html lang="en"><head><meta name="viewport" content="width=device-width">'
    "<title>Boats of the canal</title></head><body><main><h1>Boats of the canal</h1>"
    "<p>Six boats lie at the upper lock.</p></main></body></html>"
)
BAD = GOOD.replace("<p>Six", '<p><a href="/">click here</a></p><p>Six')


def test_a_push_of_a_held_page_is_refused(
    running: Running, manager: PlumRake, tmp_path: Path
) -> None:
    """The pushing person reads what holds; a mended page and other branches are let in."""
    running.start("worker")
    manager.people.confirm(PASSWORD)
    token = manager.people.make_token("git", ["gate"], SITE).secret
    server, work = tmp_path / "server.git", tmp_path / "work"
    git(tmp_path, "init", "-q", "--bare", "-b", "main", str(server))
    hook = files("plumrake.connectors") / "hooks" / "pre-receive"
    shutil.copy(str(hook), server / "hooks" / "pre-receive")
    (server / "hooks" / "pre-receive").chmod(0o755)
    git(tmp_path, "clone", "-q", str(server), str(work))
    (work / "public" / "boats").mkdir(parents=True)
    page = work / "public" / "boats" / "index.html"
    page.write_text(BAD)
    git(work, "checkout", "-q", "-B", "main")
    git(work, "add", "-A")
    git(work, "commit", "-qm", "boats")

    def push(branch: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            ["git", "push", "-q", "origin", f"main:{branch}"],
            cwd=work,
            capture_output=True,
            text=True,
            check=False,
            env={
                **os.environ,
                "PLUMRAKE_SERVER": running.address,
                "PLUMRAKE_TOKEN": token or "",
                "PLUMRAKE_SITE": SITE,
                "PLUMRAKE_WITHIN": "public",
                "PLUMRAKE_LENS": "markup",
                "PLUMRAKE_COMMAND": f"{sys.executable} -m plumrake",
            },
        )

    refused = push("main")
    assert refused.returncode != 0
    assert "asking the gate about /boats/" in refused.stderr
    assert "click here" in refused.stderr
    assert "The push is refused" in refused.stderr
    assert push("elsewhere").returncode == 0
    page.write_text(GOOD)
    git(work, "commit", "-qam", "mended")
    done = push("main")
    assert done.returncode == 0, done.stderr
    assert "/boats/" in done.stderr
