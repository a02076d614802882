"""A film has no captions.

Captions write down what is said and heard in a film, at the moment it is heard. Without them
whoever cannot hear the film does not get what it says.

## Who is hindered

People who are deaf or hard of hearing, people who read a language better than they hear it, and
everybody in a place where sound is not wanted.

## What an editor does

Add captions to the film. Many programs make a draft that you only have to correct.

## What a template developer does

Print ``track kind="captions"`` for every film that has captions.

## Wrong

    <video src="/media/regatta.mp4" controls></video>

## Right

    <video src="/media/regatta.mp4" controls><track kind="captions" src="/media/regatta.vtt"
      srclang="en"></video>

## Left alone

Silent films (``muted``), and films with a track of captions or subtitles. Whether captions are
right is for review by eye.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.media.shared import is_heard, played_file, player_facts, players
from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check

_KINDS = ("captions", "subtitles", "")
"""Values of ``kind`` that are captions; a track without one is a track of subtitles (HTML,
4.8.11.1)."""


@check(
    id="media/no-captions",
    weight=Weight.BARRIER,
    criteria=("1.2.2",),
    needs=Needs.TREE,
    only_people="Somebody has to listen to the film and write what is said.",
    messages={"no-captions": "The film {file} has no track of captions."},
    questions={
        "no-captions": "Is anything said in this film that is not captioned within the picture?"
    },
)
def no_captions(page: Page) -> Iterator[Flag]:
    """Yield every exposed film with sound that has no track of captions (WCAG 1.2.2)."""
    for film in players(page, "video"):
        if is_heard(page, film) and not any(_is_captions(track) for track in film.elements()):
            mend = Mend("advice", "Add captions as a track of the film.")
            yield cant_tell(
                film, "no-captions", file=played_file(film), facts=player_facts(film), mends=(mend,)
            )


def _is_captions(track: Element) -> bool:
    kind = track.get("kind", "subtitles").strip().lower()
    return track.tag == "track" and kind in _KINDS and not is_blank(track.get("src"))
