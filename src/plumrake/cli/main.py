"""The command ``plumrake``."""

from __future__ import annotations

import sys

import click

from plumrake import __version__
from plumrake.cli.errors import Exit, fail
from plumrake.cli.look import checks_command, colours_command, look_command
from plumrake.cli.parts import demo_group, migrate_command, serve_command, worker_command
from plumrake.cli.served import finding_command, findings_command, login_command, site_group, sweep_group


@click.group(context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 110})
@click.version_option(__version__, prog_name="plumrake")
def cli() -> None:
    """Read every page of a website before it is published, and track what has to be mended."""


_COMMANDS: tuple[click.Command, ...] = (
    look_command,
    colours_command,
    checks_command,
    login_command,
    site_group,
    sweep_group,
    findings_command,
    finding_command,
    serve_command,
    worker_command,
    migrate_command,
    demo_group,
)
for command in _COMMANDS:
    cli.add_command(command)


def main() -> None:
    """Run the command line; wrong usage is one line on stderr and exit status 2."""
    try:
        status = cli.main(standalone_mode=False)
        sys.exit(status if isinstance(status, int) else Exit.DONE)
    except click.UsageError as error:
        path = error.ctx.command_path if error.ctx is not None else "plumrake"
        fail(f"{error.format_message()} See '{path} --help'.", Exit.USAGE)
    except click.ClickException as error:
        fail(error.format_message(), Exit.USAGE)
    except (click.Abort, KeyboardInterrupt):
        fail("stopped", Exit.UNREAD)
