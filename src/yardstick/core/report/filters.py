"""Filters of a report: which credits, touches, spend rows and conversions without a trail it shows. Nothing is dropped:
the rest stands in a row of its own."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from ..base.conditions import EARLIER, OFFERED, SEVERAL, WORDS, condition, operator_of
from ..base.errors import SettingsError
from ..base.report_fields import CONVERSION_FIELDS
from ..base.words import collapse, fold
from ..plan.reading_phase import Reading
from ..trails.trails import Trails
from .breakdown import Axis, check_field, lay_axis
from .counted import Counted
from .prepared_data import PreparedData

_WORDS = "|".join(sorted((re.escape(op) for op in WORDS), key=len, reverse=True))
_FILTER = re.compile(rf"(?P<field>\S.*?)\s+(?P<op>{_WORDS})(?:\s+(?P<value>.*))?", re.IGNORECASE | re.DOTALL)


@dataclass(frozen=True)
class Filter:
    """One condition on a field of a breakdown. All filters of a report must hold."""

    field: str
    op: str
    values: tuple[str, ...]

    def __str__(self) -> str:
        return " ".join(part for part in (self.field, self.op, " | ".join(self.values)) if part)


def read_filter(text: str) -> Filter:
    """A filter as people write it.

    Parameters
    ----------
    text : `FIELD OPERATOR VALUE`, for example `source is one of quorrin | ostrel` or `extra:size is empty`

    Raises
    ------
    SettingsError
        If it cannot be understood.

    Examples
    --------
    >>> read_filter("source is one of quorrin | ostrel")
    Filter(field='source', op='in list', values=('quorrin', 'ostrel'))
    """
    found = _FILTER.fullmatch(collapse(text))
    if found is None:
        raise SettingsError(
            f"cannot filter by {text!r}: write FIELD OPERATOR VALUE, such as: source is quorrin. "
            f"Operators are {', '.join(OFFERED)}"
        )
    op, value = fold(found["op"]), found["value"]
    several = operator_of("filter", op)[0] in SEVERAL
    values = () if value is None else tuple(v.strip() for v in value.split("|")) if several else (value,)
    return Filter(found["field"], EARLIER.get(op, op), values)


@dataclass(frozen=True)
class Kept:
    """What filters leave in a report.

    Attributes
    ----------
    elements : (k,) bool, per trail element
    touches : (n,) bool, per touch
    trails : (c,) bool, per trail; of use only where it is empty
    """

    elements: Flags
    touches: Flags
    trails: Flags


@dataclass(frozen=True)
class Narrowed:
    """A filter with the axis of its field, and which of the axis' values it lets through."""

    stated: Filter
    axis: Axis
    holds: Flags


def narrow(
    filters: Sequence[Filter], prepared: PreparedData, trails: Trails, counted: Counted, reading: Reading, basis: str
) -> list[Narrowed]:
    """Put each filter on the axis of its field.

    Parameters
    ----------
    filters : all must hold
    prepared, trails, counted, reading, basis : see `breakdown.lay_axis`

    Raises
    ------
    SettingsError
        If a filter names no field of a breakdown, or cannot be understood.
    """
    out = []
    for stated in filters:
        check_field(stated.field, reading)
        axis = lay_axis(stated.field, prepared, trails, counted, basis)
        clean = fold if stated.field == "channel" else reading.names.same
        test = condition(f"the filter {str(stated)!r}", stated.op, stated.values, clean)
        # What a row has no value of is not there.
        out.append(Narrowed(stated, axis, np.array(test.of_each([shown or None for shown in axis.shown]), np.bool_)))
    return out


def keep(filters: Sequence[Narrowed], prepared: PreparedData, trails: Trails) -> Kept:
    """What filters leave of credit, touches and conversions without a trail.

    Notes
    -----
    Credit is shared before anything is filtered: a yardstick sees whole trails. A field that only conversions carry
    (goal, product) narrows conversions alone: touches and spend stay whole. A conversion without a trail has no value
    of a field that touches carry, and is left out by it.
    """
    kept = Kept(
        np.ones(len(trails.touch), np.bool_),
        np.ones(prepared.touches.count, np.bool_),
        np.ones(len(trails.lengths), np.bool_),
    )
    for one in filters:
        axis, holds = one.axis, one.holds
        np.logical_and(kept.elements, holds[axis.elements], out=kept.elements)
        np.logical_and(kept.trails, _of_trails(one, prepared, trails), out=kept.trails)
        if one.stated.field not in CONVERSION_FIELDS and axis.touches is not None:
            np.logical_and(kept.touches, holds[axis.touches], out=kept.touches)
    return kept


def _of_trails(one: Narrowed, prepared: PreparedData, trails: Trails) -> Flags:
    """(c,) bool: trails that a filter leaves; of an order with lines one that fits is enough."""
    axis, holds = one.axis, one.holds
    if axis.trails is None:
        return np.zeros(len(trails.conversion), np.bool_)
    out = holds[axis.trails]
    if axis.lines is not None:
        fitting = np.concatenate([[0], np.cumsum(holds[axis.lines])])
        offsets, conversion = prepared.lines.offsets, trails.conversion
        some = fitting[offsets[conversion + 1]] > fitting[offsets[conversion]]
        out = np.where(prepared.lines.count[conversion] > 0, some, out)
    return out


def keep_spend(filters: Sequence[Narrowed], spend: Sequence[Ints], rows: int) -> Flags:
    """(s,) bool: the spend rows that filters leave; those whose value of a field cannot be told are left out.

    Parameters
    ----------
    spend : for each filter, the spend rows' numbers on its axis
    rows : spend rows
    """
    kept = np.ones(rows, np.bool_)
    for one, numbers in zip(filters, spend, strict=True):
        if one.stated.field not in CONVERSION_FIELDS:
            known = numbers > 0
            kept &= known & one.holds[np.where(known, numbers, 0)]
    return kept
