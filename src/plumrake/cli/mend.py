"""``plumrake mend``: what is found in files, one after the other, mended where it stands."""

from __future__ import annotations

import asyncio
import contextlib
import signal
import sys
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import click

from plumrake.actions.look import LookSettings, resolve_targets
from plumrake.actions.mended_files import Mended, MendedFile, diff_of
from plumrake.actions.mended_sheets import SheetMend
from plumrake.actions.mending import MendingSession, Refused, mending
from plumrake.cli.errors import Exit, fail, notice
from plumrake.cli.policy import policy_for
from plumrake.cli.reading import lens_for, reading_options
from plumrake.cli.terminal import echo, echo_data
from plumrake.core.decisions import finding_holds
from plumrake.core.findings import Finding, Mend, Outcome
from plumrake.core.mending.source_page import CannotMend
from plumrake.core.picture_texts import PictureText
from plumrake.core.registry import catalogue
from plumrake.lenses.encoded import CannotEncode
from plumrake.lenses.sources import Source

_KEYS = "s skip · k skip all of this check · b back · q stop · ? who is hindered"
_LEVELS = "l1 … l6 give it another level · "
_HEADINGS = ("h1", "h2", "h3", "h4", "h5", "h6")
_SHOWN = 3


class _Stop(Exception):
    """The person wants to stop here; what was answered is kept."""


@click.command("mend")
@click.argument("targets", nargs=-1, required=True)
@reading_options
@click.option(
    "--take",
    type=click.Choice(["sure"]),
    help="Ask nothing: carry out what needs no judgement, and list it.",
)
@click.option("--diff", is_flag=True, help="Print the mends as a unified diff, and write nothing.")
@click.option("--dry", is_flag=True, help="Write nothing; say what would be written.")
def mend_command(
    targets: tuple[str, ...],
    lens: str | None,
    policy_file: Path | None,
    take: str | None,
    diff: bool,
    dry: bool,
    **said: Any,
) -> None:
    """Mend files and folders (HTML, Markdown) one finding after the other, the worst first.

    A mend counts if the file, read again, has lost the fault and got no other. Nothing is written
    before the end, and nothing but the mends; Ctrl-C is an end like any other.

    Exit status: 0 nothing is left that holds, 1 something is, 2 wrong usage, 3 something could not
    be read or written.
    """
    policy = policy_for(targets, policy_file, said)
    if take is None and not sys.stdin.isatty():
        fail(
            "mend asks questions; run it in a terminal, or give --take sure for what needs no "
            "judgement",
            Exit.USAGE,
        )
    settings = LookSettings(lens_for(lens), policy)
    with asyncio.Runner() as runner:
        # an interrupt that another thread gets does not wake the one that waits for an answer
        threads = ThreadPoolExecutor(initializer=_leave_interrupts_to_others)
        runner.get_loop().set_default_executor(threads)
        entered = mending(resolve_targets(targets), settings)
        session = runner.run(entered.__aenter__())
        try:
            if session.notice:
                notice(session.notice)
            for shown_as, problem in session.unread:
                notice(f"{shown_as}: {problem.says}")
            if not session.files:
                sys.exit(Exit.UNREAD)
            asker = _Asker(session, runner.run)
            if take is None:
                asker.ask_all()
            else:
                asker.take_sure(err=diff)
            failed = _end(session, diff=diff, dry=dry)
            known = len(session.unread)
            runner.run(session.read_all_again())
            for shown_as, problem in session.unread[known:]:
                notice(f"{shown_as}: it could not be read again: {problem.says}")
            _say_what_is_left(session, err=diff)
        finally:
            runner.run(entered.__aexit__(None, None, None))
    if failed or session.unread:
        sys.exit(Exit.UNREAD)
    left = [finding for file in session.files for finding in session.findings_of(file)]
    if any(finding_holds(finding, policy.hold) for finding in left):
        sys.exit(Exit.HELD)


def _leave_interrupts_to_others() -> None:
    signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})


@dataclass(frozen=True, slots=True)
class _Choice:
    """What a person may choose: a mend, what it says, and the rule in a style sheet where it is to
    be made there."""

    says: str
    mend: Mend
    sheet: SheetMend | None = None


class _Asker:
    """Shows one finding after the other, and carries out what is answered."""

    def __init__(self, session: MendingSession, run: Callable[..., Any]) -> None:
        self._session = session
        self._run = run
        self._count = 0
        self._is_stopping = False

    @contextlib.contextmanager
    def _not_interrupted(self) -> Iterator[None]:
        """Let what was answered be carried out to its end before an interrupt counts; a second
        interrupt counts at once."""

        def stop_later(*_: object) -> None:
            if self._is_stopping:
                raise KeyboardInterrupt
            self._is_stopping = True

        before = signal.signal(signal.SIGINT, stop_later)
        try:
            yield
        finally:
            signal.signal(signal.SIGINT, before)

    def take_sure(self, *, err: bool) -> None:
        """Carry out what needs no judgement, until there is nothing more of it, and list it."""
        tried: set[tuple[int, object, str]] = set()
        while (chosen := self._next_sure(tried)) is not None:
            file, finding, mend = chosen
            place = _place(file, finding)
            tried.add((id(file), file.place_of(finding), mend.says))
            try:
                self._run(self._session.take(file, finding, mend))
            except CannotMend:
                continue
            echo(f"{place}: {mend.says}   ({finding.check})", err=err)

    def _next_sure(
        self, tried: set[tuple[int, object, str]]
    ) -> tuple[MendedFile, Finding, Mend] | None:
        for file, finding in self._session.waiting():
            for mend in map(Mend.of, finding.mends):
                key = (id(file), file.place_of(finding), mend.says)
                if mend.sure and not mend.asks and key not in tried:
                    return file, finding, mend
        return None

    def ask_all(self) -> None:
        """Ask about everything, the worst first, until nothing is left or the person stops."""
        try:
            while waiting := self._session.waiting():
                self._ask(*waiting[0], len(waiting))
            echo("Nothing is left to ask about.")
        except (_Stop, click.Abort, KeyboardInterrupt, EOFError):
            echo()

    def _ask(self, file: MendedFile, finding: Finding, left: int) -> None:
        choices = self._choices(file, finding)
        levels = _has_level(file.source, finding)
        _show(file, finding, left)
        for number, choice in enumerate(choices, 1):
            echo(f"  {number:>2}  {choice.says}")
        if not choices:
            echo("      Nothing here can be carried out in the source.")
        while True:
            echo(f"  {_LEVELS if levels else ''}{_KEYS}")
            answer = click.prompt("  >", prompt_suffix=" ", default="", show_default=False).strip()
            if levels and answer in ("l1", "l2", "l3", "l4", "l5", "l6"):
                mend = Mend("rename-element", "", to=f"h{answer[1]}")
                is_done = self._take(file, finding, mend)
            else:
                is_done = self._answered(file, finding, choices, answer)
            if is_done:
                return

    def _choices(self, file: MendedFile, finding: Finding) -> list[_Choice]:
        mends = [mend for mend in map(Mend.of, finding.mends) if mend.can_be_carried_out]
        choices = [_Choice(mend.says, mend) for mend in mends]
        texts: list[PictureText] = self._run(self._session.texts_for(file, finding))
        writes = next((mend for mend in mends if mend.asks and mend.kind == "set-attribute"), None)
        if writes is not None:
            choices += [
                _Choice(
                    f"Write “{text.text}” ({text.comes_from}).", replace(writes, value=text.text)
                )
                for text in texts
            ]
        choices += [
            _Choice(one.says, one.mend, one) for one in self._session.sheet_mends(file, finding)
        ]
        return [*choices, *_further(file.source, finding, mends)]

    def _answered(
        self, file: MendedFile, finding: Finding, choices: list[_Choice], answer: str
    ) -> bool:
        """Do what is answered; tell whether the next finding is to be shown."""
        if answer == "q":
            raise _Stop
        if answer == "s":
            self._session.pass_over(file, finding)
            return True
        if answer == "k":
            self._session.leave_out(finding.check)
            return True
        if answer == "b":
            step = self._session.back()
            echo(f"  taken back: {step.mend.says}" if step else "  Nothing was mended yet.")
            return step is not None
        if answer == "?":
            echo(f"  {catalogue()[finding.check].help.sections['Who is hindered'].strip()}")
            return False
        if answer.isdigit() and 1 <= int(answer) <= len(choices):
            choice = choices[int(answer) - 1]
            return self._take(file, finding, choice.mend, choice.sheet)
        echo("  Answer with a number, or with one of the letters.")
        return False

    def _take(
        self, file: MendedFile, finding: Finding, mend: Mend, sheet: SheetMend | None = None
    ) -> bool:
        if mend.asks:
            says = "address" if mend.attribute in ("href", "src") else "text"
            text = click.prompt(f"  {says}", default="", show_default=False).strip()
            if not text:
                return False
            mend = replace(mend, value=text)
        insist = as_references = False
        while True:
            try:
                with self._not_interrupted():
                    self._run(
                        self._session.take_in_sheet(file, finding, sheet, insist=insist)
                        if sheet is not None
                        else self._session.take(
                            file, finding, mend, insist=insist, as_references=as_references
                        )
                    )
            except CannotEncode as problem:
                if as_references or not click.confirm(f"  {problem}. Write references?"):
                    return False
                as_references = True
            except Refused as problem:
                if insist or not problem.may_be_insisted_on:
                    echo(f"  Refused: {problem}")
                    return False
                if not click.confirm(f"  Refused: {problem} Carry it out all the same?"):
                    return False
                insist = True
            except CannotMend as problem:
                echo(f"  It cannot be carried out: {problem}.")
                return False
            else:
                self._count += 1
                echo(f"  mended ({self._count})")
                if self._is_stopping:
                    raise _Stop
                self._offer_alike(finding, mend)
                return True

    def _offer_alike(self, finding: Finding, mend: Mend) -> None:
        """Offer to carry the same out at the other places that have the same cause."""
        others = [
            pair
            for pair in self._session.waiting()
            if (pair[1].check, pair[1].cause_key) == (finding.check, finding.cause_key)
        ]
        if not others or not click.confirm(
            f"  The same at {_count(len(others), 'other place')} with the same cause?"
        ):
            return
        done = 0
        for file, other in others:
            try:
                self._run(self._session.take(file, other, mend))
            except CannotMend as problem:
                echo(f"  {_place(file, other)}: {problem}")
            else:
                done += 1
        self._count += done
        echo(f"  mended at {_count(done, 'other place')} ({self._count})")


def _has_level(source: Source, finding: Finding) -> bool:
    """Tell whether a finding is about a heading that has a tag for its level."""
    try:
        return source.element_of(finding).tag in _HEADINGS
    except CannotMend:
        return False


def _further(source: Source, finding: Finding, mends: list[Mend]) -> list[_Choice]:
    """Return what may be chosen beside the mends that a check proposes: other words for a heading
    or a link."""
    try:
        element = source.element_of(finding)
    except CannotMend:
        return []
    role = source.page.role_of(element)
    rewords = any(mend.kind == "replace-text" for mend in mends)
    if role in ("heading", "link") and source.page.text_of(element) and not rewords:
        return [_Choice("Put other words.", Mend("replace-text", "Put other words."))]
    return []


def _show(file: MendedFile, finding: Finding, left: int) -> None:
    label = "look at" if finding.outcome == Outcome.CANT_TELL else finding.weight
    echo()
    echo(f"[{left} left] {label} · {finding.check} · {_place(file, finding)}")
    echo(f"  {finding.says}")
    if finding.question:
        echo(f"  ? {finding.question}")
    echo(f"  {finding.excerpt}")


def _place(file: MendedFile, finding: Finding) -> str:
    placed = file.source.placed(finding)
    return file.shown_as if placed.line is None else f"{file.shown_as}:{placed.line}"


def _end(session: MendingSession, *, diff: bool, dry: bool) -> bool:
    """Write what was mended, or print it; say what is left. Tell whether something could not be
    written."""
    changed = session.changed
    failed = False
    if diff:
        for file in changed:
            echo_data(diff_of(file))
    elif dry:
        for file in changed:
            echo(f"would be written: {file.shown_as} ({_mends(file)})")
    else:
        failed = _write(session)
    return failed


def _say_what_is_left(session: MendingSession, *, err: bool) -> None:
    changed = session.changed
    left = [finding for file in session.files for finding in session.findings_of(file)]
    doubtful = sum(finding.outcome == Outcome.CANT_TELL for finding in left)
    sure = len(left) - doubtful
    echo(
        f"{len(session.steps)} mended in {_count(len(changed), 'file')}; "
        f"left: {_count(sure, 'fault')}, {_count(doubtful, 'place')} for a person to look at",
        err=err,
    )


def _write(session: MendingSession) -> bool:
    failed = False
    for file, problem in session.write():
        if problem is None:
            echo(f"written: {file.shown_as} ({_mends(file)})")
            continue
        failed = True
        notice(f"{file.shown_as}: {problem.says}")
        kept = _kept_beside(file)
        notice(f"the mends are kept in {kept}" if kept else f"the mends were:\n{diff_of(file)}")
    return failed


def _kept_beside(file: Mended) -> Path | None:
    """Keep a file's mends as a diff where there is room for it; return where."""
    for folder in (file.path.parent, Path.cwd()):
        kept = folder / f"{file.path.name}.mends.diff"
        try:
            kept.write_text(diff_of(file), encoding="utf-8", newline="")
        except OSError:
            continue
        return kept
    return None


def _mends(file: Mended) -> str:
    return _count(file.mends, "mend")


def _count(number: int, one: str) -> str:
    return f"{number} {one}{'' if number == 1 else 's'}"
