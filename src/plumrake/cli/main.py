"""The command ``plumrake``."""

from __future__ import annotations

import gc
import sys
from importlib import import_module

import click
from click.shell_completion import CompletionItem

from plumrake import __version__
from plumrake.cli.errors import Exit, fail

COMMANDS: dict[str, tuple[str, str]] = {
    "look": (
        "look:look_command",
        "Read pages now and say what is wrong: files, folders, archives, addresses.",
    ),
    "mend": (
        "mend:mend_command",
        "Mend files and folders (HTML, Markdown), one finding after the other.",
    ),
    "lsp": ("lsp:lsp_command", "Tell an editor what is found while a page is being written."),
    "view": ("view:view_command", "Show TARGET, a file or an address, as others meet it."),
    "colours": (
        "catalogue:colours_command",
        "Say the contrast of TEXT on BACKGROUND, what it passes, and colours that pass.",
    ),
    "checks": (
        "catalogue:checks_command",
        "List the catalogue of checks, or show the help page of one.",
    ),
    "questions": (
        "catalogue:questions_command",
        "List what only people can see on a page or a site, or show one such question.",
    ),
    "check": (
        "check:check_command",
        "Say what this machine has for reading pages, what it lacks, and what to do.",
    ),
    "login": (
        "login:login_command",
        "Sign in once; a token for this machine is kept for the other commands.",
    ),
    "site": ("sites:site_group", "Registered sites."),
    "sweep": ("sweeps:sweep_group", "Readings of a whole site."),
    "causes": (
        "findings:causes_command",
        "List what has to be mended on SITE once each: the causes of its findings.",
    ),
    "cause": (
        "findings:cause_command",
        "Show one cause: what it is, where it shows, how it is mended.",
    ),
    "findings": ("findings:findings_command", "List the findings of SITE."),
    "finding": ("findings:finding_command", "Show one finding in full."),
    "fixes": ("fixes:fixes_command", "List fixes: who promised to mend what, and how far it is."),
    "fix": (
        "fixes:fix_group",
        "One fix, or several: hand out, take, hand in, waive, and what happened.",
    ),
    "corrections": (
        "corrections:corrections_command",
        "List the corrections of a site's pages, or take away what its drafts change.",
    ),
    "correction": (
        "corrections:correction_group",
        "Draft a correction, look at one, take it back, have drafts written.",
    ),
    "connection": (
        "corrections:connection_group",
        "Where a site's sources are: list, check, drop.",
    ),
    "export": (
        "export:export_command",
        "Write a sweep of SITE as a report, in one of several formats.",
    ),
    "account": (
        "export:account_command",
        "Account for SITE, or for all sites: figures over time, what is open and with whom.",
    ),
    "judge": ("fixes:judge_command", "Answer a doubtful FINDING: it is a fault, or it is fine."),
    "judgements": (
        "fixes:judgements_command",
        "List what people answered to doubtful findings of SITE.",
    ),
    "waivers": (
        "fixes:waivers_command",
        "List what was accepted on SITE: reason, reach, who, until when.",
    ),
    "review": (
        "reviews:review_group",
        "Questions that only people can answer, on a sample of a site's pages.",
    ),
    "statement": (
        "statements:statement_group",
        "The accessibility statement: proposed from the facts, edited by you.",
    ),
    "words": (
        "words:words_group",
        "Words in no dictionary, and those that are right on a site all the same.",
    ),
    "gate": (
        "gate:gate_group",
        "Ask before publishing: the answer is clear, clear with waivers, or held.",
    ),
    "going-out": (
        "items:going_out_command",
        "List what of SITE is not public yet, with what the gate says of it.",
    ),
    "author": (
        "items:author_group",
        "Who writes in a site's content system, and who that is here.",
    ),
    "token": ("people:token_group", "Tokens for programs: make, list, revoke."),
    "history": (
        "fixes:history_command",
        "Say who did what with the fixes of SITE, the newest first.",
    ),
    "notifications": (
        "people:notifications_command",
        "List what you were told, and mark it as seen.",
    ),
    "person": ("people:person_group", "People: invite, list, change."),
    "group": ("people:people_group", "Groups of people, who own fixes together."),
    "log": ("log:log_command", "Show what was done in SITE, or anywhere; the newest last."),
    "member": ("members:member_group", "Who is in a site: list, add, drop."),
    "responsible": ("people:responsible_group", "Who answers for which area of a site."),
    "webhook": ("people:webhook_group", "Addresses of programs that hear of a site's events."),
    "serve": ("serve:serve_command", "Run the service."),
    "worker": ("worker:worker_command", "Run a worker: it reads the pages of sweeps."),
    "migrate": ("migrate:migrate_command", "Bring the database to the newest shape."),
    "backup": (
        "backup:backup_command",
        "Write all that the service keeps, pictures too, into FILE.",
    ),
    "restore": ("backup:restore_command", "Bring what is in FILE into an empty database."),
    "tidy": (
        "backup:tidy_command",
        "Forget what is old: what sweeps found, pictures of pages, the log.",
    ),
    "bring-back": (
        "backup:bring_back_command",
        "Bring every picture that was carried into the store back into the database.",
    ),
    "demo": ("demo:demo_group", "The Harrowmere Canal Trust: a made-up site to try everything on."),
}
"""Where each command stands, and what the list of commands says of it: the list loads none."""


class _ByName(click.Group):
    """A group that imports a command only when it is asked for, so that small commands start at
    once."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name not in COMMANDS:
            return None
        module, _, name = COMMANDS[cmd_name][0].partition(":")
        gc.disable()  # what a command loads stays: the collector looks at none of it, then or later
        command: click.Command = getattr(import_module(f"plumrake.cli.{module}"), name)
        gc.freeze()
        gc.enable()
        return command

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        with formatter.section("Commands"):
            formatter.write_dl([(name, says) for name, (_, says) in COMMANDS.items()])

    def shell_complete(self, ctx: click.Context, incomplete: str) -> list[CompletionItem]:
        return [
            *(
                CompletionItem(name, help=says)
                for name, (_, says) in COMMANDS.items()
                if name.startswith(incomplete)
            ),
            *click.Command.shell_complete(self, ctx, incomplete),
        ]


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
