"""A stand-in describer for the demo: it keeps the contract of docs/describer.md, and sees no more
than the main colours of a picture.

Whoever runs Plum Rake puts a program of their own in its place.
"""

from __future__ import annotations

import base64
import binascii
import hmac
import io
from collections import Counter
from typing import Annotated

from fastapi import FastAPI, Header, HTTPException
from PIL import Image, UnidentifiedImageError
from pydantic import BaseModel, Field

_COLOURS = {
    "black": (20, 20, 20),
    "white": (245, 245, 245),
    "grey": (130, 130, 130),
    "red": (190, 40, 40),
    "orange": (230, 140, 40),
    "yellow": (240, 210, 70),
    "green": (70, 140, 70),
    "blue": (60, 110, 180),
    "brown": (120, 80, 50),
    "purple": (120, 60, 130),
    "pink": (235, 160, 180),
    "pale green": (190, 220, 190),
    "pale blue": (180, 210, 230),
}
_SMALL = (48, 48)
_NAMED = 3


class Question(BaseModel):
    """A picture and what is around it, as Plum Rake sends it."""

    picture: str
    media_type: str = ""
    page: str = ""
    title: str = ""
    heading: str = ""
    around: str = ""
    link: str = ""
    language: str = ""
    longest: int = Field(default=150, ge=1)


def create_describer(token: str) -> FastAPI:
    """Return the stand-in describer, which answers whoever brings the token."""
    app = FastAPI(title="A stand-in describer", openapi_url=None, docs_url=None, redoc_url=None)

    @app.post("/")
    def describe(
        question: Question, authorization: Annotated[str, Header()] = ""
    ) -> dict[str, str]:
        given = authorization.removeprefix("Bearer ").encode()
        if not hmac.compare_digest(given, token.encode()):
            raise HTTPException(401, "the token is not right")
        try:
            body = base64.b64decode(question.picture, validate=True)
            picture = Image.open(io.BytesIO(body)).convert("RGB")
        except (binascii.Error, UnidentifiedImageError, OSError) as error:
            raise HTTPException(422, f"this is no picture that can be read: {error}") from None
        about = f", under “{question.heading}”" if question.heading else ""
        return {"text": f"A picture in {_colours(picture)}{about}"[: question.longest]}

    return app


def _colours(picture: Image.Image) -> str:
    small = picture.resize(_SMALL)
    counts = Counter(
        _nearest(pixel)
        for x in range(small.width)
        for y in range(small.height)
        if isinstance(pixel := small.getpixel((x, y)), tuple)
    )
    names = [name for name, _ in counts.most_common(_NAMED)]
    return " and ".join(filter(None, [", ".join(names[:-1]), names[-1]]))


def _nearest(pixel: tuple[int, ...]) -> str:
    def distance(name: str) -> int:
        return sum((a - b) ** 2 for a, b in zip(pixel, _COLOURS[name], strict=False))

    return min(_COLOURS, key=distance)
