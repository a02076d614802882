"""A worker gives up root, and still reads pages in a browser that is kept apart."""

import os
import pwd
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

import plumrake
from plumrake.jobs import privileges

PYTHON = "/usr/bin/python3"
"""A Python that every user of the machine may run; the environment's own may lie in root's home."""

READ = """
import asyncio, os, sys
from plumrake.actions.reading import read_and_assess
from plumrake.core.policy import Policy
from plumrake.jobs.privileges import give_up_root
from plumrake.lenses.reader import PageReader
from plumrake.lenses.runners import ProcessRunners

async def main():
    runners = ProcessRunners()
    async with PageReader("rendered", runners=runners) as reader:
        async def read(options):
            html = b"<html lang=en><title>Lock</title><p style='color:#999'>Pale words"
            return await reader.read_html(html, "http://lock.invalid/", options)
        result = await read_and_assess(read, Policy(), runners)
    runners.close()
    print(os.getuid(), result.problem, reader.notice)
    print(*sorted({finding.check for finding in result.assessment.findings}))

if __name__ == "__main__":
    print(give_up_root())
    asyncio.run(main())
"""


def can_try() -> bool:
    """Whether this is root, on a machine with the worker's user and a Python for everybody."""
    if os.geteuid() != 0 or not Path(PYTHON).exists() or shutil.which("bwrap") is None:
        return False
    try:
        pwd.getpwnam(privileges.USER)
    except KeyError:
        return False
    words = [PYTHON, "-c", "import sys; print(*sys.version_info[:2])"]
    said = subprocess.run(words, capture_output=True, text=True, check=True).stdout.split()
    return [int(one) for one in said] == list(sys.version_info[:2])


@pytest.mark.skipif(not can_try(), reason="not root, or no Python that every user may run")
def test_a_worker_of_roots_becomes_another_user() -> None:
    """And reads in the browser all the same, which has a network and walls of its own."""
    packages = Path(pytest.__file__).parents[1]
    done = subprocess.run(
        [PYTHON, "-c", READ],
        cwd="/",
        env={
            "PATH": os.environ["PATH"],
            "PYTHONPATH": f"{Path(plumrake.__file__).parents[1]}:{packages}",
            "PYTHONDONTWRITEBYTECODE": "1",
        },
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
    )
    assert done.returncode == 0, done.stderr
    notice, read, found = done.stdout.split("\n")[:3]
    assert notice == ""
    uid, problem, of_browser = read.split(" ", 2)
    assert int(uid) == pwd.getpwnam(privileges.USER).pw_uid
    assert (problem, of_browser) == ("None", "")
    assert "contrast/text" in found


def test_who_is_not_root_gives_up_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    """And is not told anything."""
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    assert privileges.give_up_root() == ""


def test_without_the_user_it_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    """Root stays root, and the log says what is missing; nothing is changed."""
    monkeypatch.setattr(os, "geteuid", lambda: 0)
    monkeypatch.setattr(privileges, "USER", "nobody-of-this-name")
    before = os.getuid()
    assert "no user 'nobody-of-this-name'" in privileges.give_up_root()
    assert os.getuid() == before
