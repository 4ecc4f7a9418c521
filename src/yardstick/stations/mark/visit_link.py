"""A test visit: open a link over a real socket, follow it to its end, compare what arrives with what was meant to."""

from __future__ import annotations

import http.client
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from secrets import token_hex
from urllib.parse import urljoin

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import Slots, fold
from yardstick.core.links.addresses import as_browsers_read, build, why_not_opened
from yardstick.core.links.patterns import SLOT, fits
from yardstick.core.reading.tags import host_of, parameters, split_address

from ..workspace.outside_requests import request

MOST_STEPS = 10
WHOLE_S = 30.0
"""Seconds that a visit may take with all its redirects."""
REDIRECTS = (301, 302, 303, 307, 308)


@dataclass(frozen=True)
class Hop:
    """One request of the visit."""

    url: str
    status: int


class Fate(StrEnum):
    """What became of a parameter on its way."""

    SAME = "same"
    FILLED = "filled"
    """A slot of a pattern, by the platform."""
    LOST = "lost"
    CHANGED = "changed"
    CHANGED_CASE = "changed_case"
    UNFILLED_SLOT = "unfilled_slot"
    ADDED = "added"


FATE_WORDS = {
    Fate.SAME: "same",
    Fate.FILLED: "filled",
    Fate.LOST: "lost",
    Fate.CHANGED: "changed",
    Fate.CHANGED_CASE: "changed case",
    Fate.UNFILLED_SLOT: "unfilled slot",
    Fate.ADDED: "added",
}
"""What became of parameters, as it is shown."""
WELL = (Fate.SAME, Fate.FILLED, Fate.ADDED)


@dataclass(frozen=True)
class Compared:
    """One parameter of the link: what was meant to arrive, what arrived, and what became of it."""

    name: str
    expected: str
    arrived: str
    fate: Fate


@dataclass(frozen=True)
class Visit:
    """How a test visit went. `problem` says why it came to no page, or to one of somebody else; empty = all is well."""

    steps: tuple[Hop, ...]
    fields: tuple[Compared, ...]
    problem: str

    @property
    def well(self) -> bool:
        """Whether everything arrived."""
        return not self.problem and all(f.fate in WELL for f in self.fields)


def visit(
    url: str,
    resolve: Mapping[str, str],
    slots: Slots,
    meant: Sequence[tuple[str, str]] | None = None,
    test_parameter: str = "",
    ours: Callable[[str], bool] = lambda _: True,
) -> Visit:
    """Open a link as a browser would.

    Parameters
    ----------
    url : the link, or its short link
    resolve : host -> host:port to connect to in its place, over plain HTTP; for stand-ins
    slots : tells unfilled slots
    meant : parameters that are to arrive, with slots as our patterns write them; None = those of the link itself
    ours : tells whether a host is one where our links may end
    test_parameter : goes along with a token, so that the visit is a test record wherever it is counted (R9)

    Raises
    ------
    SettingsError
        If it is no address that can be opened.
    """
    url = as_browsers_read(url)
    problem = why_not_opened(url)
    if problem or url.startswith("/"):
        raise SettingsError(f"{url}: {problem or 'a path alone cannot be opened: write the whole address'}")
    steps: list[Hop] = []
    at, said = _as_test(url, test_parameter), ""
    until = time.monotonic() + WHOLE_S
    while len(steps) <= MOST_STEPS:
        try:
            status, onward = request(at, resolve, until - time.monotonic())
        except (OSError, http.client.HTTPException, ValueError) as wrong:
            said = f"{_host(at)} did not answer: {wrong}. Is the page up, and the address right?"
            break
        steps.append(Hop(at, status))
        if status in REDIRECTS and onward:
            fragment, before = split_address(at)[2], at
            at = _onward(at, onward)
            problem = why_not_opened(at)
            if problem or at.startswith("/"):
                said = f"{_host(before)} sends on to {onward[:200]}, which is not an address: {problem}"
                at = before
                break
            if fragment and "#" not in at:
                at += "#" + fragment
            at = _as_test(at, test_parameter)
            continue
        if status in REDIRECTS:
            said = f"{_host(at)} sends on, but does not say where to"
        if status >= 400:
            said = f"the page answers {status}: nobody can land there"
        break
    else:
        said = f"the address sends on more than {MOST_STEPS} times: it goes round in a circle"
    if not said and not ours(host_of(at)):
        said = f"it ends at {host_of(at)}, which is not one of your hosts: its visits would not be seen"
    return Visit(tuple(steps), compare(url, at, slots, meant, test_parameter) if steps else (), said)


def _as_test(url: str, parameter: str) -> str:
    """An address with the parameter of tests, where it has none yet: a redirect may have passed it on, or lost it."""
    names = {fold(name) for name, _, _ in parameters(split_address(url)[1])}
    return url if not parameter or fold(parameter) in names else build(url, [(parameter, token_hex(4))]).url


def _onward(at: str, onward: str) -> str:
    try:
        return as_browsers_read(urljoin(at, onward))
    except ValueError:
        return onward


def _host(url: str) -> str:
    return host_of(url) or url[:80]


def compare(
    url: str, arrived: str, slots: Slots, meant: Sequence[tuple[str, str]] | None = None, test_parameter: str = ""
) -> tuple[Compared, ...]:
    """What became of each parameter of a link on the way to where one landed.

    Parameters
    ----------
    url, arrived : the link, and the address one landed at
    slots, meant, test_parameter : see `visit`
    """
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
            what = Fate.LOST
        elif slots.is_slot(now, raw):
            what = Fate.UNFILLED_SLOT
        elif now == value:
            what = Fate.SAME
        elif meant is not None and SLOT.search(value):
            what = Fate.FILLED if fits(value, now) else Fate.CHANGED
        else:
            what = Fate.CHANGED_CASE if fold(now) == fold(value) else Fate.CHANGED
        out.append(Compared(name, value, now, what))
    by_name.pop(fold(test_parameter), None)
    for name, (value, raw) in by_name.items():
        out.append(Compared(name, "", value, Fate.UNFILLED_SLOT if slots.is_slot(value, raw) else Fate.ADDED))
    return tuple(out)
