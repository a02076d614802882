"""A program of the organisation's own that describes pictures: what it is sent, and what it may
answer (docs/describer.md)."""

from __future__ import annotations

import base64
import json
from dataclasses import asdict, dataclass

import httpx

from plumrake.core.picture_texts import PictureContext

SECONDS = 20.0
MOST_ANSWER_BYTES = 16_384
MOST_PICTURE_BYTES = 8_000_000
LONGEST = 1_000


class DescriberFailed(RuntimeError):
    """The describer did not answer a text; the message says what came instead."""

    code = "describer-failed"


@dataclass(frozen=True, slots=True)
class Describer:
    """Where the describer is, and the token that it is asked with."""

    address: str
    token: str = ""


@dataclass(frozen=True, slots=True)
class DescriberQuestion:
    """A picture and its context, as the describer is asked for a text of ``longest`` characters."""

    picture: bytes
    media_type: str
    context: PictureContext
    page: str
    title: str
    longest: int

    def told(self) -> dict[str, object]:
        """Return what is sent beside the picture."""
        context = asdict(self.context)
        return {
            "media_type": self.media_type,
            "page": self.page,
            "title": self.title,
            "longest": self.longest,
            "language": context["language"],
            "heading": context["heading"],
            "around": context["around"],
            "link": context["link"],
        }


async def ask_describer(describer: Describer, question: DescriberQuestion) -> str:
    """Return what the describer says of a picture. Raises ``DescriberFailed``."""
    if len(question.picture) > MOST_PICTURE_BYTES:
        raise DescriberFailed(
            f"the picture has {len(question.picture):,} bytes, more than the "
            f"{MOST_PICTURE_BYTES:,} that are sent"
        )
    body = {**question.told(), "picture": base64.b64encode(question.picture).decode()}
    headers = {"accept": "application/json"}
    if describer.token:
        headers["authorization"] = f"Bearer {describer.token}"
    try:
        async with httpx.AsyncClient(timeout=SECONDS, trust_env=False) as client:
            request = client.stream("POST", describer.address, json=body, headers=headers)
            async with request as answer:
                content = await _body(answer)
    except httpx.TimeoutException:
        raise DescriberFailed(f"the describer did not answer within {SECONDS:g} s") from None
    except httpx.HTTPError as error:
        raise DescriberFailed(
            f"the describer cannot be reached: {error or type(error).__name__}"
        ) from None
    if not answer.is_success:
        raise DescriberFailed(f"the describer answered {answer.status_code}")
    return _text(content)


async def _body(answer: httpx.Response) -> bytes:
    content = bytearray()
    async for piece in answer.aiter_bytes():
        content += piece
        if len(content) > MOST_ANSWER_BYTES:
            raise DescriberFailed(
                f"the describer's answer has more than {MOST_ANSWER_BYTES:,} bytes"
            )
    return bytes(content)


def _text(content: bytes) -> str:
    try:
        data = json.loads(content)
    except ValueError:
        raise DescriberFailed(
            'the describer answered something that is no JSON; it has to answer {"text": "…"}'
        ) from None
    text = data.get("text") if isinstance(data, dict) else None
    if not isinstance(text, str) or not text.strip():
        raise DescriberFailed('the describer\'s answer has no text; it has to be {"text": "…"}')
    return " ".join(text.split())[:LONGEST]
