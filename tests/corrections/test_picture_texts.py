"""Texts proposed for a picture, and the describer: what it is sent, what becomes of a bad one."""

from __future__ import annotations

import asyncio
import contextlib
import socket
import threading
from collections.abc import Iterator

import pytest
from fastapi import FastAPI
from fastapi.responses import HTMLResponse, PlainTextResponse

from plumrake import models
from plumrake.client import ConflictError, NotAllowed
from plumrake.core.picture_texts import PictureContext
from plumrake.outbound import describer
from plumrake.outbound.describer import (
    Describer,
    DescriberFailed,
    DescriberQuestion,
    ask_describer,
)
from tests.corrections.conftest import SLUG, Yard
from tests.services import serve_app

CONTEXT = PictureContext("/a.jpg", "", "en", "Home", "What is done here.")
QUESTION = DescriberQuestion(b"a picture", "image/jpeg", CONTEXT, "/", "Home of the yard", 150)


def test_texts_come_from_elsewhere_and_from_around(yard: Yard) -> None:
    """What the same file is called on another page stands first, and says where it comes from; a
    file name is never proposed."""
    file = yard.file("/cranes/")
    file.write_bytes(file.read_bytes().replace(b"height=180", b'height=180 alt="Cranes at work"'))
    yard.sweep("staging")
    found = yard.editor.corrections.texts(yard.finding("pictures/no-text", "/"))
    assert found.state == "ready"
    assert found.items[0].text == "Cranes at work"
    assert found.items[0].comes_from == "its text on 1 other page"
    assert all("jpg" not in one.text for one in found.items)
    assert found.describer


def test_what_the_describer_says_is_marked_and_kept(yard: Yard) -> None:
    """What it was sent is listed, without being taken by itself; a correction says that a program
    wrote its text, and whether a person changed it."""
    finding = yard.finding("pictures/no-text", "/")
    said = yard.editor.corrections.describe(finding)
    assert said.text == "A picture in blue, under “Home”"
    (kept,) = yard.manager.corrections.descriptions(SLUG)
    assert kept.asked_by == "Ned"
    assert kept.picture_bytes > 100
    assert kept.told["heading"] == "Home"
    assert "What is done here" in kept.told["around"]
    assert not list(yard.editor.corrections.list(SLUG))
    rake = yard.editor.corrections
    as_said = rake.draft(SLUG, finding, yard.text(said.text), description=said.id).first
    assert (as_said.by_program, as_said.changed_by_person) == (True, False)
    changed = rake.draft(SLUG, finding, yard.text("Boats in blue"), description=said.id).first
    assert (changed.by_program, changed.changed_by_person) == (True, True)
    own = rake.draft(SLUG, finding, yard.text("Boats")).first
    assert (own.by_program, own.changed_by_person) == (False, False)


def test_nothing_is_sent_without_leave(yard: Yard) -> None:
    """The site's policy decides, and readers ask nobody."""
    finding = yard.finding("pictures/no-text", "/")
    with yard.running.client("imke@harrowmere.example") as reader, pytest.raises(NotAllowed):
        reader.corrections.describe(finding)
    site = yard.manager.sites.show(SLUG)
    policy = {**site.policy, "describer": "off"}
    yard.manager.sites.change(SLUG, models.SiteChange(policy=policy), site.tag)
    with pytest.raises(ConflictError, match="sends no pictures to a describer"):
        yard.editor.corrections.describe(finding)
    assert not yard.editor.corrections.texts(finding).describer
    assert not list(yard.manager.corrections.descriptions(SLUG))


@pytest.fixture(scope="module")
def bad() -> str:
    """The address of describers that keep no contract."""
    app = FastAPI()

    @app.post("/html")
    def html() -> HTMLResponse:
        return HTMLResponse("<h1>Welcome</h1>")

    @app.post("/empty")
    def empty() -> dict[str, str]:
        return {"text": "  "}

    @app.post("/list")
    def as_list() -> list[str]:
        return ["A boat"]

    @app.post("/long")
    def long() -> PlainTextResponse:
        return PlainTextResponse("x" * 100_000)

    return serve_app(app)


@pytest.fixture
def silent() -> Iterator[str]:
    """The address of a describer that takes the question and never answers."""
    with socket.create_server(("127.0.0.1", 0)) as server:
        held: list[socket.socket] = []

        def take() -> None:
            with contextlib.suppress(OSError):
                held.append(server.accept()[0])

        threading.Thread(target=take, daemon=True).start()
        yield f"http://127.0.0.1:{server.getsockname()[1]}/"
        for one in held:
            one.close()


@pytest.mark.parametrize(
    ("kind", "says"),
    [
        ("html", "answered something that is no JSON"),
        ("empty", "answer has no text"),
        ("list", "answer has no text"),
        ("long", "has more than 16,384 bytes"),
        ("nowhere", "answered 404"),
    ],
)
def test_a_describer_that_keeps_no_contract(bad: str, kind: str, says: str) -> None:
    """One clear line says what came."""
    with pytest.raises(DescriberFailed, match=says):
        asyncio.run(ask_describer(Describer(f"{bad}/{kind}"), QUESTION))


def test_a_describer_that_never_answers(silent: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """It is waited for so long and no longer."""
    monkeypatch.setattr(describer, "SECONDS", 0.4)
    with pytest.raises(DescriberFailed, match=r"did not answer within 0\.4 s"):
        asyncio.run(ask_describer(Describer(silent), QUESTION))
