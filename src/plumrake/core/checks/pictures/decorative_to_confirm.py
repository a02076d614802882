"""A picture marked as decorative may say something.

An empty text tells screen readers to pass the picture over. That is right for what adorns and wrong
for what informs. Large pictures, pictures with a caption and pictures that have a text elsewhere on
the page are worth a second look.

## Who is hindered

People who listen to the page, if the picture says something: they do not learn that it is there.

## What an editor does

Look at the picture at its place. Does the page lose anything without it? Then write what it says.
If not, confirm that it is decorative.

## What a template developer does

Do not print an empty text as the default for content pictures.

## Wrong

    <figure><img src="/media/plan.png" alt=""><figcaption>The moorings from
      April</figcaption></figure>

## Right

    <figure><img src="/media/plan.png" alt="Plan: berths 1 to 12 lie on the north
      bank"><figcaption>The moorings from April</figcaption></figure>

## Left alone

Small pictures without a caption. Pictures hidden from screen readers in another way.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import (
    file_of,
    is_picture,
    marked_as_decorative,
    own_file,
    pictures,
    size_of,
    write_text,
)
from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_LARGE = 150
_ICON = 48
_GROUP = 3
_PHOTOGRAPHS = (".jpg", ".jpeg", ".webp", ".avif")
_NO_GROUPS = ("main", "article", "section", "body", "html")


@check(
    id="pictures/decorative-to-confirm",
    weight=Weight.OBSTACLE,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    messages={
        "large": "The picture {file} is marked as decorative and is {size} px large.",
        "captioned": "The picture {file} is marked as decorative and has the caption “{caption}”.",
        "elsewhere": (
            "The picture {file} is marked as decorative here; elsewhere on the page its text is "
            "“{text}”."
        ),
        "group": (
            "{count} photographs beside each other, such as {file}, are all marked as decorative."
        ),
    },
    questions={
        "group": "Does each of them show something of its own? Then each needs a text.",
        "large": "Does the page lose anything without this picture? Then it needs a text.",
        "captioned": "Does the picture say more than its caption? Then it needs a text.",
        "elsewhere": "Does the picture say something here as well? Then it needs a text here too.",
    },
)
def decorative_to_confirm(page: Page) -> Iterator[Flag]:
    """Yield every exposed picture marked as decorative that is large, captioned, or has a text
    elsewhere on the page; and the first of several small ones that stand together."""
    texts = {
        own_file(page, element): name
        for element in pictures(page)
        if own_file(page, element) and (name := page.name_of(element))
    }
    small: list[Element] = []
    for element in page.every_exposed():
        if element.tag not in ("img", "svg", "object", "canvas") or not _is_decorative(
            page, element
        ):
            continue
        size = size_of(element)
        caption, text = _caption(page, element), texts.get(own_file(page, element), "")
        message = "captioned" if caption else "elsewhere" if text else "large"
        if message == "large" and (size is None or min(size) < _LARGE):
            small.append(element)
            continue
        shown = f"{size[0]:g}×{size[1]:g}" if size else None
        yield cant_tell(
            element,
            message,
            file=file_of(element) or "without a file",
            size=shown,
            caption=shortened(caption),
            text=shortened(text),
            facts={
                "file": file_of(element),
                "size": shown,
                "caption": caption or None,
                "text_elsewhere": text or None,
            },
            mends=(
                write_text(element)
                if is_blank(element.get("role"))
                else Mend("say-with-text", "Write what the picture tells the reader here."),
                Mend("advice", "Or leave it as it is, and judge it to be fine: it is decorative."),
            ),
        )

    yield from _groups(small)


def _groups(small: list[Element]) -> Iterator[Flag]:
    """Yield the first of several small photographs that stand together without any text: all of
    them are asked about as one."""
    groups: dict[int, list[Element]] = {}
    for element in small:
        holder = _holder(element)
        if holder is not None and _is_photograph(element):
            groups.setdefault(holder.index, []).append(element)
    for members in groups.values():
        if len(members) >= _GROUP:
            first = members[0]
            yield cant_tell(
                first,
                "group",
                count=len(members),
                file=file_of(first) or "without a file",
                facts={"files": [file_of(one) for one in members[:20]], "count": len(members)},
                mends=(
                    write_text(first, "Write what it shows, and go on with those beside it."),
                    Mend("advice", "Or leave them as they are, and judge it to be fine."),
                ),
            )


def _holder(element: Element) -> Element | None:
    """Return the outermost element around a picture that holds no text."""
    found = None
    for ancestor in element.ancestors():
        if ancestor.tag in _NO_GROUPS or not is_blank(ancestor.text()):
            break
        found = ancestor
    return found


def _is_photograph(element: Element) -> bool:
    size = size_of(element)
    is_icon = size is not None and max(size) < _ICON
    return file_of(element).lower().endswith(_PHOTOGRAPHS) and not is_icon


def _is_decorative(page: Page, element: Element) -> bool:
    return (
        marked_as_decorative(page, element)
        and (
            element.tag != "svg"
            or is_picture(page, element)
            or page.explicit_role(element) == "none"
        )
        and not page.name_of(element)
    )


def _caption(page: Page, element: Element) -> str:
    figure = element.closest("figure")
    caption = (
        next((child for child in figure.elements() if child.tag == "figcaption"), None)
        if figure is not None
        else None
    )
    return page.text_of(caption) if caption is not None else ""
