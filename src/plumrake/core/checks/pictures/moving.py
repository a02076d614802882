"""A film or recording lacks its text, or begins by itself.

What is only heard or only seen in a recording needs another way to it: captions for speech in
films, a transcript for sound. Sound that begins by itself drowns the voice of a screen reader.

## Who is hindered

People who are deaf or hard of hearing, and everybody without sound. With sound that begins by
itself: people who listen to the page, and people who cannot concentrate then.

## What an editor does

Add captions to the film; many programs make a draft that you only have to mend. Put a link to the
transcript beside a recording. Switch off "start by itself".

## What a template developer does

Print ``track kind="captions"`` for every film that has them, and never print ``autoplay`` for
media with sound.

## Wrong

    <video src="/media/regatta.mp4" controls></video>

## Right

    <video src="/media/regatta.mp4" controls><track kind="captions" src="/media/regatta.vtt" srclang="en"></video>

## Left alone

Silent films (``muted``), films with a track of captions or subtitles, recordings beside a link to
their transcript. Whether captions are right is for review by eye.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import holds_phrase, listed, normalised

_WORDS_AROUND = ("figure", "li", "section", "article", "div", "p", "td", "main", "body")


@check(
    id="pictures/moving",
    weight=Weight.BARRIER,
    criteria=("1.2.1", "1.2.2", "1.4.2"),
    needs=Needs.TREE,
    messages={
        "no-captions": "The film {file} has no track of captions.",
        "no-transcript": "The recording {file} has no link to a transcript near it.",
        "autoplay": "{file} begins to play with sound by itself.",
    },
    questions={
        "no-captions": "Is anything said in this film that is not captioned within the picture?",
        "no-transcript": "Is what is heard here written down somewhere else on the page?",
    },
)
def moving(page: Page) -> Iterator[Flag]:
    """Yield films without captions, recordings without transcript, and both when they begin with sound by themselves."""
    for element in page.elements:
        if element.tag not in ("video", "audio") or element.closest("template", "noscript") is not None:
            continue
        file = _file(element)
        facts = {"file": file, "autoplay": element.has("autoplay"), "muted": element.has("muted")}
        if element.has("autoplay") and not element.has("muted") and (element.tag == "audio" or page.is_exposed(element)):
            yield failed(
                element,
                "autoplay",
                file=file,
                facts=facts,
                mends=(Mend("remove-attribute", "Do not let it begin by itself: the visitor starts it.", attribute="autoplay"),),
            )
        if not page.is_exposed(element) or element.has("muted"):
            continue
        if element.tag == "video" and not any(_is_captions(track) for track in element.elements()):
            yield cant_tell(element, "no-captions", file=file, facts=facts, mends=(Mend("advice", "Add captions as a track of the film."),))
        if element.tag == "audio" and not _has_transcript(page, element):
            yield cant_tell(
                element,
                "no-transcript",
                file=file,
                facts=facts,
                mends=(Mend("advice", "Put a link to the transcript beside the recording."),),
            )


def _file(element: Element) -> str:
    source = element.get("src") or next((child.get("src") for child in element.elements() if child.tag == "source"), "")
    return source.partition("?")[0].rpartition("/")[2] or "without a file"


def _is_captions(track: Element) -> bool:
    return (
        track.tag == "track"
        and track.get("kind", "subtitles").strip().lower() in ("captions", "subtitles", "")
        and not is_blank(track.get("src"))
    )


def _has_transcript(page: Page, element: Element) -> bool:
    around = element.closest(*_WORDS_AROUND)
    if around is not None and around.tag in ("p", "figure", "div") and around.parent is not None:
        around = around.parent
    known = listed("transcripts", page.language_of(element), {}) | listed("transcripts", "en", {})
    links = [one for one in around.descendants() if one.tag in ("a", "summary", "button")] if around is not None else []
    return any(holds_phrase(normalised(page.name_of(link)), phrase) for link in links for phrase in known)
