"""Loads all that assessing a page needs, and assesses one: the processes of ``runners.py`` are
forked from what this leaves in memory, so none of them loads models and dictionaries for itself."""

from __future__ import annotations

import contextlib
import gc

import plumrake.lenses.rendered.decode  # noqa: F401
from plumrake.core.policy import Policy
from plumrake.lenses.assessor import Assessor
from plumrake.spelling.dictionaries import DictionaryUnreadable, lexicon

_PAGE = b"""<!doctype html><html lang=en><title>Locks</title><main><h1>Locks</h1><p>The lock keeper
opens the upper gates at nine in the morning, and closes them again when the last boat of the day
has passed. <a href=/locks/>All locks</a> <img src=a.png alt="A lock"></main></html>"""


def _assess_one() -> None:
    assessor = Assessor()
    assessor.take_source(_PAGE, None)
    assessor.open_markup("http://loaded.invalid/", 1_000)
    assessor.assess(Policy())
    assessor.tell(in_full=True)
    with contextlib.suppress(DictionaryUnreadable):
        if (english := lexicon("en")) is not None:
            english.has_near("lokc")


_assess_one()
# what is loaded stays: no process forked from here looks through it for garbage, which would take
# time and make its memory its own
gc.collect()
gc.freeze()
