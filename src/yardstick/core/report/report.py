"""The rows of a report: credits, touches and spend collected place by place (R12, R18, R23)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction

import numpy as np

from ..base.columns import Flags, Ints, sums_by, total
from ..base.distinct import distinct_columns
from ..base.tables import CLICK
from ..base.words import fold
from ..costs.further_costs import OTHER_COSTS
from ..credit.credit import Shares, part_sums
from ..credit.touch_fields import UNKNOWN
from ..plan.plan import Plan
from ..trails.trails import Trails
from .breakdown import (
    BUCKETS,
    LEFT_OUT,
    NAMED,
    NO_TOUCH_SPEND,
    NO_TRAIL,
    NO_VALUE,
    TAGGED,
    UNDIVIDED,
    UNTAGGED,
    Axis,
)
from .figures import Figures, Sums, figures
from .filters import Kept
from .ground import Ground

SALE, LEAD, GOOD_LEAD, NEW_SALE, OPEN_LEAD = range(5)
"""What a conversion counts as; a new sale is the first of its person (R23), of an open lead it is not known yet whether
it is good (R10)."""
KINDS = 5
_LEFT = -2
"""Stands in the key of the place of what filters leave out."""


@dataclass(frozen=True)
class Traits:
    """What conversions count as.

    Attributes
    ----------
    new : (conversions,) bool, first counted sales of their persons in all the data (R23)
    good, open : (conversions,) bool, good leads, and leads of which that is not known yet (R10)
    """

    new: Flags
    good: Flags
    open: Flags


@dataclass(frozen=True)
class Row:
    """One row of a report under one yardstick."""

    yardstick: str
    bucket: str
    by: tuple[str, ...]
    sums: Sums
    figures: Figures


@dataclass(frozen=True)
class Place:
    """A row's place in a report, the same under every yardstick. `values` are numbers on the axes."""

    bucket: str
    values: tuple[int, ...]
    shown: tuple[str, ...]


@dataclass(frozen=True)
class _Credit:
    """Credit per place under one yardstick: by kind in turn, and value in minor units, that of sales apart."""

    counts: list[Fraction]
    value: list[int]
    sales_value: list[int]


class Report:
    """Collects credits, touches and spend into the rows of one report."""

    def __init__(
        self,
        ground: Ground,
        plan: Plan,
        by: tuple[str, ...],
        trails: Trails,
        shares: dict[str, Shares],
        axes: list[Axis],
        in_range: Flags,
        spend_rows: Flags,
        traits: Traits,
        kept: Kept | None = None,
    ) -> None:
        self._kept = kept
        self._ground, self._plan, self._trails, self._shares = ground, plan, trails, shares
        self._axes, self._by = axes, by
        self._class = classes_of(ground, trails, traits)
        self._element_class = np.repeat(self._class, trails.lengths)
        credited = np.zeros(len(trails.touch), np.bool_)
        for share in shares.values():
            credited[share.element] = True
        columns = [(axis.elements, axis.touches) for axis in axes]
        elements = np.stack([e for e, _ in columns])
        if kept is not None:
            elements = np.where(kept.elements, elements, _LEFT)
        touched = [t for _, t in columns if t is not None]
        touches = np.stack(touched)[:, in_range] if len(touched) == len(axes) else np.empty((len(axes), 0), np.int64)
        if kept is not None and touches.shape[1]:
            touches = np.where(kept.touches[in_range], touches, _LEFT)
        cells = np.concatenate([elements[:, credited], touches], axis=1)
        distinct, which = distinct_columns(cells)
        keys = [tuple(key) for key in distinct.T.tolist()]
        self.places = [self._place(_bucket(key), key) for key in keys]
        used = int(credited.sum())
        self.element_place = np.full(len(credited), -1, np.int64)
        self.element_place[credited] = which[:used]
        self.touch_place = np.full(ground.touches.count, -1, np.int64)
        if touches.shape[1]:
            self.touch_place[in_range] = which[used:]
        self._has_touches = len(touched) == len(axes)
        self.spend_place = self._place_spend({key: i for i, key in enumerate(keys)}, spend_rows)
        if kept is not None and not any(place.bucket == LEFT_OUT for place in self.places):
            self.places.append(self._place(LEFT_OUT, (_LEFT,) * len(axes)))
        # Rows in a fixed order: bucket by bucket, inside it by folded value.
        rank = BUCKETS.index
        self._sorted = sorted(range(len(self.places)), key=lambda i: (rank(self.places[i].bucket), self._key(i)))

    def _key(self, place: int) -> tuple[object, ...]:
        shown = self.places[place].shown
        return (*self._by_order(shown), *(v.casefold() for v in shown), *shown)

    def _by_order(self, shown: tuple[str, ...]) -> list[int]:
        """Channels stand in the order the plan gives them, those it does not name after them."""
        order = [fold(name) for name in self._plan.reporting.channel_order]
        if not order or "channel" not in self._by:
            return []
        name = fold(shown[self._by.index("channel")])
        return [order.index(name) if name in order else len(order)]

    def _place(self, bucket: str, key: tuple[int, ...]) -> Place:
        none = (UNKNOWN, _LEFT, TAGGED)
        shown = tuple("" if v in none else axis.shown[v] for axis, v in zip(self._axes, key, strict=True))
        return Place(bucket, key, shown)

    def _place_spend(self, named: dict[tuple[int, ...], int], spend_rows: Flags) -> Ints:
        out = np.full(len(spend_rows), -1, np.int64)
        rows = np.flatnonzero(spend_rows)
        cells = np.stack([axis.spend for axis in self._axes])[:, rows]
        if self._kept is not None:
            cells = np.where(self._kept.spend[rows], cells, _LEFT)
        left = (_LEFT,) * len(self._axes)
        apart: dict[tuple[str, tuple[int, ...]], int] = {}
        for row, values in zip(rows.tolist(), cells.T.tolist(), strict=True):
            key = tuple(values)
            if key in named and (key == left or key[0] > 0):
                out[row] = named[key]
                continue
            if key == left:
                bucket = LEFT_OUT
            elif key[0] > 0 and UNKNOWN not in key:
                bucket = NO_TOUCH_SPEND
            else:
                key, bucket = tuple(UNKNOWN if v <= 0 else v for v in key), UNDIVIDED
            if (bucket, key) not in apart:
                apart[bucket, key] = len(self.places)
                self.places.append(self._place(bucket, key))
            out[row] = apart[bucket, key]
        return out

    def rows(self) -> list[Row]:
        """The report, yardstick by yardstick."""
        size = len(self.places)
        counted = self._touch_sums(size)
        spend = self._spend_sums(size)
        empty = self._trails.lengths == 0
        alone = self._no_trail(empty if self._kept is None else empty & self._kept.trails)
        left = None if self._kept is None else self._no_trail(empty & ~self._kept.trails)
        out = []
        for yardstick in self._plan.crediting.yardsticks:
            credit = self._credit(self._shares[yardstick.name], size)
            for i in self._sorted:
                place = self.places[i]
                sales, leads, good, new, waiting = credit.counts[KINDS * i : KINDS * (i + 1)]
                sums = Sums(
                    leads=leads + good + waiting,
                    good_leads=good,
                    open_leads=waiting,
                    conversions=sales + new,
                    value=credit.value[i],
                    sales_value=credit.sales_value[i],
                    new_customers=new,
                    **counted(i),  # type: ignore[arg-type]
                    **(spend(i) if place.bucket not in (UNTAGGED, NO_VALUE) else {}),  # type: ignore[arg-type]
                )
                if place.bucket == LEFT_OUT and left is not None:
                    sums = _with_conversions(sums, left)
                out.append(self._row(yardstick.name, place, sums))
            if alone:
                at = sum(self.places[i].bucket in (NAMED, UNTAGGED, NO_VALUE) for i in self._sorted)
                no_trail = Place(NO_TRAIL, (), ("",) * len(self._axes))
                out.insert(len(out) - size + at, self._row(yardstick.name, no_trail, alone))
        return out

    def _row(self, yardstick: str, place: Place, sums: Sums) -> Row:
        ratios = figures(sums, self._plan.reporting.margin, self._plan.money.minor_digits)
        return Row(yardstick, place.bucket, place.shown, sums, ratios)

    def _credit(self, shares: Shares, size: int) -> _Credit:
        place = self.element_place[shares.element]
        # All kinds of conversion are counted in one pass.
        kind = self._element_class[shares.element]
        counts = part_sums(place * KINDS + kind, shares.part, size * KINDS)
        sold = is_sale(kind)
        return _Credit(counts, sums_by(place, shares.worth, size), sums_by(place[sold], shares.worth[sold], size))

    def _touch_sums(self, size: int) -> Callable[[int], dict[str, int | None]]:
        """Touches, click touches and bounces per place."""
        touches, placed = self._ground.touches, self.touch_place >= 0
        clicks = placed & (touches.kind[: touches.count] == CLICK)
        chosen = {"touches": placed, "click_touches": clicks, "bounces": clicks & (touches.visits == 1)}
        counts = {name: np.bincount(self.touch_place[mine], minlength=size) for name, mine in chosen.items()}
        return lambda i: {name: int(count[i]) if self._has_touches else None for name, count in counts.items()}

    def _spend_sums(self, size: int) -> Callable[[int], dict[str, int | Decimal]]:
        costs = self._ground.costs
        rows = np.flatnonzero(self.spend_place >= 0)
        place = self.spend_place[rows]
        counts = {"impressions": costs.impressions[rows], "clicks": costs.clicks[rows]}
        claimed = costs.claimed_conversions
        units: list[int] = [0] * size
        for at, amount in zip(place.tolist(), claimed.units[rows].tolist(), strict=True):
            units[at] += amount
        sums = {
            "spend": sums_by(place, costs.cost[rows], size),
            "ad_cost": sums_by(place, np.where(is_other_cost(self._ground)[rows], 0, costs.cost[rows]), size),
            "claimed_value": sums_by(place, costs.claimed_value[rows], size),
            **{name: sums_by(place, column, size) for name, column in counts.items()},
        }

        def of(i: int) -> dict[str, int | Decimal]:
            one: dict[str, int | Decimal] = {name: column[i] for name, column in sums.items()}
            return one | {"claimed_conversions": Decimal(units[i]).scaleb(-claimed.decimals)}

        return of

    def _no_trail(self, empty: Flags) -> Sums | None:
        if not empty.any():
            return None
        return sums_of(self._class[empty], self._ground.conversions.value[self._trails.conversion[empty]])


def sums_of(kinds: Ints, value: Ints) -> Sums:
    """What whole conversions add up to.

    Parameters
    ----------
    kinds : (c,) int64, see `classes_of`
    value : (c,) int64, minor units
    """
    sales, leads, good, new, waiting = np.bincount(kinds, minlength=KINDS).tolist()
    return Sums(
        leads=Fraction(leads + good + waiting),
        good_leads=Fraction(good),
        open_leads=Fraction(waiting),
        conversions=Fraction(sales + new),
        value=total(value),
        sales_value=total(value[is_sale(kinds)]),
        new_customers=Fraction(new),
    )


def is_sale(kinds: Ints) -> Flags:
    """(c,) bool: which kinds are sales."""
    sales: Flags = (kinds == SALE) | (kinds == NEW_SALE)
    return sales


def is_other_cost(ground: Ground) -> Flags:
    """(s,) bool: spend rows that stand for other costs, which no platform reports (R18)."""
    rows = np.arange(len(ground.spend))
    other = ground.spend.text("platform").test(lambda name: name == OTHER_COSTS)
    return other & (rows >= len(ground.tables.spend))


def classes_of(ground: Ground, trails: Trails, traits: Traits) -> Ints:
    """(c,) int64 per trail: sale, lead, good lead, a person's first sale, or a lead that may still become good."""
    conversions = ground.conversions
    of_goal = np.array([g.kind != "lead" for g in ground.goals], np.bool_)
    rows = trails.conversion
    sale = of_goal[conversions.version[rows]] if len(rows) else np.empty(0, np.bool_)
    leads = np.where(traits.good[rows], GOOD_LEAD, np.where(traits.open[rows], OPEN_LEAD, LEAD))
    return np.where(sale, np.where(traits.new[rows], NEW_SALE, SALE), leads)


def _bucket(key: tuple[int, ...]) -> str:
    if key[0] == _LEFT:
        return LEFT_OUT
    return {0: UNTAGGED, TAGGED: NO_VALUE}.get(key[0], NAMED)


def _with_conversions(sums: Sums, more: Sums) -> Sums:
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
