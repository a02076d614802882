"""The result of a look as JSON."""

from __future__ import annotations

import json
from collections.abc import Sequence

from plumrake import __version__
from plumrake.reports.pages import Reported, page_dict, summary_dict


def to_json(
    pages: Sequence[Reported], *, standard: str, level: str, started: str, seconds: float, hold: str
) -> str:
    """Return the whole result as one JSON document; ``started`` is ISO 8601, ``seconds`` the time
    it took."""
    document = {
        "plumrake": __version__,
        "standard": standard,
        "level": level,
        "started": started,
        "seconds": round(seconds, 2),
        "pages": [page_dict(page) for page in pages],
        "summary": summary_dict(pages, hold),
    }
    return json.dumps(document, ensure_ascii=False, indent=2) + "\n"
