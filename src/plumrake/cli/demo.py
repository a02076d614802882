"""``plumrake demo``. What the demo is made of is imported by the command that needs it alone."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import get_args

import click
import uvicorn
from fastapi import FastAPI

from plumrake import models
from plumrake.cli.errors import Exit, fail
from plumrake.cli.processes import GRACE_SECONDS
from plumrake.cli.terminal import echo
from plumrake.client import PlumRakeError

_folder = click.option(
    "--folder",
    type=click.Path(file_okay=False, path_type=Path),
    default=Path("var/demo"),
    show_default=True,
    help="Where the demo's data are.",
)


@click.group("demo")
def demo_group() -> None:
    """The Harrowmere Canal Trust: a made-up site to try everything on."""


@demo_group.command("up")
@_folder
@click.option(
    "--port",
    default=8600,
    show_default=True,
    help="The console's port; the site's environments and the mailbox take the next three.",
)
def up_command(folder: Path, port: int) -> None:
    """Start database, demo site, service and worker, and print the console's address."""
    from plumrake.demo.cluster import ClusterError
    from plumrake.demo.run import Demo

    try:
        Demo(folder.resolve(), port, click.echo).up()
    except ClusterError as error:
        fail(str(error), Exit.UNREAD)
    except OSError as error:
        fail(
            (
                f"a port from {port} to {port + 3} is in use ({error.strerror}); choose another "
                "with --port"
            ),
            Exit.UNREAD,
        )


@demo_group.command("wordpress")
@click.option(
    "--folder",
    type=click.Path(file_okay=False, path_type=Path),
    default=Path("var/demo-wordpress"),
    show_default=True,
    help="Where its data are.",
)
@click.option(
    "--port",
    default=8620,
    show_default=True,
    help="The console's port; WordPress takes the next one.",
)
def wordpress_command(folder: Path, port: int) -> None:
    """Start a real WordPress with a made-up garden's site, connected with a service of its own."""
    from plumrake.demo.cluster import ClusterError
    from plumrake.demo.wordpress.run import WordPressDemo

    try:
        WordPressDemo(folder.resolve(), port, click.echo).up()
    except ClusterError as error:
        fail(str(error), Exit.UNREAD)
    except OSError as error:
        fail(f"port {port} or the next is in use ({error.strerror})", Exit.UNREAD)


@demo_group.command("week")
@_folder
@click.option("--port", default=8600, show_default=True, help="The console's port.")
def week_command(folder: Path, port: int) -> None:
    """Play a week of the Trust's people at work on staging, on a demo that runs, and compare its
    end with the answer key."""
    from plumrake.demo.week import Week, WeekPlayed, week_key

    try:
        week = Week(f"http://127.0.0.1:{port}", folder.resolve() / "site" / "staging", click.echo)
        figures = week.play()
    except WeekPlayed as error:
        fail(str(error), Exit.USAGE)
    except PlumRakeError as error:
        fail(f"{error}; is the demo up ('plumrake demo up')?", Exit.UNREAD)
    key = week_key()
    for name, expected in key.items():
        differs = f"{figures[name]}, but the answer key says {expected}"
        echo(f"{name}: {'as in the answer key' if figures[name] == expected else differs}")
    if figures != key:
        sys.exit(Exit.HELD)


@demo_group.command("site")
@click.argument("folder", type=click.Path(file_okay=False, path_type=Path))
@click.option(
    "--environment",
    type=click.Choice(get_args(models.Environment)),
    default="live",
    show_default=True,
)
def site_command(folder: Path, environment: str) -> None:
    """Write the demo site's files into FOLDER."""
    from plumrake.demo.site import write_environment

    pages = write_environment(environment, folder, "http://127.0.0.1:8601")
    echo(f"{pages} pages of the {environment} environment are in {folder}")


@demo_group.command("cms")
@click.option(
    "--live",
    type=click.Path(exists=True, file_okay=False, path_type=Path),
    required=True,
    help="The folder of the live site.",
)
@click.option(
    "--drafts",
    type=click.Path(file_okay=False, path_type=Path),
    required=True,
    help="Where drafts are stored.",
)
@click.option(
    "--service", default="http://127.0.0.1:8600", show_default=True, help="Plum Rake's address."
)
@click.option("--port", type=int, default=8604, show_default=True)
def cms_command(live: Path, drafts: Path, service: str, port: int) -> None:
    """Run the stand-in CMS alone; 'demo up' runs it with all else."""
    from plumrake.demo.cms import Trust, create_cms
    from plumrake.demo.seed import SITE

    def secret(name: str) -> str:
        file = drafts / name
        return file.read_text().strip() if file.is_file() else ""

    trust = Trust(
        live, drafts, service, SITE, secret("webhook-secret"), secret("corrections-secret")
    )
    _serve(create_cms(trust), port)


@demo_group.command("describer")
@click.option(
    "--token-file",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    required=True,
    help="Holds the token that whoever asks has to bring.",
)
@click.option("--port", type=int, default=8605, show_default=True)
def describer_command(token_file: Path, port: int) -> None:
    """Run the stand-in describer of pictures alone; 'demo up' runs it with all else."""
    from plumrake.demo.describer import create_describer

    _serve(create_describer(token_file.read_text().strip()), port)


def _serve(app: FastAPI, port: int) -> None:
    uvicorn.run(
        app,
        host="127.0.0.1",
        port=port,
        log_level="warning",
        access_log=False,
        timeout_graceful_shutdown=GRACE_SECONDS,
    )
