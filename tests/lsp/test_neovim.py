"""Neovim's own client: a page is opened, what is found is told, something is typed, an action
taken, and the file on disk is right."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

PAGE = """<!doctype html>
<html lang="en"><head><title>Locks</title></head><body><main><h1>Locks</h1>
<p>Read about it <a href="/fees">here</a>.</p>
<h4>Hours</h4><p>From nine.</p>
</main></body></html>
"""
SCRIPT = Path(__file__).with_name("neovim.lua")


def test_a_session(tmp_path: Path) -> None:
    page, told = tmp_path / "locks.html", tmp_path / "told.txt"
    page.write_text(PAGE)
    environment = {
        **os.environ,
        "PLR_PAGE": str(page),
        "PLR_SERVER": str(Path(sys.executable).with_name("plumrake")),
        "PLR_TOLD": str(told),
        "XDG_STATE_HOME": str(tmp_path / "state"),
        "XDG_CACHE_HOME": str(tmp_path / "cache"),
    }
    command = ["nvim", "--headless", "-u", "NONE", "-i", "NONE", "-n", "-S", str(SCRIPT)]
    done = subprocess.run(
        command,
        cwd=tmp_path,
        env=environment,
        capture_output=True,
        text=True,
        timeout=120,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    lines = [line.split("\t") for line in told.read_text().splitlines()]
    assert [line[:2] for line in lines] == [
        ["opened", "true"],
        ["typed", "true"],
        ["taken", "Make it a heading of level 2."],
        ["mended", "true"],
    ], (lines, done.stderr)
    written = page.read_text()
    assert "<h2>Hours</h2>" in written
    assert '<p><img src="/lock.jpg" width="300" height="200"></p>\n' in written
    assert written.replace("h2>", "h4>").count("\n") == PAGE.count("\n") + 1
