"""What follows from a site's settings: where its editions live, which addresses may be private, its policy."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable

from plumrake.core.policy import BESIDE_READING, Policy, policy_from
from plumrake.lenses.dictionaries import installed
from plumrake.lenses.guard import origin
from plumrake.records import words
from plumrake.records.queries import Connection
from plumrake.records.sites import Site

_OWN = "own-words"


class NoEdition(ValueError):
    """The site has no such edition."""

    code = "no-edition"


def origin_of_edition(site: Site, edition: str) -> str:
    """Return the origin that an edition of a site lives at. Raises ``NoEdition``."""
    address = site.live_address if edition == "live" else site.staging_address
    if address is None:
        raise NoEdition(f"the site '{site.slug}' has no staging address; register one or sweep the live edition")
    return origin(address)


def private_origins(site: Site) -> list[str]:
    """Return the origins that the site has leave to be private at."""
    if not site.private_leave:
        return []
    return [origin(address) for address in (site.live_address, site.staging_address) if address]


def policy_of_site(site: Site) -> Policy:
    """Return the policy that a site has now."""
    return policy_from(site.policy)


async def with_own_words(connection: Connection, site_id: int, policy: Policy) -> Policy:
    """Return a policy with the words that people added to the site."""
    own = await words.all_of(connection, site_id)
    return replace(policy, words={**policy.words, _OWN: (*policy.words.get(_OWN, ()), *own)}) if own else policy


def ground_of(site: Site, lens: str) -> str:
    """Return what stands for all that decides findings beside the page itself: policy, lens, dictionaries, and the program's own judgement.

    A word that is added to the site's own needs no new reading; one that is dropped does.
    """
    deciding = {name: value for name, value in site.policy.items() if name.replace("-", "_") not in BESIDE_READING}
    return hashlib.sha256(json.dumps([deciding, lens, site.words_dropped, sorted(installed()), _judgement()], sort_keys=True).encode()).hexdigest()[:20]


@cache
def _judgement() -> str:
    """Return a digest of the core and the lenses: a changed check reads every page again."""
    content = hashlib.sha256()
    for name in ("core", "lenses"):
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
