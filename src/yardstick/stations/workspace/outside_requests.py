"""Requests to the world outside: to public addresses, and to the stand-ins that were named at start."""

from __future__ import annotations

import contextlib
import http.client
import socket
import ssl
import threading
from collections.abc import Mapping
from ipaddress import IPv4Address, IPv6Address, ip_address, ip_network
from urllib.parse import urlsplit

WAIT_S = 10.0
"""Seconds that one request may take."""


class NotPublic(OSError):
    """A name leads into this machine or its network."""


def request(url: str, stand_ins: Mapping[str, str], left_s: float) -> tuple[int, str]:
    """Ask for a page, as far as its first bytes.

    Parameters
    ----------
    url : an http(s) address
    stand_ins : host -> host:port to connect to in its place, over plain HTTP
    left_s : seconds left

    Returns
    -------
    tuple
        (status, where it sends on to)

    Raises
    ------
    OSError
        If nobody answers in time, or the name leads to an address that is not public: whoever may type addresses here
        must not look around in the network of the machine.
    """
    if left_s <= 0:
        raise OSError("the visit took too long")
    parts = urlsplit(url)
    host = parts.hostname or ""
    path = (parts.path or "/") + ("?" + parts.query if parts.query else "")
    wait = min(WAIT_S, left_s)
    there = stand_ins.get(host)
    if there is None and parts.netloc in stand_ins.values():
        there = parts.netloc
    port = parts.port or (443 if parts.scheme == "https" else 80)
    connection = http.client.HTTPConnection(there or host, None if there else port, timeout=wait)
    # A page that sends a byte now and then keeps every single wait short: the whole is cut off as well.
    late = threading.Event()
    cut = threading.Timer(wait, _cut, (connection, late))
    try:
        if there is None:
            # The very address that was looked at is called, so that the name cannot mean another one a moment later.
            connection.sock = socket.create_connection((_public(host, port), port), wait)
            if parts.scheme == "https":
                connection.sock = ssl.create_default_context().wrap_socket(connection.sock, server_hostname=host)
        else:
            connection.connect()
        cut.start()
        connection.request("GET", path, headers={"Host": parts.netloc, "User-Agent": "test visit"})
        answer = connection.getresponse()
        answer.read(1_000)
        if late.is_set():
            # What was cut off looks like an answer that ended.
            raise OSError("it took too long")
        return answer.status, answer.getheader("Location") or ""
    finally:
        cut.cancel()
        connection.close()


def _cut(connection: http.client.HTTPConnection, late: threading.Event) -> None:
    late.set()
    with contextlib.suppress(OSError, AttributeError):
        connection.sock.shutdown(socket.SHUT_RDWR)


_TRANSLATED = tuple(ip_network(n) for n in ("::/96", "64:ff9b::/96", "64:ff9b:1::/48"))
"""Addresses that stand for an IPv4 address inside: compatible ones, and those of NAT64."""


def is_public(at: IPv4Address | IPv6Address) -> bool:
    """Whether an address leads out of every network of one's own, also where it holds another inside: mapped and
    compatible IPv4 (RFC 4291), 6to4 (RFC 3056), Teredo (RFC 4380), NAT64 (RFC 6052, 8215)."""
    if isinstance(at, IPv6Address):
        mapped = at.ipv4_mapped
        if mapped is not None:
            return is_public(mapped)
        # What a translator on the way makes of these nobody can say from here.
        if any(at in network for network in _TRANSLATED) or at.sixtofour is not None or at.teredo is not None:
            return False
    return at.is_global and not at.is_multicast


def _public(host: str, port: int) -> str:
    """An address of a host, if all of them are public."""
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except (socket.gaierror, UnicodeError):
        raise OSError("the name is unknown") from None
    addresses = [str(one[4][0]).partition("%")[0] for one in found]
    for address in addresses:
        if not is_public(ip_address(address)):
            raise NotPublic(f"it leads to {address}, which is not public, and only public pages are opened")
    return addresses[0]
