"""The recipes of ``docs/pipelines.md`` do what they say, as they stand there."""

from __future__ import annotations

import os
import re
import shlex
import subprocess
import sys
from pathlib import Path

import pytest
import yaml

from plumrake.demo.server import make_server
from tests.cli.test_baseline import NO_TEXT, PAGE, VAGUE
from tests.connectors.test_contract import git
from tests.services import serve_in_thread

ROOT = Path(__file__).parents[2]
TEXT = (ROOT / "docs" / "pipelines.md").read_text(encoding="utf-8")
RECIPES = re.findall(r"<!-- ends with (\d) -->\n```sh\n(.*?)```", TEXT, re.DOTALL)


def run(folder: Path, *words: str) -> subprocess.CompletedProcess[str]:
    """Run a command where ``plumrake`` is installed."""
    path = f"{Path(sys.executable).parent}:{os.environ['PATH']}"
    return subprocess.run(
        words,
        cwd=folder,
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "PATH": path},
    )


@pytest.fixture
def repository(tmp_path: Path) -> Path:
    """A site in a repository: a fault on main, another on the branch, one not committed."""
    public = tmp_path / "public"
    public.mkdir()
    (public / "index.html").write_text(PAGE.format(title="Locks", content=VAGUE))
    git(tmp_path, "init", "-q", "-b", "main")
    git(tmp_path, "add", "-A")
    git(tmp_path, "commit", "-qm", "pages")
    git(tmp_path, "checkout", "-qb", "work")
    (public / "boats.html").write_text(PAGE.format(title="Boats", content=NO_TEXT))
    git(tmp_path, "add", "-A")
    git(tmp_path, "commit", "-qm", "boats")
    (public / "fees.html").write_text(PAGE.format(title="Fees", content=VAGUE))
    return tmp_path


def test_every_recipe_is_run() -> None:
    assert TEXT.count("```sh\n") == len(RECIPES) > 4


@pytest.mark.parametrize(("status", "recipe"), RECIPES)
def test_recipe(repository: Path, status: str, recipe: str) -> None:
    done = run(repository, "bash", "-c", recipe)
    assert done.returncode == int(status), done.stderr
    if ".sarif" in recipe:
        assert (repository / "look.sarif").stat().st_size > 1000
    if "--changed-since main" in recipe:
        assert "boats.html" in done.stdout
        assert "index.html" not in done.stdout
    if "--changed-since HEAD" in recipe:
        assert "fees.html" in done.stdout
        assert "boats.html" not in done.stdout


def test_the_makefile_line(repository: Path) -> None:
    """Make stops at what is new, and the test results say what."""
    [line] = re.findall(r"```make\n(.*?)```", TEXT, re.DOTALL)
    (repository / "Makefile").write_text(line)
    assert run(repository, "make", "check-pages").returncode == 2, "there is no baseline yet"
    look = ["plumrake", "look", "public", "--lens", "markup", "--baseline", "known.txt"]
    run(repository, *look, "--keep-baseline")
    done = run(repository, "make", "check-pages")
    assert done.returncode == 0, done.stderr
    assert "<testsuites" in (repository / "look.xml").read_text()


def test_the_hook_of_pre_commit(repository: Path) -> None:
    """It is given the names of the files, and fails for what holds."""
    [hook] = yaml.safe_load((ROOT / ".pre-commit-hooks.yaml").read_text(encoding="utf-8"))
    assert f"id: {hook['id']}" in TEXT
    bad = run(repository, *shlex.split(hook["entry"]), "public/index.html")
    assert bad.returncode == 1
    (repository / "public" / "index.html").write_text(
        PAGE.format(title="Locks", content="<p>Two of them.</p>")
    )
    assert run(repository, *shlex.split(hook["entry"]), "public/index.html").returncode == 0


def test_a_sitemap_names_the_pages(repository: Path) -> None:
    """So many as are asked for, in its order; one that is none is one line and status 3."""
    public = repository / "public"
    origin = serve_in_thread(make_server(public, 0))
    names = ["index.html", "boats.html", "fees.html"]
    entries = "".join(f"<url><loc>{origin}/{name}</loc></url>" for name in names)
    (public / "pages.xml").write_text(
        f'<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">{entries}</urlset>'
    )
    words = ["plumrake", "look", f"{origin}/pages.xml", "--lens", "markup", "--most-pages", "2"]
    told = run(repository, *words)
    assert told.returncode == 1
    assert "2 pages read" in told.stdout
    assert f"{origin}/fees.html" not in told.stdout
    missing = run(repository, "plumrake", "look", f"{origin}/none.xml", "--lens", "markup")
    assert (missing.returncode, missing.stderr.count("\n")) == (3, 1)
    assert "answered 404" in missing.stderr
