"""Binary floats that stand in files, as the decimals that somebody meant."""

from __future__ import annotations

from decimal import Decimal

SURE_DIGITS = 15
"""Decimal digits that a binary float of 64 bits holds for sure (IEEE 754: one of so many comes back as it was)."""


def digits_of(value: float | None) -> str | None:
    """A binary float of a file as a decimal of 15 digits; None for no number.

    Examples
    --------
    >>> digits_of(12.5), digits_of(0.1 + 0.2), digits_of(1e21), digits_of(float("nan"))
    ('12.5', '0.3', '1000000000000000000000', None)
    """
    if value is None or value != value:
        return None
    if value in (float("inf"), float("-inf")):
        return str(value)
    text = format(Decimal(format(value, f".{SURE_DIGITS}g")), "f")
    return text.rstrip("0").rstrip(".") if "." in text else text
