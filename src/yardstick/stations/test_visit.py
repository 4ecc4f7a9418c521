"""A test visit: open a link over a real socket, follow it to its end, compare what arrives with what was meant to."""

from __future__ import annotations

import http.client
import socket
import ssl
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from urllib.parse import urljoin, urlsplit

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import Slots, fold
from yardstick.core.links.patterns import SLOT, fits
from yardstick.core.reading.tags import parameters, split_address, why_not_an_address

MOST_STEPS, WAIT_S = 10, 10.0
REDIRECTS = (301, 302, 303, 307, 308)


@dataclass(frozen=True)
class Hop:
    """One request of the visit."""

    url: str
    status: int


@dataclass(frozen=True)
class Compared:
    """One parameter of the link: what was meant to arrive, what arrived, and what happened to it.

    Attributes
    ----------
    verdict : same, filled (a slot of a pattern), lost, changed, changed case, unfilled slot, added
    """

    name: str
    expected: str
    arrived: str
    verdict: str


@dataclass(frozen=True)
class Visit:
    """How a test visit went. `problem` says why it came to no page; empty = it did."""

    steps: tuple[Hop, ...]
    fields: tuple[Compared, ...]
    problem: str

    @property
    def well(self) -> bool:
        """Whether everything arrived."""
        return not self.problem and all(f.verdict in ("same", "filled", "added") for f in self.fields)


def visit(url: str, resolve: Mapping[str, str], slots: Slots, meant: Sequence[tuple[str, str]] | None = None) -> Visit:
    """Open a link as a browser would.

    Parameters
    ----------
    url : the link, or its short link
    resolve : host -> host:port to connect to in its place, over plain HTTP; for stand-ins
    slots : tells unfilled slots
    meant : parameters that are to arrive, with slots as our patterns write them; None = those of the link itself

    Raises
    ------
    SettingsError
        If it is no address that can be opened.
    """
    problem = why_not_an_address(url)
    if problem or url.startswith("/"):
        raise SettingsError(f"{url}: {problem or 'a path alone cannot be opened: write the whole address'}")
    steps: list[Hop] = []
    at = url
    said = ""
    while len(steps) <= MOST_STEPS:
        try:
            status, onward = _request(at, resolve)
        except (OSError, http.client.HTTPException, ssl.SSLError, ValueError) as wrong:
            said = f"{urlsplit(at).hostname} did not answer: {wrong}. Is the page up, and the address right?"
            break
        steps.append(Hop(at, status))
        if status in REDIRECTS and onward:
            fragment = split_address(at)[2]
            at = urljoin(at, onward)
            if fragment and "#" not in at:
                at += "#" + fragment
            continue
        if status >= 400:
            said = f"the page answers {status}: nobody can land there"
        break
    else:
        said = f"the address sends on more than {MOST_STEPS} times: it goes round in a circle"
    return Visit(tuple(steps), _compare(url, at, slots, meant) if steps else (), said)


def _request(url: str, resolve: Mapping[str, str]) -> tuple[int, str]:
    parts = urlsplit(url)
    host = parts.hostname or ""
    path = (parts.path or "/") + ("?" + parts.query if parts.query else "")
    there = resolve.get(host)
    connection: http.client.HTTPConnection
    if there is not None:
        connection = http.client.HTTPConnection(there, timeout=WAIT_S)
    elif parts.scheme == "https":
        connection = http.client.HTTPSConnection(host, parts.port, timeout=WAIT_S)
    else:
        connection = http.client.HTTPConnection(host, parts.port, timeout=WAIT_S)
    try:
        connection.request("GET", path, headers={"Host": parts.netloc, "User-Agent": "test visit"})
        answer = connection.getresponse()
        answer.read(1_000)
        return answer.status, answer.getheader("Location") or ""
    except socket.gaierror:
        raise OSError("the name is unknown") from None
    finally:
        connection.close()


def _compare(url: str, arrived: str, slots: Slots, meant: Sequence[tuple[str, str]] | None) -> tuple[Compared, ...]:
    expected = [pair[:2] for pair in parameters(split_address(url)[1])] if meant is None else meant
    came = parameters(split_address(arrived)[1])
    by_name: dict[str, tuple[str, str]] = {}
    for name, value, raw in came:
        by_name.setdefault(fold(name), (value, raw))
    out = []
    for name, value in expected:
        found = by_name.pop(fold(name), None)
        now, raw = found or ("", "")
        if found is None:
            what = "lost"
        elif slots.is_slot(now, raw):
            what = "unfilled slot"
        elif now == value:
            what = "same"
        elif meant is not None and SLOT.search(value):
            what = "filled" if fits(value, now) else "changed"
        else:
            what = "changed case" if fold(now) == fold(value) else "changed"
        out.append(Compared(name, value, now, what))
    for name, (value, raw) in by_name.items():
        out.append(Compared(name, "", value, "unfilled slot" if slots.is_slot(value, raw) else "added"))
    return tuple(out)
