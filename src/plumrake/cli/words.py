"""``plumrake words``: doubtful words, a site's own, suggestions."""

from __future__ import annotations

from pathlib import Path

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.shared import (
    as_json_option,
    counted,
    environment_option,
    print_json,
    sweep_option,
)
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake


@click.group("words")
def words_group() -> None:
    """Words in no dictionary, and those that are right on a site all the same."""


@words_group.command("doubtful")
@click.argument("site")
@click.option("--page", "path", metavar="PATH", help="Of one page only.")
@sweep_option
@environment_option
@as_json_option
@served
def doubtful_words(
    rake: PlumRake,
    site: str,
    path: str | None,
    sweep: int | None,
    environment: models.Environment | None,
    as_json: bool,
) -> None:
    """List the words of SITE's pages that are in no dictionary, those on most pages first."""
    found = list(rake.words.doubtful(site, path=path, sweep=sweep, environment=environment))
    if as_json:
        print_json(found)
        return
    for one in found:
        reach = f"{counted(one.places, 'place')} on {counted(one.pages, 'page')}"
        echo(
            f"{one.word:<24}{one.language:<4}{reach:<24}first on {one.path}  (finding "
            f"{one.finding})"
        )
    if not found:
        echo("every word is in a dictionary or among the site's own")


@words_group.command("list")
@click.argument("site")
@as_json_option
@served
def list_words(rake: PlumRake, site: str, as_json: bool) -> None:
    """List the words that are SITE's own, with who added each."""
    found = list(rake.words.list(site))
    if as_json:
        print_json(found)
        return
    for one in found:
        echo(f"{one.word:<28}{one.added_at:%Y-%m-%d}  {one.added_by}")
    if not found:
        echo(f"{site} has no words of its own; 'plumrake words add {site} WORD...' adds some")


@words_group.command("add")
@click.argument("site")
@click.argument("words", nargs=-1, metavar="WORD...")
@click.option(
    "--from",
    "file",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    metavar="FILE",
    help="A file of words, one on each line.",
)
@served
def add_words(rake: PlumRake, site: str, words: tuple[str, ...], file: Path | None) -> None:
    """Make each WORD right on SITE from now on."""
    lines = file.read_text(encoding="utf-8").splitlines() if file is not None else []
    wanted = [
        *words,
        *(line.strip() for line in lines if line.strip() and not line.startswith("#")),
    ]
    if not wanted:
        raise click.UsageError(
            "which words? Write them behind the site, or name a file of them with --from."
        )
    added = rake.words.add(site, wanted)
    known = len(wanted) - added
    echo(
        f"{counted(added, 'word')} added to {site}" + (f"; {known} it had already" if known else "")
    )


@words_group.command("drop")
@click.argument("site")
@click.argument("word")
@served
def drop_word(rake: PlumRake, site: str, word: str) -> None:
    """Let WORD be doubtful on SITE again."""
    rake.words.drop(site, word)
    echo(f"'{word}' is no longer a word of {site}; pages are read with that from the next sweep on")


@words_group.command("suggest")
@click.argument("word")
@click.option(
    "--language",
    default="en",
    show_default=True,
    metavar="TAG",
    help="The language, as 'en' or 'en-GB'.",
)
@served
def suggest_words(rake: PlumRake, word: str, language: str) -> None:
    """Say what may have been meant by WORD."""
    echo("\n".join(rake.words.suggest(word, language)) or "nothing like it is in the dictionary")
