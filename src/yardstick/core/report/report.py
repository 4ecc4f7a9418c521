"""The rows of a report, formed from the ledger: credits, touches and spend place by place (R12, R18, R23)."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction
from functools import cached_property
from typing import Any

import numpy as np

from ..base.axis_numbers import EMPTY, LEFT, NOWHERE, TAGGED, UNKNOWN
from ..base.columns import Flags, Ints, sums_by
from ..base.distinct import distinct_columns
from ..base.words import fold
from ..costs.further_costs import OTHER_COSTS
from ..credit.credit import WHOLE
from ..plan.plan import Plan
from .breakdown import (
    BUCKETS,
    LEFT_OUT,
    NAMED,
    NO_TOUCH_SPEND,
    NO_TRAIL,
    NO_VALUE,
    UNDIVIDED,
    UNTAGGED,
    Axis,
)
from .counted import GOOD_LEAD, KINDS, LEAD, NEW_SALE, OPEN_LEAD, SALE
from .figures import NOTHING, Figures, Sums, figures
from .ledger import BOUNCES, CLICK_TOUCHES, EVENLY, RECORDS, TOUCHES, WORTH, Ledger
from .prepared_data import PreparedData


@dataclass(frozen=True)
class Row:
    """One row of a report under one yardstick.

    `margin` and `minor_digits` are what its figures are made with. They are made when they are asked for: a fine
    breakdown has far more rows than are looked at.
    """

    yardstick: str
    bucket: str
    by: tuple[str, ...]
    sums: Sums
    margin: Decimal
    minor_digits: int

    @cached_property
    def figures(self) -> Figures:
        """The ratios of the row (R23)."""
        return figures(self.sums, self.margin, self.minor_digits)


@dataclass(frozen=True)
class BreakdownPlace:
    """A row's place in a report, the same under every yardstick. `values` are numbers on the axes."""

    bucket: str
    values: tuple[int, ...]
    shown: tuple[str, ...]


@dataclass(frozen=True)
class SpendRows:
    """The spend rows of a report.

    Attributes
    ----------
    counts : (s,) bool, those that count and whose day is in the range
    kept : (s,) bool, those that filters leave
    numbers : per field of the breakdown, (s,) int64 number on its axis, `UNKNOWN` where it cannot be told
    """

    counts: Flags
    kept: Flags
    numbers: Sequence[Ints]


class Report:
    """Forms the rows of one report.

    Attributes
    ----------
    places : the rows' places
    of_credit, of_touches : (m,) int64, the place of each key of the ledger's credit and touches, -1 = none
    of_spend : (s,) int64, the place of each spend row
    spend : the spend rows
    """

    def __init__(
        self, ledger: Ledger, prepared: PreparedData, plan: Plan, by: tuple[str, ...], axes: Sequence[Axis],
        spend: SpendRows, filtered: bool,
    ) -> None:  # fmt: skip
        self._ledger, self._ground, self._plan, self._by, self._axes = ledger, prepared, plan, by, axes
        self._has_touches = all(axis.touches is not None for axis in axes)
        self.spend = spend
        credited = ledger.credit.nonzero(slice(EVENLY + 1, None))
        keys = {tuple(key) for key in ledger.credit.keys[:-1, credited].T.tolist()}
        if self._has_touches:
            keys |= {tuple(key) for key in ledger.touches.keys[:-1].T.tolist()}
        numbers = {key: i for i, key in enumerate(sorted(keys))}
        self.places = [self._place(_bucket(key), key) for key in numbers]
        self._numbers = numbers
        self.of_credit = self.of_keys(ledger.credit.keys)
        self.of_touches = _numbers_of(ledger.touches.keys[:-1], numbers if self._has_touches else {})
        self.of_spend = self._place_spend(numbers, spend)
        if filtered and not any(place.bucket == LEFT_OUT for place in self.places):
            self.places.append(self._place(LEFT_OUT, (LEFT,) * len(axes)))
        # Rows in a fixed order: bucket by bucket, inside it by folded value.
        rank = BUCKETS.index
        self._sorted = sorted(range(len(self.places)), key=lambda i: (rank(self.places[i].bucket), self._key(i)))

    def of_keys(self, keys: Ints) -> Ints:
        """(m,) int64, the place of each key of a ledger's credit, or `NOWHERE`."""
        return _numbers_of(keys[:-1], self._numbers)

    def _key(self, place: int) -> tuple[object, ...]:
        shown = self.places[place].shown
        return (*self._by_order(shown), *(v.casefold() for v in shown), *shown)

    def _by_order(self, shown: tuple[str, ...]) -> list[int]:
        """Channels come in the order the plan gives them, those it does not name after them."""
        order = [fold(name) for name in self._plan.reporting.channel_order]
        if not order or "channel" not in self._by:
            return []
        name = fold(shown[self._by.index("channel")])
        return [order.index(name) if name in order else len(order)]

    def _place(self, bucket: str, key: tuple[int, ...]) -> BreakdownPlace:
        none = (UNKNOWN, LEFT, TAGGED)
        shown = tuple("" if v in none else axis.shown[v] for axis, v in zip(self._axes, key, strict=True))
        return BreakdownPlace(bucket, key, shown)

    def _place_spend(self, named: dict[tuple[int, ...], int], spend: SpendRows) -> Ints:
        out = np.full(len(spend.counts), NOWHERE, np.int64)
        rows = np.flatnonzero(spend.counts)
        cells = np.stack([numbers[rows] for numbers in spend.numbers])
        cells = np.where(spend.kept[rows], cells, LEFT)
        left = (LEFT,) * len(self._axes)
        apart: dict[tuple[str, tuple[int, ...]], int] = {}
        distinct, which = distinct_columns(cells)
        keys = [tuple(values) for values in distinct.T.tolist()]
        of_key = np.full(len(keys), NOWHERE, np.int64)
        # In the order in which they come, which is that of their rows where nothing else tells them apart.
        for number in dict.fromkeys(which.tolist()):
            key = keys[number]
            if key in named and (key == left or key[0] > 0):
                of_key[number] = named[key]
                continue
            if key == left:
                bucket = LEFT_OUT
            elif key[0] > 0 and UNKNOWN not in key:
                bucket = NO_TOUCH_SPEND
            else:
                key, bucket = tuple(UNKNOWN if v <= EMPTY else v for v in key), UNDIVIDED
            if (bucket, key) not in apart:
                apart[bucket, key] = len(self.places)
                self.places.append(self._place(bucket, key))
            of_key[number] = apart[bucket, key]
        out[rows] = of_key[which]
        return out

    def rows(self) -> list[Row]:
        """The report, yardstick by yardstick."""
        size = len(self.places)
        counted = self._touch_sums(size)
        spend = self._spend_sums(size)
        alone, left = alone_of(self._ledger, True), alone_of(self._ledger, False)
        without = (UNTAGGED, NO_VALUE)
        of_all = [counted(i) | (spend(i) if p.bucket not in without else {}) for i, p in enumerate(self.places)]
        out = []
        for name in (yardstick.name for yardstick in self._plan.crediting.yardsticks):
            credit = credit_sums(self._ledger, name, self.of_credit, size, of_all)
            for i in self._sorted:
                place, sums = self.places[i], credit[i]
                if place.bucket == LEFT_OUT and left is not None:
                    sums = with_conversions(sums, left)
                out.append(self._row(name, place, sums))
            if alone:
                at = sum(self.places[i].bucket in (NAMED, UNTAGGED, NO_VALUE) for i in self._sorted)
                no_trail = BreakdownPlace(NO_TRAIL, (), ("",) * len(self._axes))
                out.insert(len(out) - size + at, self._row(name, no_trail, alone))
        return out

    def _row(self, yardstick: str, place: BreakdownPlace, sums: Sums) -> Row:
        plan = self._plan
        return Row(yardstick, place.bucket, place.shown, sums, plan.reporting.margin, plan.money.minor_digits)

    def _touch_sums(self, size: int) -> Callable[[int], dict[str, int | Decimal | None]]:
        """Touches, click touches and bounces per place."""
        touches = self._ledger.touches
        amounts = {"touches": TOUCHES, "click_touches": CLICK_TOUCHES, "bounces": BOUNCES}
        counts = {name: touches.sums(amount, self.of_touches, size) for name, amount in amounts.items()}
        return lambda i: {name: count[i] if self._has_touches else None for name, count in counts.items()}

    def _spend_sums(self, size: int) -> Callable[[int], dict[str, int | Decimal | None]]:
        costs = self._ground.costs
        rows = np.flatnonzero(self.of_spend != NOWHERE)
        place = self.of_spend[rows]
        counts = {"impressions": costs.impressions[rows], "clicks": costs.clicks[rows]}
        claimed = costs.claimed_conversions
        stated = claimed.units[rows]
        if stated.dtype == np.int64:
            units = sums_by(place, stated, size)
        else:
            units = [0] * size
            for at, amount in zip(place.tolist(), stated.tolist(), strict=True):
                units[at] += amount
        sums = {
            "spend": sums_by(place, costs.cost[rows], size),
            "ad_cost": sums_by(place, np.where(is_other_cost(self._ground)[rows], 0, costs.cost[rows]), size),
            "claimed_value": sums_by(place, costs.claimed_value[rows], size),
            **{name: sums_by(place, column, size) for name, column in counts.items()},
        }

        def of(i: int) -> dict[str, int | Decimal | None]:
            one: dict[str, int | Decimal | None] = {name: column[i] for name, column in sums.items()}
            return one | {"claimed_conversions": Decimal(units[i]).scaleb(-claimed.decimals)}

        return of


def _numbers_of(keys: Ints, numbers: dict[tuple[int, ...], int]) -> Ints:
    return np.array([numbers.get(tuple(key), NOWHERE) for key in keys.T.tolist()], np.int64)


def credit_sums(
    ledger: Ledger, yardstick: str, place: Ints, size: int, others: Sequence[Mapping[str, Any]] | None = None
) -> list[Sums]:
    """What one yardstick credits, by place.

    Parameters
    ----------
    place : (m,) int64, the place of each key of the ledger's credit; `NOWHERE` = in none
    size : places
    others : sums of each place that no yardstick moves
    """
    amount = ledger.part_of(yardstick)
    cell = np.where(place == NOWHERE, NOWHERE, place * KINDS + ledger.kind)
    parts = ledger.credit.sums(amount, cell, size * KINDS)
    worth = ledger.credit.sums(amount + 1, cell, size * KINDS)
    kinds = (slice(begin, begin + KINDS) for begin in range(0, size * KINDS, KINDS))
    none: Sequence[Mapping[str, Any]] = [{}] * size
    return [_sums(parts[of], worth[of], int(WHOLE), more) for of, more in zip(kinds, others or none, strict=True)]


def alone_of(ledger: Ledger, shown: bool) -> Sums | None:
    """Conversions without a touch, those that filters leave or the others; None if there are none."""
    mine = np.flatnonzero(ledger.alone.keys[0] == shown)
    if not len(mine):
        return None
    place = np.full(len(ledger.alone), NOWHERE, np.int64)
    place[mine] = ledger.alone.keys[1, mine]
    return _sums(ledger.alone.sums(RECORDS, place, KINDS), ledger.alone.sums(WORTH, place, KINDS), 1, {})


def _sums(parts: Sequence[int], worth: Sequence[int], whole: int, others: Mapping[str, Any]) -> Sums:
    """Parts of conversions and minor units, each by kind, as what they are credits of, beside sums of other things."""
    if not any(parts) and not any(worth):
        return Sums(**others) if others else NOTHING

    def of(number: int) -> Fraction:
        return Fraction(number, whole) if number else NOTHING.leads

    return Sums(
        leads=of(parts[LEAD] + parts[GOOD_LEAD] + parts[OPEN_LEAD]),
        good_leads=of(parts[GOOD_LEAD]),
        open_leads=of(parts[OPEN_LEAD]),
        conversions=of(parts[SALE] + parts[NEW_SALE]),
        value=sum(worth),
        sales_value=worth[SALE] + worth[NEW_SALE],
        new_customers=of(parts[NEW_SALE]),
        **others,
    )


def is_other_cost(prepared: PreparedData) -> Flags:
    """(s,) bool: spend rows that stand for other costs, which no platform reports (R18)."""
    rows = np.arange(len(prepared.spend))
    other = prepared.spend.text("platform").test(lambda name: name == OTHER_COSTS)
    return other & (rows >= len(prepared.tables.spend))


def _bucket(key: tuple[int, ...]) -> str:
    if key[0] == LEFT:
        return LEFT_OUT
    return {EMPTY: UNTAGGED, TAGGED: NO_VALUE}.get(key[0], NAMED)


def with_conversions(sums: Sums, more: Sums) -> Sums:
    """Sums with further conversions, their value included."""
    return replace(
        sums,
        leads=sums.leads + more.leads,
        good_leads=sums.good_leads + more.good_leads,
        open_leads=sums.open_leads + more.open_leads,
        conversions=sums.conversions + more.conversions,
        value=sums.value + more.value,
        sales_value=sums.sales_value + more.sales_value,
        new_customers=sums.new_customers + more.new_customers,
    )
