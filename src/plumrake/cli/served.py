"""Commands that ask the service, through the client library and nothing else."""

from __future__ import annotations

import json
import socket
import sys
from collections.abc import Iterable
from typing import Any

import click
from pydantic import BaseModel, ValidationError
from rich.console import Console
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

from plumrake import models
from plumrake.cli.connection import errors_as_lines, keep_token, served
from plumrake.cli.errors import Exit, fail, notice
from plumrake.client import PlumRake

_json = click.option("--json", "as_json", is_flag=True, help="Print JSON.")


def _print_json(items: BaseModel | Iterable[BaseModel]) -> None:
    data = items.model_dump(mode="json") if isinstance(items, BaseModel) else [item.model_dump(mode="json") for item in items]
    click.echo(json.dumps(data, indent=2, ensure_ascii=False))


@click.command("login")
@click.option("--server", envvar="PLUMRAKE_SERVER", default="http://127.0.0.1:8600", show_default=True)
@click.option("--email", prompt=True)
@click.option("--password", prompt=True, hide_input=True)
def login_command(server: str, email: str, password: str) -> None:
    """Sign in once; a token for this machine is kept for the other commands."""
    server = server.rstrip("/")
    with errors_as_lines(), PlumRake(server) as rake:
        me = rake.people.sign_in(email, password)
        token = rake.people.make_token(f"plumrake on {socket.gethostname()}", ["read", "write"])
    file = keep_token(server, token.secret or "")
    click.echo(f"signed in as {me.name} ({me.role}); the token is in {file}")


@click.group("site")
def site_group() -> None:
    """Registered sites."""


@site_group.command("add")
@click.argument("slug")
@click.option("--name", required=True)
@click.option("--live", "live_address", required=True, metavar="ADDRESS", help="Where the public reads it.")
@click.option("--staging", "staging_address", metavar="ADDRESS", help="Where it is made ready.")
@click.option("--page", "listed_paths", multiple=True, metavar="PATH", help="A page to read; repeatable. Default: what the sitemap lists.")
@click.option("--private", "private_leave", is_flag=True, help="The addresses are in a private network, and may be.")
@served
def add_site(rake: PlumRake, slug: str, listed_paths: tuple[str, ...], **options: Any) -> None:
    """Register a site as SLUG, a short name for addresses and commands."""
    paths = list(listed_paths)
    try:
        new = models.NewSite(slug=slug, found_by="list" if paths else "sitemap", listed_paths=paths, **options)
    except ValidationError as error:
        first = error.errors()[0]
        fail(f"{first['loc'][0]}: {first['msg'].removeprefix('Value error, ')}", Exit.USAGE)
    site = rake.sites.add(new)
    click.echo(f"{site.slug} is registered; read it with 'plumrake sweep start {site.slug} --follow'")


@site_group.command("list")
@_json
@served
def list_sites(rake: PlumRake, as_json: bool) -> None:
    """List every site with what its last sweep found."""
    sites = list(rake.sites.list())
    if as_json:
        _print_json(sites)
        return
    for site in sites:
        click.echo(f"{site.slug:<20}{site.name}")
        for figures in site.figures:
            click.echo(f"{'':<20}{_figures(figures)}")
    if not sites:
        click.echo("no site is registered; 'plumrake site add' registers one")


@site_group.command("show")
@click.argument("slug")
@_json
@served
def show_site(rake: PlumRake, slug: str, as_json: bool) -> None:
    """Show a site and what its last sweeps found."""
    site = rake.sites.show(slug)
    if as_json:
        _print_json(site)
        return
    click.echo(f"{site.name} ({site.slug})")
    click.echo(f"  live     {site.live_address}")
    click.echo(f"  staging  {site.staging_address or '-'}")
    click.echo(f"  pages    found by {site.found_by}")
    for figures in site.figures:
        click.echo(f"  {_figures(figures)}")
    if not site.figures:
        click.echo(f"  never read; 'plumrake sweep start {site.slug}' reads it")


def _figures(figures: models.Figures) -> str:
    unread = f", {figures.unreadable} could not be read" if figures.unreadable else ""
    doubtful = f", {figures.doubtful} to look at" if figures.doubtful else ""
    return (
        f"{figures.edition}: {figures.ready} of {figures.pages} pages ready{unread}; {figures.barriers} barriers, {figures.obstacles} obstacles, "
        f"{figures.frictions} frictions{doubtful} (sweep {figures.sweep_id}, {figures.finished_at:%Y-%m-%d %H:%M})"
    )


def _count(number: int, one: str) -> str:
    return f"{number} {one}" if number == 1 else f"{number} {one}s"


@click.group("sweep")
def sweep_group() -> None:
    """Readings of a whole site."""


@sweep_group.command("start")
@click.argument("site")
@click.option("--edition", type=click.Choice(["live", "staging"]), default="live", show_default=True)
@click.option("--section", default="/", show_default=True, metavar="PATH", help="Only pages whose path begins so.")
@click.option("--lens", type=click.Choice(["rendered", "markup"]), default="rendered", show_default=True)
@click.option("--follow", is_flag=True, help="Show the progress until the sweep ends.")
@served
def start_sweep(rake: PlumRake, site: str, edition: models.Edition, section: str, lens: models.Lens, follow: bool) -> None:
    """Start reading all pages of SITE."""
    if not section.startswith("/"):
        fail(f"--section: '{section}' is no path; begin it with '/'", Exit.USAGE)
    sweep = rake.sweeps.start(site, edition=edition, section=section, lens=lens)
    click.echo(f"sweep {sweep.id} of {site}, {edition}, is under way")
    if follow:
        _follow(rake, sweep.id)


def _follow(rake: PlumRake, sweep_id: int) -> None:
    last = models.Progress(id=0, kind="queued")
    columns = (TextColumn("reading"), BarColumn(), MofNCompleteColumn(), TimeRemainingColumn())
    with Progress(*columns, console=Console(stderr=True), disable=not sys.stderr.isatty()) as bar:
        task = bar.add_task("reading", total=None)
        for last in rake.sweeps.follow(sweep_id):
            done = last.read + last.unreadable
            bar.update(task, total=last.total or None, completed=done)
            if not sys.stderr.isatty() and last.kind == "progress":
                notice(f"{done} of {last.total} pages")
    if last.kind == "failed":
        fail(f"sweep {sweep_id} could not go on: {last.problem}", Exit.UNREAD)
    unread = f", {last.unreadable} could not be read" if last.unreadable else ""
    click.echo(f"sweep {sweep_id} is done: {last.ready} of {last.total} pages ready{unread}")


@sweep_group.command("list")
@click.argument("site")
@_json
@served
def list_sweeps(rake: PlumRake, site: str, as_json: bool) -> None:
    """List a site's sweeps, the newest first."""
    found = list(rake.sweeps.list(site))
    if as_json:
        _print_json(found)
        return
    for sweep in found:
        click.echo(
            f"{sweep.id:>6}  {sweep.created_at:%Y-%m-%d %H:%M}  {sweep.edition:<8}{sweep.state:<8}{sweep.ready} of {sweep.total} pages ready"
        )


@sweep_group.command("show")
@click.argument("number", type=int)
@_json
@served
def show_sweep(rake: PlumRake, number: int, as_json: bool) -> None:
    """Show a sweep, with the pages that could not be read."""
    sweep = rake.sweeps.show(number)
    if as_json:
        _print_json(sweep)
        return
    click.echo(f"sweep {sweep.id} of {sweep.site}, {sweep.edition}, {sweep.lens}: {sweep.state}")
    click.echo(f"  {sweep.read + sweep.unreadable} of {sweep.total} pages done, {sweep.ready} ready, {sweep.unreadable} could not be read")
    if sweep.problem:
        click.echo(f"  {sweep.problem}")
    for reading in rake.sweeps.readings(number, status="unreadable"):
        click.echo(f"  not read  {reading.path}: {reading.problem_says} ({reading.problem_code})")


@click.command("findings")
@click.argument("site")
@click.option("--sweep", type=int, help="Of this sweep. Default: the newest finished one.")
@click.option("--edition", type=click.Choice(["live", "staging"]))
@click.option("--check", metavar="AREA[/SLUG]")
@click.option("--weight", type=click.Choice(["barrier", "obstacle", "friction"]))
@click.option("--outcome", type=click.Choice(["failed", "cantTell"]))
@click.option("--path", metavar="PATH", help="Pages whose path begins so.")
@_json
@served
def findings_command(rake: PlumRake, site: str, as_json: bool, **filters: object) -> None:
    """List the findings of SITE."""
    found = rake.findings.list(site, **filters)  # type: ignore[arg-type]
    if as_json:
        _print_json(found)
        return
    path, count = "", 0
    for finding in found:
        count += 1
        if finding.path != path:
            path = finding.path
            click.echo(f"{path}  {finding.title}")
        click.echo(
            f"  {finding.id:>7}  {finding.weight if finding.outcome == 'failed' else 'look at':<9} {finding.check:<28} {finding.says}"
        )
    click.echo(f"{_count(count, 'finding')}; 'plumrake finding NUMBER' shows one" if count else "no finding")


@click.command("finding")
@click.argument("number", type=int)
@_json
@served
def finding_command(rake: PlumRake, number: int, as_json: bool) -> None:
    """Show one finding in full."""
    found = rake.findings.show(number)
    if as_json:
        _print_json(found)
        return
    click.echo(f"{found.says}\n")
    click.echo(f"  check    {found.check} ({found.weight if found.outcome == 'failed' else 'look at'}, WCAG {', '.join(found.criteria)})")
    click.echo(f"  page     {found.address}  {found.title}")
    click.echo(f"  place    {found.selector}" + (f", line {found.line}, column {found.column}" if found.line else ""))
    if not found.visible:
        click.echo(f"           not to be seen; the nearest thing to see is {found.nearest_visible or 'the page'}")
    click.echo(f"  markup   {found.excerpt}")
    click.echo(f"  reach    this cause is in {_count(found.same_cause_places, 'place')} on {_count(found.same_cause_pages, 'page')}")
    for name, value in found.facts.items():
        click.echo(f"  fact     {name}: {json.dumps(value, ensure_ascii=False) if isinstance(value, (list, dict)) else value}")
    if found.question:
        click.echo(f"  question {found.question}")
    for mend in found.mends:
        click.echo(f"  mend     {mend['says']}")
    click.echo(f"  open     {rake.server}/sites/{found.site}/findings/{found.id}")
