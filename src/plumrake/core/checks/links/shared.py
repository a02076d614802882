"""What the checks of links share."""

from __future__ import annotations

from plumrake.core.dom import Element, is_blank

_CODE = ("code", "kbd", "samp", "var", "tt")


def target_of(link: Element) -> str:
    """Return where a link leads, as written, for a sentence; “nowhere” where the address is missing or empty."""
    address = (link.get("href") or link.get("xlink:href")).strip()
    if not address:
        return "nowhere"
    return address if len(address) <= 80 else address[:79] + "…"


def is_code(link: Element) -> bool:
    """Tell whether all the link's text is a piece of code, so that it is a name of its own and no phrase (``read()``, ``...``)."""
    texts = [text for text in link.texts() if not is_blank(text.data)]
    return bool(texts) and all(text.parent.tag in _CODE or text.parent.closest(*_CODE) is not None for text in texts)
