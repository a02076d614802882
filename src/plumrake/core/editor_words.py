"""What somebody does in the block editor about a finding, in the editor's own words."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

_TEXT: Final = "Settings → Alt text: say what the picture shows"
_LINK: Final = "click into the link, Edit, and write into the text where it leads"
_COLOUR: Final = "Settings → Color: a darker text or a lighter background"
_LEVEL: Final = "toolbar → Change level"
_BY_CHECK: Final[Mapping[str, Mapping[str, str]]] = {
    "pictures/no-text": {"*": _TEXT, "cover": "Media settings → Alt text", "gallery": _TEXT},
    "pictures/file-name-text": {"*": _TEXT, "cover": "Media settings → Alt text"},
    "pictures/filler-text": {"*": _TEXT},
    "pictures/long-text": {"*": "Settings → Alt text: shorter, and the rest below the picture"},
    "pictures/opens-with-picture-of": {"*": "Settings → Alt text: begin with what it shows"},
    "pictures/repeats-nearby": {"*": "Settings → Alt text: leave it empty"},
    "pictures/decorative-to-confirm": {
        "*": "Settings → Alt text: say what it shows, or leave it empty if it says nothing"
    },
    "links/vague": {"*": _LINK, "button": "write on the button where it leads"},
    "links/no-name": {"*": _LINK, "image": "Settings → Alt text: say where the link leads"},
    "links/raw-address": {"*": _LINK},
    "links/file-unsaid": {"*": "write type and size of the file into the link's text"},
    "links/dead": {"*": "click into the link, Edit, and give it another address"},
    "headings/empty": {"*": "write the heading, or toolbar → Options → Remove block"},
    "headings/level-jump": {"*": _LEVEL},
    "headings/several-level-1": {"*": _LEVEL},
    "headings/styled-as-heading": {"paragraph": "toolbar → Transform to → Heading"},
    "headings/used-for-text": {"*": "toolbar → Transform to → Paragraph"},
    "lists/typed-by-hand": {"paragraph": "toolbar → Transform to → List"},
    "tables/no-headers": {"table": "Settings → Header section on"},
    "tables/no-caption": {"table": "write the caption below the table"},
    "contrast/text": {"*": _COLOUR, "cover": "Settings → Overlay: more of it, or a darker one"},
    "contrast/text-on-picture": {"*": "Settings → Overlay: more of it, or a darker one"},
    "text/empty-paragraph": {"*": "toolbar → Options → Remove block"},
    "text/spelling": {"*": "write the word as the dictionary has it"},
    "text/tiny": {"*": "Settings → Typography → Size"},
    "media/no-captions": {"video": "toolbar → Text tracks: add captions"},
    "page/frame-untitled": {"html": 'add title="…" to the iframe'},
}
"""By check and block (``*``: any other) what is to be done there."""


def in_editor(block: str, check: str) -> str:
    """Return what to do in the editor about a finding of a check in a block (its key); ``""`` where
    nobody can say."""
    name = block.partition(" ")[2].removeprefix("core/")
    known = _BY_CHECK.get(check, {})
    return known.get(name, known.get("*", "")) if name else ""
