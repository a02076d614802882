"""Commands about registered sites: settings, and views over all their pages."""

from __future__ import annotations

import time
import tomllib
from collections.abc import Callable
from itertools import islice
from pathlib import Path
from typing import Any

import click
import yaml

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.corrections import connect_command
from plumrake.cli.errors import Exit, fail
from plumrake.cli.shared import (
    as_json_option,
    counted,
    environment_option,
    print_json,
    sweep_option,
)
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_LEADS: dict[str, str] = {
    "works": "works",
    "only-in-staging": "only in staging",
    "dead": "dead",
    "no-part": "part missing",
    "unknown": "cannot be told",
}


@click.group("site")
def site_group() -> None:
    """Registered sites."""


_EACH_SETTING = (
    click.option(
        "--found-by",
        type=click.Choice(["sitemap", "crawl", "both", "list"]),
        help="How pages are found; 'both' crawls from the sitemap on.",
    ),
    click.option("--most-pages", type=int, metavar="N", help="Read no more pages than this."),
    click.option(
        "--crawl-depth", type=int, metavar="N", help="Follow links so many steps from the start."
    ),
    click.option(
        "--parallel",
        type=int,
        metavar="N",
        help="So many requests under way at the host in parallel.",
    ),
    click.option(
        "--pause", "pause_ms", type=int, metavar="MS", help="Milliseconds between two requests."
    ),
    click.option(
        "--schedule",
        metavar="CRON",
        help="When to read it on a schedule, in UTC: '0 4 * * 1-5'; '' for never.",
    ),
    click.option(
        "--policy",
        type=click.Path(exists=True, dir_okay=False, path_type=Path),
        help="A plumrake.toml to be the site's policy.",
    ),
    click.option(
        "--journeys",
        type=click.Path(exists=True, dir_okay=False, path_type=Path),
        help="A YAML file of steps that lead to states of pages.",
    ),
)


def _settings(command: Callable[..., None]) -> Callable[..., None]:
    for option in reversed(_EACH_SETTING):
        command = option(command)
    return command


def _from_files(policy: Path | None, journeys: Path | None) -> dict[str, Any]:
    """Return the settings that stand in files of their own; their fields are checked by the
    service."""
    found: dict[str, Any] = {}
    for name, file in (("policy", policy), ("journeys", journeys)):
        if file is None:
            continue
        try:
            text = file.read_text(encoding="utf-8")
            found[name] = tomllib.loads(text) if name == "policy" else _list_of_journeys(text)
        except (tomllib.TOMLDecodeError, yaml.YAMLError, ValueError, OSError) as error:
            fail(f"{name} in '{file}': {' '.join(str(error).split())}", Exit.USAGE)
    return found


def _list_of_journeys(text: str) -> list[dict[str, Any]]:
    data = yaml.safe_load(text)
    if not isinstance(data, dict) or list(data) != ["journeys"]:
        raise ValueError(
            "write 'journeys:' and below it a list of journeys, each with 'name' and 'steps'"
        )
    return data["journeys"] or []


site_group.add_command(connect_command)


@site_group.command("add")
@click.argument("slug")
@click.option("--name", required=True)
@click.option(
    "--live", "live_address", required=True, metavar="ADDRESS", help="Where the public reads it."
)
@click.option("--staging", "staging_address", metavar="ADDRESS", help="Where it is made ready.")
@click.option(
    "--page",
    "listed_paths",
    multiple=True,
    metavar="PATH",
    help="A page to read; repeatable. Default: what the sitemap lists and what links lead to.",
)
@click.option(
    "--private",
    "private_leave",
    is_flag=True,
    help="The addresses are in a private network, and may be.",
)
@_settings
@served
def add_site(
    rake: PlumRake,
    slug: str,
    listed_paths: tuple[str, ...],
    found_by: str | None,
    policy: Path | None,
    journeys: Path | None,
    **options: Any,
) -> None:
    """Register a site as SLUG, a short name for addresses and commands."""
    paths = list(listed_paths)
    given = {name: value for name, value in options.items() if value is not None} | _from_files(
        policy, journeys
    )
    new = models.NewSite(
        slug=slug,
        found_by=found_by or ("list" if paths else "both"),
        listed_paths=paths,
        **given,
    )
    site = rake.sites.add(new)
    echo(f"{site.slug} is registered; read it with 'plumrake sweep start {site.slug} --follow'")


@site_group.command("list")
@as_json_option
@served
def list_sites(rake: PlumRake, as_json: bool) -> None:
    """List every site with what its last sweep found."""
    sites = list(rake.sites.list())
    if as_json:
        print_json(sites)
        return
    for site in sites:
        echo(f"{site.slug:<20}{site.name}")
        for line in _stands(site):
            echo(f"{'':<20}{line}")
    if not sites:
        echo("no site is registered; 'plumrake site add' registers one")


@site_group.command("show")
@click.argument("slug")
@as_json_option
@served
def show_site(rake: PlumRake, slug: str, as_json: bool) -> None:
    """Show a site and what its last sweeps found."""
    site = rake.sites.show(slug)
    if as_json:
        print_json(site)
        return
    echo(f"{site.name} ({site.slug})")
    echo(f"  live     {site.live_address}")
    echo(f"  staging  {site.staging_address or '-'}")
    echo(f"  pages    found by {site.found_by}, at most {site.most_pages:,}")
    echo(
        f"  asked    {counted(site.parallel, 'request')} in parallel, {site.pause_ms} ms "
        "between them"
    )
    echo(
        "  by clock "
        f"{f'{site.schedule} ({site.schedule_environment}, UTC)' if site.schedule else 'never'}"
    )
    for journey in site.journeys:
        states = [step["read"] for step in journey["steps"] if "read" in step]
        echo(f"  journey  {journey['name']}: reads {', '.join(states)}")
    for line in _stands(site):
        echo(f"  {line}")


def _stands(site: models.Site) -> list[str]:
    """Return the lines that say what was found last, and how far the sweeps under way are."""
    told = [_figures(figures) for figures in site.figures]
    told += [_under_way(sweep) for sweep in site.under_way]
    return told or [f"never read; 'plumrake sweep start {site.slug}' reads it"]


def _under_way(sweep: models.UnderWay) -> str:
    far = f"{sweep.read + sweep.unreadable} of {counted(sweep.total, 'page')} read"
    return (
        f"{sweep.environment}: sweep {sweep.sweep_id} is under way, "
        f"{far if sweep.total else 'its pages are being found'}"
    )


def _figures(figures: models.Figures) -> str:
    apart = f", {figures.left_out} left out" if figures.left_out else ""
    unread = f", {figures.unreadable} could not be read" if figures.unreadable else ""
    doubtful = f", {figures.doubtful} to look at" if figures.doubtful else ""
    words = f", {counted(figures.words, 'place')} with a word in no dictionary"
    doubtful += words if figures.words else ""
    return (
        f"{figures.environment}: {figures.ready} of {figures.pages} pages ready{apart}{unread}; "
        f"{counted(figures.barriers, 'barrier')}, {counted(figures.obstacles, 'obstacle')}, "
        f"{counted(figures.frictions, 'friction')}{doubtful} (sweep {figures.sweep_id}, "
        f"{figures.finished_at:%Y-%m-%d %H:%M})"
    )


@site_group.command("edit")
@click.argument("slug")
@click.option("--name")
@click.option("--live", "live_address", metavar="ADDRESS")
@click.option("--staging", "staging_address", metavar="ADDRESS")
@click.option(
    "--second-factor",
    metavar="ROLES",
    help="In which roles people need a second factor here, with ',' between them; 'none': in none.",
)
@_settings
@served
def edit_site(
    rake: PlumRake,
    slug: str,
    schedule: str | None,
    second_factor: str | None,
    policy: Path | None,
    journeys: Path | None,
    **options: Any,
) -> None:
    """Change what is said; the rest stays as it is."""
    given = {name: value for name, value in options.items() if value is not None} | _from_files(
        policy, journeys
    )
    if schedule is not None:
        given["schedule"] = schedule or None
    if second_factor is not None:
        roles = [role.strip() for role in second_factor.split(",")]
        given["second_factor_roles"] = [] if roles == ["none"] else roles
    if not given:
        fail("nothing to change was said; see 'plumrake site edit --help'", Exit.USAGE)
    change = models.SiteChange(**given)
    rake.sites.change(slug, change, rake.sites.show(slug).tag)
    echo(f"{slug}: {', '.join(sorted(given))} changed")


@site_group.command("archive")
@click.argument("slug")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@served
def give_archive(rake: PlumRake, slug: str, file: Path) -> None:
    """Hand over FILE (.zip, .warc, .warc.gz): the site's pages come from it from now on."""
    rake.sites.give_archive(slug, file.name, file.read_bytes())
    echo(
        f"{slug}: its pages come from {file.name}; read them with 'plumrake sweep start "
        f"{slug} --follow'"
    )


@site_group.command("drop")
@click.argument("slug")
@click.confirmation_option(prompt="All sweeps and findings of the site go with it. Drop it?")
@served
def drop_site(rake: PlumRake, slug: str) -> None:
    """Forget a site with all that was found on it."""
    rake.sites.drop(slug)
    echo(f"{slug} is dropped")


@site_group.command("sections")
@click.argument("slug")
@click.option(
    "--under",
    default="/",
    show_default=True,
    metavar="PATH",
    help="Below this section; ends with '/'.",
)
@sweep_option
@environment_option
@as_json_option
@served
def sections(rake: PlumRake, slug: str, under: str, as_json: bool, **of: Any) -> None:
    """List the sections and pages below a path, with their figures."""
    found = list(rake.views.sections(slug, under=under, **of))
    if as_json:
        print_json(found)
        return
    echo(f"{'pages':>7} {'ready':>7} {'barriers':>9} {'obstacles':>10} {'frictions':>10}")
    for one in found:
        echo(
            f"{one.pages:>7} {one.ready:>7} {one.barriers:>9} {one.obstacles:>10} "
            f"{one.frictions:>10}  {one.path}{'…' if one.has_more else ''}"
        )


@site_group.command("pictures")
@click.argument("slug")
@click.option(
    "--contradictory",
    is_flag=True,
    help="Only pictures that have different texts in different places.",
)
@click.option("--without-text", is_flag=True, help="Only pictures that lack a text somewhere.")
@sweep_option
@environment_option
@as_json_option
@served
def pictures(rake: PlumRake, slug: str, as_json: bool, **options: Any) -> None:
    """List the pictures by file, with every text in use."""
    found = list(rake.views.pictures(slug, **options))
    if as_json:
        print_json(found)
        return
    for one in found:
        lacking = f", {one.without_text} without text" if one.without_text else ""
        decorative = f", {one.as_decorative} as decorative" if one.as_decorative else ""
        echo(
            f"{counted(one.uses, 'use'):>9} on "
            f"{counted(one.pages, 'page')}{lacking}{decorative}  "
            f"{one.source}{'  CONTRADICTORY' if one.contradictory else ''}"
        )
        for text in one.texts:
            echo(f"{'':<11}“{text}”")


@site_group.command("colours")
@click.argument("slug")
@sweep_option
@environment_option
@as_json_option
@served
def colours(rake: PlumRake, slug: str, as_json: bool, **of: Any) -> None:
    """List the pairs of text and background colour, those that fail first."""
    found = list(rake.views.colours(slug, **of))
    if as_json:
        print_json(found)
        return
    for one in found:
        verdict = "passes" if one.passes else f"fails {one.required:g}:1"
        echo(
            f"{one.text} on {one.background}  {one.ratio:>5.2f}:1  {verdict:<12} "
            f"{counted(one.uses, 'use')} on {counted(one.pages, 'page')}"
        )


@site_group.command("links")
@click.argument("slug")
@click.option("--text", metavar="WORDS", help="Only links that are called so.")
@click.option("--target", metavar="ADDRESS", help="Only links that lead there, as written.")
@click.option(
    "--follow",
    is_flag=True,
    help="Ask every address first; what was asked within half an hour is not asked again.",
)
@click.option(
    "--faulty",
    is_flag=True,
    default=None,
    help="Only links that do not lead where they should, or of which that cannot be told.",
)
@click.option(
    "--state", type=click.Choice(list(_LEADS)), help="Only links that were found to lead so."
)
@click.option("--most", type=int, default=100, show_default=True, help="Show so many.")
@sweep_option
@environment_option
@as_json_option
@served
def links(rake: PlumRake, slug: str, follow: bool, most: int, as_json: bool, **options: Any) -> int:
    """List the links by text and target, the most used first, with what they lead to. With --follow
    or --faulty, exit status 1 where one is dead."""
    if follow:
        _follow_links(rake, slug, options["environment"], quiet=as_json)
    found = list(islice(rake.views.links(slug, **options), most))
    if as_json:
        print_json(found)
    else:
        for one in found:
            echo(
                f"{counted(one.uses, 'use'):>9} on {counted(one.pages, 'page'):<10} "
                f"“{one.text}” → {one.target}"
            )
            if one.state is not None and (one.state != "works" or one.chain):
                led = f", led to {one.chain[-1]}" if one.chain else ""
                echo(
                    f"{'':>23}{_LEADS[one.state]}{led}{f': {one.says}' if one.says else ''}; "
                    f"first on {one.first_path}"
                )
        _print_round(rake.views.link_check(slug), slug)
    broken = any(one.state in ("dead", "no-part", "only-in-staging") for one in found)
    return Exit.HELD if broken and (follow or options["faulty"]) else Exit.DONE


def _follow_links(
    rake: PlumRake, slug: str, environment: models.Environment | None, *, quiet: bool
) -> None:
    known: models.LinkCheck | None = rake.views.follow_links(slug, environment=environment)
    while known is not None and known.ended_at is None:
        time.sleep(0.5)
        known = rake.views.link_check(slug)
    if known is not None and not quiet:
        echo(f"{counted(known.total, 'address', 'addresses')} asked")


def _print_round(known: models.LinkCheck | None, slug: str) -> None:
    if known is None:
        echo(f"where they lead is not known yet; 'plumrake site links {slug} --follow' asks")
    else:
        states = known.states or {}
        echo(
            "all addresses: "
            + (
                ", ".join(
                    f"{states[name]} {says}" for name, says in _LEADS.items() if name in states
                )
                or "none"
            )
        )


@site_group.command("titles")
@click.argument("slug")
@click.option("--most", type=int, default=100, show_default=True, help="Show so many.")
@sweep_option
@environment_option
@as_json_option
@served
def titles(rake: PlumRake, slug: str, most: int, as_json: bool, **of: Any) -> None:
    """List the titles, the most shared first."""
    found = list(islice(rake.views.titles(slug, **of), most))
    if as_json:
        print_json(found)
        return
    for one in found:
        echo(
            f"{counted(one.pages, 'page'):>10}  {one.title or '(no title)'}  "
            f"{', '.join(one.paths[:3])}{' …' if one.pages > 3 else ''}"
        )


@site_group.command("way")
@click.argument("site")
@click.option("--put-away/--show-again", default=None, help="Whether the console shows it.")
@as_json_option
@served
def show_way(rake: PlumRake, site: str, put_away: bool | None, as_json: bool) -> None:
    """Show how far SITE is on the way from registering it to the gate, with what is left of each
    step."""
    if put_away is not None:
        rake.reviews.put_way_away(site, away=put_away)
        echo(f"the console {'no longer shows' if put_away else 'shows'} the way of {site}")
        return
    way = rake.reviews.way(site)
    if as_json:
        print_json(way)
        return
    for step in way.steps:
        echo(f"{'done' if step.is_done else 'open':<6}{step.says:<42}{step.left}".rstrip())
