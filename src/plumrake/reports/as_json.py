"""The result of a look, or of a sweep, as JSON."""

from __future__ import annotations

import json
import textwrap
from collections.abc import Iterable, Iterator

from plumrake import __version__
from plumrake.reports.pages import Summary, page_dict
from plumrake.reports.report import About, ReportedPage


def json_pieces(pages: Iterable[ReportedPage], about: About) -> Iterator[str]:
    """Yield one document, page by page."""
    head = {
        "plumrake": __version__,
        "standard": about.policy.standard,
        "level": about.policy.level,
        "started": about.started,
        "seconds": round(about.seconds, 2) if about.seconds is not None else None,
    }
    yield f'{_json(head)[:-2]},\n  "pages": ['
    summary = Summary(about.hold)
    between = ""
    for reported in pages:
        summary.add(reported.counted)
        document = page_dict(reported.page)
        for finding, shaped in zip(reported.page.findings, document["findings"], strict=True):
            note = reported.note(finding)
            if note.waived:
                shaped["waived"] = note.waived
            if note.new is not None:
                shaped["new"] = note.new
        yield f"{between}\n{textwrap.indent(_json(document), '    ')}"
        between = ","
    gone = [{"place_key": one.place_key, "check": one.check} for one in about.gone]
    tail = {"summary": summary.as_dict(), **({"gone": gone} if about.gone else {})}
    yield f"\n  ],\n{_json(tail)[2:]}\n"


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False, indent=2)
