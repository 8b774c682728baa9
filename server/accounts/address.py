"""Where a request comes from: the peer, or what a trusted proxy says of it."""

from ipaddress import IPv4Network, IPv6Address, IPv6Network, ip_address, ip_network

from django.conf import settings
from django.http import HttpRequest

# Whoever has an IPv6 address has as many as this network holds.
IPV6_SITE_BITS = 64


def client_address(request: HttpRequest) -> str:
    """The nearest address that is no proxy of our own; of IPv6 the site's network.

    Of X-Forwarded-For only what a trusted proxy appended counts: the rest may be anybody's
    invention.
    """
    peer = str(request.META.get("REMOTE_ADDR", ""))
    hops = str(request.META.get("HTTP_X_FORWARDED_FOR", "")).split(",")
    chain = [*(s.strip() for s in hops if s.strip()), peer]
    proxies = settings.CONFIG.proxies
    while len(chain) > 1 and _is_one_of(chain[-1], proxies):
        chain.pop()
    return _site(chain[-1])


def _is_one_of(address: str, networks: tuple[IPv4Network | IPv6Network, ...]) -> bool:
    try:
        found = ip_address(address)
    except ValueError:
        return False
    return any(found in network for network in networks)


def _site(address: str) -> str:
    try:
        found = ip_address(address)
    except ValueError:
        return "unknown"
    if isinstance(found, IPv6Address):
        if found.ipv4_mapped:
            return str(found.ipv4_mapped)
        return str(ip_network((found, IPV6_SITE_BITS), strict=False))
    return str(found)
