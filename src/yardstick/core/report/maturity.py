"""Maturity (R28): how much of what a day's touches earn has come by now. Conversions come later than their touches."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ..base.columns import Ints
from ..base.day_numbers import DAY_US
from ..base.tally import Tally, tally
from ..credit.credit import WHOLE
from ..plan.plan import Plan
from ..rules.apportioning import apportion_evenly
from .counted import is_sale, look_back, trails_of
from .part import Glossary

SALES, LEADS = "sale", "lead"
KINDS_OF_GOALS = (SALES, LEADS)


@dataclass(frozen=True)
class Maturity:
    """How conversions of one kind come in.

    Attributes
    ----------
    kind : `SALES` or `LEADS`
    end : the day up to which there are data, None without any
    credited : parts of 2^-60 conversions behind it, over touch days that are old enough
    come : of them by whole days of age, those that came within so many days (index = days)
    known : whether there are enough to tell
    """

    kind: str
    end: int | None
    credited: int
    come: Sequence[int]
    known: bool

    def share(self, days: int) -> Fraction | None:
        """M: the share of credit whose age is at most so many days; None where there are too few to tell."""
        if not self.known or days < 0:
            return Fraction(0) if self.known else None
        return Fraction(self.come[min(days, len(self.come) - 1)], self.credited)

    def of_day(self, day: int) -> Fraction | None:
        """The share of what a touch day earns that has come by the end of the data."""
        return None if self.end is None else self.share(self.end - day)

    def mean(self, weights: Mapping[int, int]) -> Fraction | None:
        """The mean over days, weighted; None where it cannot be told."""
        whole = sum(weights.values())
        if not self.known or not whole:
            return None
        return sum(((self.of_day(day) or Fraction(0)) * weight for day, weight in weights.items()), Fraction(0)) / whole


def ages(glossary: Glossary, plan: Plan) -> Tally:
    """Linear credit by kind (1 = sale), touch day and age in whole days, over all counted conversions.

    Captured sets, which say little of when somebody came, are left out.
    """
    prepared, counted = glossary.prepared, glossary.counted
    trails = trails_of(counted.flags, prepared, plan.windows, counted.after)
    part = apportion_evenly(np.full(len(trails.lengths), WHOLE), trails.offsets)
    real = np.flatnonzero(trails.touch < prepared.touches.count)
    touch, conversion = trails.touch[real], np.repeat(trails.conversion, trails.lengths)[real]
    age = prepared.conversions.at[conversion] - prepared.touches.at[touch]
    cells = np.stack(
        [is_sale(counted.kind[conversion]).astype(np.int64), prepared.touches.day[touch], -(-age // DAY_US)]
    )
    return tally(cells, [(None, part[real])])[0]


def maturity(glossary: Glossary, plan: Plan, by_age: Tally) -> dict[str, Maturity]:
    """How conversions come in, by kind (R28).

    Parameters
    ----------
    glossary, plan : as weighed
    by_age : see `ages`, of all people
    """
    prepared, counted = glossary.prepared, glossary.counted
    seen = prepared.roles.day[: prepared.roles.visits][~prepared.quarantine.visits]
    windows, is_lead = look_back(prepared, plan.windows), np.array([g.kind == "lead" for g in prepared.goals], np.bool_)
    out = {}
    for kind in KINDS_OF_GOALS:
        mine = counted.flags & (is_sale(counted.kind) == (kind == SALES))
        end = min(int(prepared.conversions.day[mine].max()), int(seen.max())) if mine.any() and len(seen) else None
        of_kind = windows[is_lead == (kind == LEADS)]
        come, credited = [0], 0
        if end is not None and len(of_kind):
            longest = int(of_kind.max())
            chosen = (by_age.keys[0] == (kind == SALES)) & (by_age.keys[1] * DAY_US + longest < end * DAY_US)
            come = _by_days(by_age, chosen)
            credited = come[-1]
        known = credited > 0 and credited >= plan.reporting.mature_minimum * int(WHOLE)
        out[kind] = Maturity(kind, end, credited, come, known)
    return out


def _by_days(by_age: Tally, chosen: Ints) -> list[int]:
    days = np.where(chosen, by_age.keys[2], -1)
    parts = by_age.sums(0, days, int(days.max(initial=0)) + 1)
    come, so_far = [], 0
    for some in parts:
        so_far += some
        come.append(so_far)
    return come
