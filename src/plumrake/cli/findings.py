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
    environment_option,
    outcome_option,
    print_json,
    sweep_option,
    weight_option,
    words_option,
)
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_MOST_SHOWN = 20


@click.command("causes")
@click.argument("site")
@sweep_option
@environment_option
@check_option
@weight_option
@outcome_option
@click.option(
    "--zone", type=click.Choice(get_args(models.ZoneName)), help="Where on the page they lie."
)
@click.option(
    "--template", "by_template", is_flag=True, default=None, help="Only what a template prints."
)
@click.option(
    "--sort",
    type=click.Choice(get_args(models.CauseSort)),
    default="weight",
    help="Heaviest first (the default), widest reach, or newest.",
)
@words_option
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
        echo(
            f"{counted(cause.pages, 'page'):>11}  {weight:<9} {cause.check:<36} "
            f"{cause.zone:<8}{printed:<9} {cause.key}"
        )
        echo(f"             {cause.says}")
    echo(
        f"{counted(len(found), 'cause')}; 'plumrake cause {site} KEY' shows one"
        if found
        else "no cause"
    )


@click.command("cause")
@click.argument("site")
@click.argument("key")
@sweep_option
@environment_option
@as_json_option
@served
def cause_command(
    rake: PlumRake,
    site: str,
    key: str,
    sweep: int | None,
    environment: models.Environment | None,
    as_json: bool,
) -> None:
    """Show one cause: what it is, where it shows, how it is mended."""
    cause = rake.causes.show(site, key, sweep=sweep, environment=environment)
    if as_json:
        print_json(cause)
        return
    printed = ", printed by a template" if cause.by_template else ""
    echo(f"{cause.says}\n")
    echo(f"  check    {cause.check} ({cause.weight if cause.outcome == 'failed' else 'look at'})")
    echo(
        f"  reach    {counted(cause.places, 'place')} on {counted(cause.pages, 'page')}, in "
        f"the {cause.zone}{printed}"
    )
    echo(f"  since    sweep {cause.first_sweep}, {cause.first_seen_at:%Y-%m-%d}")
    echo(f"  seen at  {cause.address}  {cause.selector} (finding {cause.best})")
    echo(f"  markup   {cause.excerpt}")
    for mend in cause.mends:
        echo(f"  mend     {mend['says']}")
    places = list(rake.findings.list(site, sweep=cause.sweep_id, cause=key))
    paths = list(dict.fromkeys(place.path for place in places))
    for path in paths[:_MOST_SHOWN]:
        echo(f"  page     {path}")
    if len(paths) > _MOST_SHOWN:
        echo(
            f"  … and {counted(len(paths) - _MOST_SHOWN, 'page')} more; 'plumrake findings "
            f"{site} --cause {key}' lists every place"
        )


@click.command("findings")
@click.argument("site")
@sweep_option
@environment_option
@check_option
@weight_option
@outcome_option
@click.option("--path", metavar="PATH", help="Pages whose path begins so.")
@click.option("--cause", metavar="KEY", help="Those of one cause.")
@click.option(
    "--standing",
    type=click.Choice(get_args(models.StandingName)),
    help="What became of them: what counts, is doubtful, judged fine, waived, left out, or "
    "mended since.",
)
@words_option
@click.option(
    "--sort",
    type=click.Choice(get_args(models.FindingSort)),
    default="weight",
    help="Heaviest first (the default), or page by page.",
)
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
            echo(f"{path}  {finding.title}")
        echo(
            f"  {finding.id:>7}  "
            f"{finding.weight if finding.outcome == 'failed' else 'look at':<9} "
            f"{finding.check:<28} {finding.says}{_decided(finding.standing)}"
        )
    echo(
        f"{counted(count, 'finding')}; 'plumrake finding NUMBER' shows one"
        if count
        else "no finding"
    )


def _decided(standing: models.StandingName) -> str:
    return "" if standing in ("counts", "doubtful") else f"  [{standing}]"


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
    echo(f"{found.says}\n")
    echo(
        f"  check    {found.check} "
        f"({found.weight if found.outcome == 'failed' else 'look at'}, WCAG "
        f"{', '.join(found.criteria)})"
    )
    echo(f"  page     {found.address}  {found.title}")
    echo(
        f"  place    {found.selector}"
        + (f", line {found.line}, column {found.column}" if found.line else "")
    )
    if not found.visible:
        echo(
            "           not to be seen; the nearest thing to see is "
            f"{found.nearest_visible or 'the page'}"
        )
    echo(f"  markup   {found.excerpt}")
    echo(
        f"  reach    this cause is in {counted(found.same_cause_places, 'place')} on "
        f"{counted(found.same_cause_pages, 'page')}"
    )
    for name, value in found.facts.items():
        echo(
            f"  fact     {name}: "
            f"{json.dumps(value, ensure_ascii=False) if isinstance(value, (list, dict)) else value}"
        )
    if found.question:
        echo(f"  question {found.question}")
    for mend in found.mends:
        echo(f"  mend     {mend['says']}")
    echo(f"  open     {rake.server}/sites/{found.site}/findings/{found.id}")
