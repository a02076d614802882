"""The command line with somebody signed in at the running service."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from plumrake.cli.main import cli
from tests.conftest import MANAGER, PASSWORD, Running

Run = Callable[..., Result]


@pytest.fixture(scope="module")
def home(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where the signed-in person's tokens are kept."""
    return tmp_path_factory.mktemp("home")


@pytest.fixture(scope="module")
def run(running: Running, home: Path) -> Run:
    """Run the command line against the service; the manager is signed in."""

    def command(*words: str, given: str | None = None) -> Result:
        environment = {
            "XDG_CONFIG_HOME": str(home),
            "PLUMRAKE_SERVER": running.address,
            "PLUMRAKE_TOKEN": "",
        }
        return CliRunner().invoke(
            cli, list(words), input=given, env=environment, standalone_mode=False
        )

    done = command("login", "--email", MANAGER, "--password", PASSWORD)
    assert "signed in as" in done.output
    return command
