"""Mending files: what is found in them, one mend after the other, each proven before it counts, and
written in one go."""

from __future__ import annotations

import asyncio
import contextlib
import os
from collections import Counter
from collections.abc import AsyncIterator, Sequence
from dataclasses import replace
from pathlib import Path
from urllib.parse import unquote, urlsplit

from plumrake.actions.look import LookSettings, Target, with_site_findings
from plumrake.actions.mended_files import Mended, MendedFile, Step, written
from plumrake.actions.mended_sheets import MOST_BYTES as MOST_SHEET_BYTES
from plumrake.actions.mended_sheets import MendedSheet, SheetMend, sheet_mend
from plumrake.actions.reading import PageResult, checks_that_may_wait, read_and_assess
from plumrake.core.findings import WEIGHTS, Finding, Mend, Outcome, why_left
from plumrake.core.html_source import Lines
from plumrake.core.mending.edits import Edit, Moved, applied
from plumrake.core.mending.effect import WRITING, Effect, effect_of
from plumrake.core.mending.source_page import CannotMend
from plumrake.core.picture_texts import PictureText, picture_texts
from plumrake.core.policy import Policy
from plumrake.core.registry import catalogue
from plumrake.lenses.encoded import with_edits, written_as
from plumrake.lenses.markup import TooManyElements, decoded
from plumrake.lenses.picture_files import MOST_BYTES, texts_in_file
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import Obtained, PageReader, is_markdown, read_body
from plumrake.lenses.sources import Source, open_source
from plumrake.net.problems import Problem, Unreadable


class Refused(CannotMend):
    """A mend would leave the fault, or bring another one. ``may_be_insisted_on``: the fault goes,
    and a person may take what comes for it."""

    def __init__(self, effect: Effect) -> None:
        super().__init__(effect.says)
        self.effect = effect

    @property
    def may_be_insisted_on(self) -> bool:
        """Whether the fault goes."""
        return not self.effect.left


class MendingSession:
    """Files that are mended one finding after the other; use ``mending`` to open one."""

    def __init__(self, reader: PageReader, settings: LookSettings) -> None:
        self._reader = reader
        self._settings = settings
        self.files: list[MendedFile] = []
        self.unread: list[tuple[str, Problem]] = []
        self._left_out: set[str] = set()
        self._of_site: dict[int, tuple[Finding, ...]] = {}
        self.steps: list[Step] = []
        self._sheets: dict[Path, MendedSheet | None] = {}

    @property
    def changed(self) -> list[Mended]:
        """The files that were mended, style sheets last."""
        sheets = (sheet for sheet in self._sheets.values() if sheet is not None)
        known: list[Mended] = [*self.files, *sheets]
        return [one for one in known if one.is_changed]

    @property
    def notice(self) -> str:
        """A sentence on how the browser runs where that is less safe than it should be, else
        ``""``."""
        return self._reader.notice

    async def open(self, targets: Sequence[Target]) -> None:
        """Read the files; what cannot be read, or is no file, is kept with its problem."""
        turn = asyncio.Semaphore(self._settings.parallel)

        async def one(target: Target) -> None:
            async with turn:
                opened = await self._opened(target)
            if isinstance(opened, Problem):
                self.unread.append((target.shown_as, opened))
            else:
                self.files.append(opened)

        await asyncio.gather(*(one(target) for target in targets))
        order = {target.shown_as: at for at, target in enumerate(targets)}
        self.files.sort(key=lambda file: order[file.shown_as])
        self._look_over_all()

    async def _opened(self, target: Target) -> MendedFile | Problem:
        if target.problem is not None:
            return target.problem
        if target.file is None or target.root is None:
            return Problem("no-file", "only files on this machine can be mended here")
        try:
            body = await asyncio.to_thread(read_body, target.file, self._settings.limits.bytes)
            text = decoded(body, "utf-8" if is_markdown(target.file) else None).text
            source = await asyncio.to_thread(
                open_source, text, "", is_markdown=is_markdown(target.file)
            )
        except Unreadable as problem:
            return problem.problem
        except TooManyElements as error:
            return Problem(error.code, str(error))
        result = await self._read(target.file, target.root, target.shown_as, body)
        if result.problem is not None:
            return result.problem
        return MendedFile(target.file, target.root, target.shown_as, body, source, result)

    async def _read(
        self, file: Path, root: Path, shown_as: str, body: bytes, policy: Policy | None = None
    ) -> PageResult:
        async def read(options: ReadOptions) -> Obtained:
            return await self._reader.read_file(
                file, root, shown_as, options, body=body, beside=beside
            )

        beside = {
            sheet.path: sheet.changed_body()
            for sheet in self._sheets.values()
            if sheet is not None and sheet.is_changed
        }
        return await read_and_assess(
            read, policy or self._settings.policy, self._reader.runners, inventory=True
        )

    async def _read_again(
        self, file: MendedFile, changed: Source, body: bytes, edits: Sequence[Edit], check: str
    ) -> PageResult:
        """Read a changed file. What takes long in the browser (keys, other layouts, words in
        pictures) is asked for only where the mended check needs it; what those checks found before
        is taken along, and asked again at the end."""
        policy = self._settings.policy
        put_off = checks_that_may_wait(check)
        if is_markdown(file.path) or self._reader.lens != "rendered":
            put_off = []
        result = await self._read(
            file.path,
            file.root,
            file.shown_as,
            body,
            policy.changed(without=(*policy.without, *put_off)),
        )
        if result.problem is not None or not put_off:
            return result
        moved, before, after = Moved(edits), Lines(file.source.text), Lines(changed.text)
        kept = tuple(
            _at(finding, moved, before, after)
            for finding in file.result.assessment.findings
            if finding.check in put_off
        )
        findings = (*result.assessment.findings, *kept)
        return replace(result, assessment=replace(result.assessment, findings=findings))

    async def read_all_again(self) -> None:
        """Read what was mended once more, with all checks. A file that cannot be read again is kept
        with its problem, and with what was found in it last."""
        files = [file for file in self.files if file.is_changed or self._is_restyled(file)]
        before = [(file, file.result) for file in files]
        await self._read_each(files)
        for file, result in before:
            if file.result.problem is not None:
                self.unread.append((file.shown_as, file.result.problem))
                file.result = result
        self._look_over_all()

    def _is_restyled(self, file: MendedFile) -> bool:
        return any(
            step.sheet is not None and any(other is file for other, _ in step.others)
            for step in self.steps
        )

    async def _read_each(self, files: Sequence[MendedFile]) -> None:
        turn = asyncio.Semaphore(self._settings.parallel)

        async def one(file: MendedFile) -> None:
            async with turn:
                body = file.changed_body()
                file.result = await self._read(file.path, file.root, file.shown_as, body)

        await asyncio.gather(*(one(file) for file in files))

    def _look_over_all(self) -> None:
        """Find what shows only over all pages together."""
        results = with_site_findings([file.result for file in self.files], self._settings.policy)
        self._of_site = {
            at: result.assessment.findings[
                : len(result.assessment.findings) - len(file.result.assessment.findings)
            ]
            for at, (file, result) in enumerate(zip(self.files, results, strict=True))
        }

    def findings_of(self, file: MendedFile) -> tuple[Finding, ...]:
        """Return all that is found in a file by now."""
        at = next(place for place, one in enumerate(self.files) if one is file)
        return (*self._of_site.get(at, ()), *file.result.assessment.findings)

    def waiting(self) -> list[tuple[MendedFile, Finding]]:
        """Return what was not passed over, the worst first, then by file and place."""
        order = [weight.value for weight in WEIGHTS]
        found = [
            (file, finding)
            for file in self.files
            for finding in self.findings_of(file)
            if finding.check not in self._left_out
            and not why_left(finding)
            and file.place_of(finding) not in file.passed
        ]
        return sorted(
            found,
            key=lambda pair: (
                order.index(pair[1].weight),
                pair[1].outcome == Outcome.CANT_TELL,
            ),
        )

    async def texts_for(self, file: MendedFile, finding: Finding) -> list[PictureText]:
        """Return texts that a picture might get; none for what is no picture."""
        try:
            element = file.source.element_of(finding)
        except CannotMend:
            return []
        if element.tag not in ("img", "area", "input"):
            return []
        name = self._beside(file, element.get("src"))
        elsewhere = Counter(
            str(picture["name"])
            for other in self.files
            for picture in (other.result.inventory.pictures if other.result.inventory else ())
            if picture["name"] and self._beside(other, str(picture["source"])) == name
        )
        in_file = await asyncio.to_thread(_texts_in, name) if name is not None else []
        longest = self._settings.policy.options(catalogue()["pictures/long-text"])["longest"]
        return picture_texts(
            file.source.page, element, elsewhere=elsewhere, in_file=in_file, longest=longest
        )

    def _beside(self, file: MendedFile, address: str) -> Path | None:
        """Return the file that an address on a page leads to, if it lies in the site's folder."""
        path = unquote(urlsplit(address).path)
        if not path or urlsplit(address).scheme:
            return None
        start = file.root if path.startswith("/") else file.path.parent
        found = (start / path.lstrip("/")).resolve()
        return found if found.is_relative_to(file.root.resolve()) else None

    def pass_over(self, file: MendedFile, finding: Finding) -> None:
        """Do not show a finding again."""
        file.passed |= {file.place_of(finding)}

    def leave_out(self, check: str) -> None:
        """Show nothing of a check any more."""
        self._left_out.add(check)

    async def take(
        self,
        file: MendedFile,
        finding: Finding,
        mend: Mend,
        *,
        insist: bool = False,
        as_references: bool = False,
    ) -> Step:
        """Carry a mend out, if that makes the finding go and brings none.

        Raises ``Refused`` (not with ``insist``, where the fault goes), ``CannotEncode`` (not with
        ``as_references``: what the encoding lacks is written as character references),
        ``CannotMend``.
        """
        source = file.source
        edits = source.edits_of(source.element_of(finding), mend)
        if not edits:
            raise CannotMend("nothing would change: it is written like this already")
        if as_references:
            edits = written_as(edits, decoded(file.body, file.charset).codec)
        return await self._take_edits(file, finding, mend, edits, insist=insist)

    def sheet_mends(self, file: MendedFile, finding: Finding) -> list[SheetMend]:
        """Return the mends of a finding's colours in the rules that they come from."""
        if self._reader.lens != "rendered":
            return []
        found = (
            sheet_mend(file.source, finding, mend, lambda address: self._sheet(file, address))
            for mend in map(Mend.of, finding.mends)
        )
        return [one for one in found if one is not None]

    def _sheet(self, file: MendedFile, address: str) -> MendedSheet | None:
        path = self._beside(file, address)
        if path is None:
            return None
        if path not in self._sheets:
            self._sheets[path] = None
            with contextlib.suppress(OSError):
                if path.stat().st_size <= MOST_SHEET_BYTES:
                    shown_as = os.path.relpath(path)
                    self._sheets[path] = MendedSheet(path, shown_as, path.read_bytes(), [])
        return self._sheets[path]

    async def take_in_sheet(
        self, file: MendedFile, finding: Finding, wanted: SheetMend, *, insist: bool = False
    ) -> Step:
        """Change the rule that a colour comes from, if that makes the finding go and brings none,
        on this page and on those that have the same cause. Raises as ``take``."""
        if wanted.sheet is None:
            return await self._take_edits(file, finding, wanted.mend, (wanted.edit,), insist=insist)
        alike = [
            other
            for other in self.files
            if any(
                (one.check, one.cause_key) == (finding.check, finding.cause_key)
                for one in other.result.assessment.findings
            )
        ]
        others = tuple((other, other.result) for other in alike)
        step = Step(
            file,
            finding,
            wanted.mend,
            (),
            file.source,
            file.result,
            file.passed,
            wanted.sheet,
            others,
        )
        before = {id(other): self.findings_of(other) for other in alike}
        wanted.sheet.edits.append(wanted.edit)
        self.steps.append(step)
        try:
            await self._read_each(alike)
        except BaseException:
            self.back()
            raise
        if unread := next((one for one in alike if one.result.problem is not None), None):
            says = unread.result.problem.says if unread.result.problem is not None else ""
            self.back()
            raise CannotMend(f"{unread.shown_as} could not be read again: {says}")
        self._look_over_all()
        effects = [
            effect_of(
                other.text,
                (),
                [other.source.placed(one) for one in before[id(other)]],
                [other.source.placed(one) for one in self.findings_of(other)],
                [other.source.placed(finding)] if other is file else [],
                writes_only=False,
            )
            for other in alike
        ]
        effects.sort(key=lambda effect: not effect.left)  # a fault that stays says most
        refused = next((Refused(effect) for effect in effects if not effect.counts), None)
        if refused is not None and not (insist and refused.may_be_insisted_on):
            self.back()
            raise refused
        return step

    async def _take_edits(
        self,
        file: MendedFile,
        finding: Finding,
        mend: Mend,
        edits: tuple[Edit, ...],
        *,
        insist: bool,
    ) -> Step:
        source = file.source
        changed_body = with_edits(file.changed_body(), file.charset, edits)
        text = applied(source.text, edits)
        changed = await asyncio.to_thread(open_source, text, "", is_markdown=is_markdown(file.path))
        result = await self._read_again(file, changed, changed_body, edits, finding.check)
        if result.problem is not None:
            raise CannotMend(f"the page could not be read again: {result.problem.says}")
        before = self.findings_of(file)
        step = Step(file, finding, mend, edits, source, file.result, file.passed)
        file.source, file.result = changed, result
        self._look_over_all()
        effect = effect_of(
            source.text,
            edits,
            [source.placed(one) for one in before],
            [changed.placed(one) for one in self.findings_of(file)],
            [source.placed(finding)],
            writes_only=mend.kind in WRITING,
        )
        refused = Refused(effect)
        if not effect.counts and not (insist and refused.may_be_insisted_on):
            file.source, file.result = source, step.result
            self._look_over_all()
            raise refused
        moved = Moved(edits)
        file.passed = frozenset(
            (check, moved.after(place) if isinstance(place, int) else place)
            for check, place in file.passed
        )
        file.steps.append(step)
        self.steps.append(step)
        return step

    def back(self) -> Step | None:
        """Take the last mend back; return it, or None where there is none."""
        if not self.steps:
            return None
        step = self.steps.pop()
        if step.sheet is not None:
            step.sheet.edits.pop()
            for other, result in step.others:
                other.result = result
            self._look_over_all()
            return step
        step.file.steps.pop()
        step.file.source, step.file.result = step.source, step.result
        step.file.passed = step.passed
        self._look_over_all()
        return step

    def write(self) -> list[tuple[Mended, Problem | None]]:
        """Write the files that were mended; one that was changed meanwhile, or cannot be written,
        is left as it is and comes with its problem."""
        return [(file, written(file)) for file in self.changed]


@contextlib.asynccontextmanager
async def mending(
    targets: Sequence[Target], settings: LookSettings
) -> AsyncIterator[MendingSession]:
    """Open files for mending."""
    async with PageReader(settings.lens, settings.limits, tabs=settings.parallel) as reader:
        session = MendingSession(reader, settings)
        await session.open(targets)
        yield session


def _at(finding: Finding, moved: Moved, before: Lines, after: Lines) -> Finding:
    if finding.line is None or finding.column is None:
        return finding
    line, column = after.of(moved.after(before.offset(finding.line, finding.column)))
    return replace(finding, line=line, column=column)


def _texts_in(picture: Path) -> list[PictureText]:
    try:
        if picture.stat().st_size > MOST_BYTES:
            return []
        return texts_in_file(picture.read_bytes())
    except OSError:
        return []
