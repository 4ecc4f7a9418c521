"""Filters of a report: which credits, touches, spend rows and conversions without a trail it shows. Nothing is dropped:
the rest stands in a row of its own."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags
from ..base.conditions import EARLIER, NEGATIONS, OPERATORS, SEVERAL, WORDS, condition, operator_of
from ..base.errors import SettingsError
from ..base.words import collapse, fold
from ..plan.plan import Reading
from ..trails.trails import Trails
from .breakdown import CONVERSION_FIELDS, check_field, lay_axis
from .ground import Ground

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
    """
    found = _FILTER.fullmatch(collapse(text))
    if found is None:
        raise SettingsError(
            f"cannot filter by {text!r}: write FIELD OPERATOR VALUE, such as: source is quorrin. "
            f"Operators are {', '.join([*OPERATORS, *NEGATIONS])}"
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
    spend : (s,) bool, per spend row
    trails : (c,) bool, per trail; of use only where it is empty
    """

    elements: Flags
    touches: Flags
    spend: Flags
    trails: Flags


def keep(
    filters: Sequence[Filter],
    ground: Ground,
    trails: Trails,
    in_range: Flags,
    spend_rows: Flags,
    reading: Reading,
    basis: str,
) -> Kept:
    """What filters leave in a report.

    Parameters
    ----------
    filters : all must hold
    ground, trails, in_range, spend_rows, reading, basis : see `breakdown.lay_axis`

    Raises
    ------
    SettingsError
        If a filter names no field of a breakdown, or cannot be understood.

    Notes
    -----
    Credit is shared before anything is filtered: a yardstick sees whole trails. Spend whose value of the field cannot
    be told is left out. A field that only conversions carry (goal, product) narrows conversions alone: touches and
    spend stay whole. A conversion without a trail has no value of a field that touches carry, and is left out by it.
    """
    kept = Kept(
        np.ones(len(trails.touch), np.bool_),
        np.ones(ground.touches.count, np.bool_),
        np.ones(len(spend_rows), np.bool_),
        np.ones(len(trails.lengths), np.bool_),
    )
    for stated in filters:
        check_field(stated.field, reading)
        axis = lay_axis(stated.field, ground, trails, in_range, spend_rows, basis)
        clean = fold if stated.field == "channel" else reading.names.same
        test = condition(f"the filter {str(stated)!r}", stated.op, stated.values, clean)
        # What a row has no value of is not there.
        holds = np.array([test(shown or None) for shown in axis.shown], np.bool_)
        np.logical_and(kept.elements, holds[axis.elements], out=kept.elements)
        if axis.trails is None:
            np.logical_and(kept.trails, False, out=kept.trails)
        else:
            np.logical_and(kept.trails, holds[axis.trails], out=kept.trails)
        if stated.field in CONVERSION_FIELDS:
            continue
        if axis.touches is not None:
            np.logical_and(kept.touches, holds[axis.touches], out=kept.touches)
        known = axis.spend > 0
        np.logical_and(kept.spend, known & holds[np.where(known, axis.spend, 0)], out=kept.spend)
    return kept
