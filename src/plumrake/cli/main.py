"""The command ``plumrake``."""

from __future__ import annotations

import gc
import sys
from importlib import import_module

import click

from plumrake import __version__
from plumrake.cli.errors import Exit, fail

_PLACES: dict[str, str] = {
    "look": "look:look_command",
    "mend": "mend:mend_command",
    "lsp": "lsp:lsp_command",
    "view": "view:view_command",
    "colours": "catalogue:colours_command",
    "checks": "catalogue:checks_command",
    "questions": "catalogue:questions_command",
    "check": "check:check_command",
    "login": "login:login_command",
    "site": "sites:site_group",
    "sweep": "sweeps:sweep_group",
    "causes": "findings:causes_command",
    "cause": "findings:cause_command",
    "findings": "findings:findings_command",
    "finding": "findings:finding_command",
    "fixes": "fixes:fixes_command",
    "fix": "fixes:fix_group",
    "corrections": "corrections:corrections_command",
    "correction": "corrections:correction_group",
    "connection": "corrections:connection_group",
    "export": "export:export_command",
    "account": "export:account_command",
    "judge": "fixes:judge_command",
    "judgements": "fixes:judgements_command",
    "waivers": "fixes:waivers_command",
    "review": "reviews:review_group",
    "statement": "statements:statement_group",
    "words": "words:words_group",
    "gate": "gate:gate_group",
    "going-out": "items:going_out_command",
    "author": "items:author_group",
    "token": "people:token_group",
    "history": "fixes:history_command",
    "notifications": "people:notifications_command",
    "person": "people:person_group",
    "group": "people:people_group",
    "log": "log:log_command",
    "member": "members:member_group",
    "responsible": "people:responsible_group",
    "webhook": "people:webhook_group",
    "serve": "serve:serve_command",
    "worker": "worker:worker_command",
    "migrate": "migrate:migrate_command",
    "backup": "backup:backup_command",
    "restore": "backup:restore_command",
    "tidy": "backup:tidy_command",
    "bring-back": "backup:bring_back_command",
    "demo": "demo:demo_group",
}


class _ByName(click.Group):
    """A group that imports a command only when it is asked for, so that small commands start at
    once."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(_PLACES)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        place = _PLACES.get(cmd_name)
        if place is None:
            return None
        module, _, name = place.partition(":")
        gc.disable()  # what a command loads stays: the collector looks at none of it, then or later
        command: click.Command = getattr(import_module(f"plumrake.cli.{module}"), name)
        gc.freeze()
        gc.enable()
        return command


@click.command(
    cls=_ByName, context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 110}
)
@click.version_option(__version__, prog_name="plumrake")
def cli() -> None:
    """Read every page of a website before it is published, and track what has to be mended."""


def main() -> None:
    """Run the command line; wrong usage is one line on stderr and exit status 2."""
    try:
        status = cli.main(prog_name="plumrake", standalone_mode=False)
        sys.exit(status if isinstance(status, int) else Exit.DONE)
    except click.UsageError as error:
        path = error.ctx.command_path if error.ctx is not None else "plumrake"
        fail(f"{error.format_message()} See '{path} --help'.", Exit.USAGE)
    except click.ClickException as error:
        fail(error.format_message(), Exit.USAGE)
    except (click.Abort, KeyboardInterrupt):
        fail("stopped", Exit.UNREAD)
