"""A stand-in content management system for the demo: pages, drafts, editors, and a publish button
that asks the gate.

It is scenery: it shows how a CMS speaks with Plum Rake, with nothing but the client library.
Nothing is published but on a clearance for the very content that goes out, and what was published
is told, so that its fixes are proven.
"""

from __future__ import annotations

import hashlib
import hmac
import html
import json
import re
import secrets
from dataclasses import dataclass, field
from importlib.resources import files
from pathlib import Path
from typing import Annotated, Any
from urllib.parse import quote

from fastapi import APIRouter, Depends, FastAPI, Form, HTTPException, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from jinja2 import Environment, PackageLoader, StrictUndefined, select_autoescape
from pydantic import BaseModel, Field

from plumrake import models
from plumrake.client import PlumRake, PlumRakeError
from plumrake.outbound.webhooks import signature

_CONTENT = re.compile(r'(<article class="text">)(.*?)(</article>)', re.DOTALL)
_TITLE = re.compile(r"<title>(.*?)</title>", re.DOTALL)
_COOKIE = "towpath_editor"
_MOST = 400_000


@dataclass
class Editor:
    """Somebody signed in: their name, their own connection to Plum Rake, and the token that their
    forms carry."""

    name: str
    rake: PlumRake
    token: str = field(default_factory=lambda: secrets.token_urlsafe(16))


class Correction(BaseModel):
    """A page's content as somebody corrected it, of the version that they read."""

    path: str = Field(max_length=500)
    version: str = Field(max_length=100)
    content: str = Field(max_length=_MOST)
    why: str = Field(max_length=4000)
    by: str = Field(max_length=200)


@dataclass(frozen=True, slots=True)
class Trust:
    """Where things are: the folder of the live site, the folder of drafts, Plum Rake, the site's
    name in it, the secrets of the webhook and of whoever brings corrections."""

    live: Path
    drafts: Path
    rake: str
    site: str
    webhook_secret: str = ""
    corrections_secret: str = ""

    def file(self, path: str) -> Path:
        """Return the file of a live page. Raises 404."""
        file = (self.live / path.strip("/") / "index.html").resolve()
        if not file.is_relative_to(self.live.resolve()) or not file.is_file():
            raise HTTPException(404, f"there is no page {path}")
        return file

    def draft(self, path: str) -> Path:
        """Return the file that a page's draft is kept in."""
        return self.drafts / f"{hashlib.sha256(path.encode()).hexdigest()[:24]}.json"

    def pages(self) -> list[dict[str, Any]]:
        """Return every page that has an article, with its title and whether it has a draft."""
        found = []
        for file in sorted(self.live.rglob("index.html")):
            text = file.read_text(encoding="utf-8", errors="replace")
            if _CONTENT.search(text):
                path = f"/{file.parent.relative_to(self.live).as_posix()}/".replace("/./", "/")
                title = _TITLE.search(text)
                found.append(
                    {
                        "path": path,
                        "title": html.unescape(title.group(1)) if title else path,
                        "draft": self.draft(path).is_file(),
                    }
                )
        return found

    def content(self, path: str) -> str:
        """Return what is edited of a page: its draft, else what is live."""
        if self.draft(path).is_file():
            return str(json.loads(self.draft(path).read_text(encoding="utf-8"))["content"])
        match = _CONTENT.search(self.file(path).read_text(encoding="utf-8"))
        return match.group(2).strip("\n") if match else ""

    def whole(self, path: str, content: str) -> str:
        """Return the whole page as it would go out with a content."""
        return _CONTENT.sub(
            lambda match: f"{match.group(1)}\n{content}\n{match.group(3)}",
            self.file(path).read_text(encoding="utf-8"),
            count=1,
        )

    def pieces(self, path: str) -> tuple[str, str, str]:
        """Return a published page: what stands before its content, the content, what follows.
        Raises 404."""
        text = self.file(path).read_bytes().decode("utf-8")
        match = _CONTENT.search(text)
        if match is None:
            raise HTTPException(404, f"{path} has no content of its own")
        return text[: match.start(2)], match.group(2), text[match.end(2) :]

    def keep_published(self, path: str, page: str) -> None:
        """Put a page out, and keep it for when the demo's own pages are written anew."""
        self.file(path).write_bytes(page.encode("utf-8"))
        kept = self.drafts / "published" / path.strip("/") / "index.html"
        kept.parent.mkdir(parents=True, exist_ok=True)
        kept.write_bytes(page.encode("utf-8"))

    def _history(self, path: str) -> Path:
        return self.draft(path).with_suffix(".history.jsonl")

    def history(self, path: str) -> list[dict[str, str]]:
        """Return what was written to a page by corrections, the newest first."""
        file = self._history(path)
        lines = file.read_text(encoding="utf-8").splitlines() if file.is_file() else []
        return [json.loads(line) for line in reversed(lines)]

    def correct(self, path: str, correction: Correction) -> None:
        """Put a corrected content out, if the page is still what was corrected and nobody has a
        draft of it. Raises 409."""
        before, content, after = self.pieces(path)
        if hash_of(before + content + after) != correction.version:
            raise HTTPException(409, f"{path} was changed meanwhile")
        if self.draft(path).is_file():
            raise HTTPException(409, f"somebody has a draft of {path}; publish it or forget it")
        entry = {"by": correction.by, "why": correction.why, "was": content}
        with self._history(path).open("a", encoding="utf-8") as history:
            history.write(json.dumps(entry) + "\n")
        self.keep_published(path, before + correction.content + after)


def hash_of(page: str) -> str:
    """Return what a whole page is known by."""
    return f"sha256:{hashlib.sha256(page.encode()).hexdigest()}"


class _Desk:
    """Publishing: asks the gate with the editor's own connection, and writes the page only on its
    clearance."""

    def __init__(self, trust: Trust) -> None:
        self._trust = trust
        self._asked: dict[tuple[str, str], int] = {}

    def ask(self, editor: Editor, path: str) -> models.Clearance:
        """Return the answer about a page's draft: the one that was given for this very content
        while it is good, else a new one."""
        page = self._trust.whole(path, self._trust.content(path))
        known = self._asked.get((path, hash_of(page)))
        if known is not None:
            clearance = editor.rake.gate.show(known)
            if clearance.seal is not None and clearance.used_at is None:
                return clearance
        clearance = editor.rake.gate.ask(self._trust.site, path, document=page)
        self._asked[(path, hash_of(page))] = clearance.id
        return clearance

    def publish(self, editor: Editor, path: str, clearance: models.Clearance) -> None:
        """Put a draft out on its clearance. Raises ``PlumRakeError`` where the clearance is not
        good for what the draft is now."""
        page = self._trust.whole(path, self._trust.content(path))
        editor.rake.gate.use(clearance, hash_of(page))
        self._trust.keep_published(path, page)
        self._trust.draft(path).unlink(missing_ok=True)
        editor.rake.gate.published(self._trust.site, path)


def restore_published(drafts: Path, live: Path) -> None:
    """Put back what was published earlier, after the demo's own pages were written anew."""
    for file in (drafts / "published").rglob("index.html"):
        target = live / file.relative_to(drafts / "published")
        if target.is_file():
            target.write_bytes(file.read_bytes())


class Cms:
    """What the routes share."""

    def __init__(self, trust: Trust) -> None:
        self.trust = trust
        self.desk = _Desk(trust)
        self.editors: dict[str, Editor] = {}
        self.heard: list[dict[str, Any]] = []
        self._templates = Environment(
            loader=PackageLoader("plumrake.demo", "templates/cms"),
            undefined=StrictUndefined,
            autoescape=select_autoescape(["html"]),
        )

    def page(self, name: str, editor: Editor | None, **values: Any) -> HTMLResponse:
        """Return a page of the CMS."""
        text = self._templates.get_template(f"{name}.html").render(
            editor=editor, rake=self.trust.rake, site=self.trust.site, **values
        )
        return HTMLResponse(
            text,
            headers={
                "Content-Security-Policy": "default-src 'self'; frame-ancestors 'none'",
                "Cache-Control": "no-store",
            },
        )

    def edited(
        self,
        editor: Editor,
        path: str,
        clearance: models.Clearance | None = None,
        said: str = "",
        problem: str = "",
    ) -> HTMLResponse:
        """Return the page on which a page is edited."""
        trust = self.trust
        values = {
            "content": trust.content(path),
            "draft": trust.draft(path).is_file(),
            "history": trust.history(path),
            "clearance": clearance,
            "said": said,
            "problem": problem,
        }
        return self.page("edit", editor, path=path, **values)

    def keep_draft(self, path: str, content: str) -> None:
        """Keep what an editor wrote."""
        self.trust.file(path)
        kept = {"path": path, "content": content.replace("\r\n", "\n")}
        self.trust.draft(path).write_text(json.dumps(kept), encoding="utf-8")


def create_cms(trust: Trust) -> FastAPI:
    """Return the stand-in CMS."""
    trust.drafts.mkdir(parents=True, exist_ok=True)
    app = FastAPI(
        title="Towpath, the pages of the Trust", openapi_url=None, docs_url=None, redoc_url=None
    )
    app.state.cms = Cms(trust)
    app.include_router(_router)
    return app


def _cms(request: Request) -> Cms:
    cms: Cms = request.app.state.cms
    return cms


_ThisCms = Annotated[Cms, Depends(_cms)]


def _signed_in(request: Request, cms: _ThisCms) -> Editor:
    editor = cms.editors.get(request.cookies.get(_COOKIE, ""))
    if editor is None:
        raise HTTPException(303, headers={"Location": "/sign-in"})
    return editor


def _by_form(request: Request, cms: _ThisCms, token: Annotated[str, Form()] = "") -> Editor:
    editor = _signed_in(request, cms)
    if not hmac.compare_digest(token, editor.token):
        raise HTTPException(403, "the form is not from here; go back and load the page again")
    return editor


_SignedIn = Annotated[Editor, Depends(_signed_in)]
_Acting = Annotated[Editor, Depends(_by_form)]
_Path = Annotated[str, Form(max_length=500)]
_Content = Annotated[str, Form(max_length=_MOST)]
_router = APIRouter()


@_router.get("/cms.css")
def _style() -> Response:
    return Response(
        files("plumrake.demo").joinpath("templates/cms/cms.css").read_bytes(), media_type="text/css"
    )


@_router.get("/sign-in")
def _sign_in_page(cms: _ThisCms) -> HTMLResponse:
    return cms.page("sign_in", None, problem="")


@_router.post("/sign-in")
def _sign_in(
    cms: _ThisCms, email: Annotated[str, Form()], password: Annotated[str, Form()]
) -> Response:
    try:
        with PlumRake(cms.trust.rake) as entered:
            me = entered.people.sign_in(email, password)
            token = entered.people.make_token("CMS of the demo", ["read", "write"], days=1)
            entered.people.sign_out()
    except PlumRakeError as error:
        return cms.page("sign_in", None, problem=str(error))
    secret = secrets.token_urlsafe(24)
    cms.editors[secret] = Editor(me.name, PlumRake(cms.trust.rake, token=token.secret))
    answer = RedirectResponse("/", 303)
    answer.set_cookie(_COOKIE, secret, httponly=True, samesite="strict")
    return answer


@_router.get("/")
def _every_page(cms: _ThisCms, editor: _SignedIn) -> HTMLResponse:
    return cms.page("pages", editor, pages=cms.trust.pages(), heard=cms.heard[-5:][::-1])


@_router.get("/edit")
def _edit(cms: _ThisCms, editor: _SignedIn, path: str) -> HTMLResponse:
    return cms.edited(editor, path)


@_router.post("/save")
def _save(cms: _ThisCms, editor: _Acting, path: _Path, content: _Content) -> Response:
    cms.keep_draft(path, content)
    return RedirectResponse(f"/edit?path={quote(path)}", 303)


@_router.post("/drop")
def _drop(cms: _ThisCms, editor: _Acting, path: _Path) -> Response:
    cms.trust.draft(path).unlink(missing_ok=True)
    return RedirectResponse(f"/edit?path={quote(path)}", 303)


@_router.post("/publish")
def _publish(cms: _ThisCms, editor: _Acting, path: _Path, content: _Content) -> HTMLResponse:
    cms.keep_draft(path, content)
    clearance, said, problem = None, "", ""
    try:
        clearance = cms.desk.ask(editor, path)
        if clearance.seal is not None:
            cms.desk.publish(editor, path, clearance)
            said = "Published."
        elif clearance.state == "waiting":
            said = "The gate is still reading; press Publish again in a moment."
    except PlumRakeError as error:
        problem = f"Not published: {error}."
    return cms.edited(editor, path, clearance, said, problem)


@_router.post("/webhook", status_code=204)
async def _webhook(request: Request, cms: _ThisCms) -> None:
    body = await request.body()
    message, moment, given = (
        request.headers.get(f"webhook-{name}", "") for name in ("id", "timestamp", "signature")
    )
    secret = cms.trust.webhook_secret
    if (
        not secret
        or not moment.isdigit()
        or not hmac.compare_digest(signature(secret, message, int(moment), body), given)
    ):
        raise HTTPException(401, "the signature is not right")
    cms.heard = [*cms.heard[-49:], json.loads(body)]


def _bringing(request: Request, cms: _ThisCms) -> Cms:
    given = request.headers.get("authorization", "").removeprefix("Bearer ")
    secret = cms.trust.corrections_secret
    if not secret or not hmac.compare_digest(given.encode(), secret.encode()):
        raise HTTPException(401, "the secret of corrections is not right")
    return cms


_Bringing = Annotated[Cms, Depends(_bringing)]


@_router.get("/corrections/state")
def _state(cms: _Bringing) -> dict[str, int]:
    return {"pages": len(cms.trust.pages())}


@_router.get("/corrections/page")
def _page_to_correct(cms: _Bringing, path: str) -> dict[str, str]:
    before, content, after = cms.trust.pieces(path)
    version = hash_of(before + content + after)
    return {"before": before, "content": content, "after": after, "version": version}


@_router.post("/corrections")
def _correct(cms: _Bringing, correction: Correction) -> dict[str, str]:
    cms.trust.correct(correction.path, correction)
    return {"path": correction.path}
