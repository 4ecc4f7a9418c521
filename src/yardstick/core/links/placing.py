"""Where a link stands on its way from the plan to its first arrival. Past *placed* only arrivals tell."""

from __future__ import annotations

from collections import Counter
from collections.abc import Set
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from ..plan.campaigns import Names
from ..reading.arrivals import Arrivals
from ..reading.tags import FIELDS, ReadAddress
from .link_states import LinkCause, LinkState

QUIET_DAYS = 7
"""Days without an arrival after which a link whose arrivals stopped is quiet."""
MOST_DEVIATIONS = 3
OFTEN, MOST_NAMES = 20, 2_000
WEEKS = 13
"""Of which arrivals are drawn, up to the last day that is known."""
_CAMPAIGN = FIELDS.index("campaign")

Key = tuple[tuple[str, ...], tuple[tuple[str, str], ...]]


@dataclass(frozen=True)
class Seen:
    """Arrivals of a link: how many, and on which days since 1970 the first and the last."""

    visits: int
    first: int
    last: int

    def and_also(self, other: Seen | None) -> Seen:
        """These arrivals and others."""
        if other is None:
            return self
        return Seen(self.visits + other.visits, min(self.first, other.first), max(self.last, other.last))


@dataclass(frozen=True)
class Deviation:
    """Arrivals that carry all of a link's tags but one."""

    field: str
    expected: str
    arrived: str
    visits: int


def state_of(placed: int | None, ends: int | None, seen: Seen | None, today: int, data_until: int) -> LinkState:
    """The state of a link.

    Parameters
    ----------
    placed : day it was placed, None = not yet
    ends : last day of its campaign, None = ongoing
    seen : its arrivals
    today : the present day
    data_until : last day of which arrivals are known; a link cannot be quiet for days nobody has gathered yet
    """
    if ends is not None and ends < today:
        return LinkState.ENDED
    if seen is not None:
        return LinkState.ARRIVING if seen.last + QUIET_DAYS >= data_until else LinkState.QUIET
    if placed is None or placed > today:
        return LinkState.PLANNED
    return LinkState.PLACED if placed == today else LinkState.NONE_YET


def link_key(reading: ReadAddress, names: Names) -> Key:
    """What of an address is compared with a link: all tags, folded.

    Parameters
    ----------
    reading : the address
    names : when two values are one, and which campaign a text means
    """
    same = names.same
    tags = [same(v) for v in reading.tags]
    tags[_CAMPAIGN] = names.meant("campaign", tags[_CAMPAIGN])
    return tuple(tags), tuple((k, same(v)) for k, v in reading.extras)


class ArrivalBook:
    """Real arrivals by the tags they carry.

    Parameters
    ----------
    arrivals : addresses as read
    counts : (n,) bool, visits that are clicks and not quarantined
    day : (n,) int64
    names : when two values are one, and which campaign a text means
    """

    def __init__(self, arrivals: Arrivals, counts: Flags, day: Ints, names: Names) -> None:
        self._same, self._names = names.same, names
        keys = [self.key(r) if r.tagged else None for r in arrivals.readings]
        self._seen: dict[Key, Seen] = {}
        self._values: dict[str, Counter[str]] = {field: Counter() for field in FIELDS}
        self._like: dict[tuple[int, Key], Counter[Key]] = {}
        rows = counts.nonzero()[0]
        self._weeks: dict[Key, list[int]] = {}
        newest = int(day.max()) if len(day) else 0
        for url, at in zip(arrivals.url[rows].tolist(), day[rows].tolist(), strict=True):
            key = keys[url]
            if key is not None:
                self._seen[key] = Seen(1, at, at).and_also(self._seen.get(key))
                week = WEEKS - 1 - (newest - at) // 7
                if week >= 0:
                    self._weeks.setdefault(key, [0] * WEEKS)[week] += 1
        for number, times in zip(*np.unique(arrivals.url[rows], return_counts=True), strict=True):
            for field, value in zip(FIELDS, arrivals.readings[number].tags, strict=True):
                if value:
                    self._values[field][value] += int(times)
        for key, seen in self._seen.items():
            for at in range(len(FIELDS)):
                self._like.setdefault((at, _without(key, at)), Counter())[key] += seen.visits

    def weeks(self, reading: ReadAddress) -> tuple[int, ...]:
        """(`WEEKS`,) arrivals with exactly the tags of a link, by weeks of seven days up to the last day there is."""
        return tuple(self._weeks.get(self.key(reading), [0] * WEEKS))

    def names(self) -> dict[str, list[str]]:
        """By field the values with which so many came that they are names, the most met first."""
        return {
            field: [value for value, times in counted.most_common(MOST_NAMES) if times >= OFTEN]
            for field, counted in self._values.items()
        }

    def key(self, reading: ReadAddress) -> Key:
        """What is compared: all tags, folded."""
        return link_key(reading, self._names)

    def seen(self, reading: ReadAddress) -> Seen | None:
        """Arrivals with exactly the tags of a link; None if there is none."""
        return self._seen.get(self.key(reading))

    def deviations(self, reading: ReadAddress, others: Set[Key]) -> tuple[Deviation, ...]:
        """Arrivals that differ from a link in one tag and belong to no other link.

        Parameters
        ----------
        others : keys of all links
        """
        key = self.key(reading)
        found = []
        for at, field in enumerate(FIELDS):
            for other, visits in self._like.get((at, _without(key, at)), Counter()).items():
                if other != key and other not in others:
                    found.append(Deviation(field, reading.tags[at], other[0][at], visits))
        return tuple(sorted(found, key=lambda d: (-d.visits, d.field, d.arrived))[:MOST_DEVIATIONS])


def cause_of(
    state: LinkState, *, late: bool, draft: bool, deviations: tuple[Deviation, ...], clicks: int, seen: Seen | None
) -> LinkCause | None:
    """What is wrong with where a link stands, None where nothing is.

    Parameters
    ----------
    state : where it stands
    late : the day by which first visits must have come has passed without any
    draft : its campaign is a draft
    deviations, clicks, seen : its arrivals, see `verdict`
    """
    if state == LinkState.ENDED:
        return None
    if deviations:
        return LinkCause.ANOTHER
    if state == LinkState.QUIET:
        return LinkCause.QUIET
    if draft and state != LinkState.PLANNED:
        return LinkCause.DRAFT
    if clicks and seen is None:
        return LinkCause.CLICKED
    if late:
        return LinkCause.LATE
    return LinkCause.NONE_YET if state == LinkState.NONE_YET else None


def shared_fault(campaign: str, field: str, arrived: str, links: int, visits: int) -> str:
    """What is wrong with a campaign where what arrives differs from several of its links alike, and may be any of
    them."""
    said = f"with {field} {arrived}" if arrived else f"without {field}"
    return f"another {field} arrives: {_many(visits, 'arrival')} {said} in place of one of {links} links of {campaign}"


def _without(key: Key, at: int) -> Key:
    return (*key[0][:at], "", *key[0][at + 1 :]), key[1]


def verdict(
    seen: Seen | None,
    deviations: tuple[Deviation, ...],
    clicks: int = 0,
    counted: bool = True,
    only_clicks: bool = False,
) -> str:
    """What is known of a link's arrivals, in one sentence. Clicks on our own redirect say nothing of what the page got.

    Parameters
    ----------
    seen : arrivals with exactly its tags
    deviations : arrivals that carry all of its tags but one
    clicks : on its short link, test clicks left out
    counted : whether arrivals are known of the days of those clicks
    only_clicks : it leads to a place that tells nobody who came
    """
    if only_clicks:
        return f"{_many(clicks, 'click')} counted" if clicks else "no click yet"
    if deviations:
        d = deviations[0]
        what = f"{d.field} {d.arrived or 'empty'} in place of {d.expected or 'empty'}"
        return f"{_many(d.visits, 'arrival')} came with {what}: check whether the link was changed where it is placed"
    if seen is None and clicks and counted:
        return f"{_many(clicks, 'click')} counted, but no arrival with these tags: test it, the page may lose them"
    if seen is None and clicks:
        return f"{_many(clicks, 'click')} counted; the visits of these days are not gathered yet"
    if seen is None:
        return "no arrival yet"
    return f"{_many(seen.visits, 'real arrival')} carried exactly these tags"


def _many(number: int, what: str) -> str:
    return f"{number} {what}" if number == 1 else f"{number} {what}s"
