"""The ledger: what some of the people add up to, in whole numbers, so that parts of them can be added in any order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import TypeVar

import numpy as np

from ..base.columns import Ints
from ..base.tally import Tally, merged
from .counted import KINDS
from .prepared_data import PreparedData

M = TypeVar("M", int, Ints)

NAMED_PART, NO_VALUE_PART, UNTAGGED_PART = range(3)
"""Parts of the tie line, whatever the breakdown: touches of a campaign, tagged ones without, untagged ones."""
_STANDS = 3
TOUCHES, CLICK_TOUCHES, BOUNCES = range(3)
"""Amounts of `Ledger.touches`."""
RECORDS, WORTH = range(2)
"""Amounts of `Ledger.alone` and `Ledger.booked`."""


def stands_at(prepared: PreparedData, touch: Ints) -> Ints:
    """(n,) int64: the part of the tie line that each of some touches is in."""
    campaign, tagged = prepared.touches.fields["campaign"].codes[touch], prepared.touches.tagged[touch]
    return np.where(campaign > 0, NAMED_PART, np.where(tagged, NO_VALUE_PART, UNTAGGED_PART))


def marked(kind: Ints, stands: Ints, paid: Ints) -> Ints:
    """Kind of conversion, part of the tie line and whether the campaign has spend (R23), as one number."""
    return kind + KINDS * (stands + _STANDS * paid)


def stands_of(mark: M) -> M:
    """The part of the tie line in what `marked` made."""
    return mark // KINDS % _STANDS


def paid_of(mark: M) -> M:
    """1 where the campaign has spend, in what `marked` made."""
    return mark // (KINDS * _STANDS)


EVENLY = 0
"""Which amount of `Ledger.credit` holds the parts under linear, whether that is among the yardsticks or not."""


SHARED, LEARNED, PASSED = range(3)
"""Amounts of `Removals.inside`."""


@dataclass(frozen=True)
class Removals:
    """What removal is computed from, for one kind of state (R16).

    Attributes
    ----------
    moves : (goal, from, to), steps of converting and losing paths
    inside : (goal, state, 0 in the range or 1 outside, per filter 0 shown or 1 left out, numbers on the axes, part of
        the tie line and whether paid); parts that linear gives of what is shared, of all that the chain is learned
        from, and touches of losing paths
    campaigns : as `inside`, with the campaign in place of the axes; what the ads alone earned goes by it (R23)
    earned : (goal, kind), conversions with a trail; records, minor units
    """

    moves: Tally
    inside: Tally
    campaigns: Tally
    earned: Tally


REMOVAL_TALLIES = tuple(field.name for field in fields(Removals))


@dataclass(frozen=True)
class Ledger:
    """Whole numbers alone. Keys begin with the numbers on the axes of the breakdown.

    Attributes
    ----------
    yardsticks : names of those whose credit is in it; of each, `credit` has two amounts
    axes : how many
    credit : (axes + 1, m) keys, the last row as `marked`; the parts of 2^-60 conversions that linear gives, then by
        yardstick parts and minor units in turn
    touches : (axes + 1, m) keys, the last row whether the campaign has spend; touches, clicks, clicks of one visit
    alone : conversions without a touch, by (whether they are shown, kind); records, minor units
    booked : counted conversions by kind; records, minor units
    met : campaigns, by touches in the range and trail elements with credit (R19)
    pairs : by field, the pairs of campaign and value that touches in the range have (R18)
    captured : how often captured sets agree with visits (R8)
    removals : by kind of state, "campaign" or "channel", as far as yardsticks ask for it
    """

    yardsticks: tuple[str, ...]
    axes: int
    credit: Tally
    touches: Tally
    alone: Tally
    booked: Tally
    met: Tally
    pairs: Mapping[str, Tally]
    captured: Mapping[str, int]
    removals: Mapping[str, Removals]

    @property
    def kind(self) -> Ints:
        """(m,) int64, kind of conversion of each key of `credit`."""
        kind: Ints = self.credit.keys[-1] % KINDS
        return kind

    @property
    def stands(self) -> Ints:
        """(m,) int64, part of the tie line of each key of `credit`."""
        return stands_of(self.credit.keys[-1])

    @property
    def paid(self) -> Ints:
        """(m,) int64, 1 where the campaign of a key of `credit` has spend."""
        return paid_of(self.credit.keys[-1])

    def part_of(self, yardstick: str) -> int:
        """Which amount of `credit` holds the parts under a yardstick; the next one holds minor units."""
        return 1 + 2 * self.yardsticks.index(yardstick)


def merge(ledgers: Sequence[Ledger]) -> Ledger:
    """The ledger of all the people from those of parts of them; parts have nobody in common.

    Parameters
    ----------
    ledgers : at least one, in any order, of one question
    """
    first = ledgers[0]
    return Ledger(
        yardsticks=first.yardsticks,
        axes=first.axes,
        credit=merged([one.credit for one in ledgers]),
        touches=merged([one.touches for one in ledgers]),
        alone=merged([one.alone for one in ledgers]),
        booked=merged([one.booked for one in ledgers]),
        met=merged([one.met for one in ledgers]),
        pairs={field: merged([one.pairs[field] for one in ledgers]) for field in first.pairs},
        removals={
            by: Removals(
                **{name: merged([getattr(one.removals[by], name) for one in ledgers]) for name in REMOVAL_TALLIES}
            )
            for by in first.removals
        },
        captured={name: sum(one.captured[name] for one in ledgers) for name in first.captured},
    )
