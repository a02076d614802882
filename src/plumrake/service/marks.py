"""The script by which a page of a staging site shows what was found on it."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files

from plumrake.models.labels import MARKS_WORDS


@cache
def _panel() -> str:
    """Return the panel's script, which the plugin of WordPress ships as well."""
    script = files("plumrake.connectors") / "wordpress" / "plumrake" / "marks.js"
    return script.read_text(encoding="utf-8")


def marks_script(service: str, site: str) -> str:
    """Return the script for a site: it knows where the service is, and holds no secret. What was
    found comes from a window of the service, to whoever is signed in there."""
    given = {"service": service, "site": site, "words": MARKS_WORDS}
    return f"window.plumrakeMarks = {json.dumps(given)};\n{_panel()}"
