"""What the checks of links share."""

from __future__ import annotations

from plumrake.core.dom import Element


def target_of(link: Element) -> str:
    """Return where a link leads, as written, for a sentence; “nowhere” where the address is missing or empty."""
    address = (link.get("href") or link.get("xlink:href")).strip()
    if not address:
        return "nowhere"
    return address if len(address) <= 80 else address[:79] + "…"
