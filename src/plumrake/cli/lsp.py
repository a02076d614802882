"""``plumrake lsp``: the language server for editors."""

from __future__ import annotations

import click

from plumrake.cli.errors import Exit, fail


@click.command("lsp")
@click.option(
    "--tcp",
    "port",
    type=click.IntRange(1, 65535),
    metavar="PORT",
    help="Listen on this port of the loopback, instead of standard input and output.",
)
@click.option("--stdio", is_flag=True, help="Standard input and output: the default.")
def lsp_command(port: int | None, stdio: bool) -> None:
    """Tell an editor what is found while a page is being written: the Language Server Protocol on
    standard input and output."""
    if stdio and port is not None:
        fail("--stdio and --tcp are two ways; say one", Exit.USAGE)
    from plumrake.lsp.kept_code import code_is_kept

    with code_is_kept():
        from plumrake.lsp.server import make_server

    server = make_server()
    if port is None:
        server.start_io()
        return
    try:
        server.start_tcp("127.0.0.1", port)
    except OSError as error:
        fail(f"port {port} cannot be listened on: {error.strerror}", Exit.USAGE)
