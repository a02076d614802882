"""``plumrake gate``: ask before publishing, look at what was answered, overrule, ask for a
release."""

from __future__ import annotations

import time
from pathlib import Path

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail
from plumrake.cli.shared import as_json_option, print_json
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_LOOK_EVERY = 1.0
_LONGEST_SECONDS = 600.0


@click.group("gate")
def gate_group() -> None:
    """Ask before publishing: the answer is clear, clear with waivers, or held."""


@gate_group.command("ask")
@click.argument("site")
@click.option(
    "--address", "path", required=True, metavar="PATH", help="The page's path on the site."
)
@click.option(
    "--content",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="A file with the whole page's HTML.",
)
@click.option(
    "--fragment",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="A file with a piece of HTML, set into --frame.",
)
@click.option(
    "--frame",
    metavar="PATH",
    help="The page of the site that the fragment is set into; default: the policy's.",
)
@click.option(
    "--slot",
    metavar="CSS",
    help="The element of the frame that holds the fragment; default: the policy's.",
)
@click.option(
    "--preview",
    metavar="URL",
    help="Where the page can be seen before it is published, on the site's own hosts.",
)
@click.option(
    "--lens", type=click.Choice(["rendered", "markup"]), default="rendered", show_default=True
)
@as_json_option
@served
def ask_command(
    rake: PlumRake,
    site: str,
    path: str,
    content: Path | None,
    fragment: Path | None,
    frame: str | None,
    slot: str | None,
    preview: str | None,
    lens: models.Lens,
    as_json: bool,
) -> int:
    """Ask whether PATH of SITE may be published: as a file, at a preview address, or (neither) as
    it stands in staging.

    Exit status 0: clear; 1: held; 3: it could not be read.
    """
    document = _text(content) if content is not None else None
    piece = _text(fragment) if fragment is not None else None
    clearance = rake.gate.ask(
        site,
        path,
        document=document,
        fragment=piece,
        frame=frame,
        slot=slot,
        address=preview,
        lens=lens,
    )
    end = time.monotonic() + _LONGEST_SECONDS
    while clearance.state == "waiting" and time.monotonic() < end:
        time.sleep(_LOOK_EVERY)
        clearance = rake.gate.show(clearance.id)
    if as_json:
        print_json(clearance)
    else:
        _print(clearance)
    if clearance.state == "waiting" or clearance.problem_code is not None:
        return Exit.UNREAD
    return Exit.HELD if clearance.decision == "held" else Exit.DONE


def _text(file: Path) -> str:
    try:
        return file.read_text(encoding="utf-8")
    except UnicodeDecodeError:
        fail(f"'{file}' is no UTF-8 text; the gate takes HTML in UTF-8", Exit.USAGE)


def _print(clearance: models.Clearance) -> None:
    head = (clearance.decision or "waiting").upper()
    seconds = f", {clearance.seconds:.1f} s" if clearance.seconds is not None else ""
    echo(f"{head}  {clearance.path}  (clearance {clearance.id}{seconds})")
    echo(f"  {clearance.reason}")
    for one in sorted(clearance.judged, key=lambda one: one.standing != "holds"):
        mark = "!" if one.standing == "holds" else " "
        line = f", line {one.line}" if one.line is not None else ""
        echo(
            f"{mark} {one.weight:<9} {one.says}  [{one.check}{line}; {one.origin}, {one.standing}]"
        )
        if one.standing == "holds":
            echo(f"    {one.excerpt[:160]}")
            for mend in one.mends[:1]:
                echo(f"    → {mend['says']}")
    if clearance.untested:
        echo(f"  not tested: {', '.join(one['check'] for one in clearance.untested)}")
    if clearance.overruled_by:
        echo(f"  overruled by {clearance.overruled_by}: {clearance.overruled_why}")
    if clearance.content_hash:
        echo(
            (
                f"  content {clearance.content_hash}, good until "
                f"{clearance.valid_until:%Y-%m-%d %H:%M} UTC"
            )
            if clearance.valid_until
            else ""
        )


@gate_group.command("list")
@click.argument("site")
@click.option("--held", is_flag=True, help="Only what was held.")
@click.option("--path", help="Only of this page.")
@click.option("--most", type=click.IntRange(1, 10_000), default=50, show_default=True)
@as_json_option
@served
def list_command(
    rake: PlumRake, site: str, held: bool, path: str | None, most: int, as_json: bool
) -> None:
    """List the answers of SITE's gate, the newest first."""
    found = [
        one
        for one, _ in zip(
            rake.gate.list(site, decision="held" if held else None, path=path),
            range(most),
            strict=False,
        )
    ]
    if as_json:
        print_json(found)
        return
    for one in found:
        used = "published" if one.used_at else "overruled" if one.overruled_at else ""
        echo(
            f"{one.id:>6}  {one.asked_at:%Y-%m-%d %H:%M}  {one.decision or 'waiting':<19} "
            f"{one.path:<40} {one.asked_by:<18} {used}"
        )
    if not found:
        echo("nothing was asked yet")


@gate_group.command("show")
@click.argument("number", type=int)
@as_json_option
@served
def show_command(rake: PlumRake, number: int, as_json: bool) -> None:
    """Show one answer with all that was found."""
    clearance = rake.gate.show(number)
    if as_json:
        print_json(clearance)
    else:
        _print(clearance)


@gate_group.command("overrule")
@click.argument("number", type=int)
@click.option("--why", required=True, help="The reason; it is kept and shown.")
@served
def overrule_command(rake: PlumRake, number: int, why: str) -> None:
    """Let what is held be published all the same."""
    clearance = rake.gate.overrule(number, why)
    echo(f"clearance {clearance.id} of {clearance.path} is overruled by {clearance.overruled_by}")


@gate_group.command("release")
@click.argument("site")
@click.argument("paths", nargs=-1)
@click.option(
    "--section",
    metavar="PATH",
    help="All pages of staging below this path; / for the whole environment.",
)
@click.option("--name", default="release", show_default=True)
@click.option(
    "--lens", type=click.Choice(["rendered", "markup"]), default="rendered", show_default=True
)
@as_json_option
@served
def release_command(
    rake: PlumRake,
    site: str,
    paths: tuple[str, ...],
    section: str | None,
    name: str,
    lens: models.Lens,
    as_json: bool,
) -> int:
    """Ask what publishing PATHS of SITE's staging together would bring and mend. Exit status 1
    where a page holds."""
    release = rake.gate.ask_release(site, name, paths=paths, section=section, lens=lens)
    while release.waiting:
        time.sleep(_LOOK_EVERY)
        release = rake.gate.show_release(release.id)
    if as_json:
        print_json(release)
        return Exit.HELD if release.decision == "held" else Exit.DONE
    echo(
        f"{(release.decision or '').upper()}  {release.name} (release {release.id}): "
        f"{len(release.pages)} pages, {release.held} held"
    )
    echo(
        f"  brings {release.brought} findings, mends {release.mended}, {release.before} were "
        "there before"
    )
    for one in release.sections:
        echo(
            f"  {one.section:<24} {one.pages:>4} pages  {one.held:>4} held  brings "
            f"{one.brought:>4}  mends {one.mended:>4}"
        )
    for page in release.pages:
        if page.decision == "held":
            echo(f"! {page.path}: {page.reason} (clearance {page.clearance})")
    return Exit.HELD if release.decision == "held" else Exit.DONE
