"""Hosts: lists of them, and where a visit came from (R5)."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import lru_cache

import idna

from ..plan.reading_phase import Reading


@lru_cache(maxsize=50_000)
def ascii_host(host: str) -> str:
    """A host as it is compared: lower case, in its ASCII form, so that both writings of one are one (R5)."""
    plain = host.strip().lower().rstrip(".")
    if plain.isascii():
        return plain
    try:
        return idna.encode(plain, uts46=True).decode()
    except idna.IDNAError:
        return plain


def host_matcher(hosts: Iterable[str]) -> Callable[[str], bool]:
    """A test whether a host is one of a list or a subdomain of one (R5).

    Examples
    --------
    >>> ours = host_matcher(["lunnick.example"])
    >>> ours("www.lunnick.example"), ours("lunnick.example.other.example")
    (True, False)
    """
    known = {ascii_host(host) for host in hosts} - {""}

    def listed(host: str) -> bool:
        labels = ascii_host(host).split(".")
        return any(".".join(labels[i:]) in known for i in range(len(labels)))

    return listed


def outside_of(reading: Reading) -> Callable[[str, str], str]:
    """A function from referrer host and landing host to the host that sent a visit from outside; empty where that was a
    page of our own, one passed through, or the very host it landed on, whatever lists name them (R5)."""
    own, passed = host_matcher(reading.own_hosts), host_matcher(reading.pass_through_hosts)

    def outside(referrer_host: str, landing_host: str) -> str:
        inside = ascii_host(referrer_host).removeprefix("www.") == ascii_host(landing_host).removeprefix("www.")
        return "" if inside or passed(referrer_host) or own(referrer_host) else referrer_host

    return outside
