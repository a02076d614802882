"""A recording has no transcript beside it.

A transcript writes down what is said in a recording. Without one, whoever cannot hear it gets
nothing of it, and nobody can look something up in it.

## Who is hindered

People who are deaf or hard of hearing, people who cannot follow fast speech, and everybody in a
place where sound is not wanted.

## What an editor does

Put a link to the transcript beside the recording, or the transcript itself below it.

## What a template developer does

Give recordings a field for their transcript, and print a link to it beside the player.

## Wrong

    <p><audio src="/media/kettle.mp3" controls></audio></p>

## Right

    <p><audio src="/media/kettle.mp3" controls></audio> <a
      href="/kettle-transcript/">Transcript</a></p>

## Left alone

Muted recordings, and recordings beside a link to their transcript.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.media.shared import is_heard, played_file, player_facts, players
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import holds_phrase, listed, normalised

_WORDS_AROUND = ("figure", "li", "section", "article", "div", "p", "td", "main", "body")


@check(
    id="media/no-transcript",
    weight=Weight.BARRIER,
    criteria=("1.2.1",),
    needs=Needs.TREE,
    only_people="Somebody has to listen to the recording and write what is said.",
    messages={"no-transcript": "The recording {file} has no link to a transcript near it."},
    questions={"no-transcript": "Is what is heard here written down somewhere else on the page?"},
)
def no_transcript(page: Page) -> Iterator[Flag]:
    """Yield every exposed recording that no link to a transcript stands beside (WCAG 1.2.1)."""
    leads: dict[int, bool] = {}
    for recording in players(page, "audio"):
        if is_heard(page, recording) and not _has_transcript(page, recording, leads):
            mend = Mend("advice", "Put a link to the transcript beside the recording.")
            yield cant_tell(
                recording,
                "no-transcript",
                file=played_file(recording),
                facts=player_facts(recording),
                mends=(mend,),
            )


def _has_transcript(page: Page, element: Element, leads: dict[int, bool]) -> bool:
    """Tell whether a link to a transcript is near; ``leads`` remembers it by what is around."""
    around = element.closest(*_WORDS_AROUND)
    if around is not None and around.tag in ("p", "figure", "div") and around.parent is not None:
        around = around.parent
    if around is None:
        return False
    if around.index not in leads:
        leads[around.index] = _leads_to_transcript(page, around)
    return leads[around.index]


def _leads_to_transcript(page: Page, around: Element) -> bool:
    known = listed("transcripts", page.language_of(around), {}) | listed("transcripts", "en", {})
    names = [
        normalised(page.name_of(one))
        for one in around.descendants()
        if one.tag in ("a", "summary", "button")
    ]
    return any(holds_phrase(name, phrase) for name in names for phrase in known)
