"""What a matter is (R30): something open, with the rows it is made of and what is at stake."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints
from ..base.days import NO_DAY
from ..report.weigh import Result


@dataclass(frozen=True)
class RowsOf:
    """Rows of one table that a matter is made of.

    Attributes
    ----------
    table : its name
    rows : (n,) int64, of the rows that stand
    days : (n,) int64, the day each stands on in reports
    values : (n,) int64, minor units of the home currency that each puts at stake; None where rows have no value
    beside : (n,) int64, rows of the same table to be seen beside each, -1 for none; None where there are none
    """

    table: str
    rows: Ints
    days: Ints
    values: Ints | None = None
    beside: Ints | None = None


@dataclass(frozen=True)
class FoundMatter:
    """Something open over all days, before any range cuts its stake."""

    object: tuple[str, ...]
    parts: tuple[RowsOf, ...]


@dataclass(frozen=True)
class MatterKind:
    """A kind of matter: everything that is declared of it.

    Attributes
    ----------
    name : its word in files
    station : where it is mended
    mendings : words for what mends it
    rule : when it is found, in one sentence, with its threshold
    find : all of its matters over all days
    """

    name: str
    station: str
    mendings: tuple[str, ...]
    rule: str
    find: Callable[[Result], Iterable[FoundMatter]]


@dataclass(frozen=True)
class Matter:
    """A matter with its stake in the range.

    Attributes
    ----------
    kind : what of
    object : what it is about
    first_day : day number of its first row, whatever the range
    rows, value : in the range; value in minor units of the home currency, None where the kind puts none at stake
    spend : likewise
    parts : its rows over all days
    """

    kind: MatterKind
    object: tuple[str, ...]
    first_day: int
    rows: int
    spend: int | None
    value: int | None
    parts: tuple[RowsOf, ...]


def days_of_records(result: Result) -> Ints:
    """(c,) int64: the day that reports set each record on (R22), its own where they set it on none."""
    conversions = result.prepared.conversions
    return np.where(conversions.report_day == NO_DAY, conversions.day, conversions.report_day)
