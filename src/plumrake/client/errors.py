"""What can go wrong when asking the service, as a tree:

PlumRakeError
├── Unreachable          no answer came
├── NotSignedIn          401
│   ├── BadToken
│   └── BadCredentials
├── NotAllowed           403
│   └── MoveNotAllowed
├── NotFound             404
├── ConflictError        409
│   ├── ChangedMeanwhile 412
│   └── WrongState
├── NotValid             400, 413, 422, 428
├── TooManyRequests      429
└── Unavailable          5xx
"""

from __future__ import annotations

import json

import httpx


class PlumRakeError(Exception):
    """Any error; ``code`` is the problem's stable code, ``status`` the HTTP status (0 where there
    was no answer)."""

    code = "error"
    status = 0

    def __init__(self, says: str, code: str | None = None, status: int = 0) -> None:
        super().__init__(says)
        self.code = code or type(self).code
        self.status = status


class Unreachable(PlumRakeError):
    """No answer came from the service."""

    code = "unreachable"


class NotSignedIn(PlumRakeError):
    """The service does not know who asks."""

    code = "not-signed-in"


class BadToken(NotSignedIn):
    """The token is not valid (any more)."""

    code = "bad-token"


class BadCredentials(NotSignedIn):
    """E-mail address or password is wrong."""

    code = "bad-credentials"


class NotAllowed(PlumRakeError):
    """The role or the token does not allow this."""

    code = "not-allowed"


class MoveNotAllowed(NotAllowed):
    """This move of a fix is for somebody else."""

    code = "move-not-allowed"


class NotFound(PlumRakeError):
    """There is nothing of this name."""

    code = "not-found"


class ConflictError(PlumRakeError):
    """What is there stands against it."""

    code = "conflict"


class ChangedMeanwhile(ConflictError):
    """Somebody else changed it since it was read; read it again, then decide."""

    code = "changed-meanwhile"


class WrongState(ConflictError):
    """The fix is in no state for this move."""

    code = "wrong-state"


class NotValid(PlumRakeError):
    """The request is not what it may be."""

    code = "not-valid"


class TooManyRequests(PlumRakeError):
    """Asked too often; wait."""

    code = "too-many-requests"


class Unavailable(PlumRakeError):
    """The service cannot answer now."""

    code = "unavailable"


_BY_STATUS: dict[int, type[PlumRakeError]] = {
    400: NotValid,
    401: NotSignedIn,
    403: NotAllowed,
    404: NotFound,
    409: ConflictError,
    412: ChangedMeanwhile,
    413: NotValid,
    422: NotValid,
    428: NotValid,
    429: TooManyRequests,
}
_BY_CODE: dict[str, type[PlumRakeError]] = {
    "bad-token": BadToken,
    "bad-credentials": BadCredentials,
    "move-not-allowed": MoveNotAllowed,
    "wrong-state": WrongState,
}


def error_of(response: httpx.Response) -> PlumRakeError:
    """Return the error that a problem document (RFC 9457) stands for."""
    try:
        body = json.loads(response.content)
        says, code = str(body["detail"]), str(body["code"])
    except (ValueError, KeyError, TypeError):
        says, code = f"the service answered {response.status_code}", None
    kind = _BY_CODE.get(code or "") or _BY_STATUS.get(
        response.status_code, Unavailable if response.status_code >= 500 else PlumRakeError
    )
    return kind(says, code, response.status_code)
