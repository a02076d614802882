"""Signing in to the service."""

from __future__ import annotations

import socket

import click

from plumrake.cli.connection import errors_as_lines, keep_token, signed_in
from plumrake.cli.terminal import echo


@click.command("login")
@click.option(
    "--server", envvar="PLUMRAKE_SERVER", default="http://127.0.0.1:8600", show_default=True
)
@click.option("--email", prompt=True)
@click.option("--password", prompt=True, hide_input=True)
def login_command(server: str, email: str, password: str) -> None:
    """Sign in once; a token for this machine is kept for the other commands."""
    server = server.rstrip("/")
    with errors_as_lines(), signed_in(server, email, password) as rake:
        me = rake.people.me()
        token = rake.people.make_token(f"plumrake on {socket.gethostname()}", ["read", "write"])
        rake.people.sign_out()
    file = keep_token(server, token.secret or "")
    echo(
        f"signed in as {me.name} ({me.role or 'a role by site'}); the token is in {file}, "
        f"until {token.expires_at:%Y-%m-%d}"
    )
