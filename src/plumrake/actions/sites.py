"""What follows from a site's settings: where its environments live, which addresses may be private,
its policy."""

from __future__ import annotations

import hashlib
import json
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Final

from plumrake.core.addresses import normalised, origin
from plumrake.core.policy import BESIDE_READING, Policy, policy_from
from plumrake.records import words
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.spelling.dictionaries import installed

_OWN: Final = "own-words"


class NoEnvironment(ValueError):
    """The site has no such environment."""

    code = "no-environment"


def origin_of_environment(site: SiteRow, environment: str) -> str:
    """Return the origin that an environment of a site lives at. Raises ``NoEnvironment``."""
    address = site.live_address if environment == "live" else site.staging_address
    if address is None:
        raise NoEnvironment(
            f"the site '{site.slug}' has no staging address; register one or sweep the live "
            "environment"
        )
    return origin(normalised(address))


def private_origins(site: SiteRow) -> list[str]:
    """Return the origins that the site has leave to be private at."""
    if not site.private_leave:
        return []
    return [origin(address) for address in (site.live_address, site.staging_address) if address]


def policy_of_site(site: SiteRow) -> Policy:
    """Return the policy that a site has now."""
    return policy_from(site.policy)


async def with_own_words(connection: Connection, site_id: int, policy: Policy) -> Policy:
    """Return a policy with the words that people added to the site."""
    own = await words.all_of(connection, site_id)
    return (
        policy.changed(words={**policy.words, _OWN: (*policy.words.get(_OWN, ()), *own)})
        if own
        else policy
    )


def ground_of(site: SiteRow, lens: str) -> str:
    """Return what stands for all that decides findings beside the page itself: policy, lens,
    dictionaries, and the program's own judgement.

    A word that is added to the site's own needs no new reading; one that is dropped does.
    """
    deciding = {
        name: value
        for name, value in site.policy.items()
        if name.replace("-", "_") not in BESIDE_READING
    }
    return hashlib.sha256(
        json.dumps(
            [deciding, lens, site.words_dropped, sorted(installed()), _judgement()], sort_keys=True
        ).encode()
    ).hexdigest()[:20]


@cache
def _judgement() -> str:
    """Return a digest of what reads and judges pages: a changed check reads every page again."""
    content = hashlib.sha256()
    for name in ("core", "lenses", "net", "spelling"):
        for file in sorted(_below(files("plumrake").joinpath(name)), key=str):
            content.update(file.read_bytes())
    return content.hexdigest()


def _below(folder: Traversable) -> list[Traversable]:
    found: list[Traversable] = []
    for entry in folder.iterdir():
        if entry.is_dir():
            found.extend(_below(entry) if entry.name != "__pycache__" else [])
        elif not entry.name.endswith(".cases.html"):
            found.append(entry)
    return found
