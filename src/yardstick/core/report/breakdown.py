"""Breakdowns: which row of a report each credit, touch and spend row belongs to (R12, R18, formats.md)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from ..base.axis_numbers import EMPTY, TAGGED, UNKNOWN
from ..base.columns import Flags, Ints, Text
from ..base.day_numbers import day_text
from ..base.days import NO_DAY
from ..base.errors import SettingsError
from ..base.report_fields import (
    CONVERSION_FIELDS,
    CREATED,
    CUSTOMER,
    FIELDS,
    NEW,
    PRODUCT,
    REASON,
    RETURNING,
    STATES,
    VARIANT,
)
from ..base.tally import Tally, counted_by
from ..base.words import collapse, fold
from ..costs.spend_tags import PLATFORM_FIELDS
from ..credit.lined import LinedTrails
from ..credit.touch_fields import OTHER_CHANNELS
from ..plan.reading_phase import Reading
from ..plan.reporting_phase import CONVERSION, TOUCH
from ..reading.tags import EXTRA
from ..trails.trails import Trails
from .counted import Counted, is_sale
from .prepared_data import PreparedData

NAMED, UNTAGGED, NO_VALUE, NO_TRAIL, NO_TOUCH_SPEND, UNDIVIDED, LEFT_OUT = BUCKETS = (
    "named",
    "untagged",
    "no_value",
    "no_trail",
    "no_touch_spend",
    "undivided",
    "left_out",
)


JUDGED_BY = ("campaign", "source", "medium", "channel", "group", "ad", "keyword", "placement", "item")
"""Fields whose values may have spend of their own; a board by one of them is judged."""


class Breakdown(tuple[str, ...]):
    """The fields that rows of a report stand for, one or two. Every door reads what it is given into one of these.

    Examples
    --------
    >>> by = Breakdown.read("campaign, day")
    >>> list(by), str(by), by.is_by_campaign, by.is_judged
    (['campaign', 'day'], 'campaign,day', False, True)
    """

    __slots__ = ()

    @classmethod
    def read(cls, text: str) -> Breakdown:
        """A breakdown as it is written, with a comma between two fields; `checked` says whether there are any such."""
        return cls(part.strip() for part in text.split(","))

    def __str__(self) -> str:
        return ",".join(self)

    @property
    def is_by_campaign(self) -> bool:
        """Whether each row is a campaign, so that everything a row earned is set against its spend."""
        return self == ("campaign",)

    @property
    def is_judged(self) -> bool:
        """Whether rows have verdicts: those by a field whose values may have spend of their own."""
        return not set(self).isdisjoint(JUDGED_BY)

    def checked(self, reading: Reading | None = None) -> Breakdown:
        """The same, if its fields are known.

        Parameters
        ----------
        reading : which extra values there are; without it any name of an extra value passes

        Raises
        ------
        SettingsError
            If a field is unknown, appears twice, or there are not one or two of them.
        """
        for name in self:
            check_field(name, reading)
        if len(set(self)) != len(self) or not 1 <= len(self) <= 2:
            raise SettingsError(f"cannot break down by {self}: name one field, or two different ones with a comma")
        return self


BY_CAMPAIGN = Breakdown(("campaign",))


def check_field(name: str, reading: Reading | None = None) -> None:
    """See that there is a field.

    Raises
    ------
    SettingsError
        If there is none.
    """
    if name.startswith(EXTRA):
        extras = None if reading is None else known_extras(reading)
        called = name.removeprefix(EXTRA)
        if extras is not None and called not in extras and not called.startswith("utm_"):
            known = ", ".join(sorted(extras)) or "none so far: name them in extra_values"
            raise SettingsError(f"a breakdown by {name}: there is no extra value {called!r}; there are {known}")
    elif name not in FIELDS:
        raise SettingsError(f"a breakdown by {name!r} is unknown; fields are {', '.join(FIELDS)}, extra:NAME")


def known_extras(reading: Reading) -> set[str]:
    """Names of the extra values that the plan speaks of: kept parameters, parts of names, roles of legends."""
    names = set(reading.extra_values) | {part for naming in reading.namings for part in naming.parts}
    roles = [
        *(role for legend in reading.legends for _, role in legend.roles),
        *(role for legend in reading.legends for role, _ in legend.fixed),
    ]
    names |= {role.removeprefix(EXTRA) for role in roles if role.startswith(EXTRA)}
    # An extra tag goes by its name with or without `utm_`.
    return names | {name.removeprefix("utm_") for name in names}


@dataclass(frozen=True)
class Axis:
    """One field of a breakdown: the number each thing has in it, and what the numbers show. Numbers mean the same for
    every part of the people.

    Attributes
    ----------
    elements : (k,) int64, one per trail element
    touches : (n,) int64 or None, one per touch; None where a touch alone has no value of the field (goal)
    spend : (s,) int64, one per spend row by its own columns; `UNKNOWN` where it cannot be told from them
    by_touches : whether a spend row that does not tell has the value that all touches of its campaign agree on
    shown : what to show per number; number 0 is the empty value
    trails : (c,) int64 or None, one per trail; None where only touches have a value of the field
    same : (numbers,) int64 or None, what each number became when values were shown as one
    lines : (m,) int64 or None, one per line of orders, where the field is what orders are of
    is_goal : whether it is the goal, the one field of conversions that a path without one has a value of (R16)
    """

    elements: Ints
    touches: Ints | None
    spend: Ints
    by_touches: bool
    shown: list[str]
    trails: Ints | None = None
    same: Ints | None = None
    lines: Ints | None = None
    is_goal: bool = False


def is_of_touches(name: str) -> bool:
    """Whether a field is one that touches are labelled with (`TouchFields`)."""
    return name not in PERIODS and name not in CONVERSION_FIELDS


def lay_axis(name: str, prepared: PreparedData, trails: Trails, counted: Counted, basis: str = CONVERSION) -> Axis:
    """Put one field under a report.

    Parameters
    ----------
    name : one of `FIELDS`
    prepared, trails : the data and the trails shown
    counted : what counts of everyone
    basis : whose day a credit stands on (R22)
    """
    if name in PERIODS:
        return _period_axis(PERIODS[name], prepared, trails, basis)
    if name in CONVERSION_FIELDS:
        return _conversion_axis(name, prepared, trails, counted)
    labels = prepared.touches.fields[name]
    touches = labels.codes[: prepared.touches.count]
    own = prepared.touches.fields.spend(name)
    return Axis(
        labels.codes.take(trails.touch),
        touches,
        np.full(len(prepared.spend_campaign), UNKNOWN, np.int64) if own is None else own,
        (own is None or name in PLATFORM_FIELDS) and name != VARIANT,
        labels.shown,
    )


def asks_touches(axis: Axis, spend_rows: Flags) -> bool:
    """Whether any spend row in the range can be told by touches alone."""
    return axis.by_touches and bool((axis.spend[spend_rows] == UNKNOWN).any())


def campaign_values(axis: Axis, prepared: PreparedData, touches: Ints) -> Tally:
    """The pairs of campaign and value that some touches have, by their numbers."""
    campaign = prepared.touches.fields["campaign"].codes[: prepared.touches.count]
    if axis.touches is None:
        return counted_by(np.empty((2, 0), np.int64))
    return counted_by(np.stack([campaign[touches], axis.touches[touches]]).astype(np.int64))


def place_spend(axis: Axis, prepared: PreparedData, spend_rows: Flags, pairs: Tally | None) -> Ints:
    """(s,) int64: each spend row's number on an axis, `UNKNOWN` where it cannot be told (R18).

    Parameters
    ----------
    spend_rows : (s,) bool, spend rows in the range
    pairs : see `campaign_values`, over the touches of all people in the range; None where they are not asked for
    """
    spend = axis.spend
    if axis.by_touches:
        if pairs is not None:
            campaign, value = pairs.keys
            first, times = np.unique(campaign, return_index=True, return_counts=True)[1:]
            agreed = np.full(len(prepared.touches.fields["campaign"].keys), UNKNOWN, np.int64)
            agreed[campaign[first[times == 1]]] = value[first[times == 1]]
            spend = np.where(spend == UNKNOWN, agreed[prepared.spend_campaign], spend)
        spend = np.where(spend_rows, spend, UNKNOWN)
    spend = spend if axis.same is None else _made_same(spend, axis.same)
    rows = np.flatnonzero(prepared.spend_touch >= 0)
    if len(rows):
        # A click at a price stands where its touch does.
        spend = spend.copy()
        spend[rows] = UNKNOWN if axis.touches is None else axis.touches[prepared.spend_touch[rows]]
    return spend


def part_empty(axis: Axis, prepared: PreparedData, trails: Trails) -> Axis:
    """An axis whose empty value is parted: touches without any tag keep `EMPTY`, all others get `TAGGED` (R12).

    Where a conversion has no value of a field that it carries, that depends on no tag.
    """
    if axis.touches is None:
        return replace(axis, elements=np.where(axis.elements == EMPTY, TAGGED, axis.elements))
    tagged = prepared.touches.tagged
    return replace(
        axis,
        elements=np.where((axis.elements == EMPTY) & tagged[trails.touch], TAGGED, axis.elements),
        touches=np.where((axis.touches == EMPTY) & tagged[: len(axis.touches)], TAGGED, axis.touches),
    )


def hide(axis: Axis, hidden_channels: Sequence[str]) -> Axis:
    """An axis of channels with the hidden ones as one, for reports alone: yardsticks and filters see them all (R5)."""
    hidden = {fold(name) for name in hidden_channels}
    number = np.arange(len(axis.shown))
    gone = np.array([fold(name) in hidden for name in axis.shown], np.bool_)
    if not gone.any():
        return axis
    shown = [*axis.shown, OTHER_CHANNELS]
    same = [i for i, name in enumerate(axis.shown) if fold(name) == fold(OTHER_CHANNELS)]
    number[gone] = same[0] if same else len(axis.shown)
    return replace(
        axis,
        elements=_made_same(axis.elements, number),
        touches=None if axis.touches is None else _made_same(axis.touches, number),
        shown=shown,
        same=number,
    )


def _made_same(numbers: Ints, same: Ints) -> Ints:
    return np.where(numbers < 0, numbers, same[np.maximum(numbers, 0)])


def _week(day: int) -> str:
    year, week, _ = date.fromordinal(day + EPOCH).isocalendar()
    return f"{year}-W{week:02d}"


EPOCH = date(1970, 1, 1).toordinal()
PERIODS: dict[str, Callable[[int], str]] = {
    "day": day_text,
    "week": _week,
    "month": lambda day: day_text(day)[:7],
}
"""Spans of days and how each is written: ISO 8601, weeks beginning on Monday."""


def days_of_elements(prepared: PreparedData, trails: Trails) -> Ints:
    """(k,) int64: the day of each trail element's touch; a captured set's is its own."""
    sets = prepared.roles.day[prepared.roles.visits :]
    return np.concatenate([prepared.touches.day, sets])[trails.touch]


def _period_axis(written: Callable[[int], str], prepared: PreparedData, trails: Trails, basis: str) -> Axis:
    sets = prepared.roles.day[prepared.roles.visits :]
    spend_day = prepared.spend.ints("day")
    # Of everything, not of these trails alone: a number means the same in every part.
    report_day = prepared.conversions.report_day
    days = np.unique(np.concatenate([report_day[report_day != NO_DAY], prepared.touches.day, sets, spend_day]))
    shown: dict[str, int] = {}
    period = np.array([shown.setdefault(written(d), len(shown) + 1) for d in days.tolist()], np.int64)

    def number(of: Ints) -> Ints:
        return period[np.searchsorted(days, of)] if len(of) else np.empty(0, np.int64)

    of_trail = number(prepared.conversions.report_day[trails.conversion])
    elements = number(days_of_elements(prepared, trails)) if basis == TOUCH else of_trail[trails.owner()]
    return Axis(elements, number(prepared.touches.day), number(spend_day), False, ["", *shown], of_trail)


REASONS = ("visits", "captured", "code", "self_reported", "direct", "none")
"""Why a lead has a source: the first of these that applies (R32)."""


def _text_of(name: str, prepared: PreparedData) -> Text:
    """(c,) text: what each conversion has in a field of its own."""
    conversions = prepared.conversions
    if name == "goal":
        return conversions.goal
    if name in STATES:
        own = {"stage": conversions.stage, "owner": conversions.owner, "status": conversions.word}[name]
        return own.map(collapse)
    if name == CREATED:
        days, codes = np.unique(conversions.day, return_inverse=True)
        months = Text.of([day_text(day)[:7] for day in days.tolist()])
        return months.take(codes.reshape(-1)) if len(days) else Text.blank(0)
    products = prepared.tables.conversions.text("product").map(collapse)
    return Text.join([Text.blank(len(prepared.tables.leads)), products])


def reasons_of(prepared: PreparedData, trails: Trails) -> Ints:
    """(c,) int64: why the conversion of each trail has a source, as positions in `REASONS` from 1 on (R32)."""
    owner, touches = trails.owner(), prepared.touches
    leads = len(prepared.tables.leads)
    by_visit = trails.touch < touches.count
    by_set = ~by_visit & (trails.touch < touches.count + 2 * leads)

    def any_of(which: Flags) -> Flags:
        out = np.zeros(len(trails.conversion), np.bool_)
        out[owner[which]] = True
        return out

    self_reported = prepared.conversions.self_reported[trails.conversion]
    applies = (
        any_of(by_visit & ~touches.direct[trails.touch]),
        any_of(by_set),
        any_of(~by_visit & ~by_set),
        self_reported,
        any_of(by_visit),
    )
    return np.select(applies, list(range(1, len(applies) + 1)), len(REASONS)).astype(np.int64)


def _reason_axis(prepared: PreparedData, trails: Trails) -> Axis:
    """Why each lead has a source (R32); sales have no value of it."""
    owner, of_trail = trails.owner(), reasons_of(prepared, trails)
    of_trail = np.where(prepared.conversions.is_lead_row[trails.conversion], of_trail, 0)
    spend = np.full(len(prepared.spend_campaign), UNKNOWN, np.int64)
    return Axis(of_trail[owner], None, spend, False, ["", *REASONS], of_trail)


def codes_of_conversions(name: str, prepared: PreparedData) -> tuple[Ints, list[str]]:
    """(c,) int64: the number of each conversion in a field of its own, and what the numbers show."""
    text = _text_of(name, prepared)
    known = {*text.values, *(prepared.lines.product.values if name == PRODUCT else ())}
    names = sorted(known - {""})
    place = {v: i for i, v in enumerate(names, 1)}
    number = np.array([place.get(v, 0) for v in text.values], np.int64)
    return number[text.codes] if len(text) else np.empty(0, np.int64), ["", *names]


def newness(prepared: PreparedData, counted: Counted) -> tuple[Ints, list[str]]:
    """(c,) int64: of counted sales whether each is the first of its person (R23), of others nothing."""
    sale = is_sale(counted.kind) & counted.flags
    return np.where(sale, np.where(counted.new, 1, 2), 0), ["", NEW, RETURNING]


def _conversion_axis(name: str, prepared: PreparedData, trails: Trails, counted: Counted) -> Axis:
    """Fields that a conversion carries and a touch does not."""
    if name == REASON:
        return _reason_axis(prepared, trails)
    codes, shown = newness(prepared, counted) if name == CUSTOMER else codes_of_conversions(name, prepared)
    spend = np.full(len(prepared.spend_campaign), UNKNOWN, np.int64)
    of_trail = codes[trails.conversion]
    elements = of_trail[trails.owner()]
    lines = None
    if name == PRODUCT and isinstance(trails, LinedTrails):
        place = {v: i for i, v in enumerate(shown)}
        of_product = np.array([place.get(v, 0) for v in prepared.lines.product.values], np.int64)
        lines = of_product[prepared.lines.product.codes]
        elements = np.where(trails.line >= 0, lines[trails.line], elements)
    return Axis(elements, None, spend, False, shown, of_trail, lines=lines, is_goal=name == "goal")
