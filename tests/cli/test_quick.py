"""A look at markup starts at once: what only others need is not loaded."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import click
import pytest

from plumrake.cli.main import COMMANDS, cli

NOT_FOR_A_LOOK = "fastapi httpx psycopg playwright plumrake.models pygls rich yaml jinja2".split()
NOT_FOR_THE_SERVER_OF_EDITORS = ["fastapi", "psycopg", "playwright", "plumrake.models", "jinja2"]


@pytest.mark.parametrize(
    ("words", "modules"),
    [
        (["look", "page.html", "--lens", "markup"], NOT_FOR_A_LOOK),
        (["look", "page.html", "--lens", "markup", "--as", "json"], NOT_FOR_A_LOOK[:-1]),
        (["checks", "links/vague"], NOT_FOR_A_LOOK),
        (["lsp", "--help"], NOT_FOR_THE_SERVER_OF_EDITORS),
        (["--help"], [*NOT_FOR_A_LOOK, "plumrake.cli.look", "plumrake.cli.serve"]),
    ],
)
def test_nothing_is_loaded_for_nothing(
    tmp_path: Path, words: list[str], modules: list[str]
) -> None:
    """Neither browser nor database nor the models of the interface."""
    code = (
        "import json, sys\n"
        "from plumrake.cli.main import main\n"
        f"sys.argv = ['plumrake', *{words!r}]\n"
        "try:\n    main()\nexcept SystemExit:\n    pass\n"
        "print('\\n' + json.dumps(sorted(sys.modules)))\n"
    )
    page = "<!doctype html><html lang=en><title>Locks</title><main><h1>Locks</h1></main>"
    (tmp_path / "page.html").write_text(page)
    done = subprocess.run(
        [sys.executable, "-c", code],
        cwd=tmp_path,
        capture_output=True,
        text=True,
        check=True,
    )
    loaded = set(json.loads(done.stdout.splitlines()[-1]))
    assert not loaded & set(modules)


@pytest.mark.parametrize("name", COMMANDS)
def test_every_command_of_the_list_is_there(name: str) -> None:
    """What the list names can be loaded under that name, and says more of itself."""
    command = cli.get_command(click.Context(cli), name)
    assert command is not None
    assert command.name == name
    assert command.help


def test_commands_are_completed() -> None:
    """A shell that asks is told the commands that begin so, and what each does."""
    asked = {"_PLUMRAKE_COMPLETE": "zsh_complete", "COMP_WORDS": "plumrake cau", "COMP_CWORD": "1"}
    done = subprocess.run(
        [sys.executable, "-c", "from plumrake.cli.main import cli; cli(prog_name='plumrake')"],
        env={**os.environ, **asked},
        capture_output=True,
        text=True,
        check=True,
    )
    assert done.stdout.splitlines() == [
        "plain",
        "causes",
        COMMANDS["causes"][1],
        "plain",
        "cause",
        COMMANDS["cause"][1],
    ]
