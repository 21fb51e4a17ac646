"""Where a controller may listen: an address that Cadrin speaks to must be a device's, never its own
machine's or one that hands out secrets to whoever asks from there.
"""

from collections.abc import Iterable
from ipaddress import IPv4Address, IPv6Address, ip_address, ip_network
from typing import NamedTuple
from urllib.parse import urlsplit

from cadrin.core.errors import Invalid, Problem

IpAddress = IPv4Address | IPv6Address
SCHEMES = {"http": 80, "https": 443}
LONGEST = 200
NAT64 = ip_network("64:ff9b::/96")
"""By which IPv6 leads to IPv4 (RFC 6052)."""
METADATA = frozenset(map(ip_address, ("169.254.169.254", "fd00:ec2::254", "100.100.100.200")))
"""Where clouds tell machines their secrets (common practice; from memory)."""


class Place(NamedTuple):
    """A host, a name or an IP address, and its port."""

    host: str
    port: int


def place_of(address: str) -> Place:
    """Read where an address leads. Raises Invalid for what is none, or says more than that.

    >>> place_of("http://gatehouse.example:8080")
    Place(host='gatehouse.example', port=8080)
    """
    refused = Invalid.of("controller.address", "address", text=address[:LONGEST])
    try:
        parts = urlsplit(address)
        port = parts.port
    except ValueError:
        raise refused from None
    says_more = parts.username or parts.password or parts.query or parts.fragment
    if parts.scheme not in SCHEMES or not parts.hostname or says_more or len(address) > LONGEST:
        raise refused
    if port == 0 or any(letter.isspace() for letter in address):
        raise refused
    return Place(parts.hostname, port or SCHEMES[parts.scheme])


def problem_with_places(address: str, leads_to: Iterable[IpAddress]) -> Problem | None:
    """Return why nothing is sent where an address leads; None where all of it may be a device.

    The kinds are those of RFC 6890 (special-purpose addresses): this machine itself, what is
    reached by everybody on a wire or by nobody, and the metadata of clouds.
    """
    for found in leads_to:
        if not _may_be_a_device(_as_meant(found)):
            told = {"text": address[:LONGEST], "ip": str(found)}
            return Problem("controller.address_not_a_device", "address", told)
    return None


def _as_meant(found: IpAddress) -> IpAddress:
    """Return the IPv4 address that an IPv6 one stands for, where it does (RFC 4291, 6052, 3056)."""
    if isinstance(found, IPv4Address):
        return found
    if found in NAT64:
        return IPv4Address(int(found) & 0xFFFFFFFF)
    return found.ipv4_mapped or found.sixtofour or found


def _may_be_a_device(found: IpAddress) -> bool:
    return found not in METADATA and not (
        found.is_loopback
        or found.is_unspecified
        or found.is_link_local
        or found.is_multicast
        or found.is_reserved
    )
