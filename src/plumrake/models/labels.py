"""What people read in place of the names of states and notifications: commands,
feeds, e-mails and, by ``scripts/make_terms.py``, the console take it from here."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

STATE_LABELS: Mapping[str, str] = MappingProxyType(
    {
        "open": "to mend",
        "in_hand": "in hand",
        "reopened": "found again",
        "handed_in": "handed in",
        "proven": "proven",
        "waived": "waived",
        "page_gone": "page gone",
    }
)
LABELS_AFTER: Mapping[str, str] = MappingProxyType(
    {"reopened after handed_in": "still there", "reopened after proven": "came back"}
)
"""What a state is called that was reached from a certain other one: a fault that was never gone is
still there, one that was proven to be gone came back."""
CORRECTION_LABELS: Mapping[str, str] = MappingProxyType(
    {
        "waiting": "being read",
        "refused": "refused",
        "drafted": "drafted",
        "written": "written",
        "proven": "proven",
        "conflict": "conflict",
        "taken_back": "taken back",
    }
)
ITEM_STATUS_LABELS: Mapping[str, str] = MappingProxyType(
    {"draft": "draft", "pending": "in review", "future": "scheduled", "publish": "public"}
)
"""What the status of a content system's item is called."""
ANSWER_LABELS: Mapping[str, str] = MappingProxyType(
    {"fine": "fine", "fault": "a fault", "does-not-apply": "does not apply"}
)
"""What the answers to questions of a review are called."""
REPORT_FORM_LABELS: Mapping[str, str] = MappingProxyType(
    {
        "html": "HTML to read and print",
        "csv": "CSV for a spreadsheet",
        "sarif": "SARIF for development tools",
        "junit": "JUnit for pipelines",
        "earl": "EARL for evaluation reports",
        "json": "JSON",
    }
)
"""What the formats of reports are called, in the order in which they are offered."""
NOTIFICATION_LABELS: Mapping[str, str] = MappingProxyType(
    {
        "mentioned": "You are mentioned",
        "reopened": "Found again",
        "handed_out": "New for you",
        "waiver_ended": "A waiver is over",
        "proven": "Proven mended",
        "handed_in": "Handed in",
    }
)
"""In the order in which an e-mail lists them."""


def state_label(state: str, reopened_after: str | None = None) -> str:
    """Return what a fix's state is called; ``reopened_after`` is the state that it was reopened
    from."""
    label = LABELS_AFTER.get(f"{state} after {reopened_after}")
    return label or STATE_LABELS.get(state, state)


def notification_label(kind: str, reopened_after: str | None = None) -> str:
    """Return the title of a notification, by the same table."""
    label = LABELS_AFTER.get(f"{kind} after {reopened_after}", "").capitalize()
    return label or NOTIFICATION_LABELS.get(kind, kind)


def correction_label(state: str) -> str:
    """Return what a correction's state is called."""
    return CORRECTION_LABELS.get(state, state)


MARKS_WORDS = {
    "title": "Plum Rake",
    "ask": "What was found here?",
    "asks": "Asking what was found here …",
    "found": "%d found on this page. Next, or the key n, leads to them.",
    "nothing": "Nothing was found on this page when it was read last.",
    "away": "Plum Rake does not answer.",
    "place": "Place %1$d of %2$d",
    "hidden": "It is hidden; what is marked is the nearest thing around it that can be seen.",
    "before": "Before",
    "next": "Next",
    "shut": "Close",
    "finding": "Open the finding",
    "fix": "Open its fix",
    "edit": "Open for editing",
    "more": "Read more",
}
"""What the panel on a staging site says."""
