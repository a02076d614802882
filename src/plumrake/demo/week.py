"""``plumrake demo week``: a week of the Trust's people at work on staging, by nothing but the
client library.

Monday: a sweep, hand-outs to four editors and a developer. Tuesday: mends and hand-ins, one of
which proves nothing. Wednesday: a waiver and a judgement. Thursday: the template's fault closed by
one change, the waiver ended, the judged page changed. Friday: a fault comes back, a page is no
more.
"""

from __future__ import annotations

import shutil
import time
import tomllib
from collections.abc import Callable, Iterable
from datetime import date, timedelta
from importlib.resources import files
from pathlib import Path
from typing import Any

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.seed import SITE, cast

Say = Callable[[str], None]

_NEWS, _TRUSTEES, _ALBUM, _TOWPATH = (
    "news/*/index.html",
    "about/trustees/index.html",
    "archive/summer-album/index.html",
    "visit/towpath/index.html",
)
_PORTRAIT = '<img src="/media/portrait-6.jpg" width="240" height="240">'
_SHARE = '<a class="round" href="/share/'
_FOOT = '<p class="small">Harrowmere'
_PALE_FOOT = '<p class="small" style="color: #b4b4b4">Harrowmere'
_PROVED_SECONDS = 180.0
_DUE_DAYS = 7


class WeekPlayed(RuntimeError):
    """The demo has fixes already, so its week cannot begin."""

    code = "week-played"


def week_key() -> dict[str, Any]:
    """Return what stands at the end of the week: fixes by state and by owner, moves, waivers,
    judgements."""
    return tomllib.loads(
        files("plumrake.demo").joinpath("content", "week_key.toml").read_text(encoding="utf-8")
    )


class Week:
    """The week on a running demo: the service at ``server``, the files of the staging environment
    in ``staging``."""

    def __init__(self, server: str, staging: Path, say: Say) -> None:
        self._staging = staging
        self._say = say
        known = cast()
        self._people: dict[str, PlumRake] = {}
        for person in known["people"]:
            rake = PlumRake(server, timeout=120)
            rake.people.sign_in(person["email"], known["password"])
            self._people[person["email"].partition("@")[0]] = rake
        self.manager = self._people["philippa"]

    def play(self) -> dict[str, Any]:
        """Play the week; return what stands at its end, in the shape of ``week_key``. Raises
        ``WeekPlayed``."""
        if next(self.manager.fixes.list(SITE), None) is not None:
            raise WeekPlayed("the demo has fixes already; 'make clean-demo' begins anew")
        for day, act in (
            ("Monday", self._monday),
            ("Tuesday", self._tuesday),
            ("Wednesday", self._wednesday),
            ("Thursday", self._thursday),
            ("Friday", self._friday),
        ):
            self._say(day)
            act()
        return self.figures()

    def close(self) -> None:
        """Close the connections."""
        for rake in self._people.values():
            rake.close()

    def _monday(self) -> None:
        self._write(_FOOT, _PALE_FOOT, "**/index.html")
        sweep = self._sweep("a new footer is in staging")
        wanted = [
            one.key
            for one in self.manager.causes.list(SITE, sweep=sweep.id, outcome="failed")
            if one.weight != "friction"
        ]
        due = date.today() + timedelta(days=_DUE_DAYS)
        made = self.manager.fixes.hand_out(
            SITE, sweep=sweep.id, causes=wanted, due_on=due, why="before the winter fair"
        )
        self._say(f"  Philippa hands out {len(made)} causes: {self._by_owner(made)}")

    def _tuesday(self) -> None:
        self._write(
            "background: #f3c64b; color: #ffffff",
            "background: #f3c64b; color: #1f2a30",
            "assets/site.css",
        )
        self._hand_in("ned", "contrast/text", "/stoppages/", "dark words on the yellow")
        self._write(_SHARE, '<a class="round" aria-label="Share" href="/share/', _NEWS)
        self._hand_in("ruth", "links/no-name", "/news/", "the share links have names")
        self._write(_PORTRAIT, _PORTRAIT[:-1] + ' alt="Tobias Rudd">', _TRUSTEES)
        self._hand_in(
            "osric", "pictures/no-text", "/about/trustees/", "his name is under the picture"
        )
        self._hand_in("imke", "contrast/text", "/visit/towpath/", "darker now")

    def _wednesday(self) -> None:
        fix = self._fix("keyboard/trap", "/")
        waiver = self.manager.decisions.waive(
            fix.finding_id or 0,
            scope="cause",
            reason="the lock simulator is rebuilt in spring",
            ends_on=date.today() + timedelta(days=120),
        )
        self._say(f"  Philippa waives “{fix.says}” until {waiver.ends_on}")
        film = self._doubtful("media/no-captions", "/archive/summer-album/")
        self._people["osric"].decisions.judge(
            film.id, "fine", "nobody speaks in it; the painter works in silence"
        )
        self._say(f"  Osric judges “{film.says}”: fine")
        self._people["imke"].fixes.move(
            self._fix("contrast/text", "/visit/towpath/"),
            "note",
            why="@tamsin is this one of the template?",
        )

    def _thursday(self) -> None:
        self._write(_PALE_FOOT, _FOOT, "**/index.html")
        self._hand_in("tamsin", "contrast/text", "", "the footer is dark again", by_template=True)
        waiver = next(self.manager.decisions.waivers(SITE, in_force=True))
        self.manager.decisions.end_waiver(SITE, waiver.id)
        self._say("  Philippa ends the waiver: the simulator is rebuilt earlier")
        self._write("/media/painting.mp4", "/media/kettle.mp4", _ALBUM)
        self._sweep("another film is in the album")
        lapsed = list(self.manager.decisions.judgements(SITE, lapsed=True))
        self._say(f"  {len(lapsed)} judgement lapsed")

    def _friday(self) -> None:
        self._write(_PORTRAIT[:-1] + ' alt="Tobias Rudd">', _PORTRAIT, _TRUSTEES)
        shutil.rmtree(self._staging / "visit/gallery")
        self._sweep("an old page of trustees was put back, the gallery is no more")

    def _sweep(self, why: str) -> models.Sweep:
        sweep = self.manager.sweeps.start(SITE, environment="staging")
        for _ in self.manager.sweeps.follow(sweep.id):
            pass
        done = self.manager.sweeps.show(sweep.id)
        self._say(f"  Philippa sweeps staging ({why}): {done.ready} of {done.total} pages ready")
        return done

    def _fix(self, check: str, path: str, *, by_template: bool = False) -> models.Fix:
        found = self.manager.fixes.list(SITE, check=check, path=path or None)
        return next(fix for fix in found if fix.by_template == by_template)

    def _hand_in(
        self, who: str, check: str, path: str, why: str, *, by_template: bool = False
    ) -> None:
        """Take a fix and hand it in, then wait for what the reading says."""
        rake, fix = self._people[who], self._fix(check, path, by_template=by_template)
        rake.fixes.move(rake.fixes.move(fix, "take"), "hand_in", why=why)
        end = time.monotonic() + _PROVED_SECONDS
        while (seen := rake.fixes.show(fix.id)).state == "handed_in" and time.monotonic() < end:
            time.sleep(0.3)
        self._say(
            f"  {who.capitalize()} hands in “{fix.says}” ({fix.pages} "
            f"page{'s' * (fix.pages != 1)}): {seen.state}, {seen.events[-1].why}"
        )

    def _doubtful(self, check: str, path: str) -> models.Finding:
        sweep = next(
            one
            for one in self.manager.sweeps.list(SITE)
            if one.environment == "staging" and one.scope == "all"
        )
        return next(
            self.manager.findings.list(
                SITE, sweep=sweep.id, check=check, outcome="cantTell", path=path
            )
        )

    def _write(self, old: str, new: str, pattern: str) -> None:
        """Replace a text in files of staging, as an editor does in the CMS."""
        changed = 0
        for file in self._staging.glob(pattern):
            text = file.read_text(encoding="utf-8")
            if old in text:
                file.write_text(text.replace(old, new), encoding="utf-8")
                changed += 1
        assert changed, f"nothing in {pattern} holds {old}"

    @staticmethod
    def _by_owner(made: Iterable[models.Fix]) -> str:
        owners = [fix.owner or "nobody" for fix in made]
        return ", ".join(f"{owners.count(name)} to {name}" for name in sorted(set(owners)))

    def figures(self) -> dict[str, Any]:
        """Return what stands now, in the shape of ``week_key``."""
        figures = self.manager.fixes.figures(SITE)
        moves: dict[str, int] = {}
        for event in self.manager.fixes.history(SITE):
            moves[event.move] = moves.get(event.move, 0) + 1
        waivers, judgements = (
            list(self.manager.decisions.waivers(SITE)),
            list(self.manager.decisions.judgements(SITE)),
        )
        return {
            "states": dict(sorted(figures.states.items())),
            "owners": {
                one.owner: {
                    name: count
                    for name in ("open", "in_hand", "handed_in", "reopened", "proven", "waived")
                    if (count := getattr(one, name))
                }
                for one in figures.owners
            },
            "moves": dict(sorted(moves.items())),
            "decided": {
                "waivers": len(waivers),
                "waivers_ended": sum(one.ended_at is not None for one in waivers),
                "judgements": len(judgements),
                "judgements_lapsed": sum(one.lapsed_at is not None for one in judgements),
            },
        }
