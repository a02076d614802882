"""Commands about findings and their causes."""

from __future__ import annotations

import json
from typing import get_args

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.shared import (
    as_json_option,
    check_option,
    counted,
    edition_option,
    outcome_option,
    print_json,
    sweep_option,
    weight_option,
)
from plumrake.client import PlumRake

_MOST_SHOWN = 20


@click.command("causes")
@click.argument("site")
@sweep_option
@edition_option
@check_option
@weight_option
@outcome_option
@click.option("--region", metavar="NAME", help="header, footer, menu, aside, search, card, content or page.")
@click.option("--template", "by_template", is_flag=True, default=None, help="Only what a template prints.")
@click.option("--sort", type=click.Choice(get_args(models.CauseSort)), default="reach", help="Widest reach first (the default), heaviest, or newest.")
@as_json_option
@served
def causes_command(rake: PlumRake, site: str, as_json: bool, **filters: object) -> None:
    """List what has to be mended on SITE once each: the causes of its findings."""
    found = list(rake.causes.list(site, **filters))  # type: ignore[arg-type]
    if as_json:
        print_json(found)
        return
    for cause in found:
        printed = "template" if cause.by_template else ""
        weight = cause.weight if cause.outcome == "failed" else "look at"
        click.echo(f"{counted(cause.pages, 'page'):>11}  {weight:<9} {cause.check:<36} {cause.region:<8}{printed:<9} {cause.key}")
        click.echo(f"             {cause.says}")
    click.echo(f"{counted(len(found), 'cause')}; 'plumrake cause {site} KEY' shows one" if found else "no cause")


@click.command("cause")
@click.argument("site")
@click.argument("key")
@sweep_option
@edition_option
@as_json_option
@served
def cause_command(rake: PlumRake, site: str, key: str, sweep: int | None, edition: models.Edition | None, as_json: bool) -> None:
    """Show one cause: what it is, where it shows, how it is mended."""
    cause = rake.causes.show(site, key, sweep=sweep, edition=edition)
    if as_json:
        print_json(cause)
        return
    printed = ", printed by a template" if cause.by_template else ""
    click.echo(f"{cause.says}\n")
    click.echo(f"  check    {cause.check} ({cause.weight if cause.outcome == 'failed' else 'look at'})")
    click.echo(f"  reach    {counted(cause.places, 'place')} on {counted(cause.pages, 'page')}, in the {cause.region}{printed}")
    click.echo(f"  since    sweep {cause.first_sweep}, {cause.first_seen_at:%Y-%m-%d}")
    click.echo(f"  seen at  {cause.address}  {cause.selector} (finding {cause.best})")
    click.echo(f"  markup   {cause.excerpt}")
    for mend in cause.mends:
        click.echo(f"  mend     {mend['says']}")
    places = list(rake.findings.list(site, sweep=cause.sweep_id, cause=key))
    paths = list(dict.fromkeys(place.path for place in places))
    for path in paths[:_MOST_SHOWN]:
        click.echo(f"  page     {path}")
    if len(paths) > _MOST_SHOWN:
        click.echo(f"  … and {counted(len(paths) - _MOST_SHOWN, 'page')} more; 'plumrake findings {site} --cause {key}' lists every place")


@click.command("findings")
@click.argument("site")
@sweep_option
@edition_option
@check_option
@weight_option
@outcome_option
@click.option("--path", metavar="PATH", help="Pages whose path begins so.")
@click.option("--cause", metavar="KEY", help="Those of one cause.")
@as_json_option
@served
def findings_command(rake: PlumRake, site: str, as_json: bool, **filters: object) -> None:
    """List the findings of SITE."""
    found = rake.findings.list(site, **filters)  # type: ignore[arg-type]
    if as_json:
        print_json(found)
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
    click.echo(f"{counted(count, 'finding')}; 'plumrake finding NUMBER' shows one" if count else "no finding")


@click.command("finding")
@click.argument("number", type=int)
@as_json_option
@served
def finding_command(rake: PlumRake, number: int, as_json: bool) -> None:
    """Show one finding in full."""
    found = rake.findings.show(number)
    if as_json:
        print_json(found)
        return
    click.echo(f"{found.says}\n")
    click.echo(f"  check    {found.check} ({found.weight if found.outcome == 'failed' else 'look at'}, WCAG {', '.join(found.criteria)})")
    click.echo(f"  page     {found.address}  {found.title}")
    click.echo(f"  place    {found.selector}" + (f", line {found.line}, column {found.column}" if found.line else ""))
    if not found.visible:
        click.echo(f"           not to be seen; the nearest thing to see is {found.nearest_visible or 'the page'}")
    click.echo(f"  markup   {found.excerpt}")
    click.echo(f"  reach    this cause is in {counted(found.same_cause_places, 'place')} on {counted(found.same_cause_pages, 'page')}")
    for name, value in found.facts.items():
        click.echo(f"  fact     {name}: {json.dumps(value, ensure_ascii=False) if isinstance(value, (list, dict)) else value}")
    if found.question:
        click.echo(f"  question {found.question}")
    for mend in found.mends:
        click.echo(f"  mend     {mend['says']}")
    click.echo(f"  open     {rake.server}/sites/{found.site}/findings/{found.id}")
