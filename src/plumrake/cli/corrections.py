"""Commands about corrections: listing, drafting, taking back, writing, downloading; and where a
site's sources are."""

from __future__ import annotations

import sys
import time
from itertools import islice
from pathlib import Path
from typing import Any, get_args

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail, notice
from plumrake.cli.shared import as_json_option, counted, environment_option, print_json
from plumrake.cli.terminal import echo, echo_data
from plumrake.client import PlumRake
from plumrake.models.labels import correction_label

_STATES = list(get_args(models.CorrectionState))
_LOOK_EVERY = 0.5
_path_option = click.option("--path", metavar="PATH", help="Of this page alone.")
_mine_option = click.option("--mine", is_flag=True, help="Those that you made.")


@click.command("corrections")
@click.argument("site")
@click.option("--state", "states", multiple=True, type=click.Choice(_STATES), help="Repeatable.")
@_mine_option
@_path_option
@click.option("--cause", metavar="KEY", help="Of this cause alone.")
@environment_option
@click.option("--most", type=int, default=200, show_default=True, help="Show so many.")
@click.option("--diff", is_flag=True, help="Print what the drafts change, as a unified diff.")
@click.option(
    "--zip",
    "archive",
    type=click.Path(dir_okay=False, path_type=Path),
    help="Write the changed pages to this file.",
)
@as_json_option
@served
def corrections_command(
    rake: PlumRake,
    site: str,
    states: tuple[models.CorrectionState, ...],
    mine: bool,
    path: str | None,
    cause: str | None,
    environment: models.Environment | None,
    most: int,
    diff: bool,
    archive: Path | None,
    as_json: bool,
) -> None:
    """List the corrections of a site's pages, or take away what its drafts change."""
    of_drafts: dict[str, Any] = {"path": path, "environment": environment, "mine": mine}
    if diff:
        echo_data(rake.corrections.diff(site, **of_drafts))
        return
    if archive is not None:
        archive.write_bytes(rake.corrections.archive(site, **of_drafts))
        echo(f"the changed pages are in {archive}")
        return
    found = list(
        islice(
            rake.corrections.list(
                site,
                state=states or None,
                environment=environment,
                mine=mine or None,
                path=path,
                cause=cause,
            ),
            most,
        )
    )
    if as_json:
        print_json(found)
        return
    for one in found:
        echo(_line(one))
    echo(
        f"{counted(len(found), 'correction')}; 'plumrake correction show ID' shows one"
        if found
        else "no correction"
    )


def _line(one: models.Correction) -> str:
    problem = f"  ({one.problem})" if one.problem else ""
    label = correction_label(one.state)
    return f"{one.id:>5}  {label:<11} {one.environment} {one.path}  {one.says}{problem}"


@click.group("correction")
def correction_group() -> None:
    """Draft a correction, look at one, take it back, have drafts written."""


@correction_group.command("show")
@click.argument("correction_id", metavar="ID", type=int)
@as_json_option
@served
def show_correction(rake: PlumRake, correction_id: int, as_json: bool) -> None:
    """Show what a correction changes, how far it is, and its history."""
    one = rake.corrections.show(correction_id)
    if as_json:
        print_json(one)
        return
    echo(f"{one.id}  {correction_label(one.state)}  {one.site} {one.environment} {one.path}")
    echo(f"  {one.says}")
    echo(f"  for: {one.fault}")
    if one.problem:
        echo(f"  {one.problem}")
    if one.mends_too:
        echo(f"  {counted(one.mends_too, 'other finding')} went with it")
    for event in one.events:
        why = f": {event.why}" if event.why else ""
        after = correction_label(event.after)
        echo(f"  {event.at:%Y-%m-%d %H:%M}  {event.by or event.actor}  {after}{why}")
    if one.diff:
        echo_data(one.diff)


@correction_group.command("draft")
@click.argument("finding", type=int)
@click.option(
    "--mend",
    "number",
    type=int,
    default=1,
    show_default=True,
    help="Which of the mends that 'plumrake finding' lists.",
)
@click.option("--value", metavar="TEXT", help="What is to stand there, where the mend asks for it.")
@click.option("--everywhere", is_flag=True, help="At all places that have the same cause.")
@click.option("--insist", is_flag=True, help="Also where it brings another finding.")
@click.option(
    "--references", is_flag=True, help="Write what the encoding lacks as character references."
)
@click.option("--why", default="", metavar="WORDS", help="Kept with the correction.")
@served
def draft_correction(
    rake: PlumRake,
    finding: int,
    number: int,
    value: str | None,
    everywhere: bool,
    insist: bool,
    references: bool,
    why: str,
) -> None:
    """Draft a mend of FINDING, by its number."""
    found = rake.findings.show(finding)
    mends = [mend for mend in found.mends if mend["kind"] != "advice"]
    if not 1 <= number <= len(mends):
        fail(
            f"finding {finding} has {counted(len(mends), 'mend')} that can be carried out; "
            f"'plumrake finding {finding}' shows them",
            Exit.USAGE,
        )
    mend = dict(mends[number - 1])
    if value is not None:
        mend["value"] = value
    made = rake.corrections.draft(
        found.site,
        finding,
        mend,
        why=why,
        everywhere=everywhere,
        insist=insist,
        as_references=references,
    )
    _tell(made.first)
    if len(made.ids) > 1:
        echo(f"and {counted(len(made.ids) - 1, 'other place')} with the same cause")
        _follow(rake, found.site, made.ids, {"waiting"})
    if made.first.state != "drafted":
        sys.exit(Exit.HELD)


def _tell(one: models.Correction) -> None:
    echo(f"{one.id}  {correction_label(one.state)}: {one.says}")
    if one.problem:
        notice(one.problem)
    if one.may_insist:
        notice("with --insist it is drafted all the same")
    if one.may_reference:
        notice("with --references those characters are written as references")


def _follow(rake: PlumRake, site: str, ids: list[int], until_none_is: set[str]) -> None:
    """Wait until none of some corrections is in certain states; say how they stand then."""
    wanted = set(ids)
    while True:
        found = [one for one in rake.corrections.list(site) if one.id in wanted]
        if not any(one.state in until_none_is for one in found):
            break
        time.sleep(_LOOK_EVERY)
    states = [one.state for one in found]
    for state in dict.fromkeys(states):
        echo(f"  {states.count(state)} {correction_label(state)}")
    for says in dict.fromkeys(one.problem for one in found if one.problem):
        notice(says)


@correction_group.command("take-back")
@click.argument("ids", metavar="ID…", type=int, nargs=-1, required=True)
@click.option("--why", default="", metavar="WORDS", help="Kept with the correction.")
@served
def take_back(rake: PlumRake, ids: tuple[int, ...], why: str) -> None:
    """Take corrections back: drafts are dropped, what was written is written back."""
    for number in ids:
        one = rake.corrections.move(number, "take_back", why=why)
        says = (
            "taken back"
            if one.state == "taken_back"
            else "is being written back; 'plumrake correction show' says when it is done"
        )
        echo(f"{number}  {says}")


@correction_group.command("write")
@click.argument("site")
@click.argument("ids", metavar="[ID…]", type=int, nargs=-1)
@_mine_option
@_path_option
@click.option("--cause", metavar="KEY", help="Those for this cause.")
@environment_option
@click.option("--follow", is_flag=True, help="Wait until they are written and proven.")
@served
def write_corrections(
    rake: PlumRake,
    site: str,
    ids: tuple[int, ...],
    mine: bool,
    path: str | None,
    cause: str | None,
    environment: models.Environment | None,
    follow: bool,
) -> None:
    """Write drafts into the site's sources; the pages are read afterwards, which proves them."""
    if not (ids or mine or path or cause):
        fail("say which drafts: numbers, --mine, --path or --cause", Exit.USAGE)
    wanted = models.WriteCorrections(
        ids=list(ids) or None, environment=environment, path=path, cause=cause, mine=mine
    )
    written = list(rake.corrections.write(site, wanted))
    echo(f"{counted(len(written), 'correction')} being written")
    if follow:
        _follow(rake, site, written, {"drafted", "written"})


@correction_group.command("library")
@click.argument("finding", type=int)
@click.argument("text", required=False)
@click.option("--take-back", is_flag=True, help="Write the text that was there before.")
@served
def library_text(rake: PlumRake, finding: int, text: str | None, take_back: bool) -> None:
    """Write TEXT for the picture of FINDING into the media library of the site's content system;
    featured pictures show it at once."""
    if take_back:
        written = rake.corrections.texts(finding, wait=0).written
        if written is None:
            says = f"no text was written into the media library for finding {finding}"
            fail(says, Exit.USAGE)
        done = rake.corrections.take_back_library_text(written.id)
        echo(f"in the media library again: {_quoted(done.before)}")
        return
    if text is None:
        fail("give the text, or --take-back", Exit.USAGE)
    done = rake.corrections.write_library_text(finding, text)
    echo(f"in the media library now: {_quoted(done.after)}; before: {_quoted(done.before)}")
    notice(
        f"its pages are read again; 'plumrake correction library {finding} --take-back' undoes it"
    )


def _quoted(text: str) -> str:
    return f"“{text}”" if text else "no text"


@correction_group.command("page")
@click.argument("site")
@click.argument("path")
@environment_option
@click.option("--out", type=click.Path(dir_okay=False, path_type=Path), help="Default: print it.")
@served
def corrected_page(
    rake: PlumRake,
    site: str,
    path: str,
    environment: models.Environment | None,
    out: Path | None,
) -> None:
    """Return the source of PATH with its drafts, byte for byte."""
    content = rake.corrections.page(site, path, environment=environment)
    if out is None:
        sys.stdout.buffer.write(content)
        return
    out.write_bytes(content)
    echo(f"{path} with its drafts is in {out}")


@click.command("connect")
@click.argument("site")
@click.argument("kind", type=click.Choice(get_args(models.ConnectionKind)))
@click.option(
    "--environment", type=click.Choice(["live", "staging"]), default="live", show_default=True
)
@click.option("--folder", metavar="FOLDER", help="On the machine of the service and its workers.")
@click.option(
    "--repository", metavar="FOLDER", help="A git repository on that machine, or its https address."
)
@click.option("--branch", help="The branch that the site is published from. Default: main.")
@click.option("--within", metavar="FOLDER", help="Where in the repository the pages are.")
@click.option("--address", metavar="ADDRESS", help="Where the content system is.")
@click.option("--user", metavar="NAME", help="Who Plum Rake signs in as there.")
@served
def connect_command(
    rake: PlumRake,
    site: str,
    kind: models.ConnectionKind,
    environment: models.Environment,
    address: str | None,
    **where: str | None,
) -> None:
    """Say where the sources of SITE are. A secret is asked for, and never shown again."""
    secret = None
    is_remote = kind == "git" and (where["repository"] or "").startswith("http")
    if kind in ("stand-in", "wordpress") or is_remote:
        asked = "Application password" if kind == "wordpress" else "Secret"
        secret = click.prompt(asked, hide_input=True, default="", show_default=False) or None
    wanted = models.NewConnection(kind=kind, address=address, secret=secret, **where)
    _say_connection(rake.corrections.connect(site, environment, wanted))


@click.group("connection")
def connection_group() -> None:
    """Where a site's sources are: list, check, drop."""


@connection_group.command("list")
@click.argument("site")
@as_json_option
@served
def list_connections(rake: PlumRake, site: str, as_json: bool) -> None:
    """List where the sources of SITE are."""
    found = list(rake.corrections.connections(site))
    if as_json:
        print_json(found)
        return
    for one in found:
        _say_connection(one)
    if not found:
        echo(f"none; 'plumrake site connect {site} …' says where they are")


@connection_group.command("check")
@click.argument("site")
@click.argument("environment", type=click.Choice(["live", "staging"]))
@served
def check_connection(rake: PlumRake, site: str, environment: models.Environment) -> None:
    """Try a connection, and say what works and what does not."""
    found = rake.corrections.check_connection(site, environment)
    _say_connection(found)
    if found.problem:
        sys.exit(Exit.UNREAD)


@connection_group.command("drop")
@click.argument("site")
@click.argument("environment", type=click.Choice(["live", "staging"]))
@served
def drop_connection(rake: PlumRake, site: str, environment: models.Environment) -> None:
    """Forget where the sources of SITE are."""
    rake.corrections.disconnect(site, environment)
    echo(f"{site} {environment}: forgotten")


def _say_connection(one: models.SourceConnection) -> None:
    echo(f"{one.environment}: {one.kind} {' '.join(map(str, one.settings.values()))}")
    for says in one.works:
        echo(f"  works: {says}")
    if one.problem:
        notice(one.problem)
