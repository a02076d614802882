"""The client library: ``PlumRake`` and ``AsyncPlumRake`` over the service's HTTP API.

from plumrake.client import PlumRake

with PlumRake("http://127.0.0.1:8600", token="plr_…") as rake:
    sweep = rake.sweeps.start("harrowmere")
    for progress in rake.sweeps.follow(sweep.id):
        print(progress.read, "of", progress.total)
    for finding in rake.findings.list("harrowmere", weight="barrier"):
        print(finding.path, finding.says)
"""

from plumrake.client._async import AsyncPlumRake
from plumrake.client._sync import PlumRake
from plumrake.client.errors import (
    BadCredentials,
    BadToken,
    ChangedMeanwhile,
    ConflictError,
    MoveNotAllowed,
    NotAllowed,
    NotFound,
    NotSignedIn,
    NotValid,
    PlumRakeError,
    TooManyRequests,
    Unavailable,
    Unreachable,
    WrongState,
)

__all__ = [
    "AsyncPlumRake",
    "BadCredentials",
    "BadToken",
    "ChangedMeanwhile",
    "ConflictError",
    "MoveNotAllowed",
    "NotAllowed",
    "NotFound",
    "NotSignedIn",
    "NotValid",
    "PlumRake",
    "PlumRakeError",
    "TooManyRequests",
    "Unavailable",
    "Unreachable",
    "WrongState",
]
