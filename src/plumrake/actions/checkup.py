"""What a service needs beyond itself, looked at: the connections of its sites, and the certificates
of what is served over TLS."""

from __future__ import annotations

import asyncio
import ssl
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from cryptography import x509

from plumrake.actions.site_sources import SourceSettings, tried
from plumrake.actions.sites import private_origins
from plumrake.connectors.source_item import BadConnection
from plumrake.net.guard import Guard, origin_of
from plumrake.net.problems import Unreadable
from plumrake.records import connections, sites
from plumrake.records.queries import Connection

_SECONDS = 20.0
_SOON = timedelta(days=14)
_HTTPS = "https://"


@dataclass(frozen=True, slots=True)
class LookedAt:
    """How many of some things are well, of how many; ``first_end`` is the day that the first
    certificate ends, and ``lacks`` what is wrong with each that is not well."""

    well: int
    number: int
    lacks: Sequence[str]
    first_end: datetime | None = None


async def look_at_connections(connection: Connection, settings: SourceSettings) -> LookedAt:
    """Try the connection of every site, as its manager does in the console."""
    rows = await connections.every_connection(connection)
    lacks = []
    for row in rows:
        site = await sites.site_by_id(connection, row.site_id)
        try:
            async with asyncio.timeout(_SECONDS):
                await tried(site, row.kind, row.settings, settings.opened(row.secret), settings)
        except BadConnection as error:
            lacks.append(f"{site.slug}, {row.environment}: {error}")
        except TimeoutError:
            lacks.append(f"{site.slug}, {row.environment}: no answer within {_SECONDS:g} s")
    return LookedAt(len(rows) - len(lacks), len(rows), lacks)


async def look_at_certificates(connection: Connection, own_address: str) -> LookedAt:
    """Look at the certificates of the service's own address and of its sites: whether browsers
    take them, and whether one ends within two weeks."""
    leave: list[str] = [own_address]
    addresses = {own_address}
    for site in await sites.every_site(connection):
        leave += private_origins(site)
        addresses |= {one for one in (site.live_address, site.staging_address) if one}
    places = sorted({origin_of(one) for one in addresses if one.startswith(_HTTPS)})
    guard = Guard(leave)
    found = await asyncio.gather(*(_certificate(guard, *place) for place in places))
    lacks = [one for one in found if isinstance(one, str)]
    ends = [
        (end, host)
        for (host, _), end in zip(places, found, strict=True)
        if not isinstance(end, str)
    ]
    lacks += [
        f"{host}: its certificate ends on {end:%Y-%m-%d}; renew it"
        for end, host in ends
        if end - datetime.now(UTC) < _SOON
    ]
    first = min((end for end, _ in ends), default=None)
    return LookedAt(len(places) - len(lacks), len(places), lacks, first)


async def _certificate(guard: Guard, host: str, port: int) -> datetime | str:
    """Return when the certificate of a host ends, or what is wrong with it."""
    try:
        address = await guard.resolve(host, port)
        async with asyncio.timeout(_SECONDS):
            _, writer = await asyncio.open_connection(
                address, port, ssl=ssl.create_default_context(), server_hostname=host
            )
    except Unreadable as error:
        return str(error)
    except ssl.SSLCertVerificationError as error:
        return f"{host}: browsers refuse its certificate ({error.verify_message}); renew it"
    except (OSError, TimeoutError):
        return f"{host}: no TLS on port {port}"
    try:
        whole = writer.get_extra_info("ssl_object").getpeercert(binary_form=True)
        return x509.load_der_x509_certificate(whole).not_valid_after_utc
    finally:
        writer.close()
