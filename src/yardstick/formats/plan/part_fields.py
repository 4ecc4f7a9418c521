"""Kinds of fields of a settings record: exact decimals, days, currencies, words, and the line that explains each."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.limits import AMOUNT_BELOW, FIRST_DAY, LAST_DAY, PRICE_BELOW
from yardstick.core.plan.linking_phase import EARLIER_REFERRERS

from ..cells.cells import BadCell, decimal_cell, minor_digits

MOST_DECIMALS = 40


def exact_decimal(value: object) -> Decimal:
    """A decimal as written: from text or from TOML's number, never through a binary float."""
    if isinstance(value, bool) or not isinstance(value, int | str | Decimal):
        raise ValueError("write it as a number")
    if isinstance(value, Decimal | int):
        number = Decimal(value)
        if number.is_finite() and not -MOST_DECIMALS <= int(number.as_tuple().exponent) <= MOST_DECIMALS:
            raise ValueError(f"more than {MOST_DECIMALS} decimals")
        return number
    try:
        parts = decimal_cell(value.strip())
    except BadCell as problem:
        raise ValueError(str(problem)) from None
    if parts is None:
        raise ValueError("write it as a number")
    return Decimal(parts[0]).scaleb(-parts[1])


def _day(value: object) -> object:
    return value.strip() if isinstance(value, str) else value


def _referrer(value: object) -> object:
    return EARLIER_REFERRERS.get(value.strip(), value.strip()) if isinstance(value, str) else value


def _currency(value: object) -> object:
    if not isinstance(value, str):
        raise ValueError("write it as a three-letter code")
    code = value.strip().upper()
    if code:
        try:
            minor_digits(code)
        except BadCell as problem:
            raise ValueError(str(problem)) from None
    return code


LONGEST_WORD = 4_000
"""Characters of a text, as of a cell of the link sheet."""


def _word(value: object) -> object:
    if not isinstance(value, str):
        return value
    text = value.strip()
    if len(text) > LONGEST_WORD:
        raise ValueError(f"longer than {LONGEST_WORD:,} characters: shorten it")
    if "\0" in text:
        raise ValueError("it contains a NUL: remove it")
    return text


def _separator(value: object) -> object:
    return " " if value == "space" else _word(value) if value != " " else value


def _instant(value: object) -> object:
    """A time with its offset as ISO 8601 text, as TOML and forms write it; empty for the present."""
    if isinstance(value, datetime):
        value = value.isoformat()
    if not isinstance(value, str):
        raise ValueError("write it as 2026-03-05T14:30:00+01:00, or leave it empty")
    text = value.strip()
    if not text:
        return text
    try:
        at = datetime.fromisoformat(text)
    except ValueError:
        raise ValueError("write it as 2026-03-05T14:30:00+01:00, or leave it empty") from None
    if at.tzinfo is None:
        raise ValueError("it has no offset: write it as 2026-03-05T14:30:00+01:00")
    return text


Instant = Annotated[str, BeforeValidator(_instant)]
"""A time with an offset, as text; empty for the present one."""
Exact = Annotated[Decimal, BeforeValidator(exact_decimal), Field(allow_inf_nan=False)]
Positive = Annotated[Exact, Field(gt=0, lt=PRICE_BELOW)]
NotNegative = Annotated[Exact, Field(ge=0, lt=AMOUNT_BELOW)]
"""An amount within the limits of R29."""


def _open(value: object) -> object:
    return None if isinstance(value, str) and not value.strip() else value


OpenAmount = Annotated[NotNegative | None, BeforeValidator(_open)]
"""An amount, or nothing: an empty text says so, too."""
Price = Annotated[Exact, Field(ge=0, lt=PRICE_BELOW)]
Days = Annotated[Decimal, BeforeValidator(exact_decimal), Field(ge=0, le=36_500, allow_inf_nan=False)]
Day = Annotated[date, BeforeValidator(_day)]
OpenDay = Annotated[Day | None, BeforeValidator(_open)]
"""A day, or nothing."""
CostDay = Annotated[Day, Field(ge=FIRST_DAY, le=LAST_DAY)]
"""A day that a cost stands on, within the limits of R29."""
Currency = Annotated[str, BeforeValidator(_currency)]
Word = Annotated[str, BeforeValidator(_word)]
Name = Annotated[str, BeforeValidator(_word), Field(min_length=1)]
Referrer = Annotated[Literal["as browsers do", "none", "host", "whole"], BeforeValidator(_referrer)]
Separator = Annotated[str, BeforeValidator(_separator), Field(min_length=1, max_length=10)]
LevelName = Literal["group", "ad", "keyword", "placement", "item", "audience"]


def described_field(text: str, example: str = "", **more: Any) -> Any:
    """A field with the line that explains it and an example; without a default it must be filled."""
    return Field(default=more.pop("default", ...), description=text, examples=[example] if example else None, **more)


def check_zone(where: str, zone: str) -> None:
    """See that a time zone is known.

    Raises
    ------
    SettingsError
        Says where it stands.
    """
    try:
        ZoneInfo(zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise SettingsError(
            f"{where}: unknown time zone {zone!r}: use an IANA name such as Australia/Adelaide"
        ) from None


class SettingsPart(BaseModel):
    """A record, or a piece of one; unknown names are refused, so that a misspelt one is not lost in silence."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True, serialize_by_alias=True)
