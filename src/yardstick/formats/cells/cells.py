"""Reading single cells: instants, days, decimals, flags, words. A cell that cannot be read says why and what to do."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from iso4217 import Currency

from yardstick.core.base.columns import NO_DAY, NO_INSTANT
from yardstick.core.base.day_numbers import day_number
from yardstick.core.base.limits import (
    AMOUNT_BELOW,
    COUNT_BELOW,
    FIRST_DAY,
    FIRST_INSTANT,
    LAST_DAY,
    LAST_INSTANT,
    PRICE_BELOW,
)
from yardstick.core.base.schema import VISIT_KINDS, YES, Kind
from yardstick.core.base.words import fold
from yardstick.core.reading.tags import why_not_an_address

_DECIMAL = re.compile(r"([+-]?)(\d*)(?:\.(\d*))?", re.ASCII)
_COUNT = re.compile(r"\d+(\.0+)?", re.ASCII)
_FALSE = frozenset(("", "0", "false", "no", "n", "f"))
_CURRENCIES = {currency.code: currency.exponent for currency in Currency}
_EPOCH = datetime(1970, 1, 1, tzinfo=UTC)
_MICROSECOND = timedelta(microseconds=1)
_MOST_DIGITS = 40


class BadCell(ValueError):
    """A cell that cannot be read; the text is the reason, with what to do."""


def minor_digits(code: str) -> int:
    """Decimals of a currency (ISO 4217).

    Raises
    ------
    BadCell
        If there is no such currency, or it has no minor unit.
    """
    digits = _CURRENCIES.get(code)
    if digits is None:
        raise BadCell(f"{code!r} is no ISO 4217 currency code: write it as three letters, such as EUR")
    return int(digits)


def is_currency(word: str) -> bool:
    """Whether a word is a currency code (ISO 4217)."""
    return word in _CURRENCIES


def decimal_cell(text: str) -> tuple[int, int] | None:
    """A decimal as (integer, decimals), exact; None if empty."""
    if not text:
        return None
    match = _DECIMAL.fullmatch(text)
    if not match or not (match[2] or match[3]):
        raise BadCell(
            "not a decimal number: write digits with a point before the decimals and no separators, as 1234.56"
        )
    whole, part = match[2] or "", (match[3] or "").rstrip("0")
    if len(whole) + len(part) > _MOST_DIGITS:
        raise BadCell(f"more than {_MOST_DIGITS} digits")
    units = int((whole + part) or "0")
    return (-units if match[1] == "-" else units), len(part)


def _below(value: tuple[int, int] | None, limit: int, what: str) -> tuple[int, int] | None:
    if value is not None and abs(value[0]) >= limit * 10 ** value[1]:
        raise BadCell(f"{what} must be below {limit:,}: correct it")
    return value


def amount_cell(text: str) -> tuple[int, int] | None:
    """A decimal amount below 10^12 (R29)."""
    return _below(decimal_cell(text), AMOUNT_BELOW, "an amount")


def _not_negative(value: tuple[int, int] | None) -> tuple[int, int] | None:
    if value is not None and value[0] < 0:
        raise BadCell("must not be negative: write the amount without a sign")
    return value


def cost_cell(text: str) -> tuple[int, int] | None:
    """An amount that must not be negative."""
    return _not_negative(amount_cell(text))


def price_cell(text: str) -> tuple[int, int] | None:
    """The price of one thing, not negative and below 10^9 (R29)."""
    return _below(_not_negative(decimal_cell(text)), PRICE_BELOW, "a price")


def rate_cell(text: str) -> tuple[int, int] | None:
    """An exchange rate, above 0 and below 10^9 (R29)."""
    value = decimal_cell(text)
    if value is not None and value[0] <= 0:
        raise BadCell("an exchange rate is above 0")
    return _below(value, PRICE_BELOW, "a rate")


def count_cell(text: str) -> int:
    """A whole number that is not negative; -1 if empty."""
    if not text:
        return -1
    if not _COUNT.fullmatch(text) or len(text) > _MOST_DIGITS:
        raise BadCell("not a whole number of 0 or more")
    count = int(text.partition(".")[0])
    if count >= COUNT_BELOW:
        raise BadCell(f"a count must be below {COUNT_BELOW:,}: correct it")
    return count


def flag_cell(text: str) -> bool:
    """A yes or no."""
    word = fold(text)
    if word in YES:
        return True
    if word in _FALSE:
        return False
    raise BadCell("neither yes nor no: write one of 1 true yes y t, or 0 false no n f")


def _word_cell(words: tuple[str, ...]) -> Callable[[str], int]:
    def read(text: str) -> int:
        word = fold(text) or words[0]
        if word not in words:
            raise BadCell(f"unknown word: write one of {', '.join(words)}")
        return words.index(word)

    return read


def currency_cell(text: str) -> str:
    """A currency code in capitals; empty stands for the home currency."""
    code = text.upper()
    if code:
        minor_digits(code)
    return code


def address_cell(text: str) -> str:
    """An address that R1 accepts."""
    reason = why_not_an_address(text)
    if reason:
        raise BadCell(reason)
    return text


def month_cell(text: str) -> int:
    """A month as its first day, in days since 1970: `2026-03`, or any day of it."""
    if not text:
        return NO_DAY
    if not re.fullmatch(r"\d{4}-\d\d(-\d\d([T ].*)?)?", text, re.ASCII):
        raise BadCell("not a month: write year-month, as 2026-03")
    return day_cell(text[:7] + "-01")


def day_cell(text: str) -> int:
    """A day as days since 1970-01-01."""
    if not text:
        return NO_DAY
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise BadCell(f"not a day{_is_missing_day(text)}: write year-month-day, as 2026-03-05") from None
    if not FIRST_DAY <= day <= LAST_DAY:
        raise BadCell(_OUTSIDE)
    return day_number(day)


_OUTSIDE = f"outside {FIRST_DAY} to {LAST_DAY}: correct the year"


def _is_missing_day(text: str) -> str:
    return " of the calendar" if re.match(r"\d{4}-\d\d-\d\d", text, re.ASCII) else ""


def instant_reader(zone_name: str, note: Callable[[str, str], None]) -> Callable[[str], int]:
    """A function that reads ISO 8601 instants into microseconds since 1970.

    Parameters
    ----------
    zone_name : zone of times without an offset
    note : told (code, text) when a time had no offset, or fell into a clock change
    """
    zone = ZoneInfo(zone_name)

    def read(text: str) -> int:
        if not text:
            return NO_INSTANT
        try:
            at = datetime.fromisoformat(text)
            if at.tzinfo is None:
                note("no_offset", text)
                local = at.replace(tzinfo=zone)
                if local.utcoffset() != local.replace(fold=1).utcoffset():
                    note("clock_change", text)
                at = local
            instant = (at - _EPOCH) // _MICROSECOND
        except (ValueError, OverflowError):
            raise BadCell(f"not a time{_is_missing_day(text)}: write it as 2026-03-05T14:30:00+01:00") from None
        if not FIRST_INSTANT <= instant <= LAST_INSTANT:
            raise BadCell(_OUTSIDE)
        return instant

    return read


def readers(zone_name: str, note: Callable[[str, str], None]) -> dict[Kind, Callable[[str], Any]]:
    """How each kind of cell is read; the text given is trimmed."""
    return {
        Kind.TEXT: str,
        Kind.ADDRESS: address_cell,
        Kind.INSTANT: instant_reader(zone_name, note),
        Kind.DAY: day_cell,
        Kind.MONTH: month_cell,
        Kind.FLAG: flag_cell,
        Kind.VISIT_KIND: _word_cell(VISIT_KINDS),
        Kind.COUNT: count_cell,
        Kind.AMOUNT: amount_cell,
        Kind.COST: cost_cell,
        Kind.PRICE: price_cell,
        Kind.RATE: rate_cell,
        Kind.CURRENCY: currency_cell,
    }
