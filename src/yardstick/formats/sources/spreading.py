"""Rows of spend that are a week or a month, spread by day: cost, clicks and impressions by largest remainder, earlier
days first, so that they add up to what was stated."""

from __future__ import annotations

import calendar
import re
from collections.abc import Callable
from datetime import date, timedelta
from decimal import ROUND_FLOOR, Decimal, InvalidOperation
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa

from yardstick.core.plan.gathering_phase import MONTH, WEEK

from ..cells.dates_in import iso_of, month_of_words

_ISO_WEEK = re.compile(r"(\d{4})\s?-?\s?(?:w|kw|s|sem|week|woche|uke|vecka|v)?\.?\s?-?(\d{1,2})", re.IGNORECASE)
_WEEK_FIRST = re.compile(
    r"(?:w|kw|s|sem|week|woche|semaine|semana|uke|vecka|v)\.?\s?(\d{1,2})\s?[/\-., ]\s?(\d{4})", re.IGNORECASE
)
_MONTH = re.compile(r"(\d{4})[-/.](\d{1,2})")
_MONTH_FIRST = re.compile(r"(\d{1,2})[-/.](\d{4})")
LONGEST = 40


def week_of(cell: str) -> date | None:
    """The Monday of an ISO week as exports write it: 2026-W18, 2026W18, KW 18/2026; None if it is none."""
    if len(cell) > LONGEST or not any(c.isalpha() for c in cell):
        return None
    match = _ISO_WEEK.fullmatch(cell)
    parts = (match[1], match[2]) if match else None
    if parts is None and (turned := _WEEK_FIRST.fullmatch(cell)):
        parts = (turned[2], turned[1])
    if parts is None:
        return None
    try:
        return date.fromisocalendar(int(parts[0]), int(parts[1]), 1)
    except ValueError:
        return None


def month_of(cell: str) -> date | None:
    """The first day of a month as exports write it: 2026-05, 05/2026, May 2026; None if it is none."""
    if len(cell) > LONGEST:
        return None
    for pattern, year, month in ((_MONTH, 1, 2), (_MONTH_FIRST, 2, 1)):
        if match := pattern.fullmatch(cell):
            number = int(match[month])
            return date(int(match[year]), number, 1) if 1 <= number <= 12 else None
    return month_of_words(cell)


def first_day(cell: str, order: str, period: str) -> tuple[date, int] | None:
    """The first day of a cell's week or month, and how many days it has; None if it is neither."""
    first = week_of(cell) if period == WEEK else month_of(cell)
    if first is None:
        iso = iso_of(cell, order)
        first = date.fromisoformat(iso[:10]) if iso else None
        if first is not None and period == MONTH:
            first = first.replace(day=1)
    if first is None:
        return None
    return first, 7 if period == WEEK else calendar.monthrange(first.year, first.month)[1]


def parts_of(text: str, days: int, decimals: int = 0) -> list[str]:
    """A decimal spread over days with its own decimals, or as many as are said where it has fewer; the parts add up to
    it. As it came where it is none."""
    try:
        amount = Decimal(text)
    except InvalidOperation:
        return [text] * days
    exponent = min(-decimals, int(amount.as_tuple().exponent)) if amount.is_finite() else 0
    units = int(abs(amount).scaleb(-exponent).to_integral_value(ROUND_FLOOR))
    each, more = divmod(units, days)
    sign = -1 if amount < 0 else 1
    return [f"{Decimal(sign * (each + (k < more))).scaleb(exponent):f}" for k in range(days)]


def spread(
    columns: dict[str, Any],
    lines: npt.NDArray[np.int64],
    day: Callable[[str], tuple[date, int] | None],
    adding: dict[str, int],
) -> tuple[dict[str, Any], npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """Rows of weeks or months as rows of days.

    Parameters
    ----------
    columns : Arrow strings, `day` among them as it came
    lines : (n,) of the rows
    day : the first day of a cell, and how many it has
    adding : columns that are spread, with the decimals of their parts; the others stand on every day

    Returns
    -------
    tuple
        (columns, lines, (m,) the row each came from); a cell that is no week or month stays one row as it came
    """
    cells = columns["day"].to_pylist()
    known = {cell: day(cell) if cell else None for cell in set(cells)}
    spans = [known[cell] for cell in cells]
    counts = np.array([span[1] if span else 1 for span in spans], np.int64)
    rows = np.repeat(np.arange(len(lines)), counts)
    days: list[str] = []
    for cell, span in zip(cells, spans, strict=True):
        days += [(span[0] + timedelta(days=k)).isoformat() for k in range(span[1])] if span else [cell]
    out = {name: array.take(pa.array(rows)) for name, array in columns.items()}
    out["day"] = pa.array(days, pa.string())
    for name, least in adding.items():
        if name in columns:
            # As fine as the finest of them, so that a week of 455.3 is spread as one of 455.32 is.
            places = [len(text.partition(".")[2]) for text in columns[name].to_pylist()]
            decimals = max([least, *places]) if name not in ("clicks", "impressions") else 0
            made: list[str] = []
            for text, count in zip(columns[name].to_pylist(), counts.tolist(), strict=True):
                made += parts_of(text, count, decimals) if text and count > 1 else [text] * count
            out[name] = pa.array(made, pa.string())
    return out, lines[rows], rows
