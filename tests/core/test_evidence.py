"""What is learnt of a page makes a new page; document and evidence stay as they are."""

from __future__ import annotations

from dataclasses import FrozenInstanceError

import pytest

from plumrake.core.evidence import Network, Walk
from plumrake.core.page import Page
from plumrake.lenses.markup import parse_document

HTML = "<!doctype html><html lang=en><title>Fees</title><body><h1>Fees</h1><a href=/x>Locks</a>"


def test_learning_makes_a_new_page() -> None:
    """The new page knows more, the old one what it knew; what the document means is worked out
    once."""
    page = Page(parse_document(HTML, "http://fees.invalid/"))
    before = page.exposed(role="link")
    more = page.knowing("network", network=Network({}, ())).knowing("keyboard", walk=Walk((1,)))
    assert page.evidence.kinds == page.document.gives
    assert page.evidence.network is None
    assert more.evidence.kinds == page.document.gives | {"network", "keyboard"}
    assert (more.evidence.network, more.evidence.walk) == (Network({}, ()), Walk((1,)))
    assert more.document is page.document
    assert more.exposed(role="link") is before


def test_languages_that_are_learnt_count() -> None:
    """A passage is foreign on the page that knows so, and on no other."""
    words = " ".join(["Der Kanal ist heute wegen Bauarbeiten an der Schleuse leider gesperrt"] * 3)
    page = Page(parse_document(f"{HTML}<p>{words}</p>", "http://fees.invalid/"))
    assert len(page.prose) == 1
    told = page.knowing("languages", tongues={(page.prose[0].language, page.prose[0].text): "de"})
    assert [language for _, language in told.foreign] == ["de"]
    assert page.foreign == []


def test_neither_document_nor_evidence_changes() -> None:
    """Both are frozen, and so are the elements' order and number."""
    page = Page(parse_document(HTML, "http://fees.invalid/"))
    with pytest.raises(FrozenInstanceError):
        page.document.source = ""  # type: ignore[misc]
    with pytest.raises(FrozenInstanceError):
        page.evidence.walk = Walk()  # type: ignore[misc]
    assert isinstance(page.document.elements, tuple)
