"""The address guard: which hosts may be reached. Everything that connects to somewhere asks here
first.

A name is resolved once and the connection goes to the address that was looked at, so a name that
turns to another address between the look and the connection gains nothing.
"""

from __future__ import annotations

import asyncio
import ipaddress
import os
import socket
from collections.abc import Iterable
from urllib.parse import urlsplit

from plumrake.net.problems import Unreadable

_NAT64 = ipaddress.ip_network("64:ff9b::/96")
_METADATA = ipaddress.ip_network("fd00:ec2::/32")
_CONNECT_SECONDS = 10.0
_NETWORKS_SETTING = "PLUMRAKE_PRIVATE_NETWORKS"

Network = ipaddress.IPv4Network | ipaddress.IPv6Network


def origin_of(address: str) -> tuple[str, int]:
    """Return host (small letters) and port of an http(s) address. Raises ``Unreadable``
    (bad-address)."""
    try:
        parts = urlsplit(address)
        port = parts.port
    except ValueError:
        raise Unreadable("bad-address", f"'{address}' is no address") from None
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise Unreadable("bad-address", f"'{address}' is no http or https address")
    return parts.hostname.lower(), port or (443 if parts.scheme == "https" else 80)


def _inside(ip: ipaddress.IPv6Address) -> ipaddress.IPv4Address | None:
    """Return the IPv4 address that an IPv6 address leads to, if it is one of these."""
    inner = ip.ipv4_mapped or ip.sixtofour or (ip.teredo or (None, None))[1]
    if inner is None and ip in _NAT64:
        return ipaddress.IPv4Address(int(ip) & 0xFFFFFFFF)
    return inner


def is_public(address: str) -> bool:
    """Tell whether an IP address is one of the public internet; embedded IPv4 addresses are looked
    into."""
    ip = ipaddress.ip_address(address.partition("%")[0])
    if isinstance(ip, ipaddress.IPv6Address):
        if (inner := _inside(ip)) is not None:
            return is_public(str(inner))
        if ip.is_site_local:  # fec0::/10, which Python calls global (RFC 3879)
            return False
    return ip.is_global and not ip.is_multicast and not ip.is_reserved


def is_of_the_machine(address: str) -> bool:
    """Tell whether an IP address is link-local (RFC 3927, RFC 4291), where clouds tell a machine
    its secrets, or one of theirs for it: nobody gets leave for these."""
    ip = ipaddress.ip_address(address.partition("%")[0])
    if isinstance(ip, ipaddress.IPv6Address) and (inner := _inside(ip)) is not None:
        return is_of_the_machine(str(inner))
    return ip.is_link_local or ip in _METADATA


def networks_in(text: str) -> tuple[Network, ...]:
    """Return the networks in a list with ``,`` between them, as ``10.20.0.0/16``. Raises
    ``ValueError`` with what is wrong."""
    found = []
    for one in filter(None, (part.strip() for part in text.split(","))):
        try:
            found.append(ipaddress.ip_network(one))
        except ValueError:
            raise ValueError(
                f"'{one}' is no network, as 10.20.0.0/16 or fd12:3456::/32 (without bits of a host)"
            ) from None
    return tuple(found)


def operators_networks() -> tuple[Network, ...] | None:
    """Return the networks outside of which no private address is reached, whatever leave a site
    has (``PLUMRAKE_PRIVATE_NETWORKS``); None: the leave of the site is enough. Raises
    ``Unreadable`` (address-refused) where the setting cannot be read."""
    try:
        return networks_in(os.environ.get(_NETWORKS_SETTING, "")) or None
    except ValueError as error:
        raise Unreadable("address-refused", f"the setting {_NETWORKS_SETTING}: {error}") from None


def _is_within(address: str, networks: Iterable[Network]) -> bool:
    ip = ipaddress.ip_address(address.partition("%")[0])
    if isinstance(ip, ipaddress.IPv6Address) and (inner := _inside(ip)) is not None:
        return _is_within(str(inner), networks)
    return any(ip in network for network in networks)


class Guard:
    """Lets connections go to public addresses, and to private ones only for origins with leave and
    in the operator's networks; to link-local ones never."""

    def __init__(self, private_origins: Iterable[str] = ()) -> None:
        self._leave = frozenset(origin_of(origin) for origin in private_origins)

    async def resolve(self, host: str, port: int) -> str:
        """Return the IP address to connect to. Raises ``Unreadable`` (host-unknown,
        address-refused)."""
        host = host.strip("[]").lower()
        try:
            found = await asyncio.wait_for(
                asyncio.get_running_loop().getaddrinfo(host, port, type=socket.SOCK_STREAM),
                timeout=_CONNECT_SECONDS,
            )
        except (OSError, UnicodeError):
            raise Unreadable("host-unknown", f"no host is called '{host}'") from None
        except TimeoutError:
            raise Unreadable(
                "timed-out", f"looking up '{host}' took over {_CONNECT_SECONDS:.0f} s"
            ) from None
        addresses = [str(entry[4][0]) for entry in found]
        if any(is_of_the_machine(address) for address in addresses):
            raise Unreadable(
                "address-refused", f"'{host}' leads to a link-local address, which nobody may reach"
            )
        private = [address for address in addresses if not is_public(address)]
        if private and (host, port) not in self._leave:
            raise Unreadable(
                "address-refused",
                (
                    f"'{host}' leads to a private address; register the site with leave for "
                    "private addresses"
                ),
            )
        networks = operators_networks() if private else None
        if networks is not None and not all(_is_within(one, networks) for one in private):
            raise Unreadable(
                "address-refused",
                (
                    f"'{host}' leads to a private address outside of the networks that the "
                    f"operator allows ({_NETWORKS_SETTING})"
                ),
            )
        return addresses[0]

    async def connect(
        self, host: str, port: int, limit: int = 2**16
    ) -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
        """Open a connection to a host that may be reached. Raises ``Unreadable``."""
        address = await self.resolve(host, port)
        try:
            return await asyncio.wait_for(
                asyncio.open_connection(address, port, limit=limit), timeout=_CONNECT_SECONDS
            )
        except TimeoutError:
            raise Unreadable("timed-out", f"'{host}' does not answer on port {port}") from None
        except OSError:
            raise Unreadable(
                "connection-failed", f"'{host}' takes no connection on port {port}"
            ) from None
