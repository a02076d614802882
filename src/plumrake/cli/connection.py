"""How served commands reach the service: which server, which token, and errors as one line with
their exit status."""

from __future__ import annotations

import contextlib
import functools
import json
import os
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import click
from pydantic import ValidationError

from plumrake.cli.errors import Exit, fail
from plumrake.client import (
    ConflictError,
    NotAllowed,
    NotFound,
    NotSignedIn,
    NotValid,
    PlumRake,
    PlumRakeError,
)
from plumrake.invalid import sentence

DEFAULT_SERVER = "http://127.0.0.1:8600"


def _credentials_file() -> Path:
    return (
        Path(os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config")
        / "plumrake"
        / "tokens.json"
    )


def kept_token(server: str) -> str | None:
    """Return the token for a server: ``PLUMRAKE_TOKEN``, else what ``plumrake login`` kept."""
    if token := os.environ.get("PLUMRAKE_TOKEN"):
        return token
    try:
        kept: dict[str, str] = json.loads(_credentials_file().read_text(encoding="utf-8"))
    except (OSError, ValueError):
        return None
    return kept.get(server)


def keep_token(server: str, secret: str) -> Path:
    """Keep a token for a server in a file that only its owner can read; return the file."""
    file = _credentials_file()
    file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    kept: dict[str, str] = {}
    with contextlib.suppress(OSError, ValueError):
        kept = json.loads(file.read_text(encoding="utf-8"))
    descriptor = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(descriptor, "w", encoding="utf-8") as out:
        json.dump({**kept, server: secret}, out, indent=1)
    return file


@contextlib.contextmanager
def signed_in(server: str, email: str, password: str) -> Iterator[PlumRake]:
    """Sign in by password, asking for a code where one is wanted; give a client that is."""
    with PlumRake(server) as rake:
        try:
            rake.people.sign_in(email, password)
        except NotSignedIn as error:
            if error.code != "second-factor-wanted":
                raise
            rake.people.sign_in(email, password, click.prompt(f"{error}", type=str))
        yield rake


@contextlib.contextmanager
def errors_as_lines() -> Iterator[None]:
    """Turn the client's errors into one line and the exit status that stands for them."""
    try:
        yield
    except (NotSignedIn, NotAllowed) as error:
        signed_out = error.code == "not-signed-in"
        fail("sign in first, with 'plumrake login'" if signed_out else str(error), Exit.REFUSED)
    except (NotFound, NotValid, ConflictError) as error:
        fail(str(error), Exit.USAGE)
    except PlumRakeError as error:
        fail(str(error), Exit.UNREAD)
    except ValidationError as error:
        fail(sentence(error.errors()[0]), Exit.USAGE)


def served(command: Callable[..., Any]) -> Callable[..., Any]:
    """Give a command ``--server`` and, as its first argument, a client for it."""

    @click.option(
        "--server",
        envvar="PLUMRAKE_SERVER",
        default=DEFAULT_SERVER,
        show_default=True,
        help="The service's address.",
    )
    @functools.wraps(command)
    def with_client(*args: Any, server: str, **options: Any) -> Any:
        server = server.rstrip("/")
        with errors_as_lines(), PlumRake(server, token=kept_token(server)) as rake:
            return command(rake, *args, **options)

    return with_client
