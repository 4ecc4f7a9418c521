"""Days as numbers and as text, instants as text; nothing here computes on columns."""

from __future__ import annotations

from datetime import date, datetime, timedelta

DAY_US = 86_400_000_000
"""Microseconds in 24 hours."""
MINUTE_US = 60_000_000
EPOCH = date(1970, 1, 1)


def day_number(day: date) -> int:
    """Days since 1970-01-01."""
    return (day - EPOCH).days


def day_text(number: int) -> str:
    """ISO 8601 date of a day number.

    Examples
    --------
    >>> day_text(0), day_text(20_512)
    ('1970-01-01', '2026-02-28')
    """
    return (EPOCH + timedelta(days=int(number))).isoformat()


def instant_text(instant: int) -> str:
    """ISO 8601 text in UTC of an instant in microseconds, without needless fractions."""
    at = datetime(1970, 1, 1) + timedelta(microseconds=int(instant))
    return at.isoformat() + "Z"
