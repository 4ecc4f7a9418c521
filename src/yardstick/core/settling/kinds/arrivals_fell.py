"""Weeks in which far fewer arrive than clicked: tags were lost on the way (R30)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

import numpy as np

from ...base.columns import Flags, Ints
from ...base.days import mondays
from ...plan.costing_phase import Platform
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import spend_part, touches_part

LEAST, BEFORE, AT_LEAST = 20, 8, 4
"""Clicks of a week to be looked at, weeks that are looked back on, and how many of them there must be."""


def _find(facts: Facts) -> Iterator[FoundMatter]:
    first, last = facts.first_visit_day, facts.last_visit_day
    if first is None or last is None:
        return
    shown = facts.prepared.touches.fields["source"].keys
    for key, platforms in facts.platforms_by_source.items():
        mine = facts.spend_of(platforms)
        if not mine.any():
            continue
        came = _came(facts, shown.index(key) if key in shown else -1)
        for run in _fallen(facts, mine, came, first, last):
            yield _matter(facts, platforms, mine, came, run)


def _came(facts: Facts, number: int) -> Flags:
    """(touches,) bool: touches by click of a source."""
    came: Flags = facts.clicks & (facts.label("source")[0][: facts.touch_count] == number)
    return came


def _fallen(facts: Facts, mine: Flags, came: Flags, first: int, last: int) -> list[list[int]]:
    """Runs of weeks, by their Mondays, in which arrivals fell."""
    weeks = range(int(mondays(np.array([first + 6]))[0]), last - 5, 7)
    clicks = _by_week(facts.spend_days[mine], facts.prepared.costs.clicks[mine])
    touches = _by_week(facts.prepared.touches.day[came], None)
    share = Fraction(facts.threshold(KIND.name))
    base: list[Fraction] = []
    runs: list[list[int]] = []
    for monday in weeks:
        of = clicks.get(monday, 0)
        found = bool(of) and _has_fallen(base, of, touches.get(monday, 0), share)
        if of >= LEAST and not found:
            base.append(Fraction(touches.get(monday, 0), of))
        if found and runs and runs[-1][-1] == monday - 7:
            runs[-1].append(monday)
        elif found:
            runs.append([monday])
    return runs


def _has_fallen(base: Sequence[Fraction], clicks: int, touches: int, share: Fraction) -> bool:
    if len(base) < AT_LEAST:
        return False
    some = sorted(base[-BEFORE:])
    middle = len(some) // 2
    median = some[middle] if len(some) % 2 else (some[middle - 1] + some[middle]) / 2
    return median * clicks >= LEAST and Fraction(touches, clicks) < share * median


def _by_week(days: Ints, amounts: Ints | None) -> dict[int, int]:
    weeks, which = np.unique(mondays(days), return_inverse=True)
    sums = np.zeros(len(weeks), np.int64)
    np.add.at(sums, which, 1 if amounts is None else amounts)
    return dict(zip(weeks.tolist(), sums.tolist(), strict=True))


def _matter(facts: Facts, platforms: Sequence[Platform], mine: Flags, came: Flags, run: Sequence[int]) -> FoundMatter:
    touches = facts.prepared.touches
    first, after = run[0], run[-1] + 7
    pages = facts.label("landing_page")[0][: facts.touch_count]
    known = np.unique(pages[came & (touches.day < first)])
    lost = facts.untagged & (touches.day >= first) & (touches.day < after)
    rows = np.flatnonzero(lost & np.isin(pages, known))
    days = facts.spend_days
    spent = np.flatnonzero(mine & (days >= first) & (days < after) & (facts.costs != 0))
    parts = (*touches_part(facts, rows), spend_part(facts, spent, own=False))
    return FoundMatter((", ".join(one.name for one in platforms),), parts, None, first)


KIND = MatterKind(
    name="arrivals_fell",
    station="mark",
    mendings=("legend by landing page",),
    rule=f"weeks whose arrivals per click are below {{}} of the median of the last {BEFORE} whole weeks before",
    find=_find,
)
