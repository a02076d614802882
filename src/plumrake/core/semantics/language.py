"""The language of an element: the nearest ``lang`` on it or above it (HTML Standard, 3.2.6.2)."""

from __future__ import annotations

from plumrake.core.dom import Element


class Languages:
    """The languages of a document's elements. What was found on the way up is kept, so that deep
    pages are not climbed again and again."""

    def __init__(self) -> None:
        self._known: dict[int, str] = {}

    def tag_of(self, element: Element) -> str:
        """Return the whole language tag in lower case, or ``""`` where none is given."""
        passed: list[int] = []
        holder: Element | None = element
        found = ""
        while holder is not None:
            if holder.index in self._known:
                found = self._known[holder.index]
                break
            passed.append(holder.index)
            written = next(
                (holder.get(name) for name in ("lang", "xml:lang") if holder.has(name)), None
            )
            if written is not None:
                found = written.strip().lower().replace("_", "-")
                break
            holder = holder.parent
        self._known.update(dict.fromkeys(passed, found))
        return found
