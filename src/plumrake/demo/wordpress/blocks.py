"""Blocks as WordPress's editor writes them."""

from __future__ import annotations

from plumrake.core.blocks import written_attributes


def block(name: str, html: str, **attributes: object) -> str:
    """Return a block with its HTML."""
    given = f" {written_attributes(attributes)}" if attributes else ""
    return f"<!-- wp:{name}{given} -->\n{html}\n<!-- /wp:{name} -->"


def paragraph(html: str) -> str:
    """Return a paragraph."""
    return block("paragraph", f"<p>{html}</p>")


def heading(html: str, level: int = 2) -> str:
    """Return a heading."""
    given = {} if level == 2 else {"level": level}
    return block("heading", f"<h{level}>{html}</h{level}>", **given)


def coloured(html: str, colour: str) -> str:
    """Return a paragraph whose text has a colour of its own."""
    style = f'<p class="has-text-color" style="color:{colour}">{html}</p>'
    return block("paragraph", style, style={"color": {"text": colour}})


def picture(name: str, alt: str | None) -> str:
    """Return a picture of the media library; ``{name}`` stands for its number and address."""
    said = "" if alt is None else alt
    return block(
        "image",
        f'<figure class="wp-block-image size-large"><img src="[address {name}]" alt="{said}" '
        f'class="wp-image-[number {name}]"/></figure>',
        id=f"[number {name}]",
        sizeSlug="large",
        linkDestination="none",
    ).replace(f'"[number {name}]"', f"[number {name}]", 1)


def cover(name: str, inside: str) -> str:
    """Return a cover: blocks over a picture of the media library, which is decorative."""
    return block(
        "cover",
        '<div class="wp-block-cover"><span aria-hidden="true" class="wp-block-cover__background '
        'has-background-dim-80 has-background-dim"></span><img class="wp-block-cover__image-'
        f'background wp-image-[number {name}]" alt="" src="[address {name}]" '
        'data-object-fit="cover"/>'
        f'<div class="wp-block-cover__inner-container">{inside}</div></div>',
        url=f"[address {name}]",
        id=f"[number {name}]",
        dimRatio=80,
    ).replace(f'"[number {name}]"', f"[number {name}]", 1)


def plan_your_visit() -> str:
    """Return what the pattern "Plan your visit" of the garden (garden.php) puts into a page."""
    return block(
        "group",
        '<div class="wp-block-group">'
        + paragraph('Opening hours and tickets: <a href="/prices/">read more</a>.')
        + "</div>",
        layout={"type": "constrained"},
    )


def gallery(*pictures: str) -> str:
    """Return a gallery of pictures."""
    return block(
        "gallery",
        '<figure class="wp-block-gallery has-nested-images columns-default is-cropped">'
        + "\n\n".join(pictures)
        + "</figure>",
        linkTo="none",
    )


def table(rows: list[list[str]], *, head: bool = True) -> str:
    """Return a table, its first row as header section or not."""

    def row(cells: list[str], tag: str) -> str:
        return "<tr>" + "".join(f"<{tag}>{cell}</{tag}>" for cell in cells) + "</tr>"

    top = f"<thead>{row(rows[0], 'th')}</thead>" if head else ""
    body = "".join(row(cells, "td") for cells in (rows[1:] if head else rows))
    return block(
        "table",
        f'<figure class="wp-block-table"><table>{top}<tbody>{body}</tbody></table></figure>',
    )


def items(*lines: str, ordered: bool = False) -> str:
    """Return a list."""
    tag = "ol" if ordered else "ul"
    inner = "\n\n".join(block("list-item", f"<li>{line}</li>") for line in lines)
    given: dict[str, object] = {"ordered": True} if ordered else {}
    return block("list", f"<{tag}>{inner}</{tag}>", **given)


def columns(*inside: str) -> str:
    """Return columns, a block in each."""
    made = "\n\n".join(
        block("column", f'<div class="wp-block-column">{one}</div>') for one in inside
    )
    return block("columns", f'<div class="wp-block-columns">{made}</div>')


def button(words: str, address: str) -> str:
    """Return a button."""
    link = f'<a class="wp-block-button__link wp-element-button" href="{address}">{words}</a>'
    one = block("button", f'<div class="wp-block-button">{link}</div>')
    return block("buttons", f'<div class="wp-block-buttons">{one}</div>')
