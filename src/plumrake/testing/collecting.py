"""The readings of a whole run: from workers, into one report, into a baseline."""

from __future__ import annotations

import datetime
import os
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from plumrake.core.assess import checks_asked
from plumrake.core.findings import Finding, path_of
from plumrake.core.policy import Policy, policy_from
from plumrake.report_forms import ReportForm
from plumrake.reports.baseline import Baseline, parse_baseline, written_baseline
from plumrake.reports.pages import Reported
from plumrake.reports.report import FILE_ENDS, About, written
from plumrake.testing.reading import HandedOver, Reading


def form_of(file: Path) -> ReportForm | None:
    """Return the format that a file's ending asks for; None where it is none."""
    ends = sorted(FILE_ENDS.items(), key=lambda one: -len(one[1]))
    return next((form for form, end in ends if file.name.lower().endswith(f".{end}")), None)


def baseline_of(file: Path | None, *, is_kept: bool) -> Baseline | None:
    """Return the baseline of a file; while one is written everything is known. Raises
    ``BadBaseline``."""
    if file is None or not file.is_file():
        return _Everything({}) if is_kept else None
    known = parse_baseline(file.read_text(encoding="utf-8"))
    return _Everything(known.known) if is_kept else known


class _Everything(Baseline):
    def is_new(self, place_key: str) -> bool:
        return False


def _now() -> str:
    return datetime.datetime.now(datetime.UTC).isoformat(timespec="seconds")


@dataclass(slots=True)
class Collected:
    """The readings of a run, in their order."""

    readings: list[Reading] = field(default_factory=list)
    begun: str = field(default_factory=_now)

    def add(self, reading: Reading) -> None:
        """Take a reading in."""
        self.readings.append(reading)

    def rows(self) -> list[dict[str, Any]]:
        """Return the readings as data of JSON."""
        return [
            {
                "page": asdict(one.page),
                "policy": one.policy.model_dump(mode="json"),
                "areas": sorted(one.areas),
                "known": sorted(one.known),
                "without": dict(one.without),
                "handed_over": asdict(one.handed_over) if one.handed_over is not None else None,
            }
            for one in self.readings
        ]

    def add_rows(self, rows: Sequence[dict[str, Any]]) -> None:
        """Take readings in that ``rows`` gave."""
        self.readings += [
            Reading(
                _page(row["page"]),
                policy_from(row["policy"]),
                frozenset(row["areas"]),
                frozenset(row["known"]),
                row["without"],
                HandedOver(**row["handed_over"]) if row["handed_over"] is not None else None,
            )
            for row in rows
        ]

    def write(self, file: Path, name: str) -> Path:
        """Write the report that the file's ending asks for; return the file."""
        form = form_of(file)
        assert form is not None, "the plugin refuses other endings"
        policy = self.readings[0].policy if self.readings else Policy()
        about = About(name, policy, self.begun, [one.id for one in checks_asked(policy)])
        pages = [one.reported() for one in sorted(self.readings, key=lambda one: one.page.address)]
        file.parent.mkdir(parents=True, exist_ok=True)
        with file.open("w", encoding="utf-8", newline="") as out:
            out.writelines(written(form, pages, about))
        return file

    def send(self, site: str, environment: str) -> int:
        """Send the pages that were read to a site of the service (``PLUMRAKE_SERVER``, with the
        token of ``plumrake login`` or ``PLUMRAKE_TOKEN``); return the number of the sweep that
        reads them. Raises ``PlumRakeError``."""
        from plumrake import models  # only where there is a service
        from plumrake.cli.connection import DEFAULT_SERVER, kept_token
        from plumrake.client import PlumRake

        states = {
            path_of(one.page.address): one.handed_over
            for one in self.readings
            if one.handed_over is not None
        }
        asked = models.NewReadings(
            environment=environment,
            states=[
                models.HandedOver(path=path, source=one.source, answer=one.answer)
                for path, one in states.items()
            ],
        )
        server = os.environ.get("PLUMRAKE_SERVER", DEFAULT_SERVER).rstrip("/")
        with PlumRake(server, token=kept_token(server)) as rake:
            return rake.sweeps.hand_over(site, asked).id

    def write_baseline(self, file: Path) -> None:
        """Write what was found into a baseline; what it knows of other pages stays."""
        before = parse_baseline(file.read_text(encoding="utf-8")) if file.is_file() else None
        file.write_text(written_baseline((one.page for one in self.readings), before), "utf-8")


def _page(row: dict[str, Any]) -> Reported:
    findings = tuple(
        Finding(**{name: _fixed(name, value) for name, value in one.items()})
        for one in row["findings"]
    )
    untested = tuple((check, needs) for check, needs in row["untested"])
    return Reported(**{**row, "findings": findings, "untested": untested})


def _fixed(name: str, value: Any) -> Any:
    return tuple(value) if name in ("criteria", "mends", "box", "nearest_box") and value else value
